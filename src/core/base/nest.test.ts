import { describe, expect, it } from 'vitest';
import { rect, ringsOf } from '../../../tests/support';
import { computeArea } from './boolean';
import { nestRings } from './nest';

describe('nestRings', () => {
  it('lets a shape stand that lies in another, and cuts again what lies in that', () => {
    const { region, isNested } = nestRings([ringsOf(rect(0, 0, 20, 20)), ringsOf(rect(5, 5, 15, 15)), ringsOf(rect(8, 8, 12, 12))]);
    expect(isNested).toBe(true);
    expect(computeArea(region)).toBeCloseTo(400 - 100 + 16, 6);
  });

  it('unites shapes that cross before it looks what lies in what, so that they do not cancel', () => {
    const { region } = nestRings([ringsOf(rect(0, 0, 20, 20)), ringsOf(rect(5, 5, 10, 10)), ringsOf(rect(8, 8, 14, 14))]);
    expect(computeArea(region)).toBeCloseTo(400 - (25 + 36 - 4), 6);
    const side = nestRings([ringsOf(rect(0, 0, 4, 4)), ringsOf(rect(2, 2, 6, 6))]);
    expect(side.isNested).toBe(false);
    expect(computeArea(side.region)).toBeCloseTo(16 + 16 - 4, 6);
  });

  it('takes what lies in a hole, and the same shape twice, as they are', () => {
    const ring = ringsOf(
      rect(0, 0, 20, 20),
      rect(2, 2, 18, 18)
        .reverse()
        .flatMap((_, i, all) => (i % 2 ? [] : [all[i + 1]!, all[i]!])),
    );
    const { region, isNested } = nestRings([ring, ringsOf(rect(8, 8, 12, 12))]);
    expect(isNested).toBe(false);
    expect(computeArea(region)).toBeCloseTo(400 - 256 + 16, 6);
    expect(computeArea(nestRings([ringsOf(rect(0, 0, 3, 3)), ringsOf(rect(0, 0, 3, 3))]).region)).toBeCloseTo(9, 6);
  });
});
