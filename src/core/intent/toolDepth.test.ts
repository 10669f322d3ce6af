import { describe, expect, it } from 'vitest';
import { createMillProfile, createVProfile } from '../cut/profile';
import { computeToolDepth } from './toolDepth';

const DEG = Math.PI / 180;
const UP = [0, 0, 1];
/** A ray from a place that leans by an angle towards −x as it goes down. */
const rayFrom = (x: number, leanRad: number): number[] => [x, 0, 0, Math.sin(leanRad), 0, Math.cos(leanRad)];

describe('depth of a cutter along a ray', () => {
  it('under an upright V is its depth less what its flank rises to: d − ℓ·cot β', () => {
    const profile = createVProfile(60, 0);
    for (const l of [0, 0.1, 0.4])
      expect(computeToolDepth(rayFrom(l, 0), [0, 0, -1], UP, profile, 5)).toBeCloseTo(1 - l / Math.tan(30 * DEG), 5);
    expect(computeToolDepth(rayFrom(0.6, 0), [0, 0, -1], UP, profile, 5)).toBe(0);
  });

  it('under a mill is cut off where the ray leaves its side', () => {
    const mill = createMillProfile(1, 0);
    const lean = 20 * DEG;
    // Down towards the axis it stays in it down to its end …
    expect(computeToolDepth(rayFrom(0.9, lean), [0, 0, -0.5], UP, mill, 1)).toBeCloseTo(0.5 / Math.cos(lean), 5);
    // … and away from it it leaves by the side.
    expect(computeToolDepth(rayFrom(-0.9, lean), [0, 0, -0.5], UP, mill, 1)).toBeCloseTo(0.1 / Math.sin(lean), 5);
  });

  it.each([2, 5, 8, 9.5])(
    'is met where a flank stands all but along a ray that leans by %f° (closed form of a line and a cone)',
    (leanDeg) => {
      const [beta, lean, depth] = [10 * DEG, leanDeg * DEG, 3];
      const profile = createVProfile(20, 0);
      for (const x of [0.05, 0.2, 0.4, 0.5]) {
        // z = −d + ℓ·cot β meets (x − t·sin λ, −t·cos λ) on the side it comes from.
        const t = (depth * Math.tan(beta) - x) / (Math.cos(lean) * Math.tan(beta) - Math.sin(lean));
        const axisT = x / Math.sin(lean);
        // Past the axis it meets the other flank.
        const other = (depth * Math.tan(beta) + x) / (Math.cos(lean) * Math.tan(beta) + Math.sin(lean));
        const wanted = t <= axisT ? t : other;
        expect(computeToolDepth(rayFrom(x, lean), [0, 0, -depth], UP, profile, 20)).toBeCloseTo(wanted, 3);
      }
    },
  );

  it('less is asked for and more allowed by a distance aside', () => {
    const profile = createVProfile(90, 0);
    const ask = (asideMm: number): number => computeToolDepth(rayFrom(0.3, 0), [0, 0, -1], UP, profile, 5, asideMm);
    expect([ask(0.01), ask(0), ask(-0.01)]).toEqual([expect.closeTo(0.69, 5), expect.closeTo(0.7, 5), expect.closeTo(0.71, 5)]);
  });

  it('of a stretch that begins below the surface is asked or not', () => {
    // A leaning mill whose side stands off the surface there.
    const axis = [Math.sin(30 * DEG), 0, Math.cos(30 * DEG)];
    const mill = createMillProfile(0.5, 0);
    const ray = rayFrom(-0.9, 0);
    const tip = [-1.2, 0, -2];
    expect(computeToolDepth(ray, tip, axis, mill, 0.5)).toBeGreaterThan(0);
    expect(computeToolDepth(ray, tip, axis, mill, 0.5, 0, true)).toBe(0);
  });
});
