import { offsetRings } from '../../base/boolean';
import { computeBox, getRing, isInsideRings, packRings, type Rings } from '../../base/rings';
import { computeLean, type Work } from '../../machine/stance';
import type { Profile } from '../profile';
import { simplifyStroke } from '../stroke';
import { Clearance, FAR_MM } from './clearance';
import { ARC_TOLERANCE_MM, reverse, type FillLine } from './fill';
import { createPrint, type Print } from './print';

/** Which way walls are passed by a spindle that turns clockwise: climb milling has the wall on the right. */
export type Direction = 'climb' | 'conventional';

/** Longest piece of a wall pass on a curved surface before it is set to the wall again, mm. */
const WALL_PIECE_MM = 0.5;
/** A place of a wall pass that is this much farther off than it is looked for is no place of the wall, mm. */
const ASTRAY_MM = 0.5;
/** What lies so much farther off in the plane than the print is wide is part of a corner that runs out, mm. */
const POINT_MM = 0.001;
const CORNER_ARC_MM = 0.0002;
/** Places of each line between two corners that run out, at the least; lines that meet at less than this are one, sine. */
const LEAST_PIECES = 4;
const LEAST_CROSS = 0.02;
/** A place is cut over if the cutter reaches this far over an outline, looked for no farther than the second, mm. */
const OVER_MM = 8e-4;
const REACH_MM = 0.05;
/** Longest piece of a way beside another shape before it is looked at again, mm. */
const BESIDE_MM = 0.1;
/** Most by which leaving out points may shift a pass, mm. */
export const SIMPLIFY_MM = 0.0002;
/** Halvings of a piece of a wall pass that would cut over its wall. */
const BENDS = 5;
/** Halvings by which the place is found at which a way would touch: of 0.1 mm to less than 0.1 µm. */
const HALVINGS = 11;
/** A corner sharper than this is looped, radians. */
const LOOPED_RAD = Math.PI / 6;

export interface WallOptions {
  depthMm: number;
  /** Half-width of the cutter's flat end: where its rim would come deeper than its middle, it is kept up. */
  flatMm: number;
  /** Radius of an end that is round; 0 for a flat one. */
  roundMm?: number;
  /** Whether its rim comes no deeper than asked where it leans; else its middle is as deep as asked. */
  rimUp?: boolean;
  /** Whether all of what runs along walls touches them; else it only keeps clear. */
  wholeWall: boolean;
  /** How far off its wall a place may be at first, mm. */
  farMm?: number;
  /** Whether what runs off the walls keeps clear of them for certain, and is straight on the surface. */
  innerIsClear?: boolean;
}

/** Whether a place of a wall pass finds room on the true surface, where it lies or near by. */
export function canStandOnWall(clearance: Clearance, x: number, y: number, depthMm: number): boolean {
  const place = new Float64Array(2);
  clearance.settle(x, y, depthMm, place, true);
  const [px, py] = Math.hypot(place[0]! - x, place[1]! - y) < FAR_MM + ASTRAY_MM ? [place[0]!, place[1]!] : [x, y];
  return clearance.measure(px, py, depthMm, REACH_MM) >= -OVER_MM;
}

/** A line at the depth on the sheet, set to the wall from where it runs along it; in parts where the cutter does not fit. */
export function setToWall(
  { xy, wallFrom }: FillLine,
  print: Pick<Print, 'toSheet'>,
  clearance: Clearance,
  work: Work,
  { depthMm, flatMm, roundMm = 0, wholeWall, rimUp = false, innerIsClear = false, farMm = FAR_MM }: WallOptions,
): Float64Array[] {
  const sheet = print.toSheet(xy);
  const sinkAt = createSink(work, flatMm, depthMm, rimUp, roundMm);
  const parts: number[][] = [[]];
  const place = new Float64Array(2);
  const isTrue = work.flat && work.alongNormal;
  const add = (x: number, y: number, onWall: boolean): void => {
    let [px, py] = [x, y];
    if (onWall) {
      clearance.settle(x, y, depthMm, place, wholeWall, farMm);
      if (Math.hypot(place[0]! - x, place[1]! - y) < farMm + ASTRAY_MM) [px, py] = place as unknown as [number, number];
    }
    // Where offsets in the plane left room that is not there, as between two walls far from its middle, the way is broken off.
    if (!work.flat && (onWall || !innerIsClear) && clearance.measure(px, py, depthMm, REACH_MM) < -OVER_MM) {
      if (parts[parts.length - 1]!.length > 0) parts.push([]);
      return;
    }
    const part = parts[parts.length - 1]!;
    if (onWall && part.length > 0 && !isTrue) bend(part, part[part.length - 3]!, part[part.length - 2]!, px, py, BENDS);
    part.push(px, py, depthMm - sinkAt(px, py));
  };
  /** Places between two of a wall where a straight line would cut over it: a leaning print turns corners elsewhere than in the plane. */
  const bend = (part: number[], ax: number, ay: number, bx: number, by: number, times: number): void => {
    const [x, y] = [(ax + bx) / 2, (ay + by) / 2];
    if (times === 0 || clearance.measure(x, y, depthMm, REACH_MM) >= -OVER_MM) return;
    clearance.settle(x, y, depthMm, place, false, farMm);
    const [px, py] = place as unknown as [number, number];
    if (Math.hypot(px - x, py - y) > Math.hypot(bx - ax, by - ay)) return;
    bend(part, ax, ay, px, py, times - 1);
    part.push(px, py, depthMm - sinkAt(px, py));
    bend(part, px, py, bx, by, times - 1);
  };
  const n = sheet.length / 2;
  for (let i = 0; i < n; i++) {
    const [x, y] = [sheet[2 * i]!, sheet[2 * i + 1]!];
    const onWall = i >= wallFrom;
    if (i > 0 && !work.flat && (onWall || !innerIsClear)) {
      const [px, py] = [sheet[2 * i - 2]!, sheet[2 * i - 1]!];
      const pieces = Math.ceil(Math.hypot(x - px, y - py) / WALL_PIECE_MM);
      for (let k = 1; k < pieces; k++) add(px + (k / pieces) * (x - px), py + (k / pieces) * (y - py), i > wallFrom && onWall);
    }
    add(x, y, onWall);
  }
  return parts.filter((p) => p.length >= 6).map((p) => Float64Array.from(p));
}

/**
 * By how much a flat end is kept up at a place, mm: by what its rim digs deeper than its middle in a hollow, and to measure along the
 * normal.
 */
export function createSink(work: Work, flatMm: number, depthMm: number, rimUp = false, roundMm = 0): (x: number, y: number) => number {
  if (flatMm === 0 || (work.flat && work.alongNormal)) return () => 0;
  const curvature = new Float64Array(2);
  return (x, y) => {
    work.curvatureInto(x, y, curvature);
    const lean = work.alongNormal ? 0 : computeLean(work, x, y);
    const hollow = (Math.max(0, -curvature[1]!) * flatMm * flatMm) / 2;
    // Depths are measured along the tool, and asked for along the normal, in the middle of an end that leans.
    // A round end is deepest along the normal beside its tip: d cos λ + r (1 − cos λ) for a tip at d along the tool.
    if (roundMm > 0) return Math.min(0.95 * depthMm, hollow + depthMm - (depthMm - roundMm * (1 - Math.cos(lean))) / Math.cos(lean));
    const rim = rimUp ? flatMm * Math.tan(lean) : 0;
    return Math.min(0.95 * depthMm, hollow + rim + depthMm * (1 - Math.cos(lean)));
  };
}

/** How much higher than its middle a cutter's rim meets the surface at a place, mm: where it leans, and in a hollow. */
export function createRimRise(work: Work, radiusMm: number): (x: number, y: number) => number {
  const curvature = new Float64Array(2);
  return (x, y) => {
    work.curvatureInto(x, y, curvature);
    const lean = work.alongNormal ? 0 : computeLean(work, x, y);
    return (Math.max(0, -curvature[1]!) * radiusMm * radiusMm) / 2 + radiusMm * Math.tan(lean);
  };
}

/** Closed passes of a cutter along an outline's walls at a depth, on the inside, set to them on the true surface. O(n log n). */
export function passAlongWalls(work: Work, outline: Rings, depthMm: number, profile: Profile, direction: Direction): Float64Array[] {
  const print = createPrint(work, outline, profile, depthMm);
  const plane = offsetRings(print.toPlane(outline), -print.radiusMm, ARC_TOLERANCE_MM);
  return setRingsToWall(work, outline, depthMm, profile, plane, print, direction);
}

/** … and along its outside: region on the right, corners of the way rounded or run out. */
export function passAround(
  work: Work,
  outline: Rings,
  depthMm: number,
  profile: Profile,
  direction: Direction,
  corners: 'round' | 'sharp',
): Float64Array[] {
  const print = createPrint(work, outline, profile, depthMm);
  const plane = offsetRings(print.toPlane(outline), print.radiusMm, ARC_TOLERANCE_MM, corners);
  // The material that stays is on the left of these rings: seen from the cutter the wall is on the other side.
  return setRingsToWall(
    work,
    outline,
    depthMm,
    profile,
    plane,
    print,
    direction === 'climb' ? 'conventional' : 'climb',
    corners === 'round',
  );
}

function setRingsToWall(
  work: Work,
  outline: Rings,
  depthMm: number,
  profile: Profile,
  plane: Rings,
  print: Print,
  direction: Direction,
  pulls = true,
): Float64Array[] {
  const clearance = new Clearance(work, outline, profile);
  // Where corners run out to points those touch nothing, and are not to: what lies farther off than the print is wide.
  const walls =
    pulls || (work.flat && work.alongNormal) ? null : offsetRings(print.toPlane(outline), print.radiusMm + POINT_MM, CORNER_ARC_MM);
  return Array.from({ length: plane.starts.length - 1 }, (_, k) => k).flatMap((k) => {
    const ring = direction === 'climb' ? getRing(plane, k) : reverse(getRing(plane, k));
    const closed = Float64Array.from([...ring, ring[0]!, ring[1]!]);
    const options = { depthMm, flatMm: profile.flatMm, wholeWall: pulls, farMm: clearance.getFarMm(depthMm) };
    const parts = walls
      ? setToWall({ xy: runOut(closed, walls, print, clearance, depthMm), wallFrom: 0 }, AS_IT_IS, clearance, work, options)
      : setToWall({ xy: closed, wallFrom: 0 }, print, clearance, work, options);
    return parts.map((s) => simplifyStroke(s, SIMPLIFY_MM));
  });
}

const AS_IT_IS = { toSheet: (xy: ArrayLike<number>): Float64Array => Float64Array.from(xy) };

/**
 * A closed way in the plane whose corners run out to points, on the sheet: what runs along walls is set to them, and where two of those
 * lines met in a point they meet again as they lie now.
 * @param walls What lies within it runs along a wall.
 */
function runOut(closed: Float64Array, walls: Rings, print: Print, clearance: Clearance, depthMm: number): Float64Array {
  const xy = divide(closed, WALL_PIECE_MM).subarray(2);
  const sheet = print.toSheet(xy);
  const n = sheet.length / 2;
  const onWall = Array.from({ length: n }, (_, i) => isInsideRings(walls, xy[2 * i]!, xy[2 * i + 1]!));
  const first = onWall.indexOf(true);
  if (first < 0) return print.toSheet(closed);
  const at = (i: number): [number, number] => [sheet[2 * (i % n)]!, sheet[2 * (i % n) + 1]!];
  const settled = new Float64Array(2);
  const farMm = clearance.getFarMm(depthMm);
  const settle = (i: number): [number, number] => {
    const [x, y] = at(i);
    clearance.settle(x, y, depthMm, settled, true, farMm);
    return Math.hypot(settled[0]! - x, settled[1]! - y) < farMm + ASTRAY_MM ? [settled[0]!, settled[1]!] : [x, y];
  };
  const out: number[] = [];
  let last = settle(first);
  out.push(...last);
  for (let i = first + 1; i <= first + n;) {
    const from = i;
    while (!onWall[i % n]) i++;
    const next = settle(i);
    if (i > from) {
      // From the wall before to the point and on to the wall after it, each beside itself by as much as its wall was off.
      const [ax, ay] = at(from - 1),
        [px, py] = at(from),
        [qx, qy] = at(i - 1),
        [bx, by] = at(i);
      const [ux, uy, vx, vy] = [px - ax, py - ay, bx - qx, by - qy];
      const cross = ux * vy - uy * vx;
      const t = ((next[0] - last[0]) * vy - (next[1] - last[1]) * vx) / cross;
      if (Math.abs(cross) > LEAST_CROSS * Math.hypot(ux, uy) * Math.hypot(vx, vy) && t > 0) out.push(last[0] + t * ux, last[1] + t * uy);
      else for (let k = from; k < i; k++) out.push(...at(k));
    }
    out.push(...next);
    last = next;
    i++;
  }
  return Float64Array.from(out);
}

/** A line with places no farther apart than a length, mm, and some between any two. */
function divide(xy: Float64Array, mostMm: number): Float64Array {
  const out = [xy[0]!, xy[1]!];
  for (let i = 2; i < xy.length; i += 2) {
    const [ax, ay, bx, by] = [xy[i - 2]!, xy[i - 1]!, xy[i]!, xy[i + 1]!];
    const pieces = Math.max(LEAST_PIECES, Math.ceil(Math.hypot(bx - ax, by - ay) / mostMm));
    for (let p = 1; p <= pieces; p++) out.push(ax + (p / pieces) * (bx - ax), ay + (p / pieces) * (by - ay));
  }
  return Float64Array.from(out);
}

/**
 * What of ways round shapes keeps clear of all shapes: a way round one letter ends where it would cut into the next.
 * @param region All shapes, on the sheet. @returns Ways as they were where nothing is near, else their parts. O(n log n).
 */
export function keepClearOf(ways: readonly Float64Array[], region: Rings, work: Work, depthMm: number, profile: Profile): Float64Array[] {
  const boxes = Array.from({ length: region.starts.length - 1 }, (_, k) => computeBox(getRing(region, k)));
  const far = 2 * profile.halfWidthAt(depthMm) + 1;
  return ways.flatMap((way) => {
    const xy = Array.from(way).filter((_, i) => i % 3 < 2);
    const own = computeBox(Float64Array.from(xy));
    const near = boxes.flatMap((b, k) =>
      b.minX < own.maxX + far && b.maxX > own.minX - far && b.minY < own.maxY + far && b.maxY > own.minY - far ? [getRing(region, k)] : [],
    );
    const shapes = packRings(near);
    return keepAllowed(way, work, shapes, depthMm, profile);
  });
}

/**
 * What of a way at a depth keeps clear of shapes on the true surface, each part up to where it would touch; the way itself where all of it
 * does on a flat blank. Places are asked one by one: clipping in a plane is true about its middle alone, and joins ends that are none.
 */
function keepAllowed(way: Float64Array, work: Work, shapes: Rings, depthMm: number, profile: Profile): Float64Array[] {
  const sinkAt = createSink(work, profile.flatMm, depthMm);
  const clearance = new Clearance(work, shapes, profile);
  const isClear = (x: number, y: number): boolean => clearance.measure(x, y, depthMm, REACH_MM) > -OVER_MM && !isInsideRings(shapes, x, y);
  const clear: number[][] = [[]];
  const put = (x: number, y: number): void => void clear[clear.length - 1]!.push(x, y, depthMm - sinkAt(x, y));
  let [lx, ly] = [way[0]!, way[1]!];
  let wasClear = isClear(lx, ly);
  let isWhole = wasClear;
  if (wasClear) put(lx, ly);
  const add = (x: number, y: number): void => {
    const now = isClear(x, y);
    isWhole &&= now;
    if (now !== wasClear) {
      // Up to where it touches, or from there on.
      let [low, high] = [0, 1];
      for (let k = 0; k < HALVINGS; k++) {
        const t = (low + high) / 2;
        if (isClear(lx + t * (x - lx), ly + t * (y - ly)) === wasClear) low = t;
        else high = t;
      }
      const t = now ? high : low;
      if (now) clear.push([]);
      put(lx + t * (x - lx), ly + t * (y - ly));
    }
    if (now) put(x, y);
    [lx, ly, wasClear] = [x, y, now];
  };
  for (let i = 3; i < way.length; i += 3) {
    const [x, y, px, py] = [way[i]!, way[i + 1]!, way[i - 3]!, way[i - 2]!];
    const pieces = Math.max(1, Math.ceil(Math.hypot(x - px, y - py) / BESIDE_MM));
    for (let k = 1; k <= pieces; k++) add(px + (k / pieces) * (x - px), py + (k / pieces) * (y - py));
  }
  if (isWhole && work.flat) return [way];
  return clear.filter((part) => part.length >= 6).map((part) => simplifyStroke(Float64Array.from(part), SIMPLIFY_MM));
}

/** A closed way whose sharp corners are passed straight on by a length and come into again on their new line: no dwelling in the corner. */
export function loopCorners(points: Float64Array, lengthMm: number): Float64Array {
  const out: number[] = [];
  const n = points.length / 3;
  for (let i = 0; i < n; i++) {
    const [x, y, d] = [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!];
    out.push(x, y, d);
    if (i === 0 || i + 1 === n) continue;
    const [ax, ay] = [x - points[3 * i - 3]!, y - points[3 * i - 2]!],
      [bx, by] = [points[3 * i + 3]! - x, points[3 * i + 4]! - y];
    const [la, lb] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
    const turn = Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
    if (!(Math.abs(turn) > LOOPED_RAD) || la === 0 || lb === 0) continue;
    const [ux, uy, vx, vy] = [(ax / la) * lengthMm, (ay / la) * lengthMm, (bx / lb) * lengthMm, (by / lb) * lengthMm];
    out.push(x + ux, y + uy, d, x + ux - vx, y + uy - vy, d, x - vx, y - vy, d, x, y, d);
  }
  return Float64Array.from(out);
}
