import { TILE, type Tile } from './tile';
import type { DepthField } from './field';

/** Side of a tile's picture: its cells, and one of each neighbour round them. */
export const PICTURE = TILE + 2;
export const PICTURE_CELLS = PICTURE * PICTURE;
/** A cell cut less deep than this counts as whole, mm; above the second it is cut altogether. */
const UNCUT_MM = 1e-4;
const CUT_MM = 0.004;
/** A look that leans nowhere, whole: 127 for x and y in the lowest bytes. */
const LEVEL = 127 | (127 << 8);

/** What a tile looks like: all the views draw from this. */
export interface TilePicture {
  /**
   * Per cell of the picture, row by row: x and y of the relief's normal in the surface's frame (−1 to 1 as 0 to 255), cut or not, and
   * the share of the greatest depth.
   */
  look: Uint8Array;
  /** Depth of each cell, mm. */
  depth: Float32Array;
}

/**
 * Draws tiles: the relief's own normals against the surface's frame (along the sheet's x, square to it, outward).
 * @param deepestMm Depth that the share 255 stands for, mm. O(cells).
 */
export class ReliefPainter {
  private readonly depths = new Float32Array((PICTURE + 2) * (PICTURE + 2));

  constructor(private readonly field: DepthField) {}

  paint(tile: Tile, deepestMm: number, look: Uint8Array, depth: Float32Array): void {
    const { grid } = this.field;
    const side = PICTURE + 2;
    const along = tile.key % grid.tilesAlong,
      round = Math.floor(tile.key / grid.tilesAlong);
    this.gather(along, round);
    const d = this.depths;
    // Slopes of the relief over true lengths: along a tile they hardly change.
    const [stepX, stepY] = tile.getSteps();
    const perX = 0.5 / (stepX || 1),
      perY = 0.5 / (stepY || 1);
    const perDepth = 255 / (deepestMm || 1);
    const words = new Uint32Array(look.buffer, look.byteOffset, PICTURE_CELLS);
    for (let r = 0; r < PICTURE; r++) {
      for (let c = 0, here = (r + 1) * side + 1, i = r * PICTURE; c < PICTURE; c++, here++, i++) {
        const own = d[here]!;
        const dx = d[here + 1]! - d[here - 1]!,
          dy = d[here + side]! - d[here - side]!;
        depth[i] = own;
        let word = LEVEL;
        if (dx !== 0 || dy !== 0) {
          const sx = dx * perX,
            sy = dy * perY;
          const l = 127.5 / Math.sqrt(1 + sx * sx + sy * sy);
          word = (127.5 + sx * l) | ((127.5 + sy * l) << 8);
        }
        if (own > UNCUT_MM) {
          const cut = own >= CUT_MM ? 255 : ((255 / (CUT_MM - UNCUT_MM)) * (own - UNCUT_MM)) | 0;
          const share = own * perDepth;
          word |= (cut << 16) | ((share < 255 ? share : 255) << 24);
        }
        words[i] = word;
      }
    }
  }

  /** Depths of a tile with two cells of its neighbours round it. */
  private gather(along: number, round: number): void {
    const { grid } = this.field;
    const side = PICTURE + 2;
    const d = this.depths;
    d.fill(0);
    for (let j = -1; j <= 1; j++) {
      for (let i = -1; i <= 1; i++) {
        const a = along + i;
        if (a < 0 || a >= grid.tilesAlong) continue;
        // Over the seam the last tile of a turn may be a part of one: cells are taken by their own rows there.
        this.copy(a, round + j, i, j, side);
      }
    }
  }

  private copy(a: number, b: number, i: number, j: number, side: number): void {
    const { grid } = this.field;
    const d = this.depths;
    const r0 = j < 0 ? TILE - 2 : 0,
      r1 = j > 0 ? 2 : TILE;
    const c0 = i < 0 ? TILE - 2 : 0,
      c1 = i > 0 ? 2 : TILE;
    let round = -1;
    let tile: Tile | null = null;
    for (let r = r0; r < r1; r++) {
      let row = b * TILE + r;
      if (grid.closed) {
        // Rows past the last go on with the first; a neighbour's rows count from this tile's.
        if (row < 0) row += grid.rows;
        else if (row >= grid.rows) row -= grid.rows;
      } else if (row < 0 || row >= grid.rows) continue;
      if (row >> 5 !== round) {
        round = row >> 5;
        tile = this.field.find(a, round);
      }
      if (!tile) continue;
      const { depth } = tile;
      const from = (row & 31) * TILE,
        to = (r + j * TILE + 2) * side + i * TILE + 2;
      for (let c = c0; c < c1; c++) d[to + c] = depth[from + c]!;
    }
  }
}
