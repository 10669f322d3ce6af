import type { Measured } from '../job/measured';
import { fromTurnDeg, type Surface } from '../surface/surface';

/** How far the surface lies outside the drawn one, along the tool, mm, at a place of the sheet. */
export type OffsetAt = (x: number, y: number) => number;

/**
 * Slopes of the cubic spline through values at knots: natural at the ends, or periodic where the last value is followed by the first.
 * Source: the tridiagonal system of any textbook on cubic splines; de Boor, "A Practical Guide to Splines", chapter IV (from memory).
 * @param period Of the knots; null for none. @returns One slope a knot; 0 where there is one knot alone.
 */
export function computeSplineSlopes(knots: readonly number[], values: ArrayLike<number>, period: number | null): Float64Array {
  const n = knots.length;
  if (n === 1) return new Float64Array(1);
  const step = (i: number): number => (i === n - 1 ? knots[0]! + period! - knots[n - 1]! : knots[i + 1]! - knots[i]!);
  const rise = (i: number): number => values[i === n - 1 ? 0 : i + 1]! - values[i]!;
  const slopes = new Float64Array(n);
  if (period !== null && n === 2) return slopes;
  // Rows of the system in the slopes: neighbour before, own, neighbour after, right-hand side.
  const before = new Float64Array(n),
    own = new Float64Array(n),
    after = new Float64Array(n),
    right = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const isFirst = i === 0,
      isLast = i === n - 1;
    if (period === null && (isFirst || isLast)) {
      own[i] = 2;
      if (isFirst) after[i] = 1;
      else before[i] = 1;
      const k = isFirst ? 0 : n - 2;
      right[i] = (3 * rise(k)) / step(k);
      continue;
    }
    const k = isFirst ? n - 1 : i - 1;
    const [h0, h1] = [step(k), step(i)];
    before[i] = h1;
    own[i] = 2 * (h0 + h1);
    after[i] = h0;
    right[i] = 3 * ((h1 * rise(k)) / h0 + (h0 * rise(i)) / h1);
  }
  if (period === null) return solveTridiagonal(before, own, after, right);
  // Cyclic: Sherman and Morrison.
  const gamma = -own[0]!;
  const changed = own.slice();
  changed[0]! -= gamma;
  changed[n - 1]! -= (before[0]! * after[n - 1]!) / gamma;
  const u = new Float64Array(n);
  u[0] = gamma;
  u[n - 1] = after[n - 1]!;
  const y = solveTridiagonal(before, changed, after, right),
    q = solveTridiagonal(before, changed, after, u);
  const share = (y[0]! + (before[0]! * y[n - 1]!) / gamma) / (1 + q[0]! + (before[0]! * q[n - 1]!) / gamma);
  for (let i = 0; i < n; i++) slopes[i] = y[i]! - share * q[i]!;
  return slopes;
}

function solveTridiagonal(before: Float64Array, own: Float64Array, after: Float64Array, right: Float64Array): Float64Array {
  const n = own.length;
  const c = new Float64Array(n),
    d = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const m = own[i]! - (i > 0 ? before[i]! * c[i - 1]! : 0);
    c[i] = i < n - 1 ? after[i]! / m : 0;
    d[i] = (right[i]! - (i > 0 ? before[i]! * d[i - 1]! : 0)) / m;
  }
  for (let i = n - 2; i >= 0; i--) d[i]! -= c[i]! * d[i + 1]!;
  return d;
}

/**
 * A measured map between its places: a bicubic surface through them, smooth to the second derivative along and round; past the first and
 * the last it stays as it is there. O(1) a place.
 */
export function createMeasuredMap(
  { xMm, turnDeg, mm }: Pick<Measured, 'xMm' | 'turnDeg' | 'mm'>,
  surface: Pick<Surface, 'periodMm' | 'mmPerRad'>,
): OffsetAt {
  const ys = turnDeg.map((deg) => fromTurnDeg(surface, deg));
  const period = surface.periodMm;
  const [nx, ny] = [xMm.length, ys.length];
  // Values, slopes along, slopes round, and twists, at each place.
  const f = new Float64Array(nx * ny),
    fx = new Float64Array(nx * ny),
    fy = new Float64Array(nx * ny),
    fxy = new Float64Array(nx * ny);
  const column = (from: Float64Array, to: Float64Array, j: number): void => {
    const slopes = computeSplineSlopes(
      xMm,
      xMm.map((_, i) => from[i * ny + j]!),
      null,
    );
    slopes.forEach((s, i) => (to[i * ny + j] = s));
  };
  mm.forEach((row, i) => f.set(row, i * ny));
  for (let i = 0; i < nx; i++) fy.set(computeSplineSlopes(ys, f.subarray(i * ny, (i + 1) * ny), period), i * ny);
  for (let j = 0; j < ny; j++) {
    column(f, fx, j);
    column(fy, fxy, j);
  }
  const along = createSpanFinder(xMm),
    round = createSpanFinder(ys);
  /** Between which turns a place lies, with the span over the seam. */
  const findRound = (y: number): void => {
    if (period === null || ny === 1) return round.find(y);
    const own = ys[0]! + (y - ys[0]! - period * Math.floor((y - ys[0]!) / period));
    if (own < ys[ny - 1]!) return round.find(own);
    round.from = ny - 1;
    round.to = 0;
    round.length = ys[0]! + period - ys[ny - 1]!;
    round.share = (own - ys[ny - 1]!) / round.length;
  };
  return (x, y) => {
    along.find(x);
    findRound(y);
    const { length: h, share: u } = round;
    const [a, b] = [along.from * ny + round.from, along.from * ny + round.to];
    const v0 = hermite(f[a]!, f[b]!, fy[a]! * h, fy[b]! * h, u);
    if (along.from === along.to) return v0;
    const [c, d] = [along.to * ny + round.from, along.to * ny + round.to];
    const s0 = hermite(fx[a]!, fx[b]!, fxy[a]! * h, fxy[b]! * h, u),
      v1 = hermite(f[c]!, f[d]!, fy[c]! * h, fy[d]! * h, u),
      s1 = hermite(fx[c]!, fx[d]!, fxy[c]! * h, fxy[d]! * h, u);
    return hermite(v0, v1, s0 * along.length, s1 * along.length, along.share);
  };
}

/** Finds the span of knots that a value is in: its ends, its length and the share of it; past the first and the last knot that knot. */
function createSpanFinder(knots: readonly number[]) {
  const n = knots.length;
  const found = {
    from: 0,
    to: 0,
    length: 1,
    share: 0,
    find(v: number): void {
      if (n === 1 || v <= knots[0]! || v >= knots[n - 1]!) {
        found.from = found.to = n > 1 && v > knots[0]! ? n - 1 : 0;
        found.length = 1;
        found.share = 0;
        return;
      }
      let lo = 0,
        hi = n - 1;
      while (hi - lo > 1) {
        const mid = (lo + hi) >> 1;
        if (knots[mid]! <= v) lo = mid;
        else hi = mid;
      }
      found.from = lo;
      found.to = hi;
      found.length = knots[hi]! - knots[lo]!;
      found.share = (v - knots[lo]!) / found.length;
    },
  };
  return found;
}

/** Cubic between two values with their slopes over the span. */
function hermite(a: number, b: number, sa: number, sb: number, t: number): number {
  const s = 1 - t;
  return s * s * (1 + 2 * t) * a + t * t * (3 - 2 * t) * b + t * s * (s * sa - t * sb);
}
