import { offsetRings } from '../base/boolean';
import { computeBox, getRing, isEmptyRings, type Rings } from '../base/rings';
import { toRings, type Outline } from '../medial/outline';
import type { Work } from '../machine/stance';
import type { ContactSolver } from './contact';
import { keepToAllowed } from './keepToAllowed';
import type { Profile } from './profile';

/** Height of the ridges left between neighbouring floor passes of a V cutter, mm. */
export const FLOOR_RIDGE_MM = 0.02;
/** Chord error of the rounded corners of an inset, mm. */
const INSET_ARC_TOLERANCE_MM = 0.0005;
/** Longest straight piece of a wall pass before its depth is checked again, mm. */
const MAX_WALL_PIECE_MM = 1;
const MAX_FLOOR_PASSES = 2000;
/** Most by which a straight piece of a wall pass may leave the wall, mm; shorter pieces are not looked at. */
const WALL_TOLERANCE_MM = 0.0004;
const MIN_WALL_PIECE_MM = 0.02;
const LONG_WALL_PIECE_MM = 0.25;
/** The middle of a piece of a wall lies no farther off its chord than this share of it. */
const RUNAWAY_SHARE = 0.35;
/** Places of the outline at which its width is looked at, and the share of the least by which the wall pass is inset to begin with. */
const WIDTH_LOOKS = 24;
const INSET_SHARE = 0.97;
/** A leaning cutter's groove is sought up to so many doublings of an upright one's. */
const MAX_DOUBLINGS = 8;

/**
 * Closed passes at a fixed depth: one along the inside of the outline where the cutter just touches it, and as many
 * further in as the floor needs. The V's groove is wider along a cylinder than round it at the same depth, so the inset
 * is taken in a sheet stretched to make both equal, then each point is moved until the allowed depth is the fixed one.
 * @param shiftX Share of the groove's half-width by which a leaning tool stands beside its middle, towards smaller x.
 * @param turns Places, x y in turn, at which the axis crosses the depth: there the wall passes turn, touching two sides.
 * @returns x, y, depth triples per closed pass, first point repeated at the end.
 * O(passes · n log n).
 */
export function computeFloor(
  o: Outline,
  surface: Work,
  profile: Profile,
  solver: ContactSolver,
  depthMm: number,
  shiftX = 0,
  turns: readonly number[] = [],
): Float64Array[] {
  const rings = toRings(o);
  const box = computeBox(rings.xy);
  const [midX, midY] = findGrooveHalfWidths(surface, profile, depthMm, (box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2);
  const stretch = midX / midY;
  // Where the groove's width changes over the piece, by its least: what is inset too little is moved in, what too much is lost.
  let wideX = midX,
    widestX = midX;
  const step = 2 * Math.max(1, Math.floor(rings.xy.length / 2 / WIDTH_LOOKS));
  for (let i = 0; i < rings.xy.length && !surface.isometric; i += step) {
    const [ownX, ownY] = findGrooveHalfWidths(surface, profile, depthMm, rings.xy[i]!, rings.xy[i + 1]!);
    wideX = Math.min(wideX, ownX, ownY * stretch);
    widestX = Math.max(widestX, ownX, ownY * stretch);
  }
  wideX *= INSET_SHARE;
  const stepMm = 2 * profile.halfWidthAt(FLOOR_RIDGE_MM);
  const scaled = scaleY(rings, stretch);
  const passes: Float64Array[] = [];
  let inset = offsetRings(scaled, -wideX, INSET_ARC_TOLERANCE_MM);
  for (let pass = 0; pass < MAX_FLOOR_PASSES && !isEmptyRings(inset); pass++) {
    const placed = shift(scaleY(inset, 1 / stretch), -shiftX * wideX);
    for (let k = 0; k + 1 < placed.starts.length; k++) {
      const ring = subdivide(getRing(placed, k), MAX_WALL_PIECE_MM);
      if (pass === 0) passes.push(...settleOnWall(ring, solver, o, depthMm, turns, TURN_SLACK * widestX - wideX));
      // Nearer than the groove is wide somewhere, a pass may not be as deep everywhere.
      else if (wideX + pass * stepMm < WIDTH_SLACK * (2 * widestX - wideX))
        passes.push(...riseToAllowed(subdivide(Float64Array.from(ring), CHECKED_PIECE_MM), solver, o, depthMm));
      else passes.push(closeAtDepth(ring, depthMm));
    }
    inset = offsetRings(scaled, -wideX - (pass + 1) * stepMm, INSET_ARC_TOLERANCE_MM);
  }
  return passes;
}

/**
 * Half-width of the groove at a depth, along sheet x and along sheet y through its middle, mm, measured on the sheet. A leaning
 * tool stands beside that middle, along x.
 */
export function findGrooveHalfWidths(surface: Work, profile: Profile, depthMm: number, x: number, y: number): [number, number] {
  const frame = new Float64Array(6);
  const p = new Float64Array(3);
  surface.poseInto(x, y, frame);
  const allowed = (dx: number, dy: number): number => {
    surface.pointInto(x + dx, y + dy, p);
    const q = [p[0]! - frame[0]!, p[1]! - frame[1]!, p[2]! - frame[2]!];
    const drop = -(q[0]! * frame[3]! + q[1]! * frame[4]! + q[2]! * frame[5]!);
    return drop + profile.heightAt(Math.hypot(q[0]! + drop * frame[3]!, q[1]! + drop * frame[4]!, q[2]! + drop * frame[5]!));
  };
  const solve = (fromX: number, ux: number, uy: number): number => {
    let lo = 0;
    let hi = 2 * profile.halfWidthAt(depthMm) + 1e-6;
    for (let k = 0; k < MAX_DOUBLINGS && allowed(fromX + hi * ux, hi * uy) <= depthMm; k++) {
      lo = hi;
      hi *= 2;
    }
    for (let k = 0; k < 60; k++) {
      const w = (lo + hi) / 2;
      if (allowed(fromX + w * ux, w * uy) > depthMm) hi = w;
      else lo = w;
    }
    return (lo + hi) / 2;
  };
  const ahead = solve(0, 1, 0),
    behind = solve(0, -1, 0);
  const middle = (ahead - behind) / 2;
  return [(ahead + behind) / 2, (solve(middle, 0, 1) + solve(middle, 0, -1)) / 2];
}

function shift(rings: Rings, dx: number): Rings {
  return dx === 0 ? rings : { xy: rings.xy.map((v, i) => (i % 2 ? v : v + dx)), starts: rings.starts };
}

function scaleY(rings: Rings, factor: number): Rings {
  return { xy: rings.xy.map((v, i) => (i % 2 ? v * factor : v)), starts: rings.starts };
}

function subdivide(ring: Float64Array, longestMm: number): number[] {
  const out: number[] = [];
  const n = ring.length / 2;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const dx = ring[2 * j]! - ring[2 * i]!,
      dy = ring[2 * j + 1]! - ring[2 * i + 1]!;
    const pieces = Math.max(1, Math.ceil(Math.hypot(dx, dy) / longestMm));
    for (let k = 0; k < pieces; k++) out.push(ring[2 * i]! + (k / pieces) * dx, ring[2 * i + 1]! + (k / pieces) * dy);
  }
  return out;
}

function closeAtDepth(xy: ArrayLike<number>, depthMm: number): Float64Array {
  const n = xy.length / 2;
  const out = new Float64Array(3 * (n + 1));
  for (let i = 0; i <= n; i++) out.set([xy[2 * (i % n)]!, xy[2 * (i % n) + 1]!, depthMm], 3 * i);
  return out;
}

/** How much wider than its corners and its middle let expect a piece's groove may be. */
const WIDTH_SLACK = 1.02;
/** Pieces in which a pass near the wall is checked, and what it stays clear of the wall in between, mm. */
const CHECKED_PIECE_MM = 0.2;
const CHECKED_MARGIN_MM = 0.0005;

/** Where less than this share of the depth is allowed, a pass has come to where there is no floor, and is broken off. */
const MIN_FLOOR_SHARE = 0.5;

/** A pass in the making: points in turn, broken off where there is none. */
class PassBuilder {
  private readonly runs: number[][] = [[]];
  private brokenAtStart = false;
  add(x: number, y: number, depth: number): void {
    this.runs[this.runs.length - 1]!.push(x, y, depth);
  }
  breakOff(): void {
    if (this.runs.length === 1 && this.runs[0]!.length === 0) this.brokenAtStart = true;
    if (this.runs[this.runs.length - 1]!.length > 0) this.runs.push([]);
  }
  /** The pass closed, or its runs; the last goes on into the first, unless it is broken off between them. */
  finish(): Float64Array[] {
    const { runs } = this;
    const first = runs[0]!,
      last = runs[runs.length - 1]!;
    if (runs.length === 1 && !this.brokenAtStart) return first.length > 0 ? [Float64Array.from([...first, ...first.slice(0, 3)])] : [];
    if (runs.length > 1 && !this.brokenAtStart && last.length > 0) {
      for (const v of first) last.push(v);
      runs.shift();
    }
    return runs.filter((run) => run.length >= 6).map((run) => Float64Array.from(run));
  }
}

/** A closed pass at a depth, or as deep as is allowed where that is less. */
function riseToAllowed(xy: ArrayLike<number>, solver: ContactSolver, o: Outline, depthMm: number): Float64Array[] {
  const pass = new PassBuilder();
  for (let i = 0; i < xy.length; i += 2) {
    const [x, y] = [xy[i]!, xy[i + 1]!];
    solver.moveTo(x, y);
    const contact = solver.findLeast(solver.findContact(o.index!.neighbors(x, y, 1)[0]!));
    const allowed = contact.depthMm - CHECKED_MARGIN_MM;
    if (allowed < MIN_FLOOR_SHARE * depthMm || !solver.isInside(contact)) pass.breakOff();
    else pass.add(x, y, Math.min(depthMm, allowed));
  }
  return pass.finish().map((run) => keepToAllowed(run, solver, o));
}

/** A wall is found where at least this share of the depth is allowed; what is missing is at a corner, and the axis cuts it. */
const SETTLED_SHARE = 0.98;

/** A turn of the inset sharper than this may be a corner between two walls, degrees; so may one of a curve drawn by few chords. */
const CORNER_DEG = 12;
/** How much wider than anywhere looked at the groove may be where two walls meet. */
const TURN_SLACK = 1.3;
const MAX_WALL_SPLITS = 8;
/** Looks in between that a wall pass gets for each of its points, and some to begin with; letters take one to three. */
const SPLITS_A_POINT = 12;
/** Steps to the wall; each takes two or three. */
const MAX_SETTLING = 14;

/**
 * Which corners of the inset are places where the axis crosses the depth: the sharpest first, each place once, and none farther
 * off than a corner moves when its two walls move by the slack.
 * @returns Index into `turns` by point of the inset.
 */
function matchTurns(xy: readonly number[], turns: readonly number[], slackMm: number): Map<number, number> {
  const n = xy.length / 2;
  const corners: { i: number; rad: number }[] = [];
  for (let i = 0; i < n; i++) {
    const a = (i + n - 1) % n,
      b = (i + 1) % n;
    const ux = xy[2 * i]! - xy[2 * a]!,
      uy = xy[2 * i + 1]! - xy[2 * a + 1]!,
      vx = xy[2 * b]! - xy[2 * i]!,
      vy = xy[2 * b + 1]! - xy[2 * i + 1]!;
    // Walls meet where the region, on the left, is less than half a turn wide.
    const rad = Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
    if (rad > (CORNER_DEG * Math.PI) / 180) corners.push({ i, rad });
  }
  const found = new Map<number, number>(),
    used = new Set<number>();
  for (const { i, rad } of corners.sort((p, q) => q.rad - p.rad)) {
    let best = slackMm / Math.max(0.05, Math.cos(rad / 2)),
      nearest = -1;
    for (let t = 0; t < turns.length; t += 2) {
      const away = Math.hypot(turns[t]! - xy[2 * i]!, turns[t + 1]! - xy[2 * i + 1]!);
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

/**
 * Moves each point to or from its nearest contact until exactly the wanted depth is allowed there, and puts points in between
 * until the pass keeps to that; corners go where the axis crosses the depth, since two walls meet there.
 */
function settleOnWall(
  xy: readonly number[],
  solver: ContactSolver,
  o: Outline,
  depthMm: number,
  turns: readonly number[],
  slackMm: number,
): Float64Array[] {
  const n = xy.length / 2;
  const place = new Float64Array(3);
  /** @returns Whether about the depth is allowed where it ends up: in a place too narrow it is nowhere. */
  const settle = (startX: number, startY: number): boolean => {
    let x = startX,
      y = startY,
      allowed = 0,
      inside = false,
      stepped = 0;
    for (let k = 0; ; k++) {
      solver.moveTo(x, y);
      const start = o.index!.neighbors(x, y, 1)[0]!;
      const contact = solver.findLeast(solver.findContact(start));
      const gained = contact.depthMm - allowed;
      allowed = contact.depthMm;
      inside = solver.isInside(contact);
      const missing = depthMm - allowed;
      if (Math.abs(missing) < 1e-7 || !inside || k === MAX_SETTLING) break;
      const ex = x - contact.x,
        ey = y - contact.y;
      const away = Math.hypot(ex, ey);
      const slope = solver.slopeAt(contact);
      if (!(away > 0) || !(slope > 0)) break;
      // Under a leaning tool depth grows by another rate than the profile's: the last step tells.
      const rate = stepped !== 0 && gained / stepped > 0.2 * slope && gained / stepped < 5 * slope ? gained / stepped : slope;
      stepped = Math.max(-0.2 * away, Math.min(0.2 * away, missing / rate));
      x += (stepped * ex) / away;
      y += (stepped * ey) / away;
    }
    place[0] = x;
    place[1] = y;
    place[2] = Math.min(depthMm, allowed);
    return inside && allowed > SETTLED_SHARE * depthMm;
  };
  // The inset's own points, corners taken from the axis.
  const turnAt = matchTurns(xy, turns, slackMm);
  // Points in too narrow a place are left out; whether what is between their neighbours can be cut is told by its middle.
  const points: number[] = [];
  for (let i = 0; i < n; i++) {
    const turn = turnAt.get(i);
    if (turn !== undefined) points.push(turns[turn]!, turns[turn + 1]!, depthMm);
    else if (settle(xy[2 * i]!, xy[2 * i + 1]!)) points.push(place[0]!, place[1]!, place[2]!);
  }
  const pass = new PassBuilder();
  let splitsLeft = SPLITS_A_POINT * n + 500;
  const split = (x0: number, y0: number, d0: number, x1: number, y1: number, d1: number, depth: number): void => {
    const length = Math.hypot(x1 - x0, y1 - y0);
    if (length < MIN_WALL_PIECE_MM) return;
    // Across an edge of the blank a wall jumps, and parting it finds no end.
    if (depth === 0 || --splitsLeft < 0) return pass.breakOff();
    const settled = settle((x0 + x1) / 2, (y0 + y1) / 2);
    const [x, y, d] = [place[0]!, place[1]!, place[2]!];
    const gap = Math.hypot(x - (x0 + x1) / 2, y - (y0 + y1) / 2, d - (d0 + d1) / 2);
    // A middle that runs away, or to one of the ends, has no wall of its own here: the axis cuts what there is.
    if (!settled || gap > RUNAWAY_SHARE * length) return pass.breakOff();
    // A bend to and fro shows nothing in the middle.
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
