import { reverseCurve, type Curve } from './curve';

/** Places along a band at which its directions are compared. */
const PROBES = 16;
/** Places round a closed guide at which the nearest to another's start is sought first. */
const START_PROBES = 128;

/** Two guides with letters between them: feet on the one, heads on the other, both running as the letters are read. */
export interface Band {
  feet: Curve;
  heads: Curve;
}

/**
 * Directs two guides so that letters between them read right, whichever way and in whatever order they were drawn: the heads run beside
 * the feet, and the feet run so that the heads lie to the left.
 * @param reversed Letters stand on the second guide, and so on their heads.
 */
export function directBand(bottom: Curve, top: Curve, reversed: boolean): Band {
  const feet = reversed ? top : bottom;
  const heads = runBeside(feet, reversed ? bottom : top);
  return liesLeft(feet, heads) ? { feet, heads } : { feet: reverseCurve(feet), heads: reverseCurve(heads) };
}

const place = (curve: Curve, s: number): Float64Array => {
  const out = new Float64Array(4);
  curve.at(s, out);
  return out;
};
const distance = (a: ArrayLike<number>, b: ArrayLike<number>): number => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);

/** The other guide, run from the end that lies beside where the first begins, in its sense. */
function runBeside(first: Curve, other: Curve): Curve {
  const start = place(first, 0);
  if (!other.closed) {
    const [a, b, end] = [place(other, 0), place(other, other.lengthMm), place(first, first.lengthMm)];
    return distance(a, start) + distance(b, end) <= distance(b, start) + distance(a, end) ? other : reverseCurve(other);
  }
  const from = findNearest(other, start);
  const there = place(other, from);
  const sense = there[2]! * start[2]! + there[3]! * start[3]! < 0 ? -1 : 1;
  return {
    ...other,
    at(s, out) {
      other.at(from + sense * s, out);
      out[2] = sense * out[2]!;
      out[3] = sense * out[3]!;
    },
  };
}

/** Length along a closed curve, to either side of its start, at which it comes nearest to a point. */
function findNearest(curve: Curve, point: ArrayLike<number>): number {
  const gap = (s: number): number => distance(place(curve, s), point);
  let best = 0;
  for (let k = -START_PROBES / 2; k < START_PROBES / 2; k++) {
    const s = (k / START_PROBES) * curve.lengthMm;
    if (gap(s) < gap(best)) best = s;
  }
  for (let step = curve.lengthMm / START_PROBES; step > 1e-9; step /= 2) {
    for (const s of [best - step, best + step]) if (gap(s) < gap(best)) best = s;
  }
  return best;
}

/** Whether heads lie to the left of feet, along most of them. */
function liesLeft(feet: Curve, heads: Curve): boolean {
  let left = 0;
  for (let k = 0; k <= PROBES; k++) {
    const a = place(feet, (k / PROBES) * feet.lengthMm),
      b = place(heads, (k / PROBES) * heads.lengthMm);
    left += Math.sign(a[2]! * (b[1]! - a[1]!) - a[3]! * (b[0]! - a[0]!));
  }
  return left >= 0;
}
