import { TILE } from '../removal/tile';
import type { DepthField } from '../removal/field';

/** A depth map of the sheet: 16-bit grey, dark where nothing is cut. */
export interface DepthMap {
  widthCells: number;
  heightCells: number;
  /** Depth that the brightest value stands for, mm. */
  fullScaleMm: number;
  /** Sheet place of the low left edge of the picture, mm, and size of a cell. */
  x0Mm: number;
  y0Mm: number;
  cellMm: [number, number];
  /** Row by row, the highest sheet y first. */
  grey: Uint16Array;
}

/** Largest number of values in a map. */
const MAX_VALUES = 120e6;

/**
 * The part of a sheet that was cut, and one tile round it, as a depth map.
 * @returns Null if nothing was cut. O(cells of the box).
 */
export function toDepthMap(field: DepthField): DepthMap | null {
  const { grid, tiles } = field;
  if (tiles.length === 0) return null;
  let a0 = Infinity,
    a1 = 0,
    r0 = Infinity,
    r1 = 0,
    fullScaleMm = 0;
  for (const { key, depth } of tiles) {
    const a = key % grid.tilesAlong,
      r = Math.floor(key / grid.tilesAlong);
    [a0, a1, r0, r1] = [Math.min(a0, a), Math.max(a1, a), Math.min(r0, r), Math.max(r1, r)];
    for (const d of depth) if (d > fullScaleMm) fullScaleMm = d;
  }
  const widthCells = Math.min(grid.columns, (a1 + 1) * TILE) - a0 * TILE,
    heightCells = Math.min(grid.rows, (r1 + 1) * TILE) - r0 * TILE;
  if (widthCells * heightCells > MAX_VALUES) throw new RangeError('the depth map would be too large: take larger cells');
  const grey = new Uint16Array(widthCells * heightCells);
  for (const { key, depth } of tiles) {
    const c = ((key % grid.tilesAlong) - a0) * TILE,
      r = (Math.floor(key / grid.tilesAlong) - r0) * TILE;
    for (let i = 0; i < depth.length; i++) {
      const x = c + (i & (TILE - 1)),
        y = r + (i >> 5);
      if (x < widthCells && y < heightCells) {
        grey[(heightCells - 1 - y) * widthCells + x] = Math.round((65535 * depth[i]!) / (fullScaleMm || 1));
      }
    }
  }
  return {
    widthCells,
    heightCells,
    fullScaleMm,
    x0Mm: grid.minX + a0 * TILE * grid.cellX,
    y0Mm: grid.minY + r0 * TILE * grid.cellY,
    cellMm: [grid.cellX, grid.cellY],
    grey,
  };
}
