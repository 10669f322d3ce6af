import { runSteps } from '../base/steps';
import { beforeAll, describe, expect, it } from 'vitest';
import { lineJob, machineWith, planJob, textOf, type Planned } from '../../../tests/support';
import { createSetup } from '../pipeline/setup';
import { computeReadBack } from './readBack';

const job = lineJob('RUN 2');
let planned: Planned;
beforeAll(async () => {
  planned = await planJob(job);
});
const readBack = (text: string, machine = job.machine) => runSteps(computeReadBack(createSetup({ ...job, machine }), planned.plan, [text]));
const text = () => textOf(planned.plan);

describe('computeReadBack', () => {
  it('is within the program’s last digit for an untouched program', () => {
    const back = readBack(text());
    expect(back.faults).toEqual([]);
    // Half of the last digit: 0.05 µm along and up, and 0.00005° of a radius of 20 mm, 0.017 µm; then the chord tolerance.
    expect(back.maxTipUm).toBeLessThan(1);
    expect(back.maxAxisUm).toBeLessThanOrEqual(0.0501);
    expect(back.maxTimeRatio).toBeLessThan(1e-5);
    expect(back.mirrored).toBe(false);
    expect(back.rapidInWork).toBeNull();
  });

  it('catches a machine that turns the other way as a mirror image', () => {
    const back = readBack(text(), machineWith({ sense: -1 }));
    expect(back.mirrored).toBe(true);
    expect(back.maxTipUm).toBeGreaterThan(100);
  });

  it('catches one changed digit, and says where', () => {
    const lines = text().split('\n');
    const at = lines.findIndex((l, i) => i > 40 && /^X[\d.]+ A/.test(l));
    lines[at] = lines[at]!.replace(/^X([\d.]+)/, (_, v: string) => `X${(Number(v) + 0.05).toFixed(4)}`);
    const back = readBack(lines.join('\n'));
    expect(back.maxTipUm).toBeGreaterThan(45);
    expect(back.worst.line).toBeGreaterThanOrEqual(at);
    expect(back.worst.line).toBeLessThan(at + 4);
  });

  it('catches a rapid below the surface', () => {
    const lines = text().split('\n');
    const at = lines.findIndex((l, i) => i > 30 && /^G0 Z/.test(l));
    lines[at] = 'G0 Z19.5';
    expect(readBack(lines.join('\n')).rapidInWork).toEqual({ part: 0, line: at });
  });

  it('catches a feed move that became a rapid, and a lost feed word', () => {
    const lines = text().split('\n');
    const at = lines.findIndex((l) => /^G93 G1/.test(l));
    const faults = (line: string) =>
      readBack([...lines.slice(0, at), line, ...lines.slice(at + 1)].join('\n'))
        .faults.map((f) => f.text)
        .join();
    expect(faults(lines[at]!.replace('G1', 'G0'))).toContain('written as a rapid');
    expect(faults(lines[at]!.replace(/ F[\d.]+/, ''))).toContain('no F word');
  });
});
