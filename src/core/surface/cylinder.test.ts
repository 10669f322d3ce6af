import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createCylinder } from './cylinder';

const sizes = {
  d: fc.double({ min: 1, max: 500, noNaN: true }),
  x: fc.double({ min: -100, max: 100, noNaN: true }),
  turn: fc.double({ min: -9, max: 9, noNaN: true }),
};

describe('createCylinder', () => {
  it('has θ = 0 at +Z and grows towards +Y, x along, normal outward', () => {
    const s = createCylinder(20, 50, 0, Math.PI);
    const f = new Float64Array(6);
    s.frameInto(7, 0, f);
    expect([...f]).toEqual([7, 0, 10, 0, 0, 1]);
    s.frameInto(7, (10 * Math.PI) / 2, f);
    [7, 10, 0, 0, 1, 0].forEach((v, k) => expect(f[k]).toBeCloseTo(v, 12));
  });

  it('is right-handed: e_x × e_y points out of the material', () => {
    const s = createCylinder(20, 50, 0, Math.PI);
    const e = 1e-6,
      o = new Float64Array(6),
      px = new Float64Array(3),
      py = new Float64Array(3);
    s.frameInto(3, 4, o);
    s.pointInto(3 + e, 4, px);
    s.pointInto(3, 4 + e, py);
    const a = [0, 1, 2].map((k) => (px[k]! - o[k]!) / e),
      b = [0, 1, 2].map((k) => (py[k]! - o[k]!) / e);
    const n = [a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, a[0]! * b[1]! - a[1]! * b[0]!];
    n.forEach((v, k) => expect(v).toBeCloseTo(o[3 + k]!, 6));
  });

  it('has a twin for every point: toSheet(point) is the sheet place, up to whole turns', () => {
    fc.assert(
      fc.property(sizes.d, sizes.x, sizes.turn, fc.double({ min: 0.05, max: 3, noNaN: true }), (d, x, turn, lift) => {
        const s = createCylinder(d, 100, 0, 0);
        const f = new Float64Array(6);
        s.frameInto(x, (turn * d) / 2, f);
        const at = s.toSheet(f[0]! + lift * f[3]!, f[1]! + lift * f[4]!, f[2]! + lift * f[5]!);
        expect(at.x).toBeCloseTo(x, 9);
        expect(at.heightMm).toBeCloseTo(lift, 7);
        const turns = (at.y - (turn * d) / 2) / s.periodMm!;
        expect(Math.abs(turns - Math.round(turns))).toBeLessThan(1e-9);
      }),
      { seed: 11 },
    );
  });

  it('spans one turn down from the seam, and knows its wall', () => {
    const s = createCylinder(42, 60, 34, Math.PI);
    expect(s.domain.maxY - s.domain.minY).toBeCloseTo(s.periodMm!, 12);
    expect(s.domain.maxY).toBeCloseTo(21 * Math.PI, 12);
    expect(s.wallAt(10, 0)).toBe(4);
  });

  it.each([
    [0, 10, 0],
    [-1, 10, 0],
    [NaN, 10, 0],
    [10, 0, 0],
    [10, NaN, 0],
    [10, 10, 10],
    [10, 10, -1],
    [10, 10, NaN],
  ])('refuses %d × %d, bore %d', (d, l, b) => {
    expect(() => createCylinder(d, l, b, 0)).toThrow('createCylinder');
  });
});
