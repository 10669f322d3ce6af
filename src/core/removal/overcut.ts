import Flatbush from 'flatbush';
import type { Rings } from '../base/rings';
import type { Setup } from '../pipeline/setup';
import { TILE } from './tile';
import type { DepthField } from './field';
import { visitSpans } from './regions';

/** What is cut beside all that was to be cut. */
export interface Overcut {
  /** Farthest cell from the regions that is cut all the same, µm: the cut reaches at least as far. */
  leastUm: number;
  /** The same on to where the cell's wall comes to nothing, a cell at the most, µm. */
  reachUm: number;
  at: [number, number];
}

/** Less than this is not cut, mm. */
const CUT_MM = 1e-4;
/** How far the nearest outline is looked for, mm: what is cut farther away counts as so far. */
const FAR_MM = 3;
/** A wall less steep than this, depth over way, is no wall but a floor. */
const LEAST_SLOPE = 0.02;

/**
 * Farthest place from the regions that may be cut that is cut and lies outside all of them: the distance is to whichever region is
 * nearest, so that strokes which have run together do not mislead. What lies under the lines of other cuts is theirs.
 * @param allowed Regions on the sheet. @param lines Lines of cuts without an outline.
 * @param widestMm Half the width of the widest print beside a line of another cut.
 */
export function measureOvercut(
  { work }: Setup,
  allowed: readonly Rings[],
  lines: readonly Rings[],
  field: DepthField,
  widestMm: number,
): Overcut {
  const { grid } = field;
  const period = grid.closed ? grid.rows * grid.cellY : 0;
  const inside = new Map<number, Uint8Array>();
  for (const rings of allowed)
    visitSpans(rings, field, (r, first, last) => {
      const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
      for (let c = first; c <= last; c++) {
        const key = Math.floor(row / TILE) * grid.tilesAlong + Math.floor(c / TILE);
        let mask = inside.get(key);
        if (!mask) inside.set(key, (mask = new Uint8Array(TILE * TILE)));
        mask[(row % TILE) * TILE + (c % TILE)] = 1;
      }
    });
  const edges = new Edges(allowed, true, period);
  const others = lines.length > 0 ? new Edges(lines, false, period) : null;
  const metric = new Float64Array(3);
  const out: Overcut = { leastUm: 0, reachUm: 0, at: [0, 0] };
  const step = Math.min(grid.cellX, grid.cellY);
  const foot = new Float64Array(2);
  for (const tile of field.tiles) {
    const mask = inside.get(tile.key);
    const c0 = (tile.key % grid.tilesAlong) * TILE,
      r0 = Math.floor(tile.key / grid.tilesAlong) * TILE;
    for (let i = 0; i < tile.depth.length; i++) {
      const depth = tile.depth[i]!;
      if (!(depth > CUT_MM) || mask?.[i] || c0 + (i % TILE) >= grid.columns) continue;
      const x = field.cellX(c0 + (i % TILE)),
        y = field.cellY(r0 + Math.floor(i / TILE));
      work.metricInto(x, y, metric);
      const away = edges.distance(x, y, metric, FAR_MM, foot);
      const [fx, fy] = foot as unknown as [number, number];
      // The wall's slope over the cell before, on the way from the region.
      const scale = away > 0 ? step / away : 0;
      const before = field.depthAt(x - (x - fx) * scale, y - (y - fy) * scale);
      const slope = (before - depth) / step;
      const reach = away + (slope > LEAST_SLOPE ? Math.min(step, depth / slope) : step / 2);
      if (1000 * reach <= out.reachUm && 1000 * away <= out.leastUm) continue;
      if (others && others.distance(x, y, metric, widestMm + 2 * step, foot) < widestMm + 2 * step) continue;
      out.leastUm = Math.max(out.leastUm, 1000 * away);
      if (1000 * reach > out.reachUm) [out.reachUm, out.at] = [1000 * reach, [x, y]];
    }
  }
  return out;
}

/** Segments of rings or chains, asked for the nearest in the surface's own measure. */
class Edges {
  private readonly index: Flatbush;
  private readonly ends: Float64Array;

  constructor(
    parts: readonly Rings[],
    isClosed: boolean,
    private readonly periodMm: number,
  ) {
    const ends: number[] = [];
    for (const { xy, starts } of parts)
      for (let k = 0; k + 1 < starts.length; k++)
        for (let i = starts[k]!; i < starts[k + 1]!; i++) {
          const j = i + 1 < starts[k + 1]! ? i + 1 : isClosed ? starts[k]! : i;
          ends.push(xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!);
        }
    this.ends = Float64Array.from(ends);
    const n = ends.length / 4;
    this.index = new Flatbush(Math.max(1, n));
    for (let e = 0; e < 4 * n; e += 4) {
      const [ax, ay, bx, by] = ends.slice(e, e + 4) as [number, number, number, number];
      this.index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
    }
    // An index needs one box at least.
    if (n === 0) this.index.add(1e9, 1e9, 1e9, 1e9);
    this.index.finish();
  }

  /** Distance from a place to the nearest segment and its foot, mm by the metric there; `mostMm` where none is nearer. */
  distance(x: number, y: number, [e, f, g]: Float64Array, mostMm: number, foot: Float64Array): number {
    let least = mostMm;
    // Half the size of the box on the sheet that a circle of radius one on the surface fills.
    const det = e! * g! - f! * f!;
    const [spanX, spanY] = [Math.sqrt(g! / det), Math.sqrt(e! / det)];
    const turns = this.periodMm > 0 ? [0, this.periodMm, -this.periodMm] : [0];
    foot[0] = x;
    foot[1] = y;
    for (const turn of turns) {
      const py = y + turn;
      // Most places are near an outline: a small box first.
      for (const reach of [Math.min(least, 0.05 * mostMm), least]) {
        for (const i of this.index.search(x - reach * spanX, py - reach * spanY, x + reach * spanX, py + reach * spanY)) {
          const [ax, ay, bx, by] = [this.ends[4 * i]!, this.ends[4 * i + 1]!, this.ends[4 * i + 2]!, this.ends[4 * i + 3]!];
          const [ux, uy, px, pz] = [bx - ax, by - ay, x - ax, py - ay];
          const uu = e! * ux * ux + 2 * f! * ux * uy + g! * uy * uy;
          const up = e! * ux * px + f! * (ux * pz + uy * px) + g! * uy * pz;
          const t = uu > 0 ? Math.max(0, Math.min(1, up / uu)) : 0;
          const [dx, dy] = [px - t * ux, pz - t * uy];
          const d = Math.sqrt(Math.max(0, e! * dx * dx + 2 * f! * dx * dy + g! * dy * dy));
          if (d < least) {
            least = d;
            foot[0] = x - dx;
            foot[1] = y - dy;
          }
        }
        if (least <= reach) break;
      }
    }
    return least;
  }
}
