import { computeArea, offsetRings, sharedRings, subtractRings, thickenLines, unionRings } from '../../base/boolean';
import { computeBox, concatRings, emptyRings, getRing, isEmptyRings, type Rings } from '../../base/rings';
import type { Steps } from '../../base/steps';
import type { Work } from '../../machine/stance';
import type { Profile } from '../profile';
import { simplifyStroke } from '../stroke';
import { Clearance } from './clearance';
import { ARC_TOLERANCE_MM, fillAlong, fillRows, type FillLine } from './fill';
import { createPrint, type Print } from './print';
import { canStandOnWall, createRimRise, setToWall, SIMPLIFY_MM, type Direction } from './wallPasses';

/** A cutter that clears an area. */
export interface AreaCutter {
  /** What must keep clear of the outline: the cutter with what its walls lean and are left thicker. */
  profile: Profile;
  /** Half-width of the flat or round end that makes the floor, mm. */
  radiusMm: number;
  /** Distance between neighbouring passes, mm. */
  stepMm: number;
}

/** How an area is gone over. */
export type AreaPattern = ({ by: 'along' } | { by: 'rows'; angleDeg: number }) & { direction: Direction };

/** A floor may stand so much higher between two passes, mm. */
export const FLOOR_CUSP_MM = 0.02;
/** … and so much beside the wall on a convex blank before another cutter goes there. */
const RIM_CUSP_MM = 0.05;
/** Passes of the next cutter go over what is cleared by this, mm. */
const OVERLAP_MM = 0.05;
/** Slivers narrower than this are left by rounding alone, mm. */
const SLIVER_MM = 0.008;
/** Passes that lie so far inside of the walls need no looking at, mm. */
const INNER_MM = 0.05;
/** Chord error of what a cutter has swept, mm: within it, and less than a sliver. */
const SWEPT_ARC_MM = 0.002;
/** A ridge of a round end is left that lies no farther from its pass than this many times what makes the cusp: half as high again. */
const BETWEEN = 1.2;
/** … and what is narrower than twice this share of it. */
const NARROW = 0.1;
/** Places along a wall pass at which it is asked whether it is broken off, mm; about each the cutter sweeps nothing, in its own radius. */
const LOST_STEP_MM = 0.3;
const LOST_REACH = 1.2;
/** Less area than this is not worth a cutter, mm². */
const LEAST_AREA_MM2 = 0.002;
/** What a row of cutters makes of an area; all of it on the sheet. */
export interface AreaPasses {
  /** Passes of the last of the cutters at the depth: x, y, depth triples. */
  strokes: Float64Array[];
  /** Where the middle of the last cutter may be. */
  centres: Rings;
  /** Where the last cutter lies wholly in what those before it cleared. */
  ready: Rings;
  /** What is cleared down to the floor by all of them, and what none reached. */
  cleared: Rings;
  unreached: Rings;
}

/**
 * Clears an area by cutters one after the other, largest first, each only where those before it could not reach; gives the passes of
 * the last one. The outline is met at the surface, by the rule of `Clearance`.
 * @param outline The piece on the sheet, mm. @param floor What is to be cleared at the depth: the outline, or less where walls lean.
 * O(cutters · rings · n log n).
 */
export function* clearArea(
  work: Work,
  outline: Rings,
  floor: Rings,
  depthMm: number,
  cutters: readonly AreaCutter[],
  pattern: AreaPattern,
): Steps<number, AreaPasses> {
  let cleared = emptyRings(),
    centres = emptyRings(),
    ready = emptyRings();
  let swept: Rings = emptyRings();
  let strokes: Float64Array[] = [];
  for (const [k, cutter] of cutters.entries()) {
    const rest = k === 0 ? floor : findRest(floor, cleared);
    const print = createPrint(work, outline, cutter.profile, depthMm);
    const last = k + 1 === cutters.length;
    let plane = offsetRings(print.toPlane(outline), -print.radiusMm, ARC_TOLERANCE_MM);
    // A true half-width of the cutter in the print's plane.
    const scale = print.radiusMm / cutter.profile.halfWidthAt(depthMm);
    if (k > 0) {
      const near = offsetRings(print.toPlane(rest), print.radiusMm + OVERLAP_MM, ARC_TOLERANCE_MM);
      plane = computeArea(rest) > LEAST_AREA_MM2 ? sharedRings(plane, near).rings : emptyRings();
    }
    centres = print.ringsToSheet(plane);
    if (last && k > 0) ready = print.ringsToSheet(offsetRings(print.toPlane(cleared), -print.radiusMm, ARC_TOLERANCE_MM));
    if (last) strokes = yield* fillCentres(work, outline, depthMm, cutter, pattern, plane, print, k === 0);
    if (isEmptyRings(plane)) continue;
    // Where the floor curves away from a flat end, only its middle makes the floor.
    const flat = Math.min(cutter.radiusMm, findFlatMm(work, outline, RIM_CUSP_MM));
    const whole = print.ringsToSheet(offsetRings(plane, cutter.radiusMm * scale, SWEPT_ARC_MM));
    // At a wall a round end reaches as far as it is wide.
    swept = unite(
      swept,
      print.radiusMm > cutter.radiusMm * scale ? print.ringsToSheet(offsetRings(plane, print.radiusMm, SWEPT_ARC_MM)) : whole,
    );
    // Where the plane has room and the true surface has not, as far from its middle on a cone, the passes are broken off.
    const lost = work.flat ? emptyRings() : findLost(work, outline, depthMm, cutter, plane, print, scale);
    swept = subtractRings(swept, lost);
    // Between leaning walls it is kept up by its own rim, where it leans or in a hollow: what it leaves is for the next.
    if (cutter.profile.cotBeta > 0 && findUneven(work, outline, cutter.radiusMm) > FLOOR_CUSP_MM) continue;
    // Where the end makes the floor as wide as it is, what it sweeps is cleared: growing it once is enough.
    const made = flat < cutter.radiusMm ? print.ringsToSheet(offsetRings(plane, flat * scale, SWEPT_ARC_MM)) : whole;
    cleared = unite(cleared, subtractRings(made, lost));
    yield k / cutters.length;
  }
  return { strokes, centres, ready, cleared, unreached: isEmptyRings(swept) ? floor : findRest(floor, swept) };
}

/** What of a floor is not cleared, but for slivers; corners of it are a little rounder than they are. */
export function findRest(floor: Rings, cleared: Rings): Rings {
  const open = offsetRings(subtractRings(floor, cleared), -SLIVER_MM / 2, ARC_TOLERANCE_MM);
  return isEmptyRings(open) ? open : offsetRings(open, SLIVER_MM / 2, ARC_TOLERANCE_MM);
}

const unite = (a: Rings, b: Rings): Rings => (isEmptyRings(a) ? b : unionRings(concatRings([a, b])));

/** What a cutter does not sweep since its wall passes are broken off there, on the sheet. */
function findLost(work: Work, outline: Rings, depthMm: number, cutter: AreaCutter, plane: Rings, print: Print, scale: number): Rings {
  const clearance = new Clearance(work, outline, cutter.profile);
  const lost: Float64Array[] = [];
  for (let k = 0; k + 1 < plane.starts.length; k++) {
    const ring = getRing(plane, k);
    const closed = [...ring, ring[0]!, ring[1]!];
    for (let i = 2; i < closed.length; i += 2) {
      const [ax, ay, bx, by] = [closed[i - 2]!, closed[i - 1]!, closed[i]!, closed[i + 1]!];
      const parts = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / LOST_STEP_MM));
      for (let p = 1; p <= parts; p++) {
        const at = [ax + (p / parts) * (bx - ax), ay + (p / parts) * (by - ay)] as const;
        const [x, y] = print.toSheet(at) as unknown as [number, number];
        if (!canStandOnWall(clearance, x, y, depthMm)) lost.push(Float64Array.of(...at, at[0] + 1e-3, at[1]));
      }
    }
  }
  if (lost.length === 0) return emptyRings();
  return print.ringsToSheet(thickenLines(lost, LOST_REACH * cutter.radiusMm * scale, SWEPT_ARC_MM));
}

/**
 * By how much the floor of a flat end that is kept up by its rim stands too high at the most, mm: at the corners and the middle of a
 * piece's box.
 */
function findUneven(work: Work, outline: Rings, radiusMm: number): number {
  const box = computeBox(outline.xy);
  const riseAt = createRimRise(work, radiusMm);
  const xs = [box.minX, (box.minX + box.maxX) / 2, box.maxX],
    ys = [box.minY, (box.minY + box.maxY) / 2, box.maxY];
  return Math.max(...xs.flatMap((x) => ys.map((y) => 2 * riseAt(x, y))));
}

/** Half-width over which a flat end leaves a convex floor no more than a cusp higher, mm. */
function findFlatMm(work: Work, outline: Rings, cuspMm: number): number {
  const box = computeBox(outline.xy);
  const curvature = new Float64Array(2);
  work.curvatureInto((box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2, curvature);
  const most = Math.max(Math.abs(curvature[0]!), Math.abs(curvature[1]!));
  // c² · k / 2 = cusp.
  return most > 0 ? Math.sqrt((2 * cuspMm) / most) : Infinity;
}

/** Passes over the places of a cutter's middle, its wall passes set to the wall on the true surface. */
function* fillCentres(
  work: Work,
  outline: Rings,
  depthMm: number,
  cutter: AreaCutter,
  pattern: AreaPattern,
  plane: Rings,
  print: Print,
  wholeWall: boolean,
): Steps<number, Float64Array[]> {
  if (isEmptyRings(plane)) return [];
  // Neighbouring passes on a convex blank leave a cusp of s²·k/8.
  const step = Math.min(cutter.stepMm, 2 * findFlatMm(work, outline, FLOOR_CUSP_MM), 2 * cutter.radiusMm);
  // Region on the left: a wall is on the right, as climb milling has it.
  const clockwise = pattern.direction === 'conventional';
  const lines = yield* pattern.by === 'along' ? fillAlong(plane, step, clockwise) : fillRows(plane, step, pattern.angleDeg, clockwise);
  if (pattern.by === 'along' && cutter.radiusMm < cutter.profile.halfWidthAt(depthMm) && cutter.profile.cotBeta === 0)
    lines.push(...fillBetween(plane, lines, (BETWEEN * cutter.radiusMm * print.radiusMm) / cutter.profile.halfWidthAt(depthMm)));
  const clearance = new Clearance(work, outline, cutter.profile);
  // Passes inset by a step keep clear where the sheet and the print are true all over.
  const innerIsClear = work.isometric && work.alongNormal && pattern.by === 'along' && step > INNER_MM;
  const options = {
    depthMm,
    flatMm: cutter.radiusMm,
    rimUp: cutter.profile.cotBeta > 0,
    roundMm: cutter.profile.flatMm === 0 ? cutter.profile.ballRadiusMm : 0,
    wholeWall,
    innerIsClear,
  };
  return lines.flatMap((line) => setToWall(line, print, clearance, work, options).map((s) => simplifyStroke(s, SIMPLIFY_MM)));
}

/** Where passes along walls meet in the middle a round end leaves ridges: passes round what none of them has as deep. */
function fillBetween(plane: Rings, lines: readonly FillLine[], reachMm: number): FillLine[] {
  const done = thickenLines(
    lines.map((l) => l.xy),
    reachMm,
    ARC_TOLERANCE_MM,
  );
  // Slivers are ridges hardly higher than those beside them.
  const narrow = NARROW * reachMm;
  const rest = offsetRings(offsetRings(subtractRings(plane, done), -narrow, ARC_TOLERANCE_MM), narrow, ARC_TOLERANCE_MM);
  return Array.from({ length: rest.starts.length - 1 }, (_, k) => getRing(rest, k)).map((ring) => {
    const xy = Float64Array.from([...ring, ring[0]!, ring[1]!]);
    return { xy, wallFrom: xy.length / 2 };
  });
}

/** Half-width of the widest round cutter that fits somewhere into a region, on the sheet, mm. */
export function findWidestMm(region: Rings): number {
  const box = computeBox(region.xy);
  let lo = 0,
    hi = Math.min(box.maxX - box.minX, box.maxY - box.minY) / 2 + 1e-3;
  for (let k = 0; k < 16; k++) {
    const mid = (lo + hi) / 2;
    if (isEmptyRings(offsetRings(region, -mid, 0.01))) hi = mid;
    else lo = mid;
  }
  return lo;
}

/** All that a cutter can reach of a region at a depth without cutting outside it. */
export function findReach(work: Work, outline: Rings, profile: Profile, depthMm: number): Rings {
  const print = createPrint(work, outline, profile, depthMm);
  const centres = offsetRings(print.toPlane(outline), -print.radiusMm, ARC_TOLERANCE_MM);
  return print.ringsToSheet(offsetRings(centres, print.radiusMm, ARC_TOLERANCE_MM));
}
