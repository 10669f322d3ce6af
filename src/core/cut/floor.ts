import { offsetRings } from '../base/boolean';
import { computeBox, getRing, isEmptyRings, type Rings } from '../base/rings';
import { toRings, type Outline } from '../medial/outline';
import type { Work } from '../machine/stance';
import type { ContactSolver } from './contact';
import type { Profile } from './profile';

/** Height of the ridges left between neighbouring floor passes of a V cutter, mm. */
export const FLOOR_RIDGE_MM = 0.02;
/** Chord error of the rounded corners of an inset, mm. */
const INSET_ARC_TOLERANCE_MM = 0.0005;
/** Longest straight piece of a wall pass before its depth is checked again, mm. */
const MAX_WALL_PIECE_MM = 1;
const MAX_FLOOR_PASSES = 2000;

/**
 * Closed passes at a fixed depth: one along the inside of the outline where the cutter just touches it, and as many
 * further in as the floor needs. The V's groove is wider along a cylinder than round it at the same depth, so the inset
 * is taken in a sheet stretched to make both equal, then each point is moved until the allowed depth is the fixed one.
 * @param shiftX Share of the groove's half-width by which a leaning tool stands beside its middle, towards smaller x.
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
): Float64Array[] {
  const rings = toRings(o);
  const box = computeBox(rings.xy);
  const [wideX, wideY] = findGrooveHalfWidths(surface, profile, depthMm, (box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2);
  const stretch = wideX / wideY;
  const stepMm = 2 * profile.halfWidthAt(FLOOR_RIDGE_MM);
  const scaled = scaleY(rings, stretch);
  const passes: Float64Array[] = [];
  let inset = offsetRings(scaled, -wideX, INSET_ARC_TOLERANCE_MM);
  for (let pass = 0; pass < MAX_FLOOR_PASSES && !isEmptyRings(inset); pass++) {
    const placed = shift(scaleY(inset, 1 / stretch), -shiftX * wideX);
    for (let k = 0; k + 1 < placed.starts.length; k++) {
      const ring = subdivide(getRing(placed, k), MAX_WALL_PIECE_MM);
      passes.push(pass === 0 ? settleOnWall(ring, solver, o, depthMm) : closeAtDepth(ring, depthMm));
    }
    inset = offsetRings(scaled, -wideX - (pass + 1) * stepMm, INSET_ARC_TOLERANCE_MM);
  }
  return passes;
}

/** Half-width of the groove at a depth, along sheet x and along sheet y, mm, measured on the sheet at a place. */
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
  const solve = (ux: number, uy: number): number => {
    let lo = 0;
    let hi = 6 * profile.halfWidthAt(depthMm) + 1e-6;
    for (let k = 0; k < 60; k++) {
      const w = (lo + hi) / 2;
      if (allowed(w * ux, w * uy) > depthMm) hi = w;
      else lo = w;
    }
    return (lo + hi) / 2;
  };
  return [(solve(1, 0) + solve(-1, 0)) / 2, (solve(0, 1) + solve(0, -1)) / 2];
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
    const dx = ring[2 * j]! - ring[2 * i]!, dy = ring[2 * j + 1]! - ring[2 * i + 1]!;
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

/** Moves each point to or from its nearest contact until exactly the wanted depth is allowed there. */
function settleOnWall(xy: readonly number[], solver: ContactSolver, o: Outline, depthMm: number): Float64Array {
  const settled: number[] = [];
  for (let i = 0; i + 1 < xy.length; i += 2) {
    let x = xy[i]!;
    let y = xy[i + 1]!;
    let allowed = 0;
    for (let k = 0; k < 10; k++) {
      solver.moveTo(x, y);
      const start = o.index!.neighbors(x, y, 1)[0]!;
      const contact = solver.findLeast(solver.findContact(start));
      allowed = contact.depthMm;
      const missing = depthMm - allowed;
      if (Math.abs(missing) < 1e-7) break;
      const ex = x - contact.x, ey = y - contact.y;
      const away = Math.hypot(ex, ey);
      const slope = solver.slopeAt(contact);
      if (!(away > 0) || !(slope > 0)) break;
      const step = Math.max(-0.2 * away, Math.min(0.2 * away, missing / slope));
      x += (step * ex) / away;
      y += (step * ey) / away;
    }
    settled.push(x, y, Math.min(depthMm, Math.max(0, allowed)));
  }
  settled.push(settled[0]!, settled[1]!, settled[2]!);
  return Float64Array.from(settled);
}
