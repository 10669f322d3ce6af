import { asWork } from '../../../tests/support';
import { describe, expect, it } from 'vitest';
import { createCylinder } from '../surface/cylinder';
import { isFeedMove, layPaths, MOVE } from './laidPaths';

const surface = asWork(createCylinder(40, 80, 0, Math.PI));
const heights = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };
const motions = [
  { feedMmPerMin: 500, plungeMmPerMin: 100 },
  { feedMmPerMin: 300, plungeMmPerMin: 80 },
];
const stroke = (x: number, y: number) => Float64Array.from([x, y, 0.2, x + 3, y, 0.2]);

describe('layPaths', () => {
  const laid = layPaths(
    surface,
    [
      { run: 0, level: 0, strokes: [stroke(10, 0), stroke(10, 5)] },
      { run: 1, level: 0, strokes: [stroke(30, 5)] },
    ],
    motions,
    heights,
  );
  const depth = (i: number) => laid.sheet[3 * i + 2]!;

  it('starts and ends at the park height, and parks between cuts', () => {
    expect(depth(0)).toBe(-25);
    expect(depth(laid.count - 1)).toBe(-25);
    const change = Array.from(laid.run).findIndex((c) => c === 1);
    expect(laid.kind[change - 1]).toBe(MOVE.park);
    expect(depth(change)).toBe(-25);
  });

  it('never crosses below the hop height, and never feeds down faster than the plunge', () => {
    for (let i = 1; i < laid.count; i++) {
      const across = Math.hypot(laid.sheet[3 * i]! - laid.sheet[3 * i - 3]!, laid.sheet[3 * i + 1]! - laid.sheet[3 * i - 2]!);
      if (!isFeedMove(laid.kind[i]!)) {
        if (across > 0) expect(Math.max(depth(i), depth(i - 1))).toBeLessThanOrEqual(-2);
        expect(depth(i)).toBeLessThanOrEqual(-0.5);
        expect(laid.feedMmPerMin[i]).toBe(0);
      } else if (laid.kind[i] === MOVE.plunge) {
        expect(across).toBe(0);
        expect(laid.feedMmPerMin[i]).toBe(motions[laid.run[i]!]!.plungeMmPerMin);
      } else expect(laid.feedMmPerMin[i]).toBe(motions[laid.run[i]!]!.feedMmPerMin);
    }
  });

  it('runs strokes that meet without lifting', () => {
    const joined = layPaths(surface, [{ run: 0, level: 0, strokes: [stroke(10, 0), stroke(13, 0)] }], motions, heights);
    expect(Array.from(joined.kind).filter((k) => k === MOVE.plunge)).toHaveLength(1);
  });

  it('lays tips below the surface along the normal', () => {
    for (let i = 0; i < laid.count; i++) {
      expect(Math.hypot(laid.tip[3 * i + 1]!, laid.tip[3 * i + 2]!)).toBeCloseTo(20 - depth(i), 9);
      expect(Math.hypot(...laid.axis.subarray(3 * i, 3 * i + 3))).toBeCloseTo(1, 12);
    }
  });

  it('is empty for nothing', () => expect(layPaths(surface, [], motions, heights).count).toBe(0));
});
