import { GRID_MM } from '../base/boolean';
import { splitComponents } from '../base/components';
import { getRing, packRings, type Rings } from '../base/rings';
import type { Work } from '../machine/stance';
import { toRings, type Outline } from '../medial/outline';

/**
 * A connected piece of lettering, moved so that equal pieces become equal numbers: rings begin at their lowest vertex and
 * stand in order, and `dxMm, dyMm` lead from here back to the sheet.
 */
export interface Piece {
  rings: Rings;
  dxMm: number;
  dyMm: number;
  /** Equal for equal pieces. */
  key: string;
}

/**
 * Parts an outline into its pieces. What lies inside a piece has no other boundary nearer than the piece's own, so each
 * can be carved alone, and equal ones once.
 * @param movable Which way pieces may be moved to the origin; else they stay, and only a piece in the same place is equal.
 * O(n log n).
 */
export function splitPieces(o: Outline, movable: Work['homogeneous']): Piece[] {
  return splitComponents(toRings(o)).map((component) => {
    const grids: Int32Array[] = [];
    let originX = Infinity,
      originY = Infinity;
    for (let k = 0; k + 1 < component.starts.length; k++) {
      const grid = Int32Array.from(getRing(component, k), (v) => Math.round(v / GRID_MM));
      grids.push(grid);
      for (let i = 0; i < grid.length; i += 2) {
        originX = Math.min(originX, grid[i]!);
        originY = Math.min(originY, grid[i + 1]!);
      }
    }
    if (movable !== 'everywhere') originX = 0;
    if (movable === 'nowhere') originY = 0;
    const rings = grids
      .map((grid) => fromLowest(grid, originX, originY))
      .sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]! || a.length - b.length);
    return {
      rings: packRings(rings.map((grid) => Float64Array.from(grid, (v) => v * GRID_MM))),
      dxMm: originX * GRID_MM,
      dyMm: originY * GRID_MM,
      key: rings.map((grid) => grid.join()).join(';'),
    };
  });
}

/** The ring from its lexicographically lowest vertex on, measured from an origin. */
function fromLowest(grid: Int32Array, originX: number, originY: number): Int32Array {
  let low = 0;
  for (let i = 2; i < grid.length; i += 2) {
    if (grid[i]! < grid[low]! || (grid[i] === grid[low] && grid[i + 1]! < grid[low + 1]!)) low = i;
  }
  const out = new Int32Array(grid.length);
  for (let i = 0; i < grid.length; i += 2) {
    const j = (low + i) % grid.length;
    out[i] = grid[j]! - originX;
    out[i + 1] = grid[j + 1]! - originY;
  }
  return out;
}
