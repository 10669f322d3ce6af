import { TILE } from '../../../core/removal/tile';
import { PICTURE, PICTURE_CELLS } from '../../../core/removal/relief';
import type { InscriptionArtwork } from '../../../core/lettering/artwork';
import type { Surface } from '../../../core/surface/surface';
import type { Piece } from '../../state/piece';

export interface SheetLine {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** A cut through the piece along a line of the sheet, true to scale: the line's ends are level, outward is up. */
export interface Section {
  /** Skin and cut, u along the chord between the ends and v outward, mm: pairs, point for point. */
  skin: Float64Array;
  cut: Float64Array;
  /** Length along the surface, mm, point for point, and depth there. */
  alongMm: Float64Array;
  depthMm: Float64Array;
  /** Stretches of the line that are cut, and that lie in drawn areas: from and to, mm along the surface. */
  cutSpans: [number, number][];
  drawnSpans: [number, number][];
  deepestMm: number;
}

/** Points along a section. */
const STEPS = 1200;
const CUT_MM = 2e-4;

/** Depth of the piece at a sheet place, between four cells, mm. */
export function depthOf({ grid, slots, depth }: Pick<Piece, 'grid' | 'slots' | 'depth'>, x: number, y: number): number {
  const fx = (x - grid.minX) / grid.cellX - 0.5,
    fy = (y - grid.minY) / grid.cellY - 0.5;
  const cx = Math.floor(fx),
    cy = Math.floor(fy);
  const at = (c: number, r: number): number => {
    const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
    if (c < 0 || c >= grid.columns || row < 0 || row >= grid.rows) return 0;
    const slot = slots.get((c >> 5) + (row >> 5) * grid.tilesAlong);
    return slot === undefined ? 0 : depth[PICTURE_CELLS * slot + ((row & (TILE - 1)) + 1) * PICTURE + (c & (TILE - 1)) + 1]!;
  };
  const tx = fx - cx,
    ty = fy - cy;
  return (1 - ty) * ((1 - tx) * at(cx, cy) + tx * at(cx + 1, cy)) + ty * ((1 - tx) * at(cx, cy + 1) + tx * at(cx + 1, cy + 1));
}

/** Cuts the piece along a line of the sheet. O(points + outline). */
export function computeSection(line: SheetLine, piece: Piece, surface: Surface, artworks: readonly InscriptionArtwork[]): Section {
  const n = STEPS + 1;
  const points = new Float64Array(6 * n);
  const f = new Float64Array(6);
  const at = (k: number): [number, number] => [line.x0 + (k / STEPS) * (line.x1 - line.x0), line.y0 + (k / STEPS) * (line.y1 - line.y0)];
  const alongMm = new Float64Array(n),
    depthMm = new Float64Array(n);
  for (let k = 0; k < n; k++) {
    const [x, y] = at(k);
    surface.frameInto(x, y, f);
    points.set(f, 6 * k);
    depthMm[k] = depthOf(piece, x, y);
    if (k > 0) {
      const o = 6 * k;
      alongMm[k] =
        alongMm[k - 1]! + Math.hypot(points[o]! - points[o - 6]!, points[o + 1]! - points[o - 5]!, points[o + 2]! - points[o - 4]!);
    }
  }
  // The plane of the picture: along the chord, and the middle's normal made square to it.
  const end = 6 * STEPS,
    mid = 6 * (STEPS >> 1);
  const chord = [0, 1, 2].map((k) => points[end + k]! - points[k]!);
  const l = Math.hypot(...chord) || 1;
  const u = chord.map((v) => v / l);
  const normal = [0, 1, 2].map((k) => points[mid + 3 + k]!);
  const lean = normal.reduce((sum, v, k) => sum + v * u[k]!, 0);
  const up = normal.map((v, k) => v - lean * u[k]!);
  const h = Math.hypot(...up) || 1;
  const skin = new Float64Array(2 * n),
    cut = new Float64Array(2 * n);
  for (let k = 0; k < n; k++) {
    for (const [out, depth] of [
      [skin, 0],
      [cut, depthMm[k]!],
    ] as const) {
      const p = [0, 1, 2].map((j) => points[6 * k + j]! - depth * points[6 * k + 3 + j]! - points[j]!);
      out[2 * k] = p.reduce((sum, v, j) => sum + v * u[j]!, 0);
      out[2 * k + 1] = p.reduce((sum, v, j) => sum + (v * up[j]!) / h, 0);
    }
  }
  const lengthMm = alongMm[STEPS]!;
  const cutSpans = findSpans(alongMm, (k) => depthMm[k]! > CUT_MM);
  const drawnSpans = findCrossings(line, artworks, surface.periodMm).map(([a, b]): [number, number] => [a * lengthMm, b * lengthMm]);
  return { skin, cut, alongMm, depthMm, cutSpans, drawnSpans, deepestMm: depthMm.reduce((a, b) => Math.max(a, b), 0) };
}

function findSpans(at: Float64Array, holds: (k: number) => boolean): [number, number][] {
  const out: [number, number][] = [];
  let from = -1;
  for (let k = 0; k < at.length; k++) {
    if (holds(k) && from < 0) from = k;
    if (from >= 0 && (!holds(k) || k + 1 === at.length)) {
      // Half a step either way: the ends lie between two points.
      const lo = from > 0 ? (at[from]! + at[from - 1]!) / 2 : at[from]!;
      const hi = holds(k) ? at[k]! : (at[k]! + at[k - 1]!) / 2;
      out.push([lo, hi]);
      from = -1;
    }
  }
  return out;
}

/** Stretches of a line that lie in areas of lettering, as shares of it; by the crossings with outlines, even and odd. */
export function findCrossings(line: SheetLine, artworks: readonly InscriptionArtwork[], periodMm: number | null): [number, number][] {
  const out: [number, number][] = [];
  const { x0, y0, x1, y1 } = line;
  const [dx, dy] = [x1 - x0, y1 - y0];
  const images = periodMm === null ? [0] : [-periodMm, 0, periodMm];
  for (const { regions } of artworks) {
    const { xy, starts } = regions;
    for (const shift of images) {
      const hits: number[] = [];
      for (let r = 0; r + 1 < starts.length; r++) {
        const [first, last] = [starts[r]!, starts[r + 1]!];
        for (let i = first; i < last; i++) {
          const j = i + 1 < last ? i + 1 : first;
          const [ax, ay, bx, by] = [xy[2 * i]!, xy[2 * i + 1]! + shift, xy[2 * j]!, xy[2 * j + 1]! + shift];
          // Sides of the line; a corner on it counts with one of them.
          const a = dx * (ay - y0) - dy * (ax - x0),
            b = dx * (by - y0) - dy * (bx - x0);
          if (a >= 0 === b >= 0) continue;
          const t = a / (a - b);
          const [px, py] = [ax + t * (bx - ax), ay + t * (by - ay)];
          hits.push(((px - x0) * dx + (py - y0) * dy) / (dx * dx + dy * dy));
        }
      }
      hits.sort((p, q) => p - q);
      for (let k = 0; k + 1 < hits.length; k += 2) {
        const [from, to] = [Math.max(0, hits[k]!), Math.min(1, hits[k + 1]!)];
        if (from < to) out.push([from, to]);
      }
    }
  }
  return out.sort((p, q) => p[0] - q[0]);
}
