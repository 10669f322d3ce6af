import { concatRings, isEmptyRings, type Rings } from '../base/rings';
import { ok, type Result } from '../base/result';
import type { VCarveCut, Tool } from '../job/schema';
import { computeMedialAxis, PRUNE_TOLERANCE_MM } from '../medial/medialAxis';
import { createOutline, type OutlineError } from '../medial/outline';
import type { VoronoiEngine } from '../medial/voronoi';
import type { Surface } from '../surface/surface';
import { computeFloor } from './floor';
import { createContactSolver } from './contact';
import { createProfile } from './profile';
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
}

/**
 * V-carve: the cutter runs along the lettering's middle, as deep as lets both walls reach the outline on the real
 * surface; where that is deeper than the limit, along the outline's inside at the limit, and over the floor between.
 * @param regions Lettering on the sheet, mm; overlaps are united.
 * @returns The strokes (none for empty lettering), or `selfIntersecting`.
 * O(n log n + path points).
 */
export function computeVCarve(
  regions: readonly Rings[],
  cut: VCarveCut,
  tool: Tool,
  surface: Surface,
  engine: VoronoiEngine,
  onProgress: (share: number) => void,
): Result<CarvePlan, OutlineError> {
  const all = concatRings(regions);
  if (isEmptyRings(all)) return ok({ strokes: [], deepestMm: 0, wantedMm: 0 });
  const made = createOutline(all);
  if (!made.ok) return made;
  const outline = made.value;
  if (outline.segmentCount === 0) return ok({ strokes: [], deepestMm: 0, wantedMm: 0 });
  const profile = createProfile(tool);
  const solver = createContactSolver(outline, surface, profile);
  const medial = computeMedialAxis(outline, engine, PRUNE_TOLERANCE_MM);
  onProgress(0.2);
  const axis = computeTrueAxis(outline, medial, surface, solver, (share) => onProgress(0.2 + 0.6 * share));
  const trails = computeTrails(medial, axis);
  const deepest = Math.max(0, ...trails.map(getDeepest));
  const limited = deepest > cut.maxDepthMm;
  const strokes = trails
    .filter((t) => getDeepest(t) > MIN_DEPTH_MM)
    .map((t) => simplifyStroke(limited ? capDepth(t, cut.maxDepthMm) : t, SIMPLIFY_TOLERANCE_MM));
  if (limited) strokes.push(...computeFloor(outline, surface, profile, solver, cut.maxDepthMm));
  onProgress(1);
  return ok({ strokes, deepestMm: Math.min(deepest, cut.maxDepthMm), wantedMm: deepest });
}

/** The stroke with its depth limited, and a point wherever it reaches the limit. */
function capDepth(points: Float64Array, limitMm: number): Float64Array {
  const out: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const d = points[i + 2]!;
    if (i > 0) {
      const d0 = points[i - 1]!;
      if (d0 < limitMm !== d < limitMm && d !== d0) {
        const t = (limitMm - d0) / (d - d0);
        out.push(points[i - 3]! + t * (points[i]! - points[i - 3]!), points[i - 2]! + t * (points[i + 1]! - points[i - 2]!), limitMm);
      }
    }
    out.push(points[i]!, points[i + 1]!, Math.min(d, limitMm));
  }
  return Float64Array.from(out);
}
