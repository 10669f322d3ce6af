import { offsetRings, sharedRings } from '../base/boolean';
import { computeBox, getRing, isEmptyRings, type Rings } from '../base/rings';
import type { Ground } from '../machine/stance';
import { toRings, type Outline } from '../medial/outline';
import { findRest } from './area/areaPasses';
import type { ContactSolver } from './contact';
import { findGrooveHalfWidths } from './grooveWidth';
import { keepToAllowed } from './keepToAllowed';
import { PassBuilder } from './passBuilder';
import type { Profile } from './profile';
import { computeWallPass } from './wallPass';

/** Height of the ridges left between neighbouring floor passes of a V cutter, mm. */
export const FLOOR_RIDGE_MM = 0.02;
/** Chord error of the rounded corners of an inset, mm. */
const INSET_ARC_TOLERANCE_MM = 0.0005;
/** Longest straight piece of a wall pass before its depth is checked again, mm. */
const MAX_WALL_PIECE_MM = 1;
/** Points of an inset nearer to each other than this are one, mm: it lies on a grid of 0.0001. */
const KINK_MM = 0.0005;
const MAX_FLOOR_PASSES = 2000;
/** The tip goes over what mills cleared by this, mm. */
const REST_OVERLAP_MM = 0.03;
/** What mills left within this of the foot of a wall is taken with the wall, mm. */
const REST_GAP_MM = 0.01;
/**
 * Places of the outline at which the groove's width is measured, and the share of the least by which the wall pass is inset to
 * begin with.
 */
const WIDTH_CHECKS = 24;
const INSET_SHARE = 0.97;
/** How much wider the groove may be where two walls meet than anywhere it was measured. */
const CORNER_SLACK = 1.3;
/** How much wider a piece's groove may be than its corners and its middle suggest. */
const WIDTH_SLACK = 1.02;
/** Pieces in which a pass near the wall is checked, and how far it stays clear of the wall between them, mm. */
const CHECKED_PIECE_MM = 0.2;
const CHECKED_MARGIN_MM = 0.0005;
/** Where less than this share of the depth is allowed there is no floor, and the pass is broken off. */
const MIN_FLOOR_SHARE = 0.5;

export interface FloorOptions {
  /** Share of the groove's half-width by which a leaning tool stands beside its middle, towards smaller x. */
  shiftX?: number;
  /** Places, x y in turn, at which the axis crosses the depth: there the wall passes turn, touching two sides. */
  corners?: readonly number[];
  /** What is cleared at the depth already. */
  cleared?: Rings | null;
}

/**
 * Closed passes at a fixed depth: one along the inside of the outline where the cutter just touches it, and as many
 * further in as the floor needs. The V's groove is wider along a cylinder than round it at the same depth, so the inset
 * is taken in a sheet stretched to make both equal, then each point is moved until the allowed depth is the fixed one.
 * @returns x, y, depth triples per closed pass, first point repeated at the end.
 * O(passes · n log n).
 */
export function computeFloor(
  o: Outline,
  ground: Ground,
  profile: Profile,
  solver: ContactSolver,
  depthMm: number,
  { shiftX = 0, corners = [], cleared = null }: FloorOptions = {},
): Float64Array[] {
  const rings = toRings(o);
  const width = measureGroove(rings, ground, profile, depthMm);
  const { insetMm, widestMm, stretch } = width;
  const stepMm = 2 * profile.halfWidthAt(FLOOR_RIDGE_MM);
  const scaled = scaleY(rings, stretch);
  const passes: Float64Array[] = [];
  let inset = offsetRings(scaled, -insetMm, INSET_ARC_TOLERANCE_MM);
  // Where mills were before, passes go over what they left, and no farther than the tip reaches into it.
  const left = cleared
    ? overlapRest(offsetRings(scaled, -insetMm / INSET_SHARE - REST_GAP_MM, INSET_ARC_TOLERANCE_MM), scaleY(cleared, stretch))
    : null;
  for (let pass = 0; pass < MAX_FLOOR_PASSES && !isEmptyRings(inset); pass++) {
    const placed = shift(scaleY(inset, 1 / stretch), -shiftX * insetMm);
    // Where this pass is nearer to the wall than the groove is wide somewhere, it may not be as deep everywhere.
    const nearWall = insetMm + pass * stepMm < WIDTH_SLACK * (2 * widestMm - insetMm);
    for (let k = 0; k + 1 < placed.starts.length; k++) {
      const ring = subdivide(leaveOutKinks(getRing(placed, k)), MAX_WALL_PIECE_MM);
      // What an inset leaves last may be a speck, all of whose points are one.
      if (ring.length < 6) continue;
      if (pass === 0) {
        const slackMm = CORNER_SLACK * widestMm - insetMm;
        passes.push(...computeWallPass(ring, solver, o, { depthMm, side: 'left', corners, slackMm }));
      } else if (nearWall) passes.push(...riseToAllowed(subdivide(Float64Array.from(ring), CHECKED_PIECE_MM), solver, o, depthMm));
      else passes.push(closeAtDepth(ring, depthMm));
    }
    inset = left
      ? offsetRings(left, -(pass + 0.5) * stepMm, INSET_ARC_TOLERANCE_MM)
      : offsetRings(scaled, -insetMm - (pass + 1) * stepMm, INSET_ARC_TOLERANCE_MM);
  }
  return passes;
}

/** Where the tip goes to take what mills left of a floor, and a little of what they cleared. */
function overlapRest(inside: Rings, cleared: Rings): Rings {
  const rest = findRest(inside, cleared);
  if (isEmptyRings(rest)) return rest;
  return sharedRings(inside, offsetRings(rest, REST_OVERLAP_MM, INSET_ARC_TOLERANCE_MM)).rings;
}

/**
 * How far the wall passes are inset to begin with, mm along x, and the widest half-groove. Where the groove's width changes over
 * the piece the least counts: a point inset too little is moved in, one inset too much is lost.
 */
function measureGroove(rings: Rings, ground: Ground, profile: Profile, depthMm: number) {
  const box = computeBox(rings.xy);
  const [midX, midY] = findGrooveHalfWidths(ground, profile, depthMm, (box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2);
  const stretch = midX / midY;
  let least = midX,
    widestMm = midX;
  const step = 2 * Math.max(1, Math.floor(rings.xy.length / 2 / WIDTH_CHECKS));
  for (let i = 0; i < rings.xy.length && !ground.isometric; i += step) {
    const [ownX, ownY] = findGrooveHalfWidths(ground, profile, depthMm, rings.xy[i]!, rings.xy[i + 1]!);
    least = Math.min(least, ownX, ownY * stretch);
    widestMm = Math.max(widestMm, ownX, ownY * stretch);
  }
  return { insetMm: INSET_SHARE * least, widestMm, stretch };
}

function shift(rings: Rings, dx: number): Rings {
  return dx === 0 ? rings : { xy: rings.xy.map((v, i) => (i % 2 ? v : v + dx)), starts: rings.starts };
}

function scaleY(rings: Rings, factor: number): Rings {
  return { xy: rings.xy.map((v, i) => (i % 2 ? v * factor : v)), starts: rings.starts };
}

/** Leaves out points that all but coincide with the one before: between two of them an inset may turn to and fro. */
function leaveOutKinks(ring: Float64Array): Float64Array {
  const out: number[] = [];
  const n = ring.length / 2;
  for (let i = 0; i < n; i++) {
    const before = (i + n - 1) % n;
    if (Math.hypot(ring[2 * i]! - ring[2 * before]!, ring[2 * i + 1]! - ring[2 * before + 1]!) < KINK_MM) continue;
    out.push(ring[2 * i]!, ring[2 * i + 1]!);
  }
  return Float64Array.from(out);
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
