import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { intersectionArea } from './boolean';
import { regionsMayMeet } from './meet';
import { mapRings, packRings, type Rings } from './rings';

const square = (x: number, y: number, side: number): number[] => [x, y, x + side, y, x + side, y + side, x, y + side];
const frame = packRings([square(0, 0, 10), [2, 2, 2, 8, 8, 8, 8, 2]]);

describe('regionsMayMeet', () => {
  it('tells letters whose boxes overlap from letters that join', () => {
    // Two wedges, as in AV: their boxes overlap, they do not.
    const a = packRings([[0, 0, 4, 0, 2, 6]]);
    const v = (x: number) => packRings([[x, 6, x + 2, 0, x + 4, 6]]);
    expect(regionsMayMeet(a, v(2.5))).toBe(false);
    expect(regionsMayMeet(a, v(1.9))).toBe(true);
  });
  it('counts what lies within the other’s ink, and not what lies in its hole', () => {
    expect(regionsMayMeet(frame, packRings([square(4, 4, 2)]))).toBe(false);
    expect(regionsMayMeet(frame, packRings([square(0.5, 0.5, 1)]))).toBe(true);
    expect(regionsMayMeet(packRings([square(0.5, 0.5, 1)]), frame)).toBe(true);
    // One ring outside, one within: the second counts.
    expect(regionsMayMeet(frame, packRings([square(4, 4, 2), square(8.5, 8.5, 1)]))).toBe(true);
  });
  it('counts touching, and all but touching', () => {
    expect(regionsMayMeet(packRings([square(0, 0, 1)]), packRings([square(1, 0, 1)]))).toBe(true);
    expect(regionsMayMeet(packRings([square(0, 0, 1)]), packRings([square(1.0001, 0, 1)]))).toBe(true);
    expect(regionsMayMeet(packRings([square(0, 0, 1)]), packRings([square(1.01, 0, 1)]))).toBe(false);
    expect(regionsMayMeet(packRings([square(0, 0, 1)]), packRings([]))).toBe(false);
  });
  it('gives up on crowds of edges in time, by saying that they may', () => {
    const comb = (shift: number): Rings => packRings([Array.from({ length: 4000 }, (_, k) => [k / 100 + shift, k % 2 ? 1 : 9]).flat()]);
    const start = performance.now();
    expect(regionsMayMeet(comb(0), comb(0.003))).toBe(true);
    expect(performance.now() - start).toBeLessThan(200);
  });
  it('never denies an overlap that clipping finds', () => {
    const ring = fc
      .integer({ min: 3, max: 9 })
      .chain((n) => fc.array(fc.double({ min: 0.3, max: 4, noNaN: true }), { minLength: n, maxLength: n }))
      .map((radii) =>
        packRings([
          radii.flatMap((r, k) => [r * Math.cos((2 * Math.PI * k) / radii.length), r * Math.sin((2 * Math.PI * k) / radii.length)]),
        ]),
      );
    fc.assert(
      fc.property(ring, ring, fc.double({ min: -7, max: 7, noNaN: true }), fc.double({ min: -7, max: 7, noNaN: true }), (a, b, e, f) => {
        const moved = mapRings(b, { a: 1, b: 0, c: 0, d: 1, e, f });
        const shared = intersectionArea(a, moved);
        if (shared > 1e-6) expect(regionsMayMeet(a, moved)).toBe(true);
      }),
      { seed: 5, numRuns: 300 },
    );
  });
});
