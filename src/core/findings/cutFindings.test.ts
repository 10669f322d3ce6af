import { describe, expect, it } from 'vitest';
import { carveJob, lineJob, planJob } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import type { Blank, Tool } from '../job/schema';
import { listRuns } from '../pipeline/setup';
import { findCutterFaults } from './cutFindings';

const runWith = (tool: Partial<Tool>) =>
  listRuns(carveJob('I', { tool: { includedDeg: 60, diameterMm: 6, fluteLengthMm: 50, ...tool } }))[0]!;
const codesAt = (tool: Partial<Tool>, depthMm: number) => findCutterFaults(runWith(tool), depthMm).map((f) => f.code);

describe('a lean', () => {
  // The last inset of a floor shrank to a speck whose place was no number; the lean of all the rest was lost with it.
  it('is told though the floor of a letter ends in a speck', async () => {
    const job = carveJob('OK', { carve: { maxDepthMm: 0.5 }, words: { heightMm: 4, at: { xMm: 25, turnDeg: 0 } } });
    const cone = { ...createBlank('cone'), datumDiameterMm: 60, farDiameterMm: 30, lengthMm: 50 } as Blank;
    const { findings } = await planJob({ ...job, blank: cone });
    const lean = (Math.atan(15 / 50) * 180) / Math.PI;
    expect(findings.find((f) => f.code === 'tool-leans')?.text).toContain(`up to ${lean.toFixed(1)}°`);
  });
});

describe('findCutterFaults', () => {
  // A cone is as wide as its cutter at (D − t)/2 over tan β; a ball of radius b joins it at b(1 − sin β), half-width b·cos β. Elementary.
  const cot30 = 1 / Math.tan(Math.PI / 6);
  it.each([
    ['sharp', {}, 3 * cot30],
    ['with a flat tip of 1 mm', { tipMm: 1 }, 2.5 * cot30],
    ['with a ball tip of 1 mm', { kind: 'ball-v' as const, tipMm: 1 }, 0.5 * (1 - 0.5) + (3 - 0.5 * Math.cos(Math.PI / 6)) * cot30],
  ])('tells a depth above which a cone, %s, is wider than its cutter', (_, tool, reachMm) => {
    expect(codesAt(tool, reachMm - 1e-6)).toEqual([]);
    expect(codesAt(tool, reachMm + 1e-6)).toEqual(['cutter-too-narrow']);
  });

  it('has no such depth for an end mill, and one for the flutes of any', () => {
    const [run] = listRuns(lineJob('I', { toolId: 'flat05' }));
    expect(findCutterFaults(run!, 1.4)).toEqual([]);
    expect(findCutterFaults(run!, 1.6).map((f) => f.code)).toEqual(['flute-too-short']);
  });
});
