import type { Ground } from '../machine/stance';
import { interpolateEdge, isPointSite, type MedialAxis } from '../medial/medialAxis';
import type { Outline } from '../medial/outline';
import { createBalance, type Balance } from './balance';
import type { ContactSolver } from './contact';

/** Most by which a straight piece of the path may leave the true one, across or in depth, mm. */
export const PATH_TOLERANCE_MM = 0.0004;
const MAX_SPLITS = 7;
/** A node of less clearance is a corner of the outline, mm. */
const CORNER_MM = 1e-6;
/** Edges shorter than this are not split, mm; longer than the second they are checked in their middle at least once. */
const TINY_EDGE_MM = 0.001;
const SHORT_EDGE_MM = 0.02;

/** Nodes and edges of the axis on the real surface; `edgePoints[k]` holds x, y, depth from node a to node b. */
export interface TrueAxis {
  /** x, y, depth per node of the medial axis. */
  nodes: Float64Array;
  edgePoints: Float64Array[];
}

/**
 * Bends the flat medial axis to the surface. On curved stock the two walls of a groove fall away by different amounts,
 * so each point moves sideways until its contacts allow equal depth, and nodes until all three do; the depth is then
 * the least that any of the outline allows, so nothing is cut outside beyond `PATH_TOLERANCE_MM`.
 * @param shiftX Share of its clearance by which a leaning tool stands beside a node, towards smaller x.
 * @param lowestMm Least depth, ≤ 0: under a leaning tool the rim of a flat tip lies deeper than its middle, which has to stay above.
 * O(points · near segments).
 */
export function computeTrueAxis(o: Outline, m: MedialAxis, ground: Ground, solver: ContactSolver, shiftX = 0, lowestMm = 0): TrueAxis {
  const balance = createBalance(o, solver, lowestMm);
  // Without curvature and lean nothing moves, and the depth follows from the clearance.
  const still = ground.flat && shiftX === 0;
  const nodes = balanceNodes(m, balance, still, shiftX, lowestMm);
  const edgePoints = Array.from(m.a, (_, k) => bendEdge(o, m, k, nodes, ground, balance, still));
  return { nodes, edgePoints };
}

function balanceNodes(m: MedialAxis, balance: Balance, still: boolean, shiftX: number, lowestMm: number): Float64Array {
  const nodeCount = m.x.length;
  const nodes = new Float64Array(3 * nodeCount);
  const incident: number[][] = Array.from({ length: nodeCount }, () => []);
  m.a.forEach((v, k) => {
    incident[v]!.push(k);
    incident[m.b[k]!]!.push(k);
  });
  const point = new Float64Array(3);
  for (let v = 0; v < nodeCount; v++) {
    const edges = incident[v]!;
    if (edges.length === 0) continue;
    const first = edges[0]!;
    if (m.r[v]! < CORNER_MM) point.set([m.x[v]!, m.y[v]!, lowestMm]);
    else if (still) balance.stay(m.x[v]!, m.y[v]!, m.site0[first]!, point);
    else {
      const sites = [...new Set(edges.flatMap((k) => [m.site0[k]!, m.site1[k]!]))];
      const x = m.x[v]! - shiftX * m.r[v]!;
      if (edges.length < 3 || !balance.three(x, m.y[v]!, m.r[v]!, sites, point)) {
        balance.two(x, m.y[v]!, m.r[v]!, m.site0[first]!, m.site1[first]!, point);
      }
    }
    nodes.set(point, 3 * v);
  }
  return nodes;
}

/** One edge between its balanced nodes, split until its pieces keep to the true way. */
function bendEdge(
  o: Outline,
  m: MedialAxis,
  k: number,
  nodes: Float64Array,
  ground: Ground,
  balance: Balance,
  still: boolean,
): Float64Array {
  const va = m.a[k]!,
    vb = m.b[k]!;
  const s0 = m.site0[k]!,
    s1 = m.site1[k]!;
  const shiftAX = nodes[3 * va]! - m.x[va]!,
    shiftAY = nodes[3 * va + 1]! - m.y[va]!;
  const shiftBX = nodes[3 * vb]! - m.x[vb]!,
    shiftBY = nodes[3 * vb + 1]! - m.y[vb]!;
  const ra = m.r[va]!,
    rb = m.r[vb]!,
    most = Math.max(ra, rb);
  const solve = (t: number): Float64Array => {
    const out = new Float64Array(3);
    interpolateEdge(o, m, k, t, out);
    const x = out[0]! + (1 - t) * shiftAX + t * shiftBX;
    const y = out[1]! + (1 - t) * shiftAY + t * shiftBY;
    if (still) balance.stay(x, y, s0, out);
    // The clearance there is known well enough to limit a step by.
    else balance.two(x, y, (1 - t) * ra + t * rb + 0.02 * most, s0, s1, out);
    return out;
  };
  const points: number[] = [nodes[3 * va]!, nodes[3 * va + 1]!, nodes[3 * va + 2]!];
  // Between two straight sides on a true sheet the axis is straight; elsewhere a single check in the middle might meet an inflection.
  const straight = ground.isometric && !isPointSite(s0) && !isPointSite(s1);
  const checks = ground.isometric ? 1 : 2;
  const split = (t0: number, p0: ArrayLike<number>, t1: number, p1: ArrayLike<number>, depth: number): void => {
    const t = (t0 + t1) / 2;
    const p = solve(t);
    const gap = Math.hypot((p0[0]! + p1[0]!) / 2 - p[0]!, (p0[1]! + p1[1]!) / 2 - p[1]!, (p0[2]! + p1[2]!) / 2 - p[2]!);
    const length = Math.hypot(p1[0]! - p0[0]!, p1[1]! - p0[1]!);
    const go = depth < MAX_SPLITS && (gap > PATH_TOLERANCE_MM || (depth < checks && !straight && length > SHORT_EDGE_MM));
    if (go) split(t0, p0, t, p, depth + 1);
    if (go || gap > PATH_TOLERANCE_MM / 4) points.push(p[0]!, p[1]!, p[2]!);
    if (go) split(t, p, t1, p1, depth + 1);
  };
  const end = nodes.subarray(3 * vb, 3 * vb + 3);
  const tiny = Math.hypot(m.x[vb]! - m.x[va]!, m.y[vb]! - m.y[va]!) < TINY_EDGE_MM;
  // On a plate under a sharp V it is straight in depth as well; a blunt tip makes a kink of it, a ball a bow.
  if (!tiny) split(0, nodes.slice(3 * va, 3 * va + 3), 1, end, 0);
  points.push(end[0]!, end[1]!, end[2]!);
  return Float64Array.from(points);
}
