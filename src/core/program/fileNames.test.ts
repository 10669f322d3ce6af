import { describe, expect, it } from 'vitest';
import { carveJob, createDomeBlank, domeShapes, planJob } from '../../../tests/support';
import { createTool } from '../crib/starterTools';
import { createCut } from '../cut/kinds/registry';
import { TABLE_MACHINE } from '../job/defaults';
import { machineSchema } from '../job/machineSchema';
import { hashJob } from '../job/jobHash';
import type { Cut, Job } from '../job/schema';
import { stampProven } from '../proof/stamp';
import { toFileNames } from './fileNames';
import { UNSTAMPED, withoutStamp } from './stamp';

const named = (fileName: string) => ({
  ...carveJob('x', { job: { name: 'Buoy No. 4' } }),
  machine: { ...carveJob('x').machine, fileName },
});
const part = (suffix: string, toolNumber: number, cut: string) => ({ suffix, toolNumber, cut, lines: [] });

describe('names of files', () => {
  it('fill the machine’s pattern, part by part', () => {
    const parts = [part('1-T2', 2, 'Name, deep'), part('2-T7', 7, 'Edge')];
    expect(toFileNames(named('{job}{part}'), { parts })).toEqual(['buoy-no-4-1-T2.nc', 'buoy-no-4-2-T7.nc']);
    expect(toFileNames(named('T{number} {cut}'), { parts })).toEqual(['T2 name-deep.nc', 'T7 edge.nc']);
    const job = named('{machine}-{hash}');
    expect(toFileNames(job, { parts: [part('', 1, '')] })).toEqual([`bench-mill-rotary-along-x-${hashJob(job).slice(0, 8)}.nc`]);
  });
  it('tell files apart though the pattern does not', () => {
    expect(toFileNames(named('O1000'), { parts: [part('1-T1', 1, 'a'), part('2-T2', 2, 'b')] })).toEqual(['O1000.nc', 'O1000-2.nc']);
  });
  it('have no other placeholders, and nothing that no file may have in its name', () => {
    const why = (fileName: string) => machineSchema.safeParse({ ...carveJob('x').machine, fileName }).error?.issues[0]?.message;
    expect(why('{date}')).toMatch(/placeholders \{job\}/);
    expect(why('a/b')).toMatch(/must have none of/);
    expect(why('{job}-{part}')).toBeUndefined();
  });
});

describe('a file that holds two cutters', () => {
  it('is called by the one that has to be in the spindle when it starts (it was the last one)', async () => {
    const base = carveJob('I', { words: { heightMm: 12 } });
    const wide = createTool('wide', 7, 'wide', 'flat', { diameterMm: 1, fluteLengthMm: 5 });
    const pace = { feedMmPerMin: 400, plungeMmPerMin: 150, spindleRpm: 12000, levels: { by: 'count', count: 1 } } as const;
    const cut = {
      ...createCut('pocket', 'floor', 'fine'),
      depthMm: 0.4,
      clearing: [{ toolId: 'wide', ...pace, stepOverShare: 0.4 }],
    } as Cut;
    const fine = createTool('fine', 2, 'fine', 'flat', { diameterMm: 0.4, fluteLengthMm: 3 });
    const job: Job = {
      ...base,
      tools: [...base.tools, wide, fine],
      cuts: [cut, base.cuts[0]!],
      machine: { ...base.machine, files: 'per-cut' },
    };
    const { plan } = await planJob(job);
    expect(plan.program.parts.map((p) => [p.suffix, p.toolNumber, p.cut])).toEqual([
      ['1-T7', 7, cut.name],
      ['2-T1', 1, base.cuts[0]!.name],
    ]);
    expect(plan.program.parts[0]!.lines.some((l) => l.includes('tool 2'))).toBe(true);
  });
});

describe('the stamp', () => {
  it('says time, figures and job in place of one line, and nothing else changes', async () => {
    const job = carveJob('BUOY');
    const { setup, plan, proof } = await planJob(job);
    const before = plan.program.parts[0]!.lines.slice();
    const at = before.findIndex((l) => l.includes(UNSTAMPED));
    expect(at).toBeGreaterThan(0);
    stampProven(setup, plan, proof);
    const after = plan.program.parts[0]!.lines;
    expect(after.filter((l, k) => l !== before[k])).toHaveLength(1);
    expect(after[at]).toMatch(
      new RegExp(
        `^\\(\\d+ min \\d+ s; read back: tip within 0\\.\\d\\d um, edge \\d\\.\\d\\d um outside at most; job ${hashJob(job).slice(0, 8)}\\)$`,
      ),
    );
    expect(withoutStamp(after.join('\n'))).toBe(before.map((l, k) => (k === at ? '' : l)).join('\n'));
  });
  it('and all words for people are cut off where the control takes shorter lines', async () => {
    const base = carveJob('BUOY', { job: { name: 'A job with a name that goes on and on, for longer than a line may be' } });
    const { plan, proof } = await planJob({ ...base, machine: { ...base.machine, longestLine: 60 } });
    expect(proof.readBack.faults).toEqual([]);
    expect(Math.max(...plan.program.parts[0]!.lines.map((l) => l.length))).toBeLessThanOrEqual(60);
    const short = await planJob({ ...base, machine: { ...base.machine, longestLine: 40, lengthDigits: 6, angleDigits: 6 } });
    // Spaces go before anything is said.
    expect(short.proof.readBack.faults).toEqual([]);
    expect(Math.max(...short.plan.program.parts[0]!.lines.map((l) => l.length))).toBeLessThanOrEqual(40);
    const table = { ...TABLE_MACHINE, longestLine: 40, lengthDigits: 6, angleDigits: 6 };
    const words = { heightMm: 4, rotationDeg: 0, at: { xMm: 0, turnDeg: 0 } };
    const dome = carveJob('BUOY', { words, carve: { maxDepthMm: 1 } });
    const long = await planJob({ ...dome, machine: table, blank: createDomeBlank() } as Job, null, domeShapes());
    expect(long.proof.readBack.faults[0]?.text).toMatch(/the line has \d+ characters, and no more than 40 are taken/);
  });
});
