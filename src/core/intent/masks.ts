import type { Rings } from '../base/rings';
import type { Work } from '../machine/stance';
import type { CellGrid } from '../removal/cellGrid';
import { TILE, TILE_CELLS } from '../removal/tile';

/** Cells whose middles lie inside rings (even–odd), tile by tile; rows go on round a closed blank. O(edges · rows they cross + cells). */
export function fillMask({ xy, starts }: Rings, grid: CellGrid): Map<number, Uint8Array> {
  const crossings = new Map<number, number[]>();
  for (let k = 0; k + 1 < starts.length; k++) {
    const [from, to] = [starts[k]!, starts[k + 1]!];
    for (let i = from; i < to; i++) {
      const j = i + 1 < to ? i + 1 : from;
      const [ax, ay, bx, by] = [xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!];
      if (ay === by) continue;
      // Rows whose middles lie in [low, high).
      const first = Math.ceil((Math.min(ay, by) - grid.minY) / grid.cellY - 0.5),
        last = Math.ceil((Math.max(ay, by) - grid.minY) / grid.cellY - 0.5);
      for (let row = first; row < last; row++) {
        const x = ax + ((grid.minY + (row + 0.5) * grid.cellY - ay) / (by - ay)) * (bx - ax);
        const list = crossings.get(row);
        if (list) list.push(x);
        else crossings.set(row, [x]);
      }
    }
  }
  const out = new Map<number, Uint8Array>();
  for (const [r, xs] of crossings) {
    const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
    if (row < 0 || row >= grid.rows) continue;
    xs.sort((a, b) => a - b);
    for (let k = 0; k + 1 < xs.length; k += 2) {
      const c0 = Math.max(0, Math.ceil((xs[k]! - grid.minX) / grid.cellX - 0.5)),
        c1 = Math.min(grid.columns - 1, Math.ceil((xs[k + 1]! - grid.minX) / grid.cellX - 0.5) - 1);
      for (let c = c0; c <= c1; c++) {
        const key = Math.floor(c / TILE) + Math.floor(row / TILE) * grid.tilesAlong;
        let mask = out.get(key);
        if (!mask) out.set(key, (mask = new Uint8Array(TILE_CELLS)));
        mask[(row % TILE) * TILE + (c % TILE)] = 1;
      }
    }
  }
  return out;
}

/** Tiles within a distance of lines, mm on the surface; each line is x, y in turn. O(length / tile). */
export function nearTiles(lines: readonly Float64Array[], reachMm: number, grid: CellGrid, work: Pick<Work, 'metricInto'>): Set<number> {
  const out = new Set<number>();
  const [wide, high] = [TILE * grid.cellX, TILE * grid.cellY];
  const metric = new Float64Array(3);
  const mark = (x: number, y: number): void => {
    work.metricInto(x, y, metric);
    const [e, f, g] = metric as unknown as [number, number, number];
    const det = Math.max(1e-9, e * g - f * f);
    const [spanX, spanY] = [1.1 * reachMm * Math.sqrt(g / det) + grid.cellX, 1.1 * reachMm * Math.sqrt(e / det) + grid.cellY];
    const a0 = Math.max(0, Math.floor((x - spanX - grid.minX) / wide)),
      a1 = Math.min(grid.tilesAlong - 1, Math.floor((x + spanX - grid.minX) / wide));
    const r0 = Math.floor((y - spanY - grid.minY) / grid.cellY),
      r1 = Math.floor((y + spanY - grid.minY) / grid.cellY);
    for (let r = r0; ; r = Math.min(r1, r + TILE)) {
      const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
      if (row >= 0 && row < grid.rows) for (let a = a0; a <= a1; a++) out.add(a + Math.floor(row / TILE) * grid.tilesAlong);
      if (r === r1) break;
    }
  };
  const step = Math.min(wide, high) / 2;
  for (const xy of lines) {
    for (let i = 0; i + 3 < xy.length; i += 2) {
      const [ax, ay, bx, by] = [xy[i]!, xy[i + 1]!, xy[i + 2]!, xy[i + 3]!];
      const parts = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / step));
      for (let k = 0; k <= parts; k++) mark(ax + (k / parts) * (bx - ax), ay + (k / parts) * (by - ay));
    }
  }
  return out;
}
