/** A spline as a DXF gives it: poles with weights and knots, or places it passes through. */
export interface SplineData {
  degree: number;
  knots: readonly number[];
  /** x, y of each pole, and its weight. */
  poles: readonly (readonly [number, number, number])[];
}

type Place = [number, number];

/** Shares of a span at which its chord is tested: one place alone misses a span bent like an S. */
const TESTED = [0.13, 0.29, 0.5, 0.71, 0.87];
const MIN_SPLITS = 1;
const MAX_SPLITS = 16;

/**
 * Points of a rational B-spline by de Boor's algorithm in homogeneous coordinates, halved until the chords keep to it.
 * Source: de Boor, "On calculating with B-splines", 1972; Piegl and Tiller, "The NURBS Book", chapter 4 (from memory).
 * @returns x y in turn; null where the knots do not fit the poles.
 */
export function flattenSpline({ degree, knots, poles }: SplineData, tolerance: number): number[] | null {
  const n = poles.length;
  if (n < 2 || degree < 1 || n <= degree || knots.length !== n + degree + 1) return null;
  if (poles.some(([, , w]) => !(w > 0)) || knots.some((k, i) => i > 0 && !(k >= knots[i - 1]!))) return null;
  const at = (t: number): Place => {
    let span = degree;
    while (span < n - 1 && knots[span + 1]! <= t) span++;
    const d = Array.from({ length: degree + 1 }, (_, i): [number, number, number] => {
      const [x, y, w] = poles[span - degree + i]!;
      return [x * w, y * w, w];
    });
    for (let r = 1; r <= degree; r++) {
      for (let i = degree; i >= r; i--) {
        const lo = knots[span - degree + i]!,
          hi = knots[i + 1 + span - r]!;
        const s = hi > lo ? (t - lo) / (hi - lo) : 0;
        for (let c = 0; c < 3; c++) d[i]![c] = (1 - s) * d[i - 1]![c]! + s * d[i]![c]!;
      }
    }
    const [x, y, w] = d[degree]!;
    return [x / w, y / w];
  };
  const out: number[] = [];
  const split = (t0: number, p: Place, t1: number, q: Place, depth: number): void => {
    const far = TESTED.some((share) => distanceToChord(at(t0 + share * (t1 - t0)), p, q) > tolerance);
    if (depth < MAX_SPLITS && (depth < MIN_SPLITS || far)) {
      const middle = at((t0 + t1) / 2);
      split(t0, p, (t0 + t1) / 2, middle, depth + 1);
      split((t0 + t1) / 2, middle, t1, q, depth + 1);
    } else out.push(q[0], q[1]);
  };
  const last = knots[n]!;
  const within = (t: number): number => (t === last ? t - 1e-12 * (last - knots[degree]!) : t);
  out.push(...at(knots[degree]!));
  for (let i = degree; i < n; i++) {
    const [t0, t1] = [knots[i]!, knots[i + 1]!];
    if (t1 > t0) split(t0, at(t0), t1, at(within(t1)), 0);
  }
  return out;
}

function distanceToChord([x, y]: Place, p: Place, q: Place): number {
  const [dx, dy] = [q[0] - p[0], q[1] - p[1]];
  const length = dx * dx + dy * dy;
  const t = length > 0 ? Math.min(1, Math.max(0, ((x - p[0]) * dx + (y - p[1]) * dy) / length)) : 0;
  return Math.hypot(x - p[0] - t * dx, y - p[1] - t * dy);
}

/**
 * The cubic spline with steady curvature through places, by their chord lengths: cubic Beziers, one between two places, as eight
 * numbers each. Its ends have the directions given, or no curvature. O(places).
 */
export function interpolate(places: readonly Place[], start: Place | null, end: Place | null): number[][] {
  const points = places.filter((p, i) => i === 0 || Math.hypot(p[0] - places[i - 1]![0], p[1] - places[i - 1]![1]) > 1e-12);
  const n = points.length - 1;
  if (n < 1) return [];
  const h = Array.from({ length: n }, (_, i) => Math.hypot(points[i + 1]![0] - points[i]![0], points[i + 1]![1] - points[i]![1]));
  // Slopes m at the places, from as many equations: rows of lower, diagonal and upper entries.
  const slopes = [0, 1].map((c) => {
    const v = points.map((p) => p[c as 0 | 1]);
    const rise = h.map((step, i) => (v[i + 1]! - v[i]!) / step);
    const lower = new Float64Array(n + 1),
      middle = new Float64Array(n + 1),
      upper = new Float64Array(n + 1),
      right = new Float64Array(n + 1);
    const fix = (i: number, direction: Place | null, free: number): void => {
      const long = direction ? Math.hypot(...direction) : 0;
      if (direction && long > 0) {
        middle[i] = 1;
        right[i] = direction[c as 0 | 1] / long;
      } else {
        middle[i] = 2;
        if (i === 0) upper[0] = 1;
        else lower[n] = 1;
        right[i] = 3 * free;
      }
    };
    fix(0, start, rise[0]!);
    fix(n, end, rise[n - 1]!);
    for (let i = 1; i < n; i++) {
      lower[i] = h[i]!;
      middle[i] = 2 * (h[i - 1]! + h[i]!);
      upper[i] = h[i - 1]!;
      right[i] = 3 * (h[i]! * rise[i - 1]! + h[i - 1]! * rise[i]!);
    }
    return solveTridiagonal(lower, middle, upper, right);
  });
  return h.map((step, i) => {
    const [p, q] = [points[i]!, points[i + 1]!];
    const [mx, my] = slopes as [Float64Array, Float64Array];
    return [
      p[0],
      p[1],
      p[0] + (step / 3) * mx[i]!,
      p[1] + (step / 3) * my[i]!,
      q[0] - (step / 3) * mx[i + 1]!,
      q[1] - (step / 3) * my[i + 1]!,
      q[0],
      q[1],
    ];
  });
}

/** Thomas' algorithm (from any numerical handbook). Changes its arguments. */
function solveTridiagonal(lower: Float64Array, middle: Float64Array, upper: Float64Array, right: Float64Array): Float64Array {
  const n = right.length;
  for (let i = 1; i < n; i++) {
    const k = lower[i]! / middle[i - 1]!;
    middle[i]! -= k * upper[i - 1]!;
    right[i]! -= k * right[i - 1]!;
  }
  const out = new Float64Array(n);
  for (let i = n - 1; i >= 0; i--) out[i] = (right[i]! - (i + 1 < n ? upper[i]! * out[i + 1]! : 0)) / middle[i]!;
  return out;
}
