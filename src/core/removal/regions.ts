import { getRing, type Rings } from '../base/rings';
import type { InscriptionArtwork } from '../lettering/artwork';
import type { Setup } from '../pipeline/setup';
import type { Depths } from './field';

/** What of an inscription's regions is not cut, or cut through, found cell by cell. */
export interface RegionCover {
  /** Area of the regions, and of what of them is not cut, true on the surface, mm². */
  areaMm2: number;
  unreachedMm2: number;
  /** Letters that are cut through what lies under the surface, by their place in the inscription; −1 for what is no letter's. */
  through: Set<number>;
}

/** Sharp corners of outlines: how far from each the cut comes to its end. */
export interface CornerCover {
  count: number;
  /** Farthest from a corner to what is cut, along the line that halves it, µm. */
  maxShortUm: number;
  at: [number, number];
}

const CUT_MM = 1e-4;
/** An outline that turns by more than this at one place has a corner there. */
const CORNER_RAD = (40 * Math.PI) / 180;
/** A corner is sought that far in, mm. */
const CORNER_REACH_MM = 1;

/** Letter of an inscription that a place lies in: the smallest box that holds it, or −1. */
export function findLetter({ letters }: InscriptionArtwork, x: number, y: number): number {
  let found = -1,
    least = Infinity;
  for (const [i, { box: b }] of letters.entries()) {
    if (x < b.minX || x > b.maxX || y < b.minY || y > b.maxY) continue;
    const size = (b.maxX - b.minX) * (b.maxY - b.minY);
    if (size < least) [found, least] = [i, size];
  }
  return found;
}

/** Goes over rows of cells whose middles lie inside rings: row, going on round a closed blank, first and last column. O(rows · edges). */
export function visitSpans(rings: Rings, field: Depths, visit: (row: number, first: number, last: number) => void): void {
  const { grid } = field;
  const { xy } = rings;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 1; i < xy.length; i += 2) [low, high] = [Math.min(low, xy[i]!), Math.max(high, xy[i]!)];
  const first = Math.ceil((low - grid.minY) / grid.cellY - 0.5),
    last = Math.floor((high - grid.minY) / grid.cellY - 0.5);
  const edges = listEdges(rings);
  for (let r = first; r <= last; r++) {
    const y = field.cellY(r);
    const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
    if (row < 0 || row >= grid.rows) continue;
    const meets: number[] = [];
    for (let e = 0; e < edges.length; e += 4) {
      const [ax, ay, bx, by] = [edges[e]!, edges[e + 1]!, edges[e + 2]!, edges[e + 3]!];
      if (ay > y !== by > y) meets.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
    }
    meets.sort((a, b) => a - b);
    for (let k = 0; k + 1 < meets.length; k += 2) {
      const c0 = Math.max(0, Math.ceil((meets[k]! - grid.minX) / grid.cellX - 0.5)),
        c1 = Math.min(grid.columns - 1, Math.floor((meets[k + 1]! - grid.minX) / grid.cellX - 0.5));
      if (c0 <= c1) visit(r, c0, c1);
    }
  }
}

/** Goes over the cells whose middles lie inside an inscription's regions. O(rows · edges + cells). */
export function measureRegions({ work }: Pick<Setup, 'work'>, art: InscriptionArtwork, field: Depths): RegionCover {
  const metric = new Float64Array(3);
  const cover: RegionCover = { areaMm2: 0, unreachedMm2: 0, through: new Set() };
  const cell = field.grid.cellX * field.grid.cellY;
  visitSpans(art.regions, field, (row, first, last) => {
    const y = field.cellY(row);
    for (let c = first; c <= last; c++) {
      const x = field.cellX(c);
      const depth = field.depthOf(c, row);
      work.metricInto(x, y, metric);
      const area = cell * Math.sqrt(Math.max(0, metric[0]! * metric[2]! - metric[1]! * metric[1]!));
      cover.areaMm2 += area;
      if (!(depth > CUT_MM)) cover.unreachedMm2 += area;
      else if (depth > work.wallAt(x, y)) cover.through.add(findLetter(art, x, y));
    }
  });
  return cover;
}

/** Edges of rings as x, y, x, y, by their lower ends. */
function listEdges({ xy, starts }: Rings): Float64Array {
  const out = new Float64Array(2 * xy.length);
  for (let k = 0, e = 0; k + 1 < starts.length; k++) {
    for (let i = starts[k]!; i < starts[k + 1]!; i++, e += 4) {
      const j = i + 1 < starts[k + 1]! ? i + 1 : starts[k]!;
      out.set([xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!], e);
    }
  }
  return out;
}

/** Adds an inscription's sharp corners, region on the left of its rings. O(corners · reach / cell). */
export function measureCorners(art: InscriptionArtwork, field: Depths, cover: CornerCover): void {
  const step = Math.min(field.grid.cellX, field.grid.cellY) / 2;
  for (let k = 0; k + 1 < art.regions.starts.length; k++) {
    const ring = getRing(art.regions, k);
    const n = ring.length / 2;
    for (let i = 0; i < n; i++) {
      const h = (i + n - 1) % n,
        j = (i + 1) % n;
      const [ax, ay] = [ring[2 * i]! - ring[2 * h]!, ring[2 * i + 1]! - ring[2 * h + 1]!],
        [bx, by] = [ring[2 * j]! - ring[2 * i]!, ring[2 * j + 1]! - ring[2 * i + 1]!];
      // A turn to the left is a corner that stands out of the region.
      if (!(Math.atan2(ax * by - ay * bx, ax * bx + ay * by) > CORNER_RAD)) continue;
      const [la, lb] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
      const [ux, uy] = [bx / lb - ax / la, by / lb - ay / la];
      const l = Math.hypot(ux, uy) || 1;
      const [x, y] = [ring[2 * i]!, ring[2 * i + 1]!];
      let s = 0;
      while (s < CORNER_REACH_MM && !(field.depthAt(x + (s * ux) / l, y + (s * uy) / l) > CUT_MM)) s += step;
      cover.count++;
      if (1000 * s > cover.maxShortUm) {
        cover.maxShortUm = 1000 * s;
        cover.at = [x, y];
      }
    }
  }
}
