import { describe, expect, it } from 'vitest';
import { findRoom } from './findRoom';

const area = { minX: 0, maxX: 80, minY: -60, maxY: 60 };
describe('findRoom', () => {
  it('takes the middle where it is free, and else the free place nearest to it', () => {
    expect(findRoom(area, [], 20, 8, 1, null)).toEqual({ xMm: 40, yMm: 0 });
    const word = { minX: 20, maxX: 60, minY: -5, maxY: 5 };
    const { xMm, yMm } = findRoom(area, [word], 20, 8, 1, null);
    expect(Math.abs(yMm)).toBeGreaterThanOrEqual(10);
    expect(Math.abs(yMm)).toBeLessThan(14);
    expect(xMm).toBeCloseTo(40, 9);
  });
  it('minds what lies across the seam', () => {
    const long = { minX: 0, maxX: 80, minY: -10, maxY: 96 };
    const { yMm } = findRoom(area, [long], 20, 8, 1, 120);
    expect(yMm).toBeLessThanOrEqual(-15);
    expect(findRoom(area, [{ minX: 0, maxX: 80, minY: -60, maxY: 60 }], 20, 8, 1, 120)).toEqual({ xMm: 40, yMm: 0 });
  });
});
