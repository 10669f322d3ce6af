import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createCylinder } from '../src/core/surface/cylinder';
import { parseQuantity } from '../src/ui/common/quantity';

describe('unrolled sizes', () => {
  // Common practice, no source: the sheet of a Ø3 in blank is 9.4248 in high (3π), of a Ø42 mm blank 131.9469 mm.
  it.each([
    [76.2, 239.3894],
    [42, 131.9469],
    [50.8, 159.5929],
    [100, 314.1593],
  ])('Ø %d mm unrolls to %d mm', (d, height) => {
    const { minY, maxY } = createCylinder(d, 10, 0, Math.PI).domain;
    expect(maxY - minY).toBeCloseTo(height, 4);
  });
  it('Ø 3 in unrolls to 9.4248 in', () => expect(createCylinder(76.2, 10, 0, Math.PI).periodMm! / 25.4).toBeCloseTo(9.424778, 6));
  it('Ø 42: 2.728370° per mm of arc', () => expect(180 / Math.PI / createCylinder(42, 10, 0, Math.PI).mmPerRad).toBeCloseTo(2.72837, 6));
});

describe('sizes that are typed', () => {
  // Inch: exactly 25.4 mm (International yard and pound agreement, 1959). Point: 1/72 in (PostScript Language Reference, 3rd ed.,
  // 4.3.1; from memory).
  it.each([
    ['1 in', 25.4],
    ['1 pt', 0.3527777778],
    ['72 pt', 25.4],
    ['24 pt', 8.4666666667],
    ['3/8 in', 9.525],
    ['1/16 in', 1.5875],
  ])('%s is %d mm', (text, mm) => {
    const q = parseQuantity(text, 'length');
    expect(q.ok && q.value).toBeCloseTo(mm, 9);
  });
});

describe('the cylinder map is an isometry', () => {
  // Theorema Egregium (Gauss, 1827): a developable surface takes the plane without any change of length, angle or area.
  const place = fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -200, max: 200, noNaN: true }));
  it('keeps the lengths of random paths to 1e-9, by Richardson extrapolation of close chords', () => {
    fc.assert(
      fc.property(fc.double({ min: 2, max: 200, noNaN: true }), place, place, (d, a, b) => {
        const s = createCylinder(d, 100, 0, 0);
        const p = new Float64Array(3);
        const length = (n: number) => {
          let sum = 0,
            last: number[] | null = null;
          for (let k = 0; k <= n; k++) {
            s.pointInto(a[0] + (k / n) * (b[0] - a[0]), a[1] + (k / n) * (b[1] - a[1]), p);
            if (last) sum += Math.hypot(p[0]! - last[0]!, p[1]! - last[1]!, p[2]! - last[2]!);
            last = [...p];
          }
          return sum;
        };
        const n = 512 * Math.ceil(1 + Math.abs(b[1] - a[1]) / d);
        const [coarse, fine, finest] = [length(n), length(2 * n), length(4 * n)];
        const [r1, r2] = [fine + (fine - coarse) / 3, finest + (finest - fine) / 3];
        const flat = Math.hypot(b[0] - a[0], b[1] - a[1]);
        expect(Math.abs(r2 + (r2 - r1) / 15 - flat)).toBeLessThan(1e-9 * Math.max(1, flat));
      }),
      { seed: 31, numRuns: 60 },
    );
  });

  it('keeps angles and areas: its first fundamental form is the identity', () => {
    fc.assert(
      fc.property(fc.double({ min: 2, max: 200, noNaN: true }), place, (d, [x, y]) => {
        const s = createCylinder(d, 100, 0, 0);
        const h = 1e-4 * d;
        const at = (u: number, v: number) => {
          const p = new Float64Array(3);
          s.pointInto(u, v, p);
          return p;
        };
        // Fourth-order differences.
        const diff = (f: (t: number) => Float64Array) =>
          [0, 1, 2].map((k) => (8 * (f(h)[k]! - f(-h)[k]!) - (f(2 * h)[k]! - f(-2 * h)[k]!)) / (12 * h));
        const u = diff((t) => at(x + t, y)),
          v = diff((t) => at(x, y + t));
        const dot = (a: number[], b: number[]) => a.reduce((sum, q, k) => sum + q * b[k]!, 0);
        expect(dot(u, u)).toBeCloseTo(1, 8);
        expect(dot(v, v)).toBeCloseTo(1, 8);
        expect(dot(u, v)).toBeCloseTo(0, 8);
      }),
      { seed: 32 },
    );
  });
});
