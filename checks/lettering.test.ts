import { describe, expect, it } from 'vitest';
import { ISO_HEIGHTS } from '../src/ui/bench/panels/lettering/isoHeights';
import { createSeries } from '../src/core/job/defaults';
import { computeMarks } from '../src/core/lettering/series';

describe('standard heights of lettering', () => {
  // Source: ISO 3098-1 (from memory): 1.8, 2.5, 3.5, 5, 7, 10, 14, 20 mm, each √2 times the one before, rounded; lines h/14 (A)
  // or h/10 (B).
  it('are those of the standard, in steps of √2 to within its rounding', () => {
    expect([...ISO_HEIGHTS]).toEqual([1.8, 2.5, 3.5, 5, 7, 10, 14, 20]);
    ISO_HEIGHTS.slice(1).forEach((h, k) => expect(Math.abs(h / ISO_HEIGHTS[k]! / Math.SQRT2 - 1)).toBeLessThan(0.025));
  });
});

describe('division of a circle', () => {
  // Fact of the trade: a dividing plate counts from one zero; the k-th of n marks stands at k/n of a turn, with no error that adds up.
  it.each([
    [7, 1],
    [360, 1],
    [3600, 0.1],
    [13, 1],
  ])('into %d parts in steps of %d: to 1e-9 of a turn', (n, step) => {
    const { marks } = computeMarks({ ...createSeries('s', 'f', 0), shape: 'dial', from: 0, to: n * step, step });
    expect(marks).toHaveLength(n);
    marks.forEach((m, k) => expect(Math.abs(m.share - k / n)).toBeLessThan(1e-9));
  });
});
