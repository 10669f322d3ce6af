import { describe, expect, it } from 'vitest';
import { createBlank } from '../job/defaults';
import type { Blank } from '../job/schema';
import { fromTurnDeg } from '../surface/surface';
import { createSurface } from '../surface/registry';
import { createRepeat } from './createRepeat';

const boxAt = (x: number, y: number, width: number, height: number) => ({ minX: x, maxX: x + width, minY: y, maxY: y + height });
const plate = (patch: object = {}) => createSurface({ ...createBlank('plate'), lengthMm: 120, widthMm: 60, ...patch } as Blank);

describe('a repeat to begin with', () => {
  it('goes round a closed blank as often as there is room, four times at the most', () => {
    const cylinder = createSurface(createBlank('cylinder'));
    const round = cylinder.periodMm!;
    expect(createRepeat(cylinder, boxAt(10, 0, 20, 5))).toMatchObject({ roundCount: 4, roundPitchDeg: 0, alongCount: 1 });
    expect(createRepeat(cylinder, boxAt(10, 0, 20, round / 2.6))).toMatchObject({ roundCount: 2, alongCount: 1 });
    // Too high to stand twice round: then along it.
    expect(createRepeat(cylinder, boxAt(10, 0, 20, round - 5)).roundCount).toBe(1);
  });

  it.each([
    ['from the left', boxAt(5, -5, 25, 10)],
    ['from the right', boxAt(90, -5, 25, 10)],
    ['in the middle', boxAt(45, -5, 30, 10)],
    ['too long to stand twice, at the upper edge', boxAt(10, 15, 100, 12)],
    ['too long to stand twice, at the lower edge', boxAt(10, -28, 100, 12)],
  ])('lies on a plate with every copy, beside each other: %s', (_, box) => {
    const surface = plate();
    const { roundCount, roundPitchDeg, alongCount, alongPitchMm } = createRepeat(surface, box);
    expect(roundCount * alongCount).toBeGreaterThan(1);
    const [dx, dy] = [(alongCount - 1) * alongPitchMm, fromTurnDeg(surface, (roundCount - 1) * roundPitchDeg)];
    const { minX, maxX, minY, maxY } = surface.domain;
    expect(box.minX + Math.min(0, dx)).toBeGreaterThanOrEqual(minX);
    expect(box.maxX + Math.max(0, dx)).toBeLessThanOrEqual(maxX);
    expect(box.minY + Math.min(0, dy)).toBeGreaterThanOrEqual(minY);
    expect(box.maxY + Math.max(0, dy)).toBeLessThanOrEqual(maxY);
    if (alongCount > 1) expect(Math.abs(alongPitchMm)).toBeGreaterThan(box.maxX - box.minX);
    else expect(Math.abs(fromTurnDeg(surface, roundPitchDeg))).toBeGreaterThan(box.maxY - box.minY);
  });

  it('is one alone where no other fits, or nothing stands yet', () => {
    expect(createRepeat(plate(), boxAt(5, -20, 110, 40))).toMatchObject({ roundCount: 1, alongCount: 1 });
    expect(createRepeat(plate(), { minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity })).toMatchObject({ alongCount: 1 });
  });
});
