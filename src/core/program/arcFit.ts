/** Points of a way in a plane: `at(k)` gives x, y, mm. */
export type PlaneWay = (k: number) => readonly [number, number];

export interface FittedArc {
  /** The last point that is on it. */
  last: number;
  centre: [number, number];
  clockwise: boolean;
}

/** Fewer pieces than this are no arc that saves anything. */
const LEAST_PIECES = 3;
/** A larger arc is all but straight, and its centre is far, mm; one that turns more is two. */
const MOST_RADIUS_MM = 500;
const MOST_TURN_RAD = (5 / 6) * Math.PI;

/**
 * The longest arc along a way from one of its points on: its points lie on the circle, and its pieces beside it, within a tolerance.
 * @param first Where it begins. @param end The last point there is. @param toleranceMm > 0.
 * @returns Null if no three pieces are an arc. O(n log n).
 */
export function fitArc(way: PlaneWay, first: number, end: number, toleranceMm: number): FittedArc | null {
  let found: FittedArc | null = null;
  let step = LEAST_PIECES;
  let last = first + LEAST_PIECES;
  // On in strides that double while it holds, and halve where it does not.
  while (step >= 1 && last <= end) {
    const arc = checkArc(way, first, last, toleranceMm);
    if (arc) {
      found = arc;
      step *= 2;
    } else step = Math.floor(step / (found ? 2 : Infinity));
    const base = found?.last ?? first;
    step = Math.min(step, end - base);
    last = base + step;
  }
  return found;
}

/** The circle through the ends and the middle point of a stretch, if all of it is on it. */
function checkArc(way: PlaneWay, first: number, last: number, toleranceMm: number): FittedArc | null {
  const [ax, ay] = way(first),
    [bx, by] = way((first + last) >> 1),
    [cx, cy] = way(last);
  const [ux, uy, vx, vy] = [bx - ax, by - ay, cx - ax, cy - ay];
  const cross = ux * vy - uy * vx;
  const [u2, v2] = [ux * ux + uy * uy, vx * vx + vy * vy];
  if (!(Math.abs(cross) > 1e-12)) return null;
  const x = (vy * u2 - uy * v2) / (2 * cross),
    y = (ux * v2 - vx * u2) / (2 * cross);
  const radius = Math.hypot(x, y);
  if (radius > MOST_RADIUS_MM) return null;
  const centre: [number, number] = [ax + x, ay + y];
  const clockwise = cross < 0;
  return lies(way, first, last, centre, radius, clockwise, toleranceMm) ? { last, centre, clockwise } : null;
}

/** Whether points of a way lie on a circle, go round it one way, and what is between two lies beside it. */
export function lies(
  way: PlaneWay,
  first: number,
  last: number,
  [cx, cy]: readonly [number, number],
  radiusMm: number,
  clockwise: boolean,
  toleranceMm: number,
): boolean {
  let turned = 0;
  for (let k = first; k <= last; k++) {
    const [x, y] = way(k);
    if (Math.abs(Math.hypot(x - cx, y - cy) - radiusMm) > toleranceMm) return false;
    if (k === first) continue;
    const [px, py] = way(k - 1);
    const turn = Math.atan2((px - cx) * (y - cy) - (py - cy) * (x - cx), (px - cx) * (x - cx) + (py - cy) * (y - cy));
    if (clockwise ? turn >= 0 : turn <= 0) return false;
    // The middle of a piece lies inside the arc by its rise.
    if (Math.abs(Math.hypot((x + px) / 2 - cx, (y + py) / 2 - cy) - radiusMm) > toleranceMm) return false;
    turned += Math.abs(turn);
  }
  return turned <= MOST_TURN_RAD;
}
