import { describe, expect, it } from 'vitest';
import { carveJob, planJob, readNc } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import { createLay, type Job } from '../job/schema';
import { proveDryRun } from '../proof/dryRun';
import { createProfileNodes } from '../surface/profileShapes';
import { writeOutlineRun } from './outlineRun';

const HEIGHT_MM = 4;
const LAST_DIGIT = 2e-4;
const barrel: Job = {
  ...carveJob('ROUND', { words: { at: { xMm: 60, turnDeg: 30 }, heightMm: 8 } }),
  blank: { ...createBlank('turned'), profile: createProfileNodes('barrel', 60, 120) },
  lay: { ...createLay(), kind: 'level' },
};

describe('an outline run', () => {
  it.each([
    ['a cylinder', carveJob('ROUND')],
    ['a barrel', barrel],
  ] as const)('on %s goes round what the program cuts, at its height, with the spindle still', async (_, job) => {
    const { setup, lettering, plan } = await planJob(job);
    const text = writeOutlineRun(setup, lettering, HEIGHT_MM)!;
    const proof = proveDryRun(setup, [text]);
    expect([proof.faults, proof.still, proof.beyond]).toEqual([0, true, []]);
    // Where the tool leans from the normal it is nearer by the lean's cosine.
    expect(proof.leastMm).toBeLessThanOrEqual(HEIGHT_MM + 1e-3);
    expect(proof.leastMm).toBeGreaterThan(0.9 * HEIGHT_MM);
    const spanOf = (nc: string) => {
      const { motions } = readNc(nc);
      const feeds = motions.filter((m) => !m.rapid);
      return [0, 3].map((k) => [Math.min(...feeds.map((m) => m.end[k]!)), Math.max(...feeds.map((m) => m.end[k]!))] as const);
    };
    const round = spanOf(text),
      cut = spanOf(plan.program.parts[0]!.lines.join('\n'));
    for (const k of [0, 1]) {
      // Sharp corners are cut right up to the outline, to the last digit.
      expect(round[k]![0]).toBeLessThan(cut[k]![0] + LAST_DIGIT);
      expect(round[k]![1]).toBeGreaterThan(cut[k]![1] - LAST_DIGIT);
      // By no more than a V stands off its outline.
      expect(cut[k]![0] - round[k]![0]).toBeLessThan(3);
      expect(round[k]![1] - cut[k]![1]).toBeLessThan(3);
    }
  });

  it('is none where there is nothing to go round', async () => {
    const { setup, lettering } = await planJob({ ...carveJob('A'), cuts: [] });
    expect(writeOutlineRun(setup, lettering, HEIGHT_MM)).toBeNull();
  });
});
