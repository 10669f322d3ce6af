import { describe, expect, it } from 'vitest';
import { carveJob, tiltingMachine } from '../../../tests/support';
import { readMachineFile, toMachineFile } from './machineFile';

describe('a machine as a file', () => {
  it.each([carveJob('x').machine, tiltingMachine()])('goes out and comes in again, word for word', (machine) => {
    expect(readMachineFile(toMachineFile(machine))).toEqual({ ok: true, value: machine });
  });

  it('of an older version comes in with what it did not say yet', () => {
    const { programUnit, files, drawer, ...older } = carveJob('x').machine;
    const read = readMachineFile(JSON.stringify({ ...older, arcMm: undefined }));
    expect(read).toMatchObject({ ok: true, value: { programUnit, files, arcMm: 0, drawer } });
  });

  it('that is none says what is wrong and where', () => {
    const { machine } = carveJob('x');
    const wrong = { ...machine, lengthDigits: 40, layout: { ...machine.layout, rotary: { ...machine.layout.rotary, letter: 'U' } } };
    const read = readMachineFile(JSON.stringify(wrong));
    if (read.ok) throw new Error('taken');
    expect(read.error.lines.map((line) => line.split(':')[0])).toEqual(['$.layout.rotary.letter', '$.lengthDigits']);
    for (const text of ['', '{', '[]', 'null', '"mill"']) expect(readMachineFile(text).ok).toBe(false);
  });
});
