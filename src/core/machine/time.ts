import type { Axis } from './kinematics';

/** Axis limits per second, in the program's units, in the order of the kinematics' axes. */
export interface AxisLimits {
  rapidPerS: readonly number[];
  accelerationPerS2: readonly number[];
  /** How much rate an axis may gain at once at a corner; 0 where the control runs every corner out. */
  cornerPerS: readonly number[];
}

/**
 * The limits of a machine's axes. A control that may round corners by a tolerance δ spreads a gain of rate Δv over the time Δv/a, and cuts
 * the corner by Δv²/8a at most: so an axis may gain √(8aδ) at once. Elementary; common practice, no source.
 * @param cornerMm Tolerance for corners, mm. @param leverMm Longest lever of a rotary axis to the tip, mm.
 */
export const getAxisLimits = (axes: readonly Axis[], cornerMm: number, leverMm: number): AxisLimits => ({
  rapidPerS: axes.map((a) => a.maxPerMin / 60),
  accelerationPerS2: axes.map((a) => a.accelerationPerS2),
  cornerPerS: axes.map((a) => {
    const tolerance = a.kind === 'rotary' ? ((cornerMm / Math.max(leverMm, MIN_LEVER_MM)) * 180) / Math.PI : cornerMm;
    return Math.sqrt(8 * a.accelerationPerS2 * tolerance);
  }),
});

/** A change of rate less than this is rounding, units per s. */
const NO_JUMP = 1e-6;

/** A tip is never taken to be nearer to a rotary's axis than this, mm. */
const MIN_LEVER_MM = 1;

/**
 * Time of a run of blocks with axis speeds and accelerations limited: every block has a top rate (its own time, or longer
 * where an axis cannot keep up), the rate at a corner is bounded by what each axis may gain at once, and rates rise and
 * fall no faster than the slowest axis allows (forward and backward pass, trapezoids).
 * @param values Axis values, as many a block as there are limits. @param wantedS Intended time of each block, s; 0 for rapid.
 * @returns End time of each block, s. O(n).
 */
export function computeTimes(values: ArrayLike<number>, wantedS: ArrayLike<number>, limits: AxisLimits): Float64Array {
  const n = wantedS.length;
  const axes = limits.rapidPerS.length;
  const delta = (i: number, k: number) => values[axes * i + k]! - values[axes * (i - 1) + k]!;
  // Rates are in blocks per second: a block at rate v takes 1/v.
  const top = new Float64Array(n);
  const gain = new Float64Array(n);
  for (let i = 1; i < n; i++) {
    let seconds = wantedS[i]!;
    let least = Infinity;
    for (let k = 0; k < axes; k++) {
      const d = Math.abs(delta(i, k));
      if (d < 1e-12) continue;
      seconds = Math.max(seconds, d / limits.rapidPerS[k]!);
      least = Math.min(least, limits.accelerationPerS2[k]! / d);
    }
    top[i] = seconds > 0 ? 1 / seconds : Infinity;
    gain[i] = least;
  }
  // Speed at the end of block i, as a share of the way per second of block i and of block i + 1, tied by `scale`.
  const corner = new Float64Array(n + 1);
  const tie = new Float64Array(n + 1).fill(1);
  for (let i = 1; i + 1 < n; i++) {
    const a = top[i]!;
    const b = top[i + 1]!;
    if (!Number.isFinite(a) || !Number.isFinite(b)) continue;
    let share = 1;
    for (let k = 0; k < axes; k++) {
      const jump = Math.abs(delta(i + 1, k) * b - delta(i, k) * a);
      if (jump > NO_JUMP) share = Math.min(share, limits.cornerPerS[k]! / jump);
    }
    corner[i] = share;
    tie[i] = b / a;
  }
  const entry = new Float64Array(n + 1);
  const exit = new Float64Array(n + 1);
  for (let i = 1; i < n; i++) {
    if (!Number.isFinite(top[i]!)) continue;
    const start = i > 1 ? exit[i - 1]! * tie[i - 1]! : 0;
    entry[i] = Math.min(top[i]!, start);
    const reachable = Math.sqrt(entry[i]! ** 2 + 2 * gain[i]!);
    exit[i] = Math.min(top[i]!, reachable, corner[i]! * top[i]!);
  }
  for (let i = n - 1; i >= 1; i--) {
    if (!Number.isFinite(top[i]!)) continue;
    const end = i + 1 < n && Number.isFinite(top[i + 1]!) ? entry[i + 1]! / tie[i]! : 0;
    exit[i] = Math.min(exit[i]!, end);
    entry[i] = Math.min(entry[i]!, Math.sqrt(exit[i]! ** 2 + 2 * gain[i]!));
  }
  const ends = new Float64Array(n);
  for (let i = 1; i < n; i++) {
    const seconds = Number.isFinite(top[i]!) ? trapezoidSeconds(entry[i]!, exit[i]!, top[i]!, gain[i]!) : 0;
    ends[i] = ends[i - 1]! + seconds;
  }
  return ends;
}

/** Time to cover one unit from rate u to rate w, never above v, gaining at most a a second. */
function trapezoidSeconds(u: number, w: number, v: number, a: number): number {
  const peak = Math.min(v, Math.sqrt((u * u + w * w) / 2 + a));
  const rise = (peak * peak - u * u) / (2 * a);
  const fall = (peak * peak - w * w) / (2 * a);
  return (peak - u) / a + (peak - w) / a + Math.max(0, 1 - rise - fall) / peak;
}

/** What runs at a time: the first entry of ascending end times that is at or after it, or the last. O(log n). */
export function findAtTime(endsS: ArrayLike<number>, timeS: number): number {
  let lo = 0,
    hi = Math.max(0, endsS.length - 1);
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (endsS[mid]! < timeS) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}
