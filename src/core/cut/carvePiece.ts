import { ok, type Result } from '../base/result';
import { clipLines } from '../base/boolean';
import { isEmptyRings, type Rings } from '../base/rings';
import type { Work } from '../machine/stance';
import { computeMedialAxis, PRUNE_TOLERANCE_MM } from '../medial/medialAxis';
import { createOutline, packOutline, type Outline, type OutlineError } from '../medial/outline';
import type { VoronoiEngine } from '../medial/voronoi';
import { createChart, type Chart } from './chart';
import { createContactSolver, type ContactSolver } from './contact';
import { computeFloor } from './floor';
import { keepToAllowed } from './keepToAllowed';
import type { Profile } from './profile';
import { addDepthCrossing, getDeepest, simplifyStroke } from './stroke';
import { computeTrails } from './trails';
import { computeTrueAxis } from './trueAxis';

/** Most by which leaving out points may shift the path, mm. */
const SIMPLIFY_TOLERANCE_MM = 0.0002;
/** A trail that never gets deeper than this is left out: its groove could not be seen, mm. */
const MIN_DEPTH_MM = 0.001;
/** Points on the clipper's grid are this near to where they were, mm. */
const GRID_SLACK_MM = 5e-4;
/** A flat tip that fits into a stroke only this deep or less rubs and does not cut, mm. */
const RUBBING_MM = 0.002;

/** One carved piece of lettering, or several together: strokes at their full depth, before they are cut into levels. */
export interface CarvedPiece {
  strokes: Float64Array[];
  deepestMm: number;
  /** How deep it would go without a limit, mm. */
  wantedMm: number;
  /** Pieces left out because the cutter's flank would lie on the surface. */
  tooSteep: number;
}

export const NOTHING_CARVED: Readonly<CarvedPiece> = { strokes: [], deepestMm: 0, wantedMm: 0, tooSteep: 0 };

/** The way along a piece's middle at its own depth, whatever the limit; null where there is none. */
export type CarveAxis =
  | { way: null; tooSteep: number }
  | { way: { chart: Chart; outline: Outline; solver: ContactSolver; trails: Float64Array[]; deepest: number }; tooSteep: 0 };

/**
 * Finds the middle of one connected piece in its own chart, and how deep it may be cut there.
 * @param rings The piece on the sheet, mm. @returns Or `selfIntersecting`. O(n log n + path points).
 */
export function findCarveAxis(rings: Rings, work: Work, profile: Profile, engine: VoronoiEngine): Result<CarveAxis, OutlineError> {
  const chart = createChart(work, rings, profile);
  if (chart.tooSteep) return ok({ way: null, tooSteep: 1 });
  const { ground, shiftX } = chart;
  // After a chart the points are off the grid: united and checked for crossings again.
  const made: Result<Outline, OutlineError> = chart.plain ? ok(packOutline(rings)) : createOutline(chart.toChart(rings));
  if (!made.ok) return made;
  const outline = made.value;
  if (outline.segmentCount === 0) return ok({ way: null, tooSteep: 0 });
  const solver = createContactSolver(outline, ground, profile, chart);
  const medial = computeMedialAxis(outline, engine, PRUNE_TOLERANCE_MM);
  const axis = computeTrueAxis(outline, medial, ground, solver, shiftX, -chart.tipRiseMm);
  const trails = computeTrails(medial, axis);
  const deepest = trails.reduce((most, t) => Math.max(most, getDeepest(t)), 0);
  return ok({ way: { chart, outline, solver, trails, deepest }, tooSteep: 0 });
}

/**
 * Carves one connected piece: its middle as deep as the limit lets it, and the floor where that is less than it wants.
 * @param axis Its middle, found by the same work and profile.
 * @param cleared What end mills cleared down to the limit before, on the sheet.
 * @returns Strokes on the sheet. O(path points).
 */
export function carvePiece(axis: CarveAxis, maxDepthMm: number, profile: Profile, cleared: Rings | null = null): CarvedPiece {
  if (!axis.way) return { ...NOTHING_CARVED, tooSteep: axis.tooSteep };
  const { chart, outline, solver, trails, deepest } = axis.way;
  const { ground, shiftX } = chart;
  const limited = deepest > maxDepthMm;
  const turns: number[] = [];
  const keep = (t: Float64Array): Float64Array => (chart.plain ? t : keepToAllowed(t, solver, outline));
  const ready = limited && cleared && !isEmptyRings(cleared) ? chart.toChart(cleared) : null;
  const strokes = trails
    .filter((t) => getDeepest(t) > MIN_DEPTH_MM)
    .map((t) => keep(simplifyStroke(t, SIMPLIFY_TOLERANCE_MM)))
    // A flat tip's runs begin and end at new points, where the allowed depth was not checked yet.
    .flatMap((t) => (profile.flatMm > 0 ? leaveOutRubbing(t).map(keep) : [t]))
    .map((t) => simplifyStroke(limited ? limitDepth(t, maxDepthMm, turns) : t, SIMPLIFY_TOLERANCE_MM))
    .flatMap((t) => (ready ? leaveOutCleared(t, maxDepthMm, ready) : [t]));
  if (limited) strokes.push(...computeFloor(outline, ground, profile, solver, maxDepthMm, { shiftX, corners: turns, cleared: ready }));
  return { strokes: strokes.map((s) => chart.toSheet(s)), deepestMm: Math.min(deepest, maxDepthMm), wantedMm: deepest, tooSteep: 0 };
}

/** The runs of a trail in which a flat tip cuts. */
function leaveOutRubbing(points: Float64Array): Float64Array[] {
  const runs: number[][] = [[]];
  for (let i = 0; i < points.length; i += 3) {
    const depth = points[i + 2]!;
    if (i > 0 && points[i - 1]! > RUBBING_MM !== depth > RUBBING_MM) {
      addDepthCrossing(points, i, RUBBING_MM, runs[runs.length - 1]!);
      if (depth <= RUBBING_MM) runs.push([]);
    }
    if (depth > RUBBING_MM) runs[runs.length - 1]!.push(points[i]!, points[i + 1]!, depth);
  }
  return runs.filter((r) => r.length >= 6).map((r) => Float64Array.from(r));
}

/** The stroke with its depth limited, and a point wherever it reaches the limit; those are added to `turns`, x y in turn. */
function limitDepth(points: Float64Array, limitMm: number, turns: number[]): Float64Array {
  const out: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const depth = points[i + 2]!;
    if (i > 0 && points[i - 1]! < limitMm !== depth < limitMm && depth !== points[i - 1]!) {
      addDepthCrossing(points, i, limitMm, out);
      turns.push(out[out.length - 3]!, out[out.length - 2]!);
    }
    out.push(points[i]!, points[i + 1]!, Math.min(depth, limitMm));
  }
  return Float64Array.from(out);
}

/** The parts of a stroke that run at the limit over what is cleared already are left out. */
function leaveOutCleared(points: Float64Array, limitMm: number, cleared: Rings): Float64Array[] {
  const out: Float64Array[] = [];
  let part: number[] = [];
  const finish = (): void => {
    if (part.length >= 6) out.push(Float64Array.from(part));
    part = [];
  };
  const isAtLimit = (i: number): boolean => points[i + 2]! >= limitMm;
  for (let i = 0; i < points.length;) {
    if (!isAtLimit(i) || i + 3 >= points.length || !isAtLimit(i + 3)) {
      part.push(points[i]!, points[i + 1]!, points[i + 2]!);
      i += 3;
      continue;
    }
    // A run at the limit: from its first point to its last.
    let end = i;
    while (end + 3 < points.length && isAtLimit(end + 3)) end += 3;
    const line: number[] = [];
    for (let k = i; k <= end; k += 3) line.push(points[k]!, points[k + 1]!);
    const kept = clipLines([line], cleared, 'outside');
    part.push(points[i]!, points[i + 1]!, limitMm);
    for (const own of kept) {
      const goesOn = Math.hypot(own[0]! - part[part.length - 3]!, own[1]! - part[part.length - 2]!) < GRID_SLACK_MM;
      if (!goesOn) finish();
      for (let k = goesOn ? 2 : 0; k < own.length; k += 2) part.push(own[k]!, own[k + 1]!, limitMm);
    }
    const [x, y] = [points[end]!, points[end + 1]!];
    if (Math.hypot(x - part[part.length - 3]!, y - part[part.length - 2]!) > GRID_SLACK_MM) {
      finish();
      part.push(x, y, limitMm);
    }
    i = end + 3;
  }
  finish();
  return out;
}
