import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { computeLevels } from './levels';

describe('computeLevels', () => {
  it('divides by count', () => expect(computeLevels(0.9, { by: 'count', count: 3 }).map((d) => +d.toFixed(9))).toEqual([0.3, 0.6, 0.9]));
  it('steps evenly, none over the step', () =>
    expect(computeLevels(1, { by: 'step', stepMm: 0.3, even: true, finishMm: 0 })).toEqual([0.25, 0.5, 0.75, 1]));
  it('steps fixed with a remainder', () =>
    expect(computeLevels(1, { by: 'step', stepMm: 0.4, even: false, finishMm: 0 })).toEqual([0.4, 0.8, 1]));
  it('leaves the finishing step for last', () =>
    expect(computeLevels(1, { by: 'step', stepMm: 0.5, even: false, finishMm: 0.1 })).toEqual([0.5, 0.9, 1]));
  it('does not add a level for rounding: 0.6 in steps of 0.2', () =>
    expect(computeLevels(0.6, { by: 'step', stepMm: 0.2, even: false, finishMm: 0 })).toHaveLength(3));
  it('takes a finishing step larger than the depth as one level', () =>
    expect(computeLevels(0.2, { by: 'step', stepMm: 0.1, even: true, finishMm: 0.5 })).toEqual([0.2]));
  it.each([0, -1, NaN])('refuses a depth of %d', (d) => expect(() => computeLevels(d, { by: 'count', count: 1 })).toThrow('computeLevels'));

  it('begin below what is gone, and part what is left; none where nothing is', () => {
    expect(computeLevels(1, { by: 'count', count: 2 }, 0.4)).toEqual([0.7, 1]);
    expect(computeLevels(1, { by: 'step', stepMm: 0.25, even: false, finishMm: 0.1 }, 0.4)).toEqual([0.65, 0.9, 1]);
    expect(computeLevels(1, { by: 'count', count: 1 }, 1)).toEqual([]);
  });

  it('always rises to the depth in steps of at most the step', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 20, noNaN: true }),
        fc.double({ min: 0.01, max: 5, noNaN: true }),
        fc.boolean(),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (total, stepMm, even, finishMm) => {
          const levels = computeLevels(total, { by: 'step', stepMm, even, finishMm });
          expect(levels.at(-1)).toBeCloseTo(total, 12);
          levels.forEach((d, k) => {
            const step = d - (levels[k - 1] ?? 0);
            expect(step).toBeGreaterThan(-1e-12);
            expect(step).toBeLessThanOrEqual(Math.max(stepMm, finishMm) * (1 + 1e-6));
          });
        },
      ),
      { seed: 5 },
    );
  });
  it('ends exactly at the total, whatever that is (regression: 0.4 in three was 0.4000000000000001)', () => {
    for (const total of [0.4, 0.7, 1.1, 0.3, 2.675]) {
      for (const count of [1, 2, 3, 7, 9]) expect(computeLevels(total, { by: 'count', count }).at(-1)).toBe(total);
      for (const even of [true, false]) {
        const levels = computeLevels(total, { by: 'step', stepMm: 0.1, even, finishMm: 0 });
        expect(levels.at(-1)).toBe(total);
        for (let k = 1; k < levels.length; k++) expect(levels[k]!).toBeGreaterThan(levels[k - 1]!);
      }
    }
  });
});
