import { orient2d } from 'robust-predicates';
import Flatbush from 'flatbush';
import { GRID_MM, unionRings } from '../base/boolean';
import { err, ok, type Result } from '../base/result';
import type { Rings } from '../base/rings';

/**
 * A region's clean boundary, ready for the Voronoi diagram. Vertex i is the start of segment i, which ends at
 * `next[i]`; the region lies on the left. Coordinates lie on the grid: `grid` in grid units, `xy` in mm.
 */
export interface Outline {
  xy: Float64Array;
  grid: Int32Array;
  next: Uint32Array;
  prev: Uint32Array;
  /** Boxes of the segments, for "what lies near this point". Null for an empty outline. */
  index: Flatbush | null;
  segmentCount: number;
}

export type OutlineError = { kind: 'selfIntersecting'; xMm: number; yMm: number };

/** Rounding may leave crossings one grid unit deep; uniting again removes them. More than this never was needed. */
const MAX_CLEANING_ROUNDS = 4;

/**
 * Unites rings and proves that no two segments cross, since the Voronoi engine answers garbage otherwise.
 * @param rings Any rings, mm; not mutated.
 * @returns The outline, or `selfIntersecting` with a place. O(n log n) for outlines with short segments.
 */
export function createOutline(rings: Rings): Result<Outline, OutlineError> {
  let clean = unionRings(rings);
  for (let round = 1; ; round++) {
    const outline = packOutline(clean);
    const crossing = findCrossing(outline);
    if (crossing < 0) return ok(outline);
    if (round === MAX_CLEANING_ROUNDS) {
      return err({ kind: 'selfIntersecting', xMm: outline.xy[2 * crossing]!, yMm: outline.xy[2 * crossing + 1]! });
    }
    clean = unionRings(clean);
  }
}

/** Packs clean rings, taken as they are, with the links and the index that the Voronoi diagram and the cutter need. */
export function packOutline(rings: Rings): Outline {
  const n = rings.xy.length / 2;
  const grid = new Int32Array(2 * n);
  for (let i = 0; i < 2 * n; i++) grid[i] = Math.round(rings.xy[i]! / GRID_MM);
  const next = new Uint32Array(n);
  const prev = new Uint32Array(n);
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const from = rings.starts[k]!;
    const to = rings.starts[k + 1]!;
    for (let i = from; i < to; i++) {
      next[i] = i + 1 === to ? from : i + 1;
      prev[i] = i === from ? to - 1 : i - 1;
    }
  }
  const xy = Float64Array.from(grid, (v) => v * GRID_MM);
  let index: Flatbush | null = null;
  if (n > 0) {
    index = new Flatbush(n);
    for (let i = 0; i < n; i++) {
      const j = next[i]!;
      index.add(
        Math.min(xy[2 * i]!, xy[2 * j]!),
        Math.min(xy[2 * i + 1]!, xy[2 * j + 1]!),
        Math.max(xy[2 * i]!, xy[2 * j]!),
        Math.max(xy[2 * i + 1]!, xy[2 * j + 1]!),
      );
    }
    index.finish();
  }
  return { xy, grid, next, prev, index, segmentCount: n };
}

/** The outline's rings, as they were packed. O(n). */
export function toRings(o: Outline): Rings {
  const starts: number[] = [];
  for (let i = 0; i < o.segmentCount; i++) if (o.prev[i]! >= i) starts.push(i);
  starts.push(o.segmentCount);
  return { xy: o.xy.slice(), starts: Uint32Array.from(starts) };
}

/** The first segment that crosses another in its interior (touching end points do not count), or −1. Exact signs. */
export function findCrossing(o: Outline): number {
  const p = o.grid;
  for (let i = 0; i < o.segmentCount; i++) {
    const i2 = o.next[i]!;
    const ax = p[2 * i]!,
      ay = p[2 * i + 1]!,
      bx = p[2 * i2]!,
      by = p[2 * i2 + 1]!;
    const near = o.index!.search(
      Math.min(ax, bx) * GRID_MM,
      Math.min(ay, by) * GRID_MM,
      Math.max(ax, bx) * GRID_MM,
      Math.max(ay, by) * GRID_MM,
    );
    for (const j of near) {
      if (j <= i || j === i2 || o.next[j] === i) continue;
      const j2 = o.next[j]!;
      const cx = p[2 * j]!,
        cy = p[2 * j + 1]!,
        dx = p[2 * j2]!,
        dy = p[2 * j2 + 1]!;
      const s1 = Math.sign(orient2d(ax, ay, bx, by, cx, cy));
      const s2 = Math.sign(orient2d(ax, ay, bx, by, dx, dy));
      if (s1 * s2 > 0) continue;
      const s3 = Math.sign(orient2d(cx, cy, dx, dy, ax, ay));
      const s4 = Math.sign(orient2d(cx, cy, dx, dy, bx, by));
      if (s3 * s4 > 0) continue;
      const sharesEnd = (ax === cx && ay === cy) || (ax === dx && ay === dy) || (bx === cx && by === cy) || (bx === dx && by === dy);
      if (s1 === 0 && s2 === 0) {
        // On one line: they cross if they share more than a point.
        const along = Math.abs(bx - ax) >= Math.abs(by - ay) ? 0 : 1;
        const lo = Math.max(Math.min(p[2 * i + along]!, p[2 * i2 + along]!), Math.min(p[2 * j + along]!, p[2 * j2 + along]!));
        const hi = Math.min(Math.max(p[2 * i + along]!, p[2 * i2 + along]!), Math.max(p[2 * j + along]!, p[2 * j2 + along]!));
        if (lo < hi) return i;
        continue;
      }
      if (!sharesEnd) return i;
    }
  }
  return -1;
}

/** Winding number of the outline round a point in grid units; 1 inside a clean region, 0 outside. O(n). */
export function computeWinding(o: Outline, x: number, y: number): number {
  let winding = 0;
  for (let i = 0; i < o.segmentCount; i++) {
    const j = o.next[i]!;
    const y0 = o.grid[2 * i + 1]!;
    const y1 = o.grid[2 * j + 1]!;
    if (y0 <= y === y1 <= y) continue;
    // robust-predicates: negative for counter-clockwise (a, b, c).
    const left = -orient2d(o.grid[2 * i]!, y0, o.grid[2 * j]!, y1, x, y);
    if (y1 > y0 && left > 0) winding++;
    else if (y1 < y0 && left < 0) winding--;
  }
  return winding;
}
