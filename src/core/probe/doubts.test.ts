import { describe, expect, it } from 'vitest';
import { createRandom } from '../../../tests/support';
import { findDoubts } from './doubts';

const DEG = Math.PI / 180;
/** An eccentric, tapered blank with some roughness, touched at 8 × 10 places. */
const blank = (roughMm = 0.02): number[][] => {
  const random = createRandom(7);
  return Array.from({ length: 8 }, (_, i) =>
    Array.from({ length: 10 }, (_, j) => 0.15 * Math.cos(36 * j * DEG) + 0.01 * i + roughMm * (random() - 0.5)),
  );
};

describe('touches that stand out', () => {
  it.each([-6, -2, 1.9, 9, 0.5])('one of 80 that is off by %f mm is found, and no other', (byMm) => {
    for (const [i, j] of [
      [0, 0],
      [3, 9],
      [7, 4],
      [4, 5],
    ] as const) {
      const mm = blank();
      mm[i]![j]! += byMm;
      const doubts = findDoubts(mm, true);
      expect(doubts.map((d) => [d.along, d.round])).toEqual([[i, j]]);
      expect(doubts[0]!.byMm).toBeCloseTo(byMm, 0);
    }
  });
  it('several are found, the worst first', () => {
    const mm = blank();
    mm[2]![3]! += 3;
    mm[2]![4]! -= 1;
    mm[6]![0]! += 0.8;
    expect(findDoubts(mm, true).map((d) => [d.along, d.round])).toEqual([
      [2, 3],
      [2, 4],
      [6, 0],
    ]);
  });
  it('a blank that is rough, runs out far, or was touched beside its edge is not doubted; nor is what is accepted', () => {
    expect(findDoubts(blank(0.5), true)).toEqual([]);
    expect(
      findDoubts(
        blank().map((row, i) => row.map((v, j) => 6 * v + 0.1 * i * i + (j === 3 && i < 2 ? NaN : 0))),
        true,
      ),
    ).toEqual([]);
    const mm = blank();
    mm[5]![5]! += 2;
    expect(findDoubts(mm, true, (i, j) => i === 5 && j === 5)).toEqual([]);
    expect(findDoubts([[0, 0.1, 5]], false)).toHaveLength(0);
  });
});
