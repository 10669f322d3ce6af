/** Steps of a spline's table between two of its places. */
const SPLINE_STEPS = 192;

/** A piece of a meridian: straight, round, or a run of cubic steps between known places. */
export interface Piece {
  from: number;
  lengthMm: number;
  at(s: number, out: Float64Array): void;
}

export function createLine(from: number, x0: number, r0: number, x1: number, r1: number): Piece {
  const lengthMm = Math.hypot(x1 - x0, r1 - r0);
  const cx = (x1 - x0) / lengthMm,
    cr = (r1 - r0) / lengthMm;
  return {
    from,
    lengthMm,
    at(s, out) {
      out[0] = x0 + s * cx;
      out[1] = r0 + s * cr;
      out[2] = cx;
      out[3] = cr;
      out[4] = 0;
    },
  };
}

/** An arc of a given bulge. Turning right, away from the axis' side, is convex: its centre lies to the right of the run. */
export function createArc(from: number, x0: number, r0: number, x1: number, r1: number, bulge: number): Piece {
  const chord = Math.hypot(x1 - x0, r1 - r0);
  const half = 2 * Math.atan(bulge);
  const radius = chord / 2 / Math.sin(half);
  // Signed: positive turns clockwise, as a convex meridian that runs along +x does.
  const kappa = 1 / radius;
  const start = Math.atan2(r1 - r0, x1 - x0) + half;
  const cx = x0 + radius * Math.sin(start),
    cr = r0 - radius * Math.cos(start);
  return {
    from,
    lengthMm: Math.abs(radius * 2 * half),
    at(s, out) {
      const phi = start - s * kappa;
      const cos = Math.cos(phi),
        sin = Math.sin(phi);
      out[0] = cx - radius * sin;
      out[1] = cr + radius * cos;
      out[2] = cos;
      out[3] = sin;
      out[4] = kappa;
    },
  };
}

/**
 * A cubic spline through places, by chord length, with continuous curvature; its ends are natural or run as what they join does.
 * Source: any numerical handbook (from memory). Tabulated by arc length and read by cubic Hermite steps: 1e-8 mm of a part of 100 mm.
 */
export function createSpline(from: number, xs: readonly number[], rs: readonly number[], ends: SplineEnds): Piece {
  const n = xs.length;
  const t = [0];
  for (let i = 1; i < n; i++) t.push(t[i - 1]! + Math.hypot(xs[i]! - xs[i - 1]!, rs[i]! - rs[i - 1]!));
  const mx = computeSecondDerivatives(t, xs, ends.start?.[0] ?? null, ends.end?.[0] ?? null),
    mr = computeSecondDerivatives(t, rs, ends.start?.[1] ?? null, ends.end?.[1] ?? null);
  const value = (v: readonly number[], m: readonly number[], i: number, u: number): [number, number, number] => {
    const h = t[i + 1]! - t[i]!;
    const a = (t[i + 1]! - u) / h,
      b = (u - t[i]!) / h;
    return [
      a * v[i]! + b * v[i + 1]! + (((a ** 3 - a) * m[i]! + (b ** 3 - b) * m[i + 1]!) * h * h) / 6,
      (v[i + 1]! - v[i]!) / h + ((-(3 * a * a - 1) * m[i]! + (3 * b * b - 1) * m[i + 1]!) * h) / 6,
      a * m[i]! + b * m[i + 1]!,
    ];
  };
  const speed = (i: number, u: number): number => Math.hypot(value(xs, mx, i, u)[1], value(rs, mr, i, u)[1]);
  // Per step: s, then x, r, x', r' by arc length, and the curvature.
  const table: number[] = [];
  let s = 0;
  const put = (i: number, u: number) => {
    const [x, dx, ddx] = value(xs, mx, i, u),
      [r, dr, ddr] = value(rs, mr, i, u);
    const v = Math.hypot(dx, dr);
    table.push(s, x, r, dx / v, dr / v, (dr * ddx - dx * ddr) / v ** 3);
  };
  for (let i = 0; i + 1 < n; i++) {
    const h = (t[i + 1]! - t[i]!) / SPLINE_STEPS;
    for (let k = 0; k < SPLINE_STEPS; k++) {
      const u = t[i]! + k * h;
      put(i, u);
      // Gauss–Legendre with three points a step.
      const g = Math.sqrt(0.6) / 2;
      s += (h * (5 * speed(i, u + h * (0.5 - g)) + 8 * speed(i, u + h / 2) + 5 * speed(i, u + h * (0.5 + g)))) / 18;
    }
  }
  put(n - 2, t[n - 1]!);
  const v = Float64Array.from(table);
  const count = v.length / 6;
  let last = 0;
  return {
    from,
    lengthMm: s,
    at(at, out) {
      if (!(v[6 * last]! <= at && (last + 2 >= count || at < v[6 * last + 6]!))) {
        let lo = 0,
          hi = count - 2;
        while (lo < hi) {
          const mid = (lo + hi + 1) >> 1;
          if (v[6 * mid]! <= at) lo = mid;
          else hi = mid - 1;
        }
        last = lo;
      }
      const a = 6 * last,
        b = a + 6;
      const h = v[b]! - v[a]!;
      const w = (at - v[a]!) / h;
      const w2 = w * w,
        w3 = w2 * w;
      for (let k = 0; k < 2; k++) {
        const p0 = v[a + 1 + k]!,
          p1 = v[b + 1 + k]!,
          d0 = h * v[a + 3 + k]!,
          d1 = h * v[b + 3 + k]!;
        out[k] = (2 * w3 - 3 * w2 + 1) * p0 + (w3 - 2 * w2 + w) * d0 + (3 * w2 - 2 * w3) * p1 + (w3 - w2) * d1;
        out[2 + k] = ((6 * w2 - 6 * w) * (p0 - p1)) / h + ((3 * w2 - 4 * w + 1) * d0 + (3 * w2 - 2 * w) * d1) / h;
      }
      const norm = Math.sqrt(out[2]! * out[2]! + out[3]! * out[3]!);
      out[2]! /= norm;
      out[3]! /= norm;
      out[4] = v[a + 5]! + w * (v[b + 5]! - v[a + 5]!);
    },
  };
}

/** Unit directions along a meridian at the ends of a spline, where it joins an arc smoothly; null where it ends freely. */
export interface SplineEnds {
  start: readonly [number, number] | null;
  end: readonly [number, number] | null;
}

/**
 * Second derivatives of a cubic spline at its places: the tridiagonal system, solved by elimination.
 * @param first Slope at the start, and `last` at the end; null for a natural one.
 */
function computeSecondDerivatives(t: readonly number[], v: readonly number[], first: number | null, last: number | null): number[] {
  const n = t.length;
  const m = new Array<number>(n).fill(0),
    c = new Array<number>(n).fill(0);
  const rise = (i: number): number => (v[i + 1]! - v[i]!) / (t[i + 1]! - t[i]!);
  if (first !== null) {
    c[0] = 0.5;
    m[0] = (3 * (rise(0) - first)) / (t[1]! - t[0]!);
  }
  for (let i = 1; i + 1 < n; i++) {
    const h0 = t[i]! - t[i - 1]!,
      h1 = t[i + 1]! - t[i]!;
    const diagonal = 2 * (h0 + h1) - h0 * c[i - 1]!;
    c[i] = h1 / diagonal;
    m[i] = (6 * (rise(i) - rise(i - 1)) - h0 * m[i - 1]!) / diagonal;
  }
  if (last !== null) {
    const h = t[n - 1]! - t[n - 2]!;
    m[n - 1] = (6 * (last - rise(n - 2)) - h * m[n - 2]!) / (2 * h - h * c[n - 2]!);
  }
  for (let i = n - 2; i >= 0; i--) m[i] = m[i]! - c[i]! * m[i + 1]!;
  return m;
}
