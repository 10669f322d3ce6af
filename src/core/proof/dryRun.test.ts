import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../../../tests/support';
import type { Job, Machine } from '../job/schema';
import { createSetup } from '../pipeline/setup';
import { hashBlank } from '../probe/grid';
import { toDryRun } from '../program/dryRun';
import { proveDryRun } from './dryRun';
import { toPartTexts } from './readBack';

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
    const { job, setup, plan, proof } = await planOn({ dialect, programUnit, toolChanger: false, toolLengths: 'control' });
    const texts = toPartTexts(plan.program);
    const dry = toDryRun(texts, job, 20);
    const own = proveDryRun(setup, dry);
    const wet = proveDryRun(setup, texts);
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
    const { job, setup, plan } = await planOn();
    expect(proveDryRun(setup, toDryRun(toPartTexts(plan.program), job, 0.2)).leastMm).toBeLessThan(0);
  });

  it('notices a Z that was left where it was', async () => {
    const { job, setup, plan } = await planOn();
    const dry = toDryRun(toPartTexts(plan.program), job, 20);
    const lines = dry[0]!.split('\n');
    const low = lines.findIndex((l) => /^G1 .*Z|^G93 G1 .*Z/.test(l));
    lines[low] = lines[low]!.replace(/Z[\d.]+/, 'Z19.8');
    expect(proveDryRun(setup, [lines.join('\n')]).leastMm).toBeLessThan(0);
  });

  it('that would lift the nose over the top of the machine says by how much', async () => {
    const { job, setup, plan, proof } = await planOn({ standsAt: { xMm: null, yMm: null, noseMm: 110 } });
    expect(proof.findings.filter((f) => f.code === 'nose-too-low')).toEqual([]);
    const lifted = (mm: number) => proveDryRun(setup, toDryRun(toPartTexts(plan.program), job, mm)).beyond.map((f) => f.text);
    expect(lifted(5)).toEqual([]);
    expect(lifted(20)).toEqual([expect.stringMatching(/nose would have to be 13\.0 mm over the top of the machine/)]);
  });

  it('leaves alone what a block of the machine’s own says from where the tool is', async () => {
    const { job, plan } = await planOn({ ownBlocks: { start: 'G91\nG0 Z5.\nG90', change: null, end: '' } });
    const text = toDryRun(toPartTexts(plan.program), job, 20)[0]!;
    expect(text).toContain('\nG91\nG0 Z5.\nG90\n');
    expect(text.split('G90\n')[1]).not.toMatch(/Z[0-9]\./);
  });

  it('is in lines as long as the machine takes, or says which are not', async () => {
    const { job, setup, plan } = await planOn({ longestLine: 40, lengthDigits: 6, angleDigits: 6 });
    const texts = toPartTexts(plan.program);
    const dry = toDryRun(texts, job, 20);
    expect(
      Math.max(
        ...dry
          .join('\n')
          .split('\n')
          .map((l) => l.length),
      ),
    ).toBeLessThanOrEqual(40);
    expect(dry[0]).toContain('\n(DRY RUN, lifted by 20. mm, ');
    const { faults, beyond } = proveDryRun(setup, dry);
    expect([faults, beyond]).toEqual([0, []]);
    // Lifted so far, Z has as many digits more.
    const high = proveDryRun(setup, toDryRun(texts, job, 123456));
    expect([high.faults, high.beyond.map((f) => f.code)]).toEqual([0, ['line-too-long']]);
  });

  it('is measured over the blank as it was measured', async () => {
    const { job, setup, plan } = await planOn();
    const measured = { xMm: [40], turnDeg: [0], mm: [[0.3]], follows: true, blank: hashBlank(job.blank) };
    const thicker = createSetup({ ...job, measured });
    const texts = toDryRun(toPartTexts(plan.program), job, 20);
    expect(proveDryRun(thicker, texts).leastMm).toBeCloseTo(proveDryRun(setup, texts).leastMm - 0.3, 6);
  });
});
