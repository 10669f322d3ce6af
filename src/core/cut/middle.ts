import { ok, type Result } from '../base/result';
import type { Rings } from '../base/rings';
import type { Ground } from '../machine/stance';
import { computeMedialAxis, interpolateEdge, isPointSite, PRUNE_TOLERANCE_MM, type MedialAxis } from '../medial/medialAxis';
import { createOutline, packOutline, type Outline, type OutlineError } from '../medial/outline';
import type { VoronoiEngine } from '../medial/voronoi';
import { createChart } from './chart';
import { createVProfile } from './profile';
import { simplifyStroke } from './stroke';
import { computeTrails } from './trails';

/** The middle is sought with next to no flank: what the surface and the lean do to the sheet is all that bends it. */
const THIN = createVProfile(5, 0);
/** A clearance less than this is a corner of the outline, mm. */
const CORNER_MM = 1e-6;
/** A branch into a corner is at most so many times as long as the stroke is wide half way where it leaves: the corner is 39° or wider. */
const CORNER_BRANCH = 3;
/** Pieces of a parabola. */
const PARABOLA_PIECES = 8;
/** Most by which leaving out points may shift the way, mm. */
const SIMPLIFY_TOLERANCE_MM = 0.0005;

/**
 * The middle lines of one connected piece of outline lettering: its medial axis without the branches that run into corners, which a pen
 * would not draw.
 * @param rings The piece on the sheet, mm. @param depthMm Depth that every point gets.
 * @returns Strokes of x, y, depth on the sheet, or `selfIntersecting`. O(n log n).
 */
export function findMiddle(
  rings: Rings,
  depthMm: number,
  ground: Ground,
  engine: VoronoiEngine,
): Result<{ strokes: Float64Array[] }, OutlineError> {
  const chart = createChart(ground, rings, THIN);
  const made: Result<Outline, OutlineError> = chart.plain ? ok(packOutline(rings)) : createOutline(chart.toChart(rings));
  if (!made.ok) return made;
  const outline = made.value;
  if (outline.segmentCount === 0) return ok({ strokes: [] });
  const axis = leaveOutCorners(computeMedialAxis(outline, engine, PRUNE_TOLERANCE_MM));
  const edgePoints = Array.from(axis.a, (_, k) => flattenEdge(outline, axis, k, depthMm));
  const trails = computeTrails(axis, { nodes: new Float64Array(0), edgePoints });
  return ok({ strokes: trails.map((t) => chart.toSheet(simplifyStroke(t, SIMPLIFY_TOLERANCE_MM))) });
}

/** An edge as points with a depth: straight, or along its parabola. */
function flattenEdge(o: Outline, m: MedialAxis, edge: number, depthMm: number): Float64Array {
  const pieces = isPointSite(m.site0[edge]!) === isPointSite(m.site1[edge]!) ? 1 : PARABOLA_PIECES;
  const at = new Float64Array(2);
  const out = new Float64Array(3 * (pieces + 1));
  for (let i = 0; i <= pieces; i++) {
    interpolateEdge(o, m, edge, i / pieces, at);
    out.set([at[0]!, at[1]!, depthMm], 3 * i);
  }
  return out;
}

/** The axis without its branches into corners. A stroke that runs out to a point is no such branch. O(edges). */
function leaveOutCorners(m: MedialAxis): MedialAxis {
  const incident: number[][] = Array.from({ length: m.x.length }, () => []);
  m.a.forEach((v, k) => {
    incident[v]!.push(k);
    incident[m.b[k]!]!.push(k);
  });
  const dropped = new Uint8Array(m.a.length);
  incident.forEach((edges, leaf) => {
    if (edges.length !== 1 || m.r[leaf]! > CORNER_MM) return;
    const chain: number[] = [];
    let v = leaf,
      k = edges[0]!,
      length = 0;
    for (;;) {
      const next = m.a[k] === v ? m.b[k]! : m.a[k]!;
      chain.push(k);
      length += Math.hypot(m.x[next]! - m.x[v]!, m.y[next]! - m.y[v]!);
      v = next;
      if (incident[v]!.length !== 2) break;
      k = incident[v]!.find((other) => other !== k)!;
    }
    if (incident[v]!.length > 2 && length <= CORNER_BRANCH * m.r[v]!) for (const c of chain) dropped[c] = 1;
  });
  const kept = <T extends Int32Array>(list: T): Int32Array => list.filter((_, k) => !dropped[k]);
  return { ...m, a: kept(m.a), b: kept(m.b), site0: kept(m.site0), site1: kept(m.site1) };
}
