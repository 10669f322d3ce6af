import { getSiteSegment, getSiteVertex, interpolateEdge, isPointSite, type MedialAxis, type Site } from '../medial/medialAxis';
import type { Outline } from '../medial/outline';
import type { Work } from '../machine/stance';
import type { Contact, ContactSolver } from './contact';

/** Most by which a straight piece of the path may leave the true one, across or in depth, mm. */
export const PATH_TOLERANCE_MM = 0.0004;
/** Two contacts closer than this are one. */
const SAME_PLACE_MM = 1e-7;
/** Two depths this close are equal, mm. */
const BALANCE_MM = 2e-6;
const MAX_SPLITS = 7;
/** A point moves sideways by less than this share of its clearance; more is a sign that it lost its sides. */
const MAX_SHIFT_SHARE = 0.8;

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
 * @param onProgress Called with a share in [0, 1]; may throw to stop.
 * @param shiftX Share of its clearance by which a leaning tool stands beside a node, towards smaller x.
 * @param lowestMm Least depth, ≤ 0: under a leaning tool the rim of a flat tip lies deeper than its middle, which has to stay above.
 * O(points · near segments).
 */
export function computeTrueAxis(
  o: Outline,
  m: MedialAxis,
  surface: Work,
  solver: ContactSolver,
  onProgress: (share: number) => void,
  shiftX = 0,
  lowestMm = 0,
): TrueAxis {
  const nodeCount = m.x.length;
  const nodes = new Float64Array(3 * nodeCount);
  const incident: number[][] = Array.from({ length: nodeCount }, () => []);
  m.a.forEach((v, k) => {
    incident[v]!.push(k);
    incident[m.b[k]!]!.push(k);
  });

  /** Where a site touches first: a segment alone, a corner with either of its two segments. */
  const contactFor = (site: Site): Contact => {
    if (!isPointSite(site)) return solver.findContact(getSiteSegment(site));
    const v = getSiteVertex(o, site);
    const one = solver.findContact(v);
    const two = solver.findContact(o.prev[v]!);
    return two.depthMm < one.depthMm ? two : one;
  };

  /** Moves from (x, y) until the two sites allow equal depth. */
  const balanceTwo = (x: number, y: number, r: number, s0: Site, s1: Site, out: Float64Array): void => {
    let px = x,
      py = y;
    solver.moveTo(px, py);
    let c0 = contactFor(s0);
    let c1 = contactFor(s1);
    for (let k = 0; k < 8; k++) {
      const difference = c0.depthMm - c1.depthMm;
      if (Math.abs(difference) < BALANCE_MM) break;
      const gx = c0.x - c1.x,
        gy = c0.y - c1.y;
      const apart = Math.hypot(gx, gy);
      if (apart < SAME_PLACE_MM) break;
      const rate = approach(px, py, c0, gx / apart, gy / apart) - approach(px, py, c1, gx / apart, gy / apart);
      if (!(rate > 1e-6)) break;
      const step = Math.max(-0.3 * r, Math.min(0.3 * r, difference / rate));
      px += (step * gx) / apart;
      py += (step * gy) / apart;
      // Two sides that are no longer the ones beside it lead it astray: then it stays where it was.
      const astray = Math.hypot(px - x, py - y) > MAX_SHIFT_SHARE * r;
      if (astray) [px, py] = [x, y];
      solver.moveTo(px, py);
      c0 = contactFor(s0);
      c1 = contactFor(s1);
      if (astray) break;
    }
    let least = solver.findLeast(c0.depthMm < c1.depthMm ? c0 : c1);
    if (!solver.isInside(least)) {
      // Beyond the outline depths mean nothing: back to where it began.
      [px, py] = [x, y];
      solver.moveTo(px, py);
      least = solver.findLeast(contactFor(s0));
    }
    out[0] = px;
    out[1] = py;
    out[2] = Math.max(lowestMm, least.depthMm);
  };

  /** What the depth allowed by a contact loses for each mm moved in direction (ux, uy). */
  const approach = (px: number, py: number, c: Contact, ux: number, uy: number): number => {
    const ex = c.x - px,
      ey = c.y - py;
    const away = Math.hypot(ex, ey);
    return away > 0 ? (solver.slopeAt(c) * (ex * ux + ey * uy)) / away : 0;
  };

  /** Moves a branching node until three contacts allow equal depth; false if they do not pin it down. */
  const balanceThree = (x: number, y: number, r: number, sites: readonly Site[], out: Float64Array): boolean => {
    let px = x,
      py = y;
    for (let k = 0; k < 10; k++) {
      solver.moveTo(px, py);
      const contacts = spreadThree(px, py, sites.map(contactFor));
      if (!contacts) return false;
      const [c0, c1, c2] = contacts;
      const f1 = c0.depthMm - c1.depthMm,
        f2 = c0.depthMm - c2.depthMm;
      if (Math.abs(f1) < BALANCE_MM && Math.abs(f2) < BALANCE_MM) {
        out[0] = px;
        out[1] = py;
        out[2] = Math.max(lowestMm, solver.findLeast(c0).depthMm);
        return true;
      }
      const a11 = approach(px, py, c0, 1, 0) - approach(px, py, c1, 1, 0);
      const a12 = approach(px, py, c0, 0, 1) - approach(px, py, c1, 0, 1);
      const a21 = approach(px, py, c0, 1, 0) - approach(px, py, c2, 1, 0);
      const a22 = approach(px, py, c0, 0, 1) - approach(px, py, c2, 0, 1);
      const determinant = a11 * a22 - a12 * a21;
      if (Math.abs(determinant) < 1e-3) return false;
      const dx = (f1 * a22 - f2 * a12) / determinant;
      const dy = (a11 * f2 - a21 * f1) / determinant;
      const length = Math.hypot(dx, dy);
      const cut = Math.min(1, (0.3 * r) / Math.max(length, 1e-12));
      px += cut * dx;
      py += cut * dy;
      if (Math.hypot(px - x, py - y) > 0.5 * r) return false;
    }
    return false;
  };

  // Without curvature and lean nothing moves, and the depth follows from the clearance.
  const flat = isFlat(surface) && shiftX === 0;
  const plain = (x: number, y: number, s0: Site, out: Float64Array): void => {
    solver.moveTo(x, y);
    out[0] = x;
    out[1] = y;
    out[2] = Math.max(0, contactFor(s0).depthMm);
  };
  const point = new Float64Array(3);
  for (let v = 0; v < nodeCount; v++) {
    const edges = incident[v]!;
    if (edges.length === 0) continue;
    const first = edges[0]!;
    if (m.r[v]! < 1e-6) point.set([m.x[v]!, m.y[v]!, lowestMm]);
    else if (flat) plain(m.x[v]!, m.y[v]!, m.site0[first]!, point);
    else {
      const sites = [...new Set(edges.flatMap((k) => [m.site0[k]!, m.site1[k]!]))];
      const x = m.x[v]! - shiftX * m.r[v]!;
      if (edges.length < 3 || !balanceThree(x, m.y[v]!, m.r[v]!, sites, point)) {
        balanceTwo(x, m.y[v]!, m.r[v]!, m.site0[first]!, m.site1[first]!, point);
      }
    }
    nodes.set(point, 3 * v);
    if (v % 512 === 0) onProgress((0.3 * v) / nodeCount);
  }

  const edgePoints = Array.from(m.a, (va, k) => {
    const vb = m.b[k]!;
    const s0 = m.site0[k]!,
      s1 = m.site1[k]!;
    const shiftA = [nodes[3 * va]! - m.x[va]!, nodes[3 * va + 1]! - m.y[va]!];
    const shiftB = [nodes[3 * vb]! - m.x[vb]!, nodes[3 * vb + 1]! - m.y[vb]!];
    const ra = m.r[va]!,
      rb = m.r[vb]!,
      most = Math.max(ra, rb);
    const solve = (t: number): Float64Array => {
      const out = new Float64Array(3);
      interpolateEdge(o, m, k, t, out);
      const x = out[0]! + (1 - t) * shiftA[0]! + t * shiftB[0]!;
      const y = out[1]! + (1 - t) * shiftA[1]! + t * shiftB[1]!;
      if (flat) plain(x, y, s0, out);
      // The clearance there, near enough to tell how far a step may go.
      else balanceTwo(x, y, (1 - t) * ra + t * rb + 0.02 * most, s0, s1, out);
      return out;
    };
    const points: number[] = [nodes[3 * va]!, nodes[3 * va + 1]!, nodes[3 * va + 2]!];
    // Between two straight sides on a true sheet the axis is straight; elsewhere one look in the middle might meet an inflection.
    const straight = surface.isometric && isPointSite(s0) === isPointSite(s1) && !isPointSite(s0);
    const looks = surface.isometric ? 1 : 2;
    const split = (t0: number, p0: ArrayLike<number>, t1: number, p1: ArrayLike<number>, depth: number): void => {
      const t = (t0 + t1) / 2;
      const p = solve(t);
      const gap = Math.hypot((p0[0]! + p1[0]!) / 2 - p[0]!, (p0[1]! + p1[1]!) / 2 - p[1]!, (p0[2]! + p1[2]!) / 2 - p[2]!);
      const length = Math.hypot(p1[0]! - p0[0]!, p1[1]! - p0[1]!);
      const go = depth < MAX_SPLITS && (gap > PATH_TOLERANCE_MM || (depth < looks && !straight && length > 0.02));
      if (go) split(t0, p0, t, p, depth + 1);
      if (go || gap > PATH_TOLERANCE_MM / 4) points.push(p[0]!, p[1]!, p[2]!);
      if (go) split(t, p, t1, p1, depth + 1);
    };
    const end = nodes.subarray(3 * vb, 3 * vb + 3);
    const tiny = Math.hypot(m.x[vb]! - m.x[va]!, m.y[vb]! - m.y[va]!) < 0.001;
    // On a plate under a sharp V it is straight in depth as well; a blunt tip makes a kink of it, a ball a bow.
    if (!tiny) split(0, nodes.slice(3 * va, 3 * va + 3), 1, end, 0);
    points.push(end[0]!, end[1]!, end[2]!);
    if (k % 256 === 0) onProgress(0.3 + (0.7 * k) / m.a.length);
    return Float64Array.from(points);
  });
  return { nodes, edgePoints };
}

/** Whether a surface has no curvature anywhere; a plate has none. */
export const isFlat = (surface: Pick<Work, 'flat'>): boolean => surface.flat;

/** The three contacts whose directions are spread widest, or null if they all lie on one side. */
function spreadThree(px: number, py: number, contacts: readonly Contact[]): [Contact, Contact, Contact] | null {
  let best: [Contact, Contact, Contact] | null = null;
  let widest = 1e-3;
  const turn = contacts.map((c) => Math.atan2(c.y - py, c.x - px));
  for (let i = 0; i < contacts.length; i++) {
    for (let j = i + 1; j < contacts.length; j++) {
      for (let k = j + 1; k < contacts.length; k++) {
        const area = Math.abs(Math.sin(turn[j]! - turn[i]!) + Math.sin(turn[k]! - turn[j]!) + Math.sin(turn[i]! - turn[k]!));
        if (area > widest) {
          widest = area;
          best = [contacts[i]!, contacts[j]!, contacts[k]!];
        }
      }
    }
  }
  return best;
}
