import { describe, expect, it } from 'vitest';
import { computeConeFigures, createCone } from '../src/core/surface/cone';
import { createCylinder } from '../src/core/surface/cylinder';
import type { Surface } from '../src/core/surface/surface';
import { createRandom } from '../tests/support';

describe('development of a frustum', () => {
  // Source: elementary geometry as in any sheet-metal handbook ("flat pattern of a conical frustum", common practice); the figures
  // were worked out by hand for base Ø 200, height 75, half-angle 29°.
  const small = 100 - 75 * Math.tan((29 * Math.PI) / 180);
  const f = computeConeFigures({ datumDiameterMm: 200, farDiameterMm: 2 * small, lengthMm: 75 });
  it('agrees with the worked example: 58.42682, 85.75156, 206.26653, 174.53146°', () => {
    expect(small).toBeCloseTo(58.42682, 5);
    expect(f.slantMm).toBeCloseTo(85.75156, 5);
    expect(f.apexToDatumMm).toBeCloseTo(206.26653, 5);
    expect((f.sectorRad * 180) / Math.PI).toBeCloseTo(174.53146, 5);
  });

  it('agrees with a fine polyhedral frustum unrolled facet by facet in the plane', () => {
    // Independent of any formula for cones: trapezoids laid side by side by their edge lengths alone.
    const n = 20_000;
    const big = 100,
      h = 75;
    const chord = (r: number) => 2 * r * Math.sin(Math.PI / n);
    const side = Math.hypot(h, big - small) ** 2 - 0;
    const slant = Math.sqrt(side - (big - small) ** 2 + (big * big + small * small - 2 * big * small));
    const diagonal = Math.sqrt(h * h + big * big + small * small - 2 * big * small * Math.cos((2 * Math.PI) / n));
    // Places a point at given distances from two others, on the left of the line between them.
    const place = (a: number[], b: number[], da: number, db: number): number[] => {
      const d = Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!);
      const along = (da * da - db * db + d * d) / (2 * d),
        off = Math.sqrt(Math.max(0, da * da - along * along));
      const ux = (b[0]! - a[0]!) / d,
        uy = (b[1]! - a[1]!) / d;
      return [a[0]! + along * ux - off * uy, a[1]! + along * uy + off * ux];
    };
    let low = [0, 0],
      high = [slant, 0];
    const first = [low, high];
    let turned = 0;
    for (let k = 0; k < n; k++) {
      const nextHigh = place(low, high, diagonal, chord(small));
      const nextLow = place(low, nextHigh, chord(big), slant);
      const before = Math.atan2(high[1]! - low[1]!, high[0]! - low[0]!),
        after = Math.atan2(nextHigh[1]! - nextLow[1]!, nextHigh[0]! - nextLow[0]!);
      turned += ((after - before + 3 * Math.PI) % (2 * Math.PI)) - Math.PI;
      [low, high] = [nextLow, nextHigh];
    }
    expect((Math.abs(turned) * 180) / Math.PI).toBeCloseTo((f.sectorRad * 180) / Math.PI, 4);
    expect(first[1]![0]).toBeCloseTo(f.slantMm, 6);
  });
});

/**
 * Isometry of wrap: figures drawn in the plane, laid on the surface, and measured there in space. Lengths by summing fine chords of
 * each side, angles between sides by finite steps, areas by triangulating finely: all against the plane's own.
 */
describe.each<[string, Surface, number, number]>([
  ['cylinder', createCylinder(40, 200, 0, Math.PI), 100, 10],
  ['cone', createCone({ datumDiameterMm: 30, farDiameterMm: 130, lengthMm: 120 }, 0, Math.PI), 60, 25],
  ['cone that narrows', createCone({ datumDiameterMm: 130, farDiameterMm: 30, lengthMm: 120 }, 0, Math.PI), 60, -25],
])('wrap on a %s is an isometry', (_, surface, ax, ay) => {
  const random = createRandom(17);
  const lay = (u: number, v: number): number[] => {
    const at = new Float64Array(2),
      p = new Float64Array(3);
    surface.expInto(ax, ay, u, v, at);
    surface.pointInto(at[0]!, at[1]!, p);
    return [...p];
  };
  const minus = (a: number[], b: number[]) => a.map((v, k) => v - b[k]!);
  const norm = (a: number[]) => Math.hypot(...a);
  const triangles = Array.from({ length: 12 }, () => Array.from({ length: 3 }, () => [40 * (random() - 0.5), 40 * (random() - 0.5)]));

  it('keeps lengths to 1e-9', () => {
    for (const [a, b] of triangles.map((t) => [t[0]!, t[1]!])) {
      const flat = Math.hypot(b![0]! - a![0]!, b![1]! - a![1]!);
      // Chords of two finenesses, extrapolated: the error of the finer, order h², cancels.
      const chords = (n: number): number => {
        let sum = 0,
          last = lay(a![0]!, a![1]!);
        for (let k = 1; k <= n; k++) {
          const next = lay(a![0]! + (k / n) * (b![0]! - a![0]!), a![1]! + (k / n) * (b![1]! - a![1]!));
          sum += norm(minus(next, last));
          last = next;
        }
        return sum;
      };
      const [one, two] = [chords(2000), chords(4000)];
      expect(Math.abs((two + (two - one) / 3) / flat - 1)).toBeLessThan(1e-9);
    }
  });

  it('keeps angles to 1e-9', () => {
    // Derivatives by central differences of order h⁴ along each side.
    const along = (p: number[], d: number[], h = 0.02): number[] => {
      const at = (k: number) => lay(p[0]! + k * h * d[0]!, p[1]! + k * h * d[1]!);
      const [m2, m1, p1, p2] = [at(-2), at(-1), at(1), at(2)];
      const m3 = at(-3),
        p3 = at(3);
      return [0, 1, 2].map((k) => (45 * (p1[k]! - m1[k]!) - 9 * (p2[k]! - m2[k]!) + (p3[k]! - m3[k]!)) / (60 * h));
    };
    for (const [a, b, c] of triangles) {
      const unit = (v: number[]) => v.map((x) => x / norm(v));
      const d1 = unit(minus(b!, a!)),
        d2 = unit(minus(c!, a!));
      const [s1, s2] = [along(a!, d1), along(a!, d2)];
      const flat = d1[0]! * d2[0]! + d1[1]! * d2[1]!;
      expect(Math.abs((s1[0]! * s2[0]! + s1[1]! * s2[1]! + s1[2]! * s2[2]!) / norm(s1) / norm(s2) - flat)).toBeLessThan(1e-9);
    }
  });

  it('keeps areas to 1e-9', () => {
    for (const [a, b, c] of triangles.slice(0, 5)) {
      const flat = Math.abs((b![0]! - a![0]!) * (c![1]! - a![1]!) - (b![1]! - a![1]!) * (c![0]! - a![0]!)) / 2;
      const at = (i: number, k: number, n: number) =>
        lay(
          a![0]! + (i / n) * (b![0]! - a![0]!) + (k / n) * (c![0]! - a![0]!),
          a![1]! + (i / n) * (b![1]! - a![1]!) + (k / n) * (c![1]! - a![1]!),
        );
      const area = (n: number): number => {
        const rows = Array.from({ length: n + 1 }, (_, i) => Array.from({ length: n + 1 - i }, (_, k) => at(i, k, n)));
        const tri = (p: number[], q: number[], r: number[]) => {
          const [u, v] = [minus(q, p), minus(r, p)];
          return Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) / 2;
        };
        let sum = 0;
        for (let i = 0; i < n; i++)
          for (let k = 0; k + i < n; k++) {
            sum += tri(rows[i]![k]!, rows[i + 1]![k]!, rows[i]![k + 1]!);
            if (k + i + 1 < n) sum += tri(rows[i + 1]![k]!, rows[i + 1]![k + 1]!, rows[i]![k + 1]!);
          }
        return sum;
      };
      // Romberg on h: errors of order h² and h⁴ cancel.
      const [a1, a2, a3] = [area(100), area(200), area(400)];
      const [b1, b2] = [a2 + (a2 - a1) / 3, a3 + (a3 - a2) / 3];
      expect(Math.abs((b2 + (b2 - b1) / 15) / flat - 1)).toBeLessThan(1e-9);
    }
  });
});
