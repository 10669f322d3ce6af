import FlatQueue from 'flatqueue';
import { orient2d } from 'robust-predicates';
import { GRID_MM } from '../base/boolean';
import { computeWinding, type Outline } from './outline';
import { EDGE_STRIDE, type VoronoiEngine } from './voronoi';

/** What pruning may take from the carved region at most, mm. See docs/adr/0002. */
export const PRUNE_TOLERANCE_MM = 0.002;

/**
 * Where a Voronoi edge comes from: segment · 4 + category (0 = inside the segment, 1 = its start, 2 = its end).
 */
export type Site = number;
export const getSiteSegment = (site: Site): number => site >> 2;
export const isPointSite = (site: Site): boolean => (site & 3) !== 0;
/** The outline vertex a point site stands for. */
export const getSiteVertex = (o: Outline, site: Site): number => ((site & 3) === 1 ? site >> 2 : o.next[site >> 2]!);

/**
 * The medial axis of a region in the sheet's own plane. Node i lies at `(x[i], y[i])` with clearance `r[i]`, mm;
 * edge k joins `a[k]` and `b[k]` and is equally far from `site0[k]` and `site1[k]`; removed edges are not listed.
 */
export interface MedialAxis {
  x: Float64Array;
  y: Float64Array;
  r: Float64Array;
  a: Int32Array;
  b: Int32Array;
  site0: Int32Array;
  site1: Int32Array;
}

/** Distance from a point to a site, mm; for a segment, to the nearest point of the closed segment. O(1). */
export function computeSiteDistance(o: Outline, site: Site, x: number, y: number): number {
  if (isPointSite(site)) {
    const v = getSiteVertex(o, site);
    return Math.hypot(x - o.xy[2 * v]!, y - o.xy[2 * v + 1]!);
  }
  const i = getSiteSegment(site);
  const j = o.next[i]!;
  const ax = o.xy[2 * i]!,
    ay = o.xy[2 * i + 1]!;
  const dx = o.xy[2 * j]! - ax,
    dy = o.xy[2 * j + 1]! - ay;
  const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}

/**
 * The medial axis by an exact segment Voronoi diagram: edges inside the region, decided by their sites, then pruned.
 * Clearance along an edge is linear only between two segments; see `interpolateEdge`.
 * @param pruneToleranceMm Most that pruning may take from the union of discs, mm; ≥ 0 (0 keeps every branch).
 * O(n log n).
 */
export function computeMedialAxis(o: Outline, engine: VoronoiEngine, pruneToleranceMm: number): MedialAxis {
  const n = o.segmentCount;
  const segments = new Int32Array(4 * n);
  for (let i = 0; i < n; i++) {
    const j = o.next[i]!;
    segments[4 * i] = o.grid[2 * i]!;
    segments[4 * i + 1] = o.grid[2 * i + 1]!;
    segments[4 * i + 2] = o.grid[2 * j]!;
    segments[4 * i + 3] = o.grid[2 * j + 1]!;
  }
  const { vertices, edges } = engine.build(segments);
  const isInside = createInsideTest(o, vertices);
  const nodeOf = new Int32Array(vertices.length / 2).fill(-1);
  const xs: number[] = [],
    ys: number[] = [],
    rs: number[] = [];
  const a: number[] = [],
    b: number[] = [],
    site0: number[] = [],
    site1: number[] = [];
  const node = (v: number, site: Site): number => {
    if (nodeOf[v]! < 0) {
      nodeOf[v] = xs.length;
      const x = vertices[2 * v]! * GRID_MM;
      const y = vertices[2 * v + 1]! * GRID_MM;
      xs.push(x);
      ys.push(y);
      rs.push(computeSiteDistance(o, site, x, y));
    }
    return nodeOf[v]!;
  };
  for (let e = 0; e < edges.length; e += EDGE_STRIDE) {
    const v0 = edges[e]!,
      v1 = edges[e + 1]!,
      s0 = edges[e + 2]!,
      s1 = edges[e + 3]!;
    if (!isInside(v0, v1, s0, s1)) continue;
    a.push(node(v0, s0));
    b.push(node(v1, s0));
    site0.push(s0);
    site1.push(s1);
  }
  const keep = pruneToleranceMm > 0 ? prune(xs, ys, rs, a, b, pruneToleranceMm) : null;
  const kept = <T>(list: T[]): T[] => (keep ? list.filter((_, k) => keep[k]) : list);
  return {
    x: Float64Array.from(xs),
    y: Float64Array.from(ys),
    r: Float64Array.from(rs),
    a: Int32Array.from(kept(a)),
    b: Int32Array.from(kept(b)),
    site0: Int32Array.from(kept(site0)),
    site1: Int32Array.from(kept(site1)),
  };
}

/**
 * Whether a Voronoi edge lies in the region. The cell of a reflex corner lies wholly inside, that of a convex one
 * wholly outside; the cell of a segment is inside to its left, judged by the edge's end that is further from it.
 */
function createInsideTest(o: Outline, vertices: Float64Array) {
  const g = o.grid;
  const copies = new Map<string, number>();
  const key = (v: number) => `${g[2 * v]},${g[2 * v + 1]}`;
  for (let v = 0; v < o.segmentCount; v++) copies.set(key(v), (copies.get(key(v)) ?? 0) + 1);
  // orient2d of robust-predicates is negative for a left turn in a frame with y up.
  const isReflex = (v: number) => {
    const p = o.prev[v]!,
      q = o.next[v]!;
    return orient2d(g[2 * p]!, g[2 * p + 1]!, g[2 * v]!, g[2 * v + 1]!, g[2 * q]!, g[2 * q + 1]!) > 0;
  };
  return (v0: number, v1: number, s0: Site, s1: Site): boolean => {
    for (const site of [s0, s1]) {
      if (isPointSite(site)) continue;
      const i = getSiteSegment(site);
      const j = o.next[i]!;
      const side = (v: number) => -orient2d(g[2 * i]!, g[2 * i + 1]!, g[2 * j]!, g[2 * j + 1]!, vertices[2 * v]!, vertices[2 * v + 1]!);
      const d0 = side(v0),
        d1 = side(v1);
      const far = Math.abs(d0) > Math.abs(d1) ? d0 : d1;
      return far > 0;
    }
    const corner = getSiteVertex(o, s0);
    if (copies.get(key(corner)) === 1) return isReflex(corner);
    return computeWinding(o, (vertices[2 * v0]! + vertices[2 * v1]!) / 2, (vertices[2 * v0 + 1]! + vertices[2 * v1 + 1]!) / 2) > 0;
  };
}

/**
 * Removes leaves, cheapest first, while the discs of the tips taken stick out of the disc of the node left by at most
 * the tolerance; never a component's last edge. True corners cost more than the tolerance and stay.
 * @returns 1 for each edge kept. O(n log n).
 */
function prune(x: number[], y: number[], r: number[], a: number[], b: number[], toleranceMm: number): Uint8Array {
  const keep = new Uint8Array(a.length).fill(1);
  const degree = new Int32Array(x.length);
  const incident: number[][] = x.map(() => []);
  a.forEach((v, k) => {
    degree[v]!++;
    degree[b[k]!]!++;
    incident[v]!.push(k);
    incident[b[k]!]!.push(k);
  });
  const taken: (number[] | null)[] = x.map(() => null);
  const queue = new FlatQueue<number>();
  const cost = (leaf: number, root: number): number => {
    let most = Math.hypot(x[leaf]! - x[root]!, y[leaf]! - y[root]!) + r[leaf]!;
    for (const tip of taken[leaf] ?? []) {
      most = Math.max(most, Math.hypot(x[tip]! - x[root]!, y[tip]! - y[root]!) + r[tip]!);
    }
    return most - r[root]!;
  };
  const offer = (leaf: number) => {
    const edge = incident[leaf]!.find((k) => keep[k]);
    if (edge === undefined) return;
    const c = cost(leaf, a[edge] === leaf ? b[edge]! : a[edge]!);
    if (c <= toleranceMm) queue.push(leaf, c);
  };
  degree.forEach((d, v) => {
    if (d === 1) offer(v);
  });
  for (let leaf = queue.pop(); leaf !== undefined; leaf = queue.pop()) {
    const edge = incident[leaf]!.find((k) => keep[k]);
    if (edge === undefined || degree[leaf] !== 1) continue;
    const root = a[edge] === leaf ? b[edge]! : a[edge]!;
    if (degree[root] === 1) continue;
    if (cost(leaf, root) > toleranceMm) continue;
    keep[edge] = 0;
    degree[leaf]!--;
    degree[root]!--;
    taken[root] = [...(taken[root] ?? []), leaf, ...(taken[leaf] ?? [])];
    taken[leaf] = null;
    if (degree[root] === 1) offer(root);
  }
  return keep;
}

/**
 * A point on a Voronoi edge at share t of the way, in the plane: straight, or on the parabola between a point and a
 * segment. Writes x, y to `out`. O(1).
 */
export function interpolateEdge(o: Outline, m: MedialAxis, edge: number, t: number, out: Float64Array): void {
  const x0 = m.x[m.a[edge]!]!,
    y0 = m.y[m.a[edge]!]!;
  const x1 = m.x[m.b[edge]!]!,
    y1 = m.y[m.b[edge]!]!;
  const s0 = m.site0[edge]!,
    s1 = m.site1[edge]!;
  out[0] = x0 + t * (x1 - x0);
  out[1] = y0 + t * (y1 - y0);
  if (isPointSite(s0) === isPointSite(s1)) return;
  const point = getSiteVertex(o, isPointSite(s0) ? s0 : s1);
  const i = getSiteSegment(isPointSite(s0) ? s1 : s0);
  const j = o.next[i]!;
  const ax = o.xy[2 * i]!,
    ay = o.xy[2 * i + 1]!;
  const length = Math.hypot(o.xy[2 * j]! - ax, o.xy[2 * j + 1]! - ay);
  const ux = (o.xy[2 * j]! - ax) / length,
    uy = (o.xy[2 * j + 1]! - ay) / length;
  const px = o.xy[2 * point]! - ax,
    py = o.xy[2 * point + 1]! - ay;
  const focusAlong = px * ux + py * uy;
  const focusHeight = -px * uy + py * ux;
  // The corner at the segment's own end: the "parabola" is the straight normal there.
  if (Math.abs(focusHeight) < 1e-9) return;
  const along0 = (x0 - ax) * ux + (y0 - ay) * uy;
  const along1 = (x1 - ax) * ux + (y1 - ay) * uy;
  const along = along0 + t * (along1 - along0);
  const height = ((along - focusAlong) ** 2 + focusHeight ** 2) / (2 * focusHeight);
  out[0] = ax + along * ux - height * uy;
  out[1] = ay + along * uy + height * ux;
}
