import { GRID_MM } from './boolean';
import { computeBox, getRing, type Box, type Rings } from './rings';

/** Edges nearer to each other than this are taken to meet, mm. */
const NEAR_MM = 2 * GRID_MM;
/** Pairs of edges looked at before two regions are simply taken to meet. */
const MAX_PAIRS = 100_000;

/** Edges of rings or chains whose boxes reach into a box, as x0 y0 x1 y1 in turn, and one vertex of each ring that has any. */
function findEdges(rings: Rings, box: Box, closed = true): { edges: number[]; seeds: number[] } {
  const edges: number[] = [],
    seeds: number[] = [];
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    const before = edges.length;
    for (let j = closed ? 0 : 2, i = closed ? ring.length - 2 : 0; j < ring.length; i = j, j += 2) {
      const ax = ring[i]!,
        ay = ring[i + 1]!,
        bx = ring[j]!,
        by = ring[j + 1]!;
      if (Math.max(ax, bx) < box.minX || Math.min(ax, bx) > box.maxX || Math.max(ay, by) < box.minY || Math.min(ay, by) > box.maxY)
        continue;
      edges.push(ax, ay, bx, by);
    }
    if (edges.length > before) seeds.push(ring[0]!, ring[1]!);
  }
  return { edges, seeds };
}

/** Where the boxes of two sets of lines meet, and a little beyond; null where they do not. */
function findCommonBox(a: Rings, b: Rings): Box | null {
  const [p, q] = [computeBox(a.xy), computeBox(b.xy)];
  const box = {
    minX: Math.max(p.minX, q.minX) - NEAR_MM,
    minY: Math.max(p.minY, q.minY) - NEAR_MM,
    maxX: Math.min(p.maxX, q.maxX) + NEAR_MM,
    maxY: Math.min(p.maxY, q.maxY) + NEAR_MM,
  };
  return box.minX > box.maxX || box.minY > box.maxY ? null : box;
}

/** Whether a place lies in the ink, by the non-zero rule. */
function isInside(rings: Rings, x: number, y: number): boolean {
  let winding = 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    for (let j = 0, i = ring.length - 2; j < ring.length; i = j, j += 2) {
      const ay = ring[i + 1]!,
        by = ring[j + 1]!;
      if (ay > y === by > y) continue;
      if (x < ((ring[j]! - ring[i]!) * (y - ay)) / (by - ay) + ring[i]!) winding += by > ay ? 1 : -1;
    }
  }
  return winding !== 0;
}

/**
 * Whether two regions may share any place, or come within a fifth of a micrometre: for telling letters whose boxes overlap, as
 * kerned ones do, from letters that join. May say yes of regions that only pass close by; never no of regions that meet.
 * O(n + edges in both boxes, squared).
 */
export function regionsMayMeet(a: Rings, b: Rings): boolean {
  const box = findCommonBox(a, b);
  if (!box) return false;
  const { edges: e, seeds: s } = findEdges(a, box),
    { edges: f, seeds: t } = findEdges(b, box);
  if ((e.length / 4) * (f.length / 4) > MAX_PAIRS) return true;
  if (edgesMeet(e, f)) return true;
  // No edges meet: then each ring of the one lies wholly in the other's ink or wholly out of it.
  for (let i = 0; i < s.length; i += 2) if (isInside(b, s[i]!, s[i + 1]!)) return true;
  for (let i = 0; i < t.length; i += 2) if (isInside(a, t[i]!, t[i + 1]!)) return true;
  return false;
}

/** Whether any edge of the one list meets any of the other. O(product). */
function edgesMeet(e: readonly number[], f: readonly number[]): boolean {
  for (let i = 0; i < e.length; i += 4) {
    const minX = Math.min(e[i]!, e[i + 2]!) - NEAR_MM,
      maxX = Math.max(e[i]!, e[i + 2]!) + NEAR_MM;
    const minY = Math.min(e[i + 1]!, e[i + 3]!) - NEAR_MM,
      maxY = Math.max(e[i + 1]!, e[i + 3]!) + NEAR_MM;
    for (let j = 0; j < f.length; j += 4) {
      if (
        Math.max(f[j]!, f[j + 2]!) < minX ||
        Math.min(f[j]!, f[j + 2]!) > maxX ||
        Math.max(f[j + 1]!, f[j + 3]!) < minY ||
        Math.min(f[j + 1]!, f[j + 3]!) > maxY
      )
        continue;
      if (comeNear(e, i, f, j)) return true;
    }
  }
  return false;
}

/** Whether neither of two edges lies wholly to one side of the other's line, farther from it than what counts as near. */
function comeNear(e: readonly number[], i: number, f: readonly number[], j: number): boolean {
  return !parts(e, i, f, j) && !parts(f, j, e, i);
}

function parts(e: readonly number[], i: number, f: readonly number[], j: number): boolean {
  const ax = e[i]!,
    ay = e[i + 1]!,
    dx = e[i + 2]! - ax,
    dy = e[i + 3]! - ay;
  const near = NEAR_MM * Math.sqrt(dx * dx + dy * dy);
  const s0 = dx * (f[j + 1]! - ay) - dy * (f[j]! - ax),
    s1 = dx * (f[j + 3]! - ay) - dy * (f[j + 2]! - ax);
  return (s0 > near && s1 > near) || (s0 < -near && s1 < -near);
}

/** Whether lines cross or touch other lines, or lie on areas, within a fifth of a micrometre. */
export function linesMayMeet(lines: Rings, others: Rings, kind: 'lines' | 'areas'): boolean {
  if (lines.xy.length === 0 || others.xy.length === 0) return false;
  const box = findCommonBox(lines, others);
  if (!box) return false;
  const { edges, seeds } = findEdges(lines, box, false);
  if (edgesMeet(edges, findEdges(others, box, kind === 'areas').edges)) return true;
  if (kind === 'lines') return false;
  for (let i = 0; i < seeds.length; i += 2) if (isInside(others, seeds[i]!, seeds[i + 1]!)) return true;
  return false;
}
