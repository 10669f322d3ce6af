import { describe, expect, it } from 'vitest';
import { createBlank } from '../job/defaults';
import type { Guide } from '../job/schema';
import { createSurface } from '../surface/registry';
import { directBand } from './band';
import { createCurve, type Curve } from './curve';

const surface = createSurface(createBlank('cylinder'));
const curve = (guide: object): Curve => createCurve({ id: 'g', name: '', ...guide } as Guide, surface)!;
const line = (x0: number, y0: number, x1: number, y1: number) =>
  curve({ kind: 'line', from: { xMm: x0, yMm: y0 }, to: { xMm: x1, yMm: y1 } });
const round = (radiusMm: number, startDeg: number, sweepDeg: number) =>
  curve({ kind: 'arc', centre: { xMm: 0, yMm: 0 }, radiusMm, startDeg, sweepDeg });
const at = (c: Curve, share: number): number[] => {
  const out = new Float64Array(4);
  c.at(share * c.lengthMm, out);
  return [...out];
};
/** Sign of direction × way from feet to heads, and how far the heads are off the way square to the feet, as a share. */
const judge = (feet: Curve, heads: Curve) =>
  [0, 0.3, 0.8].map((share) => {
    const [x, y, tx, ty] = at(feet, share) as [number, number, number, number];
    const [u, v] = at(heads, share) as [number, number];
    const [dx, dy] = [u - x, v - y];
    return { left: Math.sign(tx * dy - ty * dx), skew: Math.abs(tx * dx + ty * dy) / Math.hypot(dx, dy) };
  });

describe('directBand', () => {
  const ways: [string, Curve, Curve][] = [
    ['as drawn', line(0, 0, 10, 0), line(0, 5, 10, 5)],
    ['the upper drawn the other way', line(0, 0, 10, 0), line(10, 5, 0, 5)],
    ['the "top" guide below', line(0, 0, 10, 0), line(0, -5, 10, -5)],
    ['both drawn the other way', line(10, 0, 0, 0), line(10, 5, 0, 5)],
    ['two circles', round(10, 0, 360), round(16, 0, 360)],
    ['two circles that begin apart and run against each other', round(10, 0, 360), round(16, 120, -360)],
    ['a smaller circle on top', round(16, 40, 360), round(10, 200, 360)],
  ];
  it.each(ways)('reads right with tops towards the heads, on its feet and on its head: %s', (_, bottom, top) => {
    for (const reversed of [false, true]) {
      const { feet, heads } = directBand(bottom, top, reversed);
      for (const { left, skew } of judge(feet, heads)) {
        expect(left).toBe(1);
        expect(skew).toBeLessThan(1e-4);
      }
      // The feet are on the guide that was asked for.
      const on = at(reversed ? top : bottom, 0);
      expect(Math.min(...[0, 0.5, 1].map((s) => Math.hypot(at(feet, s)[0]! - on[0]!, at(feet, s)[1]! - on[1]!)))).toBeLessThan(1e-6);
    }
  });
});
