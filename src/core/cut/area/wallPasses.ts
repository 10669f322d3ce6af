import { offsetRings } from '../../base/boolean';
import { getRing, type Rings } from '../../base/rings';
import type { Work } from '../../machine/stance';
import type { Profile } from '../profile';
import { simplifyStroke } from '../stroke';
import { Clearance } from './clearance';
import { ARC_TOLERANCE_MM, reverse, type FillLine } from './fill';
import { createPrint, type Print } from './print';

/** Which way walls are passed by a spindle that turns clockwise: climb milling has the wall on the right. */
export type Direction = 'climb' | 'conventional';

/** Longest piece of a wall pass on a curved surface before it is set to the wall again, mm. */
const WALL_PIECE_MM = 0.5;
/** A place of a wall pass that is this far off is no place of the wall, mm. */
const ASTRAY_MM = 0.2;
/** Most by which leaving out points may shift a pass, mm. */
export const SIMPLIFY_MM = 0.0002;
/** A corner sharper than this is looped, radians. */
const LOOPED_RAD = Math.PI / 6;

/** A line at the depth on the sheet; what of it runs along walls touches them, or, where not all of it is wall, at least keeps clear. */
export function setToWall(
  { xy, wallFrom }: FillLine,
  print: Print,
  clearance: Clearance,
  work: Work,
  depthMm: number,
  wholeWall: boolean,
): Float64Array {
  const sheet = print.toSheet(xy);
  const out: number[] = [];
  const place = new Float64Array(2);
  const add = (x: number, y: number, onWall: boolean): void => {
    if (onWall) {
      const clear = clearance.settle(x, y, depthMm, place);
      const moved = Math.hypot(place[0]! - x, place[1]! - y);
      const wanted = wholeWall || clearance.measure(x, y, depthMm) < 0;
      if (wanted && Math.abs(clear) < 0.001 && moved < ASTRAY_MM) {
        out.push(place[0]!, place[1]!, depthMm);
        return;
      }
    }
    out.push(x, y, depthMm);
  };
  const n = sheet.length / 2;
  for (let i = 0; i < n; i++) {
    const [x, y] = [sheet[2 * i]!, sheet[2 * i + 1]!];
    const onWall = i >= wallFrom;
    if (i > wallFrom && onWall && !work.flat) {
      const [px, py] = [sheet[2 * i - 2]!, sheet[2 * i - 1]!];
      const pieces = Math.ceil(Math.hypot(x - px, y - py) / WALL_PIECE_MM);
      for (let k = 1; k < pieces; k++) add(px + (k / pieces) * (x - px), py + (k / pieces) * (y - py), true);
    }
    add(x, y, onWall);
  }
  return Float64Array.from(out);
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
  return setRingsToWall(work, outline, depthMm, profile, plane, print, direction === 'climb' ? 'conventional' : 'climb');
}

function setRingsToWall(
  work: Work,
  outline: Rings,
  depthMm: number,
  profile: Profile,
  plane: Rings,
  print: Print,
  direction: Direction,
): Float64Array[] {
  const clearance = new Clearance(work, outline, profile);
  return Array.from({ length: plane.starts.length - 1 }, (_, k) => {
    const ring = direction === 'climb' ? getRing(plane, k) : reverse(getRing(plane, k));
    const xy = Float64Array.from([...ring, ring[0]!, ring[1]!]);
    return simplifyStroke(setToWall({ xy, wallFrom: 0 }, print, clearance, work, depthMm, true), SIMPLIFY_MM);
  });
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
