import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../../../tests/support';
import type { Job, Machine } from '../job/schema';
import { toPartTexts } from '../proof/readBack';
import { proveDryRun, toDryRun } from './dryRun';

const planOn = async (change: Partial<Machine> = {}) => {
  const job: Job = { ...carveJob('DRY', { carve: { maxDepthMm: 0.6 } }), machine: { ...carveJob('x').machine, ...change } };
  return { job, ...(await planJob(job)) };
};

describe('a dry run', () => {
  it.each([
    ['rs274', 'mm'],
    ['rs274', 'in'],
    ['iso6983', 'mm'],
    ['short-lines', 'in'],
  ] as const)('%s, %s: the same way, lifted, with the spindle still', async (dialect, programUnit) => {
    const { job, plan, surface, proof } = await planOn({ dialect, programUnit, toolChanger: false, toolLengths: 'control' });
    const texts = toPartTexts(plan.program);
    const dry = toDryRun(texts, job, 20);
    const own = proveDryRun(dry, job, surface);
    const wet = proveDryRun(texts, job, surface);
    expect([own.faults, own.still, wet.still]).toEqual([0, true, false]);
    // What cuts to a depth stays above the blank by the lift less that depth.
    const deepest = Math.max(...plan.cuts.map((c) => c.maxDepthMm));
    expect(wet.leastMm).toBeCloseTo(-deepest, 3);
    expect(own.leastMm).toBeCloseTo(20 - deepest, 3);
    expect(own.topMm).toBeCloseTo(wet.topMm + 20, 3);
    // As many motions, and where X, Y and A go is the same to the last digit.
    const words = (all: readonly string[]) => all.join('\n').match(/[XYABC]-?[\d.]+/g);
    expect(words(dry.map((t) => t.replace(/\(.*\)/g, '')))).toEqual(words(texts.map((t) => t.replace(/\(.*\)/g, ''))));
    expect(dry.join('\n')).not.toMatch(/M[34]\b/);
    if (dialect === 'rs274') expect(dry[0]!.split('\n').slice(0, 2)).toEqual(['%', '(DRY RUN, lifted by 20. mm, spindle still)']);
    expect(proof.readBack.faults).toEqual([]);
  });

  it('that is lifted by less than the cut is deep says so by its height', async () => {
    const { job, plan, surface } = await planOn();
    expect(proveDryRun(toDryRun(toPartTexts(plan.program), job, 0.2), job, surface).leastMm).toBeLessThan(0);
  });

  it('notices a Z that was left where it was', async () => {
    const { job, plan, surface } = await planOn();
    const dry = toDryRun(toPartTexts(plan.program), job, 20);
    const lines = dry[0]!.split('\n');
    const low = lines.findIndex((l) => /^G1 .*Z|^G93 G1 .*Z/.test(l));
    lines[low] = lines[low]!.replace(/Z[\d.]+/, 'Z19.8');
    expect(proveDryRun([lines.join('\n')], job, surface).leastMm).toBeLessThan(0);
  });
});
