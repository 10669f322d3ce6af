/*
 * A stroke is one run of the cutter with the spindle in the work: x, y on the sheet and depth below the surface, mm, three
 * numbers a point. Between two points all three change linearly.
 */

/** A part of a stroke that never gets deeper than this is left out, mm. */
const MIN_STROKE_DEPTH_MM = 0.001;

/** Share of the way from depth `fromMm` to depth `toMm` at which it is `depthMm`; the two differ. */
export const findDepthShare = (fromMm: number, toMm: number, depthMm: number): number => (depthMm - fromMm) / (toMm - fromMm);

/** Adds to `out` the place between the point before `i` and the one at `i` (an index into the triples) where the depth is `depthMm`. */
export function addDepthCrossing(points: Float64Array, i: number, depthMm: number, out: number[]): void {
  const t = findDepthShare(points[i - 1]!, points[i + 2]!, depthMm);
  out.push(points[i - 3]! + t * (points[i]! - points[i - 3]!), points[i - 2]! + t * (points[i + 1]! - points[i - 2]!), depthMm);
}

/** Length of a stroke on the sheet with its depth, mm. O(n). */
export function computeStrokeLength(points: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 3; i < points.length; i += 3) {
    sum += Math.hypot(points[i]! - points[i - 3]!, points[i + 1]! - points[i - 2]!, points[i + 2]! - points[i - 1]!);
  }
  return sum;
}

export const getDeepest = (points: ArrayLike<number>): number => {
  let deepest = 0;
  for (let i = 2; i < points.length; i += 3) deepest = Math.max(deepest, points[i]!);
  return deepest;
};

/** The stroke run from its other end. */
export function reverseStroke(points: Float64Array): Float64Array {
  const n = points.length / 3;
  const out = new Float64Array(points.length);
  for (let i = 0; i < n; i++) out.set(points.subarray(3 * i, 3 * i + 3), 3 * (n - 1 - i));
  return out;
}

/**
 * The parts of a stroke that one level cuts: where it is deeper than `aboveMm`, at depth min(d, `levelMm`).
 * The first level (`aboveMm` = 0) keeps the run-out to depth zero. O(n).
 */
export function clipToLevel(points: Float64Array, aboveMm: number, levelMm: number): Float64Array[] {
  const out: Float64Array[] = [];
  let part: number[] = [];
  const finish = () => {
    if (part.length >= 6 && getDeepest(part) > MIN_STROKE_DEPTH_MM) out.push(Float64Array.from(part));
    part = [];
  };
  const add = (x: number, y: number, d: number) => {
    const n = part.length;
    if (n && part[n - 3] === x && part[n - 2] === y && part[n - 1] === d) return;
    part.push(x, y, d);
  };
  const inLevel = (d: number) => d > aboveMm;
  for (let i = 0; i + 3 < points.length; i += 3) {
    const [x0, y0, d0] = [points[i]!, points[i + 1]!, points[i + 2]!];
    const [x1, y1, d1] = [points[i + 3]!, points[i + 4]!, points[i + 5]!];
    if (!inLevel(d0) && !inLevel(d1)) {
      finish();
      continue;
    }
    const at = (d: number) => findDepthShare(d0, d1, d);
    const point = (t: number) => add(x0 + t * (x1 - x0), y0 + t * (y1 - y0), Math.min(levelMm, d0 + t * (d1 - d0)));
    if (inLevel(d0)) point(0);
    else point(Math.max(0, at(aboveMm)));
    if (d0 < levelMm !== d1 < levelMm && d0 !== d1) {
      const t = at(levelMm);
      if (t > 0 && t < 1) point(t);
    }
    if (inLevel(d1)) point(1);
    else {
      point(Math.min(1, at(aboveMm)));
      finish();
    }
  }
  finish();
  return out;
}

/**
 * The parts of a stroke that one level cuts where levels are the whole stroke raised: where it is then deeper than `beginMm`. O(n).
 * @param raisedMm By how much it is raised, 0 on the last level.
 */
export function shiftToLevel(points: Float64Array, beginMm: number, raisedMm: number): Float64Array[] {
  const parts = clipToLevel(points, beginMm + raisedMm, Infinity);
  for (const part of parts) for (let i = 2; i < part.length; i += 3) part[i]! -= raisedMm;
  return parts;
}

/**
 * Drops points that lie within `toleranceMm` of the straight run between those kept (x, y and depth alike). O(n log n). Source:
 * Douglas and Peucker, 1973.
 */
export function simplifyStroke(points: Float64Array, toleranceMm: number): Float64Array {
  const n = points.length / 3;
  if (n <= 2) return points;
  const keep = new Uint8Array(n);
  keep[0] = keep[n - 1] = 1;
  const stack: [number, number][] = [[0, n - 1]];
  while (stack.length) {
    const [from, to] = stack.pop()!;
    let worst = toleranceMm;
    let at = -1;
    for (let i = from + 1; i < to; i++) {
      const d = distanceToRun(points, from, to, i);
      if (d > worst) {
        worst = d;
        at = i;
      }
    }
    if (at < 0) continue;
    keep[at] = 1;
    stack.push([from, at], [at, to]);
  }
  const out: number[] = [];
  for (let i = 0; i < n; i++) if (keep[i]) out.push(points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!);
  return Float64Array.from(out);
}

function distanceToRun(p: Float64Array, from: number, to: number, i: number): number {
  const ax = p[3 * from]!,
    ay = p[3 * from + 1]!,
    az = p[3 * from + 2]!;
  const dx = p[3 * to]! - ax,
    dy = p[3 * to + 1]! - ay,
    dz = p[3 * to + 2]! - az;
  const qx = p[3 * i]! - ax,
    qy = p[3 * i + 1]! - ay,
    qz = p[3 * i + 2]! - az;
  const lengthSquared = dx * dx + dy * dy + dz * dz;
  const t = lengthSquared > 0 ? Math.min(1, Math.max(0, (qx * dx + qy * dy + qz * dz) / lengthSquared)) : 0;
  const ex = qx - t * dx,
    ey = qy - t * dy,
    ez = qz - t * dz;
  return Math.sqrt(ex * ex + ey * ey + ez * ez);
}
