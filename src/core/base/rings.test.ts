import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rect, ringsOf } from '../../../tests/support';
import { fillRings, GRID_MM, intersectionArea, offsetRings, unionRings } from './boolean';
import { splitComponents } from './components';
import {
  boxesOverlap,
  computeBox,
  computeSignedArea,
  concatRings,
  getRing,
  isEmptyBox,
  joinBoxes,
  mapRings,
  packRings,
  type Rings,
} from './rings';

const areaOf = (rings: Rings) =>
  Array.from({ length: rings.starts.length - 1 }, (_, k) => computeSignedArea(getRing(rings, k))).reduce((a, b) => a + b, 0);
const hole = (x0: number, y0: number, x1: number, y1: number) => [x0, y0, x0, y1, x1, y1, x1, y0];

describe('rings', () => {
  it('pack and give back their parts, and join', () => {
    const r = concatRings([ringsOf([0, 0, 1, 0, 1, 1], [5, 5, 6, 5]), ringsOf(), ringsOf([9, 9])]);
    expect([...r.starts]).toEqual([0, 3, 5, 6]);
    expect([...getRing(r, 1)]).toEqual([5, 5, 6, 5]);
  });
  it('keep the region on the left under any map, mirrors too', () => {
    const n = fc.double({ min: -5, max: 5, noNaN: true });
    fc.assert(
      fc.property(n, n, n, n, n, n, (a, b, c, d, e, f) => {
        const area = computeSignedArea(mapRings(ringsOf(rect(0, 0, 2, 3)), { a, b, c, d, e, f }).xy);
        expect(area).toBeCloseTo(Math.abs(6 * (a * d - b * c)), 6);
      }),
      { seed: 3 },
    );
  });
  it('have boxes that join, and empty ones that change nothing', () => {
    const empty = computeBox([]);
    expect(isEmptyBox(empty)).toBe(true);
    const box = computeBox([1, 2, -3, 4]);
    expect(joinBoxes(box, empty)).toEqual(box);
    expect(boxesOverlap(box, computeBox([1, 4, 9, 9]))).toBe(true);
    expect(boxesOverlap(box, computeBox([1.01, 4, 9, 9]))).toBe(false);
  });
});

describe('unionRings and fillRings', () => {
  it('unite overlaps by the non-zero rule, on the grid', () => {
    const u = unionRings(ringsOf(rect(0, 0, 2, 2), rect(1, 1, 3, 3)));
    expect(areaOf(u)).toBeCloseTo(7, 9);
    u.xy.forEach((v) => expect(Math.abs(v / GRID_MM - Math.round(v / GRID_MM))).toBeLessThan(1e-6));
  });
  it('leave holes, and fill what turns twice', () => {
    expect(areaOf(unionRings(ringsOf(rect(0, 0, 4, 4), hole(1, 1, 2, 2))))).toBeCloseTo(15, 9);
    expect(areaOf(fillRings(ringsOf(rect(0, 0, 4, 4), rect(1, 1, 2, 2)), 'evenodd'))).toBeCloseTo(15, 9);
    expect(areaOf(fillRings(ringsOf(rect(0, 0, 4, 4), rect(1, 1, 2, 2)), 'nonzero'))).toBeCloseTo(16, 9);
  });
  it('take anything: nothing, points, lines, a million millimetres', () => {
    for (const parts of [[], [[]], [[1, 1]], [[0, 0, 1, 1]], [[0, 0, 1, 0, 2, 0]]])
      expect(unionRings(ringsOf(...parts)).xy).toHaveLength(0);
    expect(areaOf(unionRings(ringsOf(rect(-1e4, -1e4, 1e4, 1e4))))).toBeCloseTo(4e8, 0);
  });
  it('unites a thousand letters side by side in a moment, and chains of overlaps as one (regression: 40 s)', () => {
    const start = performance.now();
    const row = unionRings(
      ringsOf(...Array.from({ length: 3000 }, (_, k) => [rect(3 * k, 0, 3 * k + 2, 5), hole(3 * k + 0.5, 1, 3 * k + 1, 4)]).flat()),
    );
    expect(performance.now() - start).toBeLessThan(2000);
    expect(row.starts.length - 1).toBe(6000);
    expect(areaOf(row)).toBeCloseTo(3000 * (10 - 1.5), 3);
    expect(areaOf(unionRings(ringsOf(...Array.from({ length: 40 }, (_, k) => rect(k, 0, k + 2, 1)))))).toBeCloseTo(41, 6);
  });
  it('measure what two regions share', () => {
    expect(intersectionArea(ringsOf(rect(0, 0, 2, 2)), ringsOf(rect(1, 1, 5, 5)))).toBeCloseTo(1, 9);
    expect(intersectionArea(ringsOf(rect(0, 0, 2, 2)), ringsOf(rect(3, 3, 5, 5)))).toBe(0);
  });
});

describe('offsetRings', () => {
  it('grows with round corners and shrinks to nothing', () => {
    expect(areaOf(offsetRings(ringsOf(rect(0, 0, 4, 4)), 1, 0.001))).toBeCloseTo(16 + 16 + Math.PI, 1);
    expect(areaOf(offsetRings(ringsOf(rect(0, 0, 4, 4)), -1, 0.001))).toBeCloseTo(4, 6);
    expect(offsetRings(ringsOf(rect(0, 0, 4, 4)), -2.1, 0.001).xy).toHaveLength(0);
  });
  it('keeps holes clockwise', () => {
    const grown = offsetRings(ringsOf(rect(0, 0, 10, 10), hole(3, 3, 7, 7)), 0.5, 0.001);
    const areas = Array.from({ length: grown.starts.length - 1 }, (_, k) => computeSignedArea(getRing(grown, k))).sort((a, b) => a - b);
    expect(areas[0]).toBeCloseTo(-9, 6);
    expect(areas[1]).toBeGreaterThan(120);
  });
});

describe('splitComponents', () => {
  it('gives each hole to the smallest ring round it, islands to themselves', () => {
    const parts = splitComponents(
      packRings([rect(0, 0, 20, 20), hole(2, 2, 18, 18), rect(4, 4, 16, 16), hole(6, 6, 8, 8), rect(30, 0, 32, 2)]),
    );
    expect(parts.map((p) => p.starts.length - 1).sort()).toEqual([1, 2, 2]);
    expect(
      parts
        .map(areaOf)
        .sort((a, b) => a - b)
        .map((v) => Math.round(v)),
    ).toEqual([4, 140, 144]);
  });
  it('finds the right ring for a hole that touches it in a corner', () => {
    const parts = splitComponents(packRings([rect(0, 0, 10, 10), hole(0, 0, 4, 4), rect(20, 0, 30, 10)]));
    expect(parts.map(areaOf).map((v) => Math.round(v))).toEqual([84, 100]);
  });
  it('takes none, and drops rings without area', () => {
    expect(splitComponents(packRings([]))).toEqual([]);
    expect(splitComponents(packRings([[0, 0, 1, 0, 2, 0]]))).toEqual([]);
  });
});
