import { describe, expect, it } from 'vitest';
import { carveJob, tiltingMachine } from '../../../tests/support';
import { readMachineFile, toMachineFile } from './machineFile';
import { STARTER_MACHINES } from './starterMachines';

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

  it.each([
    ['a head without its pivot', { pivotMm: undefined }, '$.layout.head.pivotMm: must be a number'],
    ['a head with the rotary’s letter', { letter: 'A' }, '$.layout.head.letter: must be another letter than the rotary has'],
  ])('is refused with %s, by path', (_name, wrong, line) => {
    const machine = tiltingMachine();
    if (machine.layout.kind !== 'rotary-tilting-head') throw new Error('it has a head');
    const read = readMachineFile(JSON.stringify({ ...machine, layout: { ...machine.layout, head: { ...machine.layout.head, ...wrong } } }));
    expect(read.ok ? [] : read.error.lines).toEqual([line]);
  });

  it('is refused where both axes of a table have one letter', () => {
    const table = STARTER_MACHINES.find((m) => m.layout.kind === 'table-table')!;
    if (table.layout.kind !== 'table-table') throw new Error('it has a table');
    const { layout } = table;
    const same = { ...table, layout: { ...layout, turn: { ...layout.turn, letter: layout.tilt.letter } } };
    const read = readMachineFile(JSON.stringify(same));
    expect(read.ok ? [] : read.error.lines).toEqual([expect.stringMatching(/^\$\.layout\.turn\.letter: /)]);
  });
});
