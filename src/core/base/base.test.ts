import { describe, expect, it } from 'vitest';
import { wrapDeg, wrapTo, wrapToTurn } from './angle';
import { packRings } from './rings';
import { roundTo } from './round';
import { runSteps, type Steps } from './steps';
import { lineToPathData, ringsToPathData } from './svgPath';

describe('wrapTo', () => {
  it.each([
    [0, 0],
    [179, 179],
    [180, -180],
    [-180, -180],
    [181, -179],
    [540, -180],
    [-725, -5],
  ])('brings %d° to %d°', (deg, to) => {
    expect(wrapDeg(deg)).toBeCloseTo(to, 12);
    expect((wrapToTurn((deg * Math.PI) / 180) * 180) / Math.PI).toBeCloseTo(to, 9);
  });
  it('takes any period', () => expect(wrapTo(7, 4)).toBe(-1));
});

describe('roundTo', () => {
  it.each([
    [1.23456, 3, 1.235],
    [-0.00004, 4, -0],
    [12, 2, 12],
  ])('%d to %d decimals is %d', (v, d, r) => expect(roundTo(v, d)).toBe(r));
});

describe('path data', () => {
  it('joins points, closes rings and turns y down where asked', () => {
    expect(lineToPathData([0, 1, 2.34567, 3], { closed: false })).toBe('M0 1L2.34567 3');
    const rings = packRings([
      [0, 0, 1, 0, 1, 1],
      [5, 5.55555, 6, 5, 6, 6],
    ]);
    expect(ringsToPathData(rings, { closed: true, decimals: 2, yDown: true })).toBe('M0 0L1 0L1 -1ZM5 -5.56L6 -5L6 -6Z');
    expect(lineToPathData([], { closed: true })).toBe('');
  });
});

describe('runSteps', () => {
  function* count(to: number): Steps<number, string> {
    for (let k = 1; k <= to; k++) yield k;
    return 'done';
  }
  it('runs to the end and reports each step; a report that throws stops it', () => {
    const seen: number[] = [];
    expect(runSteps(count(3), (k) => void seen.push(k))).toBe('done');
    expect(seen).toEqual([1, 2, 3]);
    expect(() =>
      runSteps(count(3), () => {
        throw new Error('stopped');
      }),
    ).toThrow('stopped');
  });
});
