import type { SheetPlaces } from '../../job/cutSchema';
import { fromTurnDeg, type Surface } from '../../surface/surface';
import { computeStrokeLength } from '../stroke';

/** A place on a closed way: which way, and the share of its length, in [0, 1). */
export interface PlaceOnWay {
  way: number;
  share: number;
}

/** A place on the sheet, mm. */
export interface SheetPlace {
  x: number;
  y: number;
}

/** Places of a job on the sheet, mm. */
export const toSheetPlaces = (places: SheetPlaces, surface: Pick<Surface, 'mmPerRad'>): SheetPlace[] =>
  places.map(({ xMm, turnDeg }) => ({ x: xMm, y: fromTurnDeg(surface, turnDeg) }));

/** A way whose ends are nearer than this is closed, mm. */
const CLOSED_MM = 1e-6;

export const isClosedWay = (points: Float64Array): boolean =>
  points.length >= 12 && Math.hypot(points[0]! - points[points.length - 3]!, points[1]! - points[points.length - 2]!) < CLOSED_MM;

/** The nearest place to (x, y) on the ways, x, y, depth triples each; null if there are none. O(points). */
export function findNearestOnWays(ways: readonly Float64Array[], x: number, y: number): PlaceOnWay | null {
  let best = Infinity;
  let found: PlaceOnWay | null = null;
  ways.forEach((points, way) => {
    let before = 0;
    const length = computeStrokeLength(points);
    for (let i = 3; i < points.length; i += 3) {
      const [ax, ay] = [points[i - 3]!, points[i - 2]!];
      const [dx, dy] = [points[i]! - ax, points[i + 1]! - ay];
      const square = dx * dx + dy * dy;
      const t = square > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / square)) : 0;
      const away = Math.hypot(x - ax - t * dx, y - ay - t * dy);
      if (away < best) {
        best = away;
        found = { way, share: length > 0 ? ((before + t * Math.sqrt(square)) / length) % 1 : 0 };
      }
      before += Math.sqrt(square);
    }
  });
  return found;
}

/** Where a share of a way lies. O(points). */
export function getPlaceOnWay(points: Float64Array, share: number): SheetPlace {
  let left = share * computeStrokeLength(points);
  for (let i = 3; i < points.length; i += 3) {
    const length = Math.hypot(points[i]! - points[i - 3]!, points[i + 1]! - points[i - 2]!);
    if (left <= length && length > 0) {
      const t = left / length;
      return { x: points[i - 3]! + t * (points[i]! - points[i - 3]!), y: points[i - 2]! + t * (points[i + 1]! - points[i - 2]!) };
    }
    left -= length;
  }
  return { x: points[points.length - 3]!, y: points[points.length - 2]! };
}

/** Shares of each way at which places lie, each on the way that is nearest to it, ascending. */
export function placeOnWays(ways: readonly Float64Array[], places: readonly SheetPlace[]): number[][] {
  const out: number[][] = ways.map(() => []);
  for (const { x, y } of places) {
    const found = findNearestOnWays(ways, x, y);
    if (found) out[found.way]!.push(found.share);
  }
  return out.map((shares) => shares.sort((a, b) => a - b));
}

/** Closed ways that begin at the place nearest to each of some, where one is theirs; open ones and others are as they were. O(points). */
export function beginWaysAt(ways: readonly Float64Array[], places: readonly SheetPlace[]): Float64Array[] {
  const closed = ways.filter(isClosedWay);
  const shares = placeOnWays(closed, places);
  return ways.map((way) => {
    const k = closed.indexOf(way);
    const share = k < 0 ? undefined : shares[k]![0];
    return share === undefined ? way : beginAt(way, share);
  });
}

function beginAt(points: Float64Array, share: number): Float64Array {
  const { x, y } = getPlaceOnWay(points, share);
  let left = share * computeStrokeLength(points);
  let i = 3;
  let length = 0;
  for (; i < points.length; i += 3) {
    length = Math.hypot(points[i]! - points[i - 3]!, points[i + 1]! - points[i - 2]!);
    if (left <= length || i + 3 >= points.length) break;
    left -= length;
  }
  // On a curved blank depth changes along the way.
  const depth = points[i - 1]! + (length > 0 ? Math.min(1, left / length) : 0) * (points[i + 2]! - points[i - 1]!);
  const turned = [x, y, depth, ...points.subarray(i), ...points.subarray(3, i), x, y, depth];
  // A corner that was the beginning is not to stand twice.
  const out: number[] = [];
  for (let k = 0; k < turned.length; k += 3) {
    const n = out.length;
    if (n >= 3 && Math.hypot(turned[k]! - out[n - 3]!, turned[k + 1]! - out[n - 2]!) < CLOSED_MM && k + 3 < turned.length) continue;
    out.push(turned[k]!, turned[k + 1]!, turned[k + 2]!);
  }
  return Float64Array.from(out);
}
