import type { Outline } from '../medial/outline';
import type { ContactSolver } from './contact';
import { PassBuilder } from './passBuilder';

/** Most by which a straight piece of a wall pass may leave the wall, mm; shorter pieces are not checked. */
const WALL_TOLERANCE_MM = 0.0004;
const MIN_WALL_PIECE_MM = 0.02;
/** A longer piece is checked in its halves as well: a bend to and fro does not show in its middle, mm. */
const LONG_WALL_PIECE_MM = 0.25;
/** The middle of a piece of a wall lies no farther off its chord than this share of it. */
const RUNAWAY_SHARE = 0.35;
/** A wall is found where at least this share of the depth is allowed; what is missing is at a corner, and other strokes cut it. */
const SETTLED_SHARE = 0.98;
const SETTLED_MM = 1e-7;
/** A corner of the start line sharper than this may be a corner between two walls, degrees; so may one of a curve of few chords. */
const CORNER_DEG = 12;
const MAX_WALL_SPLITS = 8;
/** Splits that a wall pass gets for each of its points, and some to begin with; letters take one to three. */
const SPLITS_A_POINT = 12;
const SPARE_SPLITS = 500;
/** Steps to the wall; each point takes two or three. */
const MAX_SETTLING = 14;

export interface WallPassOptions {
  depthMm: number;
  /** Which side of the outline the cutter runs on. An outline has its region on the left. */
  side: 'left' | 'right';
  /** Places, x y in turn, at which two walls are touched at this depth: corners of the start line near one go there. */
  corners?: readonly number[];
  /** How far a start line may lie from the wall, and so a corner of it from its place, mm. */
  slackMm?: number;
}

/**
 * A closed pass at one depth along a wall: the outline as it lies on the real surface. Each point of the start line is moved to or
 * from its nearest contact until exactly the wanted depth is allowed there, and points are put in between until the pass keeps to
 * that. It is broken off where no such place is near.
 * @param start Closed line beside the wall, x y in turn, first point not repeated.
 * @returns x, y, depth triples a run. O(points · near segments).
 */
export function computeWallPass(start: readonly number[], solver: ContactSolver, o: Outline, options: WallPassOptions): Float64Array[] {
  const { depthMm } = options;
  const n = start.length / 2;
  const settle = createSettling(solver, o, options);
  const cornerAt = matchCorners(start, options);
  // Points in too narrow a place are left out; whether the piece between their neighbours can be cut shows in its middle.
  const points: number[] = [];
  for (let i = 0; i < n; i++) {
    const corner = cornerAt.get(i);
    if (corner !== undefined) points.push(options.corners![corner]!, options.corners![corner + 1]!, depthMm);
    else if (settle.from(start[2 * i]!, start[2 * i + 1]!)) points.push(settle.place[0]!, settle.place[1]!, settle.place[2]!);
  }
  const pass = new PassBuilder();
  let splitsLeft = SPLITS_A_POINT * n + SPARE_SPLITS;
  const split = (x0: number, y0: number, d0: number, x1: number, y1: number, d1: number, depth: number): void => {
    const length = Math.hypot(x1 - x0, y1 - y0);
    if (length < MIN_WALL_PIECE_MM) return;
    // Across an edge of the blank a wall jumps, and splitting it comes to no end.
    if (depth === 0 || --splitsLeft < 0) return pass.breakOff();
    const settled = settle.from((x0 + x1) / 2, (y0 + y1) / 2);
    const [x, y, d] = [settle.place[0]!, settle.place[1]!, settle.place[2]!];
    const gap = Math.hypot(x - (x0 + x1) / 2, y - (y0 + y1) / 2, d - (d0 + d1) / 2);
    // A middle that runs away, or to one of the ends, has no wall of its own here: other strokes cut what there is.
    if (!settled || gap > RUNAWAY_SHARE * length) return pass.breakOff();
    if (gap <= WALL_TOLERANCE_MM && length < LONG_WALL_PIECE_MM) return;
    split(x0, y0, d0, x, y, d, depth - 1);
    pass.add(x, y, d);
    split(x, y, d, x1, y1, d1, depth - 1);
  };
  for (let a = 0; a < points.length; a += 3) {
    const b = (a + 3) % points.length;
    pass.add(points[a]!, points[a + 1]!, points[a + 2]!);
    split(points[a]!, points[a + 1]!, points[a + 2]!, points[b]!, points[b + 1]!, points[b + 2]!, MAX_WALL_SPLITS);
  }
  return pass.finish();
}

/** Moves places to the wall. `from` answers whether about the depth is allowed where it ends up, and leaves x, y, depth in `place`. */
function createSettling(solver: ContactSolver, o: Outline, { depthMm, side }: WallPassOptions) {
  const place = new Float64Array(3);
  const from = (startX: number, startY: number): boolean => {
    let x = startX,
      y = startY,
      allowed = 0,
      onSide = false,
      stepped = 0;
    for (let k = 0; ; k++) {
      solver.moveTo(x, y);
      const contact = solver.findLeast(solver.findContact(o.index!.neighbors(x, y, 1)[0]!));
      const gained = contact.depthMm - allowed;
      allowed = contact.depthMm;
      onSide = solver.isInside(contact) === (side === 'left');
      const missing = depthMm - allowed;
      if (Math.abs(missing) < SETTLED_MM || !onSide || k === MAX_SETTLING) break;
      const ex = x - contact.x,
        ey = y - contact.y;
      const away = Math.hypot(ex, ey);
      const slope = solver.slopeAt(contact);
      if (!(away > 0) || !(slope > 0)) break;
      // Under a leaning tool depth grows by another rate than the profile's, which the last step shows.
      const rate = stepped !== 0 && gained / stepped > 0.2 * slope && gained / stepped < 5 * slope ? gained / stepped : slope;
      stepped = Math.max(-0.2 * away, Math.min(0.2 * away, missing / rate));
      x += (stepped * ex) / away;
      y += (stepped * ey) / away;
    }
    place[0] = x;
    place[1] = y;
    place[2] = Math.min(depthMm, allowed);
    return onSide && allowed > SETTLED_SHARE * depthMm;
  };
  return { place, from };
}

/**
 * Which points of the start line are corners between two walls: the sharpest first, each place once, and none farther off than a
 * corner moves when its two walls move by the slack.
 * @returns Index into `corners` by point of the start line.
 */
function matchCorners(start: readonly number[], { corners = [], slackMm = 0, side }: WallPassOptions): Map<number, number> {
  const n = start.length / 2;
  const sign = side === 'left' ? 1 : -1;
  const sharp: { i: number; rad: number }[] = [];
  for (let i = 0; i < n; i++) {
    const a = (i + n - 1) % n,
      b = (i + 1) % n;
    const ux = start[2 * i]! - start[2 * a]!,
      uy = start[2 * i + 1]! - start[2 * a + 1]!,
      vx = start[2 * b]! - start[2 * i]!,
      vy = start[2 * b + 1]! - start[2 * i + 1]!;
    // Walls meet where the side that is cut is less than half a turn wide.
    const rad = sign * Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
    if (rad > (CORNER_DEG * Math.PI) / 180) sharp.push({ i, rad });
  }
  const found = new Map<number, number>(),
    used = new Set<number>();
  for (const { i, rad } of sharp.sort((p, q) => q.rad - p.rad)) {
    let best = slackMm / Math.max(0.05, Math.cos(rad / 2)),
      nearest = -1;
    for (let t = 0; t < corners.length; t += 2) {
      const away = Math.hypot(corners[t]! - start[2 * i]!, corners[t + 1]! - start[2 * i + 1]!);
      if (away < best && !used.has(t)) {
        best = away;
        nearest = t;
      }
    }
    if (nearest < 0) continue;
    used.add(nearest);
    found.set(i, nearest);
  }
  return found;
}
