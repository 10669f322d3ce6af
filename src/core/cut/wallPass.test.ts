import { describe, expect, it } from 'vitest';
import { asWork, rect, ringsOf } from '../../../tests/support';
import { offsetRings } from '../base/boolean';
import { getRing } from '../base/rings';
import { createOutline, toRings } from '../medial/outline';
import { createCylinder } from '../surface/cylinder';
import { createContactSolver } from './contact';
import { createVProfile } from './profile';
import { computeWallPass } from './wallPass';

const R = 8;
const surface = asWork(createCylinder(2 * R, 60, 0, Math.PI));
const profile = createVProfile(90, 0);
const DEPTH = 0.5;

/** Depth at which the cone first touches the wall of a rectangle's long sides, which run along the cylinder, or its ends. */
const touchDepth = (x: number, y: number, wallX: number | null, wallY: number | null): number => {
  // Closed form for a wall at one angle: R(1 − cos Δ) + R sin Δ; for one square to the axis the distance itself.
  if (wallX !== null) return Math.abs(x - wallX);
  const turn = Math.abs(y - wallY!) / R;
  return R * (1 - Math.cos(turn)) + R * Math.sin(turn);
};

describe('computeWallPass', () => {
  const made = createOutline(ringsOf(rect(20, -4, 30, 4)));
  if (!made.ok) throw new Error(made.error.kind);
  const o = made.value;
  const solver = createContactSolver(o, surface, profile);
  const startAt = (insetMm: number): number[] => [...getRing(offsetRings(toRings(o), insetMm, 0.001), 0)];

  it.each([
    ['left', -0.4],
    ['right', 0.4],
  ] as const)('runs on the %s of the outline where exactly the depth is allowed', (side, insetMm) => {
    const runs = computeWallPass(startAt(insetMm), solver, o, { depthMm: DEPTH, side });
    // Inside, where it is not told the corners, it is broken off at each; outside it goes round them.
    expect(runs).toHaveLength(side === 'left' ? 4 : 1);
    const run = runs.flatMap((r) => [...r]);
    const sign = side === 'left' ? 1 : -1;
    let along = 0,
      across = 0;
    for (let i = 0; i < run.length; i += 3) {
      const [x, y, d] = [run[i]!, run[i + 1]!, run[i + 2]!];
      expect(d).toBeLessThanOrEqual(DEPTH);
      expect(d).toBeGreaterThan(0.98 * DEPTH);
      // Away from the corners one wall alone is touched.
      if (x > 22 && x < 28) {
        expect(Math.sign(4 - Math.abs(y))).toBe(sign);
        expect(touchDepth(x, y, null, Math.sign(y) * 4)).toBeCloseTo(DEPTH, 5);
        along++;
      } else if (Math.abs(y) < 2.5) {
        expect(Math.sign(5 - Math.abs(x - 25))).toBe(sign);
        expect(touchDepth(x, y, x < 25 ? 20 : 30, null)).toBeCloseTo(DEPTH, 5);
        across++;
      }
    }
    expect(along).toBeGreaterThan(4);
    expect(across).toBeGreaterThan(4);
  });

  it('turns at the corners it is given, touching two walls there, and closes', () => {
    const corner = [20.5, 3.514433344, 20.5, -3.514433344, 29.5, 3.514433344, 29.5, -3.514433344];
    const [run] = computeWallPass(startAt(-0.45), solver, o, { depthMm: DEPTH, side: 'left', corners: corner, slackMm: 0.2 });
    for (let c = 0; c < corner.length; c += 2) {
      let nearest = Infinity;
      for (let i = 0; i < run!.length; i += 3)
        nearest = Math.min(nearest, Math.hypot(run![i]! - corner[c]!, run![i + 1]! - corner[c + 1]!));
      expect(nearest).toBe(0);
    }
    expect([...run!.slice(0, 3)]).toEqual([...run!.slice(-3)]);
  });

  it('finds no pass where the cutter does not fit, nor on the wrong side', () => {
    const narrow = createOutline(ringsOf(rect(20, -0.2, 30, 0.2)));
    if (!narrow.ok) throw new Error('narrow');
    const tight = createContactSolver(narrow.value, surface, profile);
    const line = [21, 0.01, 21, -0.01, 29, -0.01, 29, 0.01];
    expect(computeWallPass(line, tight, narrow.value, { depthMm: DEPTH, side: 'left' })).toEqual([]);
    expect(computeWallPass(startAt(-0.4), solver, o, { depthMm: DEPTH, side: 'right' })).toEqual([]);
  });
});
