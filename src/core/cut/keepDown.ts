import type { Rings } from '../base/rings';
import { isClosedWay } from './area/placesOnWays';

/** Between strokes of one level the cutter may stay down where this holds. */
export interface Links {
  /** Where the cutter's middle may be without taking anything: all is cleared there to the full depth. On the sheet. */
  ready: Rings;
  /** Longest way that is no slower than a lift, mm. */
  mostMm: number;
}

/** Places of a link that are looked at, mm. */
const SAMPLE_MM = 0.05;

/**
 * Joins strokes, in running order, where the straight way from the end of one to the start of the next lies in what is cleared already.
 * @param strokes x, y, depth triples. @param levelMm The depth at which strokes are joined. O(samples · points of what is cleared).
 */
export function keepDown(strokes: readonly Float64Array[], levelMm: number, { ready, mostMm }: Links): Float64Array[] {
  const out: Float64Array[] = [];
  for (const own of strokes) {
    const last = out[out.length - 1];
    const stroke = beginInReady(own, last, ready);
    if (last && isLink(last, stroke, levelMm, ready, mostMm)) {
      const joined = new Float64Array(last.length + stroke.length);
      joined.set(last);
      joined.set(stroke, last.length);
      out[out.length - 1] = joined;
    } else out.push(stroke);
  }
  return out;
}

/** A closed stroke that begins at its place in what is cleared that is nearest to the end of the one before; others as they are. */
function beginInReady(stroke: Float64Array, last: Float64Array | undefined, ready: Rings): Float64Array {
  if (!isClosedWay(stroke)) return stroke;
  const [x, y] = last ? [last[last.length - 3]!, last[last.length - 2]!] : [stroke[0]!, stroke[1]!];
  let best = Infinity,
    from = -1;
  for (let i = 0; i + 3 < stroke.length; i += 3) {
    const away = Math.hypot(stroke[i]! - x, stroke[i + 1]! - y);
    if (away < best && isInside(ready, stroke[i]!, stroke[i + 1]!)) [best, from] = [away, i];
  }
  if (from <= 0) return stroke;
  return Float64Array.from([...stroke.subarray(from), ...stroke.subarray(3, from + 3)]);
}

function isLink(from: Float64Array, to: Float64Array, levelMm: number, ready: Rings, mostMm: number): boolean {
  const [x0, y0, d0] = from.subarray(from.length - 3) as unknown as [number, number, number];
  const [x1, y1, d1] = to as unknown as [number, number, number];
  if (d0 !== levelMm || d1 !== levelMm) return false;
  const length = Math.hypot(x1 - x0, y1 - y0);
  if (!(length > 0) || length > mostMm) return false;
  const pieces = Math.max(2, Math.ceil(length / SAMPLE_MM));
  for (let k = 0; k <= pieces; k++) if (!isInside(ready, x0 + (k / pieces) * (x1 - x0), y0 + (k / pieces) * (y1 - y0))) return false;
  return true;
}

/** Whether a place is inside rings, by how often a ray from it crosses them. O(points). */
function isInside({ xy, starts }: Rings, x: number, y: number): boolean {
  let inside = false;
  for (let k = 0; k + 1 < starts.length; k++) {
    const [first, end] = [starts[k]!, starts[k + 1]!];
    for (let i = first, j = end - 1; i < end; j = i++) {
      const [xi, yi, xj, yj] = [xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!];
      if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
    }
  }
  return inside;
}
