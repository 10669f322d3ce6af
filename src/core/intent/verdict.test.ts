import { describe, expect, it } from 'vitest';
import { carveJob, planOnly } from '../../../tests/support';
import { runSteps } from '../base/steps';
import { createArtwork, createBlank } from '../job/defaults';
import type { Blank, Job } from '../job/schema';
import { proveWhole } from '../proof/whole';
import { judgeField } from './verdict';

/** A bar of 20 × 2 mm, carved by a sharp 90° V to a limit: a floor as far in from the outline as it is deep, on a plate. */
async function carveBar(maxDepthMm: number) {
  const base = carveJob('I', { carve: { maxDepthMm } });
  const bar = createArtwork('bar', 'bar', 40, [{ name: 'bar', on: true, rings: [[-10, -1, 10, -1, 10, 1, -10, 1]], chains: [] }]);
  const blank = { ...createBlank('plate'), lengthMm: 80, widthMm: 40, thicknessMm: 5 } as Blank;
  const job: Job = { ...base, blank, inscriptions: [{ ...bar, at: { xMm: 40, turnDeg: 0 } }] };
  const { setup, lettering, plan } = await planOnly(job);
  return { setup, lettering, field: runSteps(proveWhole(setup, lettering, plan)).field!.removal.field };
}

const insetArea = (mm: number): number => (20 - 2 * mm) * (2 - 2 * mm);

describe('the verdict', () => {
  it('is none for the piece that was meant', async () => {
    const { setup, lettering, field } = await carveBar(0.5);
    expect(runSteps(judgeField(setup, lettering, field))).toMatchObject({ faults: [], map: { xy: new Float32Array(0) } });
  });

  it('tells the whole of what is left or too deep, though samples found it: area, sign and places (closed form)', async () => {
    const [shallow, deep] = [await carveBar(0.4), await carveBar(0.5)];
    // Cut to 0.4 mm where 0.5 is meant: left inside an inset of 0.4 mm, more what floors may stand higher and half a cell (34 µm).
    const left = runSteps(judgeField(deep.setup, deep.lettering, shallow.field));
    expect(left.faults.map((f) => f.kind)).toEqual(['left']);
    expect(left.faults[0]!.areaMm2).toBeLessThan(insetArea(0.4));
    expect(left.faults[0]!.areaMm2).toBeGreaterThan(insetArea(0.51));
    // … and to 0.5 mm where 0.4 is meant: too deep inside the same, less the slack and half a cell (42 µm).
    const over = runSteps(judgeField(shallow.setup, shallow.lettering, deep.field));
    expect(over.faults.map((f) => f.kind)).toEqual(['too-deep']);
    expect(over.faults[0]!.areaMm2).toBeLessThan(insetArea(0.4));
    expect(over.faults[0]!.areaMm2).toBeGreaterThan(insetArea(0.47));
    expect(over.faults[0]!.depthMm).toBeCloseTo(0.5, 2);
    expect(over.faults[0]!.wantedMm).toBeCloseTo(0.4, 1);
    for (const [{ map }, sign] of [
      [left, -1],
      [over, 1],
    ] as const) {
      expect(map.offMm.length).toBeGreaterThan(0);
      map.offMm.forEach((off, i) => {
        expect(Math.sign(off)).toBe(sign);
        expect(Math.abs(off)).toBeLessThan(0.101);
        expect(Math.abs(map.xy[2 * i]! - 40)).toBeLessThan(10 - 0.39);
        expect(Math.abs(map.xy[2 * i + 1]!)).toBeLessThan(1 - 0.39);
      });
    }
  });
});
