/** Bridges that hold a piece in its blank while it is cut free. */
export interface Tabs {
  /** How many, or how far apart at the most. */
  count: number;
  spacingMm: number | null;
  lengthMm: number;
  thicknessMm: number;
  /** Whether the cutter rises and falls on slopes as long as half of a tab, or straight. */
  ramped: boolean;
}

/** Where the cutter rises straight it does so over this much of its way, mm; points nearer than the second are one. */
const STEEP_MM = 0.05;
const SAME_MM = 0.002;
/** A lead smaller than this is none, mm. */
const LEAST_LEAD_MM = 0.05;

/** Length on the blank between two sheet places that lie near each other, mm. */
export type LengthOf = (ax: number, ay: number, bx: number, by: number) => number;

/** How far along a way each of its points lies, mm. */
function addUp(points: Float64Array, lengthOf: LengthOf): number[] {
  const at: number[] = [0];
  for (let i = 3; i < points.length; i += 3)
    at.push(at[at.length - 1]! + lengthOf(points[i - 3]!, points[i - 2]!, points[i]!, points[i + 1]!));
  return at;
}

/** Length of a way on the blank, mm. */
export const measureWay = (points: Float64Array, lengthOf: LengthOf): number => addUp(points, lengthOf).at(-1)!;

/** Where tabs stand along a closed way, as shares of its length, in [0, 1). */
export function placeTabs(tabs: Tabs, aroundMm: number): number[] {
  const count = tabs.spacingMm === null ? tabs.count : Math.max(1, Math.ceil(aroundMm / tabs.spacingMm));
  // The way begins between two tabs.
  return Array.from({ length: count }, (_, k) => (k + 0.5) / count);
}

/**
 * A closed way that rises over tabs. The cutter makes each shorter by its own width at both ends, so it rises over a length of the tab and
 * its width.
 * @param points x, y, depth triples, closed. @param shares Where tabs stand along it, of its length on the sheet. @param floorMm Depth of
 * the blank's lower side there. @param radiusMm Of the cutter. @param lengthOf Length on the blank between two sheet places, mm: tabs are
 * as long there as asked.
 * O(points · tabs).
 */
export function raiseOverTabs(
  points: Float64Array,
  tabs: Tabs,
  shares: readonly number[],
  floorMm: number,
  radiusMm: number,
  lengthOf: LengthOf,
): Float64Array {
  const at = addUp(points, lengthOf),
    onSheet = addUp(points, (ax, ay, bx, by) => Math.hypot(bx - ax, by - ay));
  const around = at[at.length - 1]!;
  const top = Math.max(0, floorMm - tabs.thicknessMm);
  const depth = points[2]!;
  const half = tabs.lengthMm / 2 + radiusMm;
  const slope = tabs.ramped ? tabs.lengthMm / 2 : STEEP_MM;
  // Places where the depth changes, and the depth at any place.
  const middles = shares.map((share) => {
    const s = share * onSheet[onSheet.length - 1]!;
    const i = Math.max(
      1,
      onSheet.findIndex((v) => v >= s),
    );
    const t = onSheet[i]! > onSheet[i - 1]! ? (s - onSheet[i - 1]!) / (onSheet[i]! - onSheet[i - 1]!) : 0;
    return at[i - 1]! + t * (at[i]! - at[i - 1]!);
  });
  const depthAt = (s: number): number => {
    let out = depth;
    for (const m of middles) {
      const off = Math.min(Math.abs(s - m), around - Math.abs(s - m));
      const own = off <= half ? top : off >= half + slope ? depth : top + ((off - half) / slope) * (depth - top);
      out = Math.min(out, own);
    }
    return out;
  };
  const stops = new Set<number>(at);
  for (const m of middles)
    for (const by of [half, half + slope]) for (const s of [m - by, m + by]) stops.add(((s % around) + around) % around);
  const out: number[] = [];
  let k = 0;
  let last = -1;
  for (const s of [...stops].sort((a, b) => a - b)) {
    // Two points all but in one place are one.
    if (s - last < SAME_MM && s < around && last >= 0) continue;
    last = s;
    while (k + 2 < at.length && at[k + 1]! < s) k++;
    const t = at[k + 1]! > at[k]! ? (s - at[k]!) / (at[k + 1]! - at[k]!) : 0;
    out.push(
      points[3 * k]! + t * (points[3 * k + 3]! - points[3 * k]!),
      points[3 * k + 1]! + t * (points[3 * k + 4]! - points[3 * k + 1]!),
      depthAt(s),
    );
  }
  return Float64Array.from(out);
}

/**
 * A closed way with an arc into it and out of it; one that is not closed stays as it is. The arc touches it where it begins, on the
 * side of the waste; smaller where there is no
 * room, or none.
 * @param side Where the waste is, seen along the way. @param isFree Whether the cutter may be at a place. O(points).
 */
export function leadInAndOut(
  points: Float64Array,
  radiusMm: number,
  lengthMm: number,
  side: 'left' | 'right',
  isFree: (x: number, y: number) => boolean,
): Float64Array {
  const n = points.length / 3;
  const [x, y] = [points[0]!, points[1]!];
  // A way that was broken off beside another shape begins and ends against it: there is no room for an arc, and its ends are not one place.
  const isClosed = Math.hypot(points[3 * n - 3]! - x, points[3 * n - 2]! - y) < SAME_MM;
  if (!(radiusMm > LEAST_LEAD_MM) || n < 3 || !isClosed) return points;
  const depth = points[2]!;
  const arc = (dx: number, dy: number, into: boolean): number[] => {
    const l = Math.hypot(dx, dy) || 1;
    const [tx, ty] = [dx / l, dy / l];
    const [nx, ny] = side === 'left' ? [-ty, tx] : [ty, -tx];
    const angle = Math.min(Math.PI / 2, lengthMm / radiusMm);
    const count = Math.max(2, Math.ceil(angle / 0.1));
    const out: number[] = [];
    for (let k = 0; k <= count; k++) {
      const a = (angle * (into ? count - k : k)) / count;
      const along = (into ? -1 : 1) * radiusMm * Math.sin(a),
        aside = radiusMm * (1 - Math.cos(a));
      out.push(x + along * tx + aside * nx, y + along * ty + aside * ny, depth);
    }
    return out;
  };
  const before = arc(points[3]! - x, points[4]! - y, true),
    after = arc(x - points[3 * (n - 2)]!, y - points[3 * (n - 2) + 1]!, false);
  for (const arc of [before, after])
    for (let i = 0; i < arc.length; i += 3)
      if (!isFree(arc[i]!, arc[i + 1]!)) return leadInAndOut(points, radiusMm / 2, lengthMm / 2, side, isFree);
  return Float64Array.from([...before, ...points.subarray(3), ...after.slice(3)]);
}
