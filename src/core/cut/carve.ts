import { computeBox, concatRings, isEmptyRings, type Rings } from '../base/rings';
import { ok, type Result } from '../base/result';
import type { VCarveCut, Tool } from '../job/schema';
import { computeMedialAxis, PRUNE_TOLERANCE_MM } from '../medial/medialAxis';
import { createOutline, packOutline, type Outline, type OutlineError } from '../medial/outline';
import type { VoronoiEngine } from '../medial/voronoi';
import type { Work } from '../machine/stance';
import { createChart } from './chart';
import { computeFloor } from './floor';
import { createContactSolver } from './contact';
import { keepToAllowed } from './keepToAllowed';
import { splitPieces } from './pieces';
import { createProfile, type Profile } from './profile';
import { getDeepest, simplifyStroke } from './stroke';
import { computeTrails } from './trails';
import { computeTrueAxis } from './trueAxis';

/** Most by which leaving out points may shift the path, mm. */
const SIMPLIFY_TOLERANCE_MM = 0.0002;
/** A trail that never gets deeper cuts nothing anyone could see, mm. */
const MIN_DEPTH_MM = 0.001;

/** Strokes at their full depth, before they are cut into levels. */
export interface CarvePlan {
  strokes: Float64Array[];
  deepestMm: number;
  /** How deep it would go without a limit, mm. */
  wantedMm: number;
  /** Pieces left out because the tool would lie on the surface with its flank. */
  tooSteep: number;
}

/** Carved pieces by what they depend on, kept from plan to plan, so that a letter is carved once and not at every keystroke. */
export interface CarveCache {
  get(key: string): CarvePlan | undefined;
  set(key: string, plan: CarvePlan): void;
}

/** A piece that goes round the blank more than this is not carved, turns. */
const MAX_TURNS = 1.5;
/** Pieces kept at the most; the oldest go first. */
const MAX_CACHED_PIECES = 3000;

export function createCarveCache(): CarveCache {
  const plans = new Map<string, CarvePlan>();
  return {
    get: (key) => plans.get(key),
    set(key, plan) {
      if (plans.size >= MAX_CACHED_PIECES) plans.delete(plans.keys().next().value!);
      plans.set(key, plan);
    },
  };
}

/**
 * V-carve: the cutter runs along the lettering's middle, as deep as lets both walls reach the outline on the real
 * surface; where that is deeper than the limit, along the outline's inside at the limit, and over the floor between.
 * Each connected piece is carved alone; equal pieces on a homogeneous surface are carved once.
 * @param regions Lettering on the sheet, mm; overlaps are united.
 * @param surfaceKey Equal for equal surfaces and stances: part of the cache's keys.
 * @returns The strokes (none for empty lettering), or `selfIntersecting`.
 * O(n log n + path points).
 */
export function computeVCarve(
  regions: readonly Rings[],
  cut: VCarveCut,
  tool: Tool,
  surface: Work,
  engine: VoronoiEngine,
  onProgress: (share: number) => void,
  cache: CarveCache = createCarveCache(),
  surfaceKey = '',
): Result<CarvePlan, OutlineError> {
  const all = concatRings(regions);
  if (isEmptyRings(all)) return ok({ ...NOTHING });
  const made = createOutline(all);
  if (!made.ok) return made;
  const pieces = splitPieces(made.value, surface.homogeneous);
  const profile = createProfile(tool);
  const common = JSON.stringify([surfaceKey, tool.kind, tool.includedDeg, tool.tipMm, tool.diameterMm, cut.maxDepthMm]);
  const whole: CarvePlan = { ...NOTHING, strokes: [] };
  const total = made.value.segmentCount;
  let done = 0;
  for (const piece of pieces) {
    const key = `${common}|${piece.key}`;
    const size = piece.rings.xy.length / 2;
    // A letter that goes round more than once, as by a pole, cuts itself: its inscription is found too wide, and nothing is lost by
    // not carving it.
    const box = computeBox(piece.rings.xy);
    if (surface.periodMm !== null && box.maxY - box.minY > MAX_TURNS * surface.periodMm) {
      done += size;
      continue;
    }
    let plan = cache.get(key);
    if (!plan) {
      const carved = carvePiece(piece.rings, cut.maxDepthMm, surface, profile, engine, (share) =>
        onProgress((done + share * size) / total),
      );
      if (!carved.ok) return carved;
      plan = carved.value;
      cache.set(key, plan);
    }
    done += size;
    onProgress(done / total);
    for (const stroke of plan.strokes) whole.strokes.push(moveStroke(stroke, piece.dxMm, piece.dyMm));
    whole.deepestMm = Math.max(whole.deepestMm, plan.deepestMm);
    whole.wantedMm = Math.max(whole.wantedMm, plan.wantedMm);
    whole.tooSteep += plan.tooSteep;
  }
  return ok(whole);
}

const NOTHING: Readonly<CarvePlan> = { strokes: [], deepestMm: 0, wantedMm: 0, tooSteep: 0 };

function carvePiece(
  rings: Rings,
  maxDepthMm: number,
  sheet: Work,
  profile: Profile,
  engine: VoronoiEngine,
  onProgress: (share: number) => void,
): Result<CarvePlan, OutlineError> {
  const chart = createChart(sheet, rings, profile);
  if (chart.tooSteep) return ok({ ...NOTHING, tooSteep: 1 });
  const { work, shiftX } = chart;
  // Off the grid after a chart: united and proven anew.
  const made: Result<Outline, OutlineError> = chart.plain ? ok(packOutline(rings)) : createOutline(chart.toChart(rings));
  if (!made.ok) return made;
  const outline = made.value;
  if (outline.segmentCount === 0) return ok({ ...NOTHING });
  const solver = createContactSolver(outline, work, profile, chart);
  const medial = computeMedialAxis(outline, engine, PRUNE_TOLERANCE_MM);
  onProgress(0.2);
  const axis = computeTrueAxis(outline, medial, work, solver, (share) => onProgress(0.2 + 0.6 * share), shiftX, -chart.tipRiseMm);
  const trails = computeTrails(medial, axis);
  const deepest = trails.reduce((most, t) => Math.max(most, getDeepest(t)), 0);
  const limited = deepest > maxDepthMm;
  const turns: number[] = [];
  const keep = (t: Float64Array): Float64Array => (chart.plain ? t : keepToAllowed(t, solver, outline));
  const strokes = trails
    .filter((t) => getDeepest(t) > MIN_DEPTH_MM)
    .map((t) => keep(simplifyStroke(t, SIMPLIFY_TOLERANCE_MM)))
    // What a flat tip's runs begin with lies where it was not looked.
    .flatMap((t) => (profile.flatMm > 0 ? leaveOutRubbing(t).map(keep) : [t]))
    .map((t) => simplifyStroke(limited ? capDepth(t, maxDepthMm, turns) : t, SIMPLIFY_TOLERANCE_MM));
  if (limited) strokes.push(...computeFloor(outline, work, profile, solver, maxDepthMm, shiftX, turns));
  return ok({ strokes: strokes.map((s) => chart.toSheet(s)), deepestMm: Math.min(deepest, maxDepthMm), wantedMm: deepest, tooSteep: 0 });
}

function moveStroke(points: Float64Array, dx: number, dy: number): Float64Array {
  const out = points.slice();
  for (let i = 0; i < out.length; i += 3) {
    out[i]! += dx;
    out[i + 1]! += dy;
  }
  return out;
}

/** Where a flat tip fits into a stroke no deeper than this it would rub more than cut, mm. */
const RUBBING_MM = 0.002;

/** The runs of a trail in which a flat tip cuts. */
function leaveOutRubbing(points: Float64Array): Float64Array[] {
  const runs: number[][] = [[]];
  for (let i = 0; i < points.length; i += 3) {
    const d = points[i + 2]!;
    if (i > 0) {
      const d0 = points[i - 1]!;
      if (d0 > RUBBING_MM !== d > RUBBING_MM) {
        const t = (RUBBING_MM - d0) / (d - d0);
        runs[runs.length - 1]!.push(
          points[i - 3]! + t * (points[i]! - points[i - 3]!),
          points[i - 2]! + t * (points[i + 1]! - points[i - 2]!),
          RUBBING_MM,
        );
        if (d <= RUBBING_MM) runs.push([]);
      }
    }
    if (d > RUBBING_MM) runs[runs.length - 1]!.push(points[i]!, points[i + 1]!, d);
  }
  return runs.filter((r) => r.length >= 6).map((r) => Float64Array.from(r));
}

/** The stroke with its depth limited, and a point wherever it reaches the limit; those are added to `turns`, x y in turn. */
function capDepth(points: Float64Array, limitMm: number, turns: number[]): Float64Array {
  const out: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const d = points[i + 2]!;
    if (i > 0) {
      const d0 = points[i - 1]!;
      if (d0 < limitMm !== d < limitMm && d !== d0) {
        const t = (limitMm - d0) / (d - d0);
        const x = points[i - 3]! + t * (points[i]! - points[i - 3]!),
          y = points[i - 2]! + t * (points[i + 1]! - points[i - 2]!);
        out.push(x, y, limitMm);
        turns.push(x, y);
      }
    }
    out.push(points[i]!, points[i + 1]!, Math.min(d, limitMm));
  }
  return Float64Array.from(out);
}
