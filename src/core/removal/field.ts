import type { Surface } from '../surface/surface';

/** Cells along each side of a tile. */
export const TILE = 32;
export const TILE_CELLS = TILE * TILE;
/** Bytes that a touched tile takes: frames, depths, blocks. */
const TILE_BYTES = TILE_CELLS * (6 * 4 + 4 + 4);
/** A stretch of a ray that begins no deeper than this below what is gone already hangs together with it, mm. */
const JOINED_MM = 1e-4;

/** How the sheet is parted into cells, rows along x; on a closed blank the last row is followed by the first. */
export interface CellGrid {
  minX: number;
  minY: number;
  cellX: number;
  cellY: number;
  columns: number;
  rows: number;
  tilesAlong: number;
  tilesRound: number;
  /** Whether rows go on from the last to the first. */
  closed: boolean;
}

/** Cells of about a size, mm, so that a whole number of them goes round a closed blank. */
export function createCellGrid({ domain, periodMm }: Pick<Surface, 'domain' | 'periodMm'>, cellMm: number): CellGrid {
  const { minX, maxX, minY, maxY } = domain;
  const columns = Math.max(1, Math.ceil((maxX - minX) / cellMm - 1e-9));
  const spanY = periodMm ?? maxY - minY;
  const rows = Math.max(1, periodMm === null ? Math.ceil(spanY / cellMm - 1e-9) : Math.round(spanY / cellMm));
  return {
    minX,
    minY,
    cellX: (maxX - minX) / columns,
    cellY: spanY / rows,
    columns,
    rows,
    tilesAlong: Math.ceil(columns / TILE),
    tilesRound: Math.ceil(rows / TILE),
    closed: periodMm !== null,
  };
}

/** A touched part of the sheet, 32 × 32 cells, row by row along x. */
export interface Tile {
  /** Place among the tiles, along + round · tilesAlong. */
  key: number;
  /** Per cell the surface point and the unit outward normal at its middle. */
  frames: Float32Array;
  /** Material that is gone along each cell's ray, from the surface inwards without a gap, mm. */
  depth: Float32Array;
  /** Motion that made each cell as deep as it is, plus one; 0 where nothing was cut. */
  motion: Uint32Array;
  /** Stretches that are gone below what still stands: from, to in turn, by cell. */
  under: Map<number, number[]> | null;
  /** Whether it was cut since this was last put to false. */
  changed: boolean;
  /** Motions of the whole run that reached it: first and last of each stretch in turn. */
  spans: number[];
}

/** Cells to be asked, as runs within rows of tiles. Used again and again. */
export interface CellRuns {
  /** Number of runs. */
  count: number;
  /** Number of cells in all. */
  asked: number;
  tiles: Tile[];
  /** First and last cell of each run. */
  cells: Int32Array;
}

/** Tiles whose numbers lie in one piece of memory. */
const SLAB_TILES = 32;

/** Material missing below the sheet, in tiles that are made when they are first cut. */
export class DepthField {
  readonly tiles: Tile[] = [];
  private readonly slots: Int32Array;
  private readonly runs: CellRuns = { count: 0, asked: 0, tiles: [], cells: new Int32Array(1024) };
  private slab = { frames: new Float32Array(0), depth: new Float32Array(0), motion: new Uint32Array(0) };
  private readonly frame = new Float64Array(6);

  constructor(
    readonly grid: CellGrid,
    private readonly surface: Pick<Surface, 'frameInto'>,
  ) {
    this.slots = new Int32Array(grid.tilesAlong * grid.tilesRound).fill(-1);
  }

  /** Bytes that the tiles take. */
  get bytes(): number {
    return this.tiles.length * TILE_BYTES;
  }

  /** The tile at a place among the tiles, or null if nothing was ever cut there. */
  find(along: number, round: number): Tile | null {
    const slot = this.slots[along + round * this.grid.tilesAlong]!;
    return slot < 0 ? null : this.tiles[slot]!;
  }

  touch(along: number, round: number): Tile {
    const key = along + round * this.grid.tilesAlong;
    const slot = this.slots[key]!;
    if (slot >= 0) return this.tiles[slot]!;
    const place = this.tiles.length % SLAB_TILES;
    if (place === 0) {
      const cells = SLAB_TILES * TILE_CELLS;
      this.slab = { frames: new Float32Array(6 * cells), depth: new Float32Array(cells), motion: new Uint32Array(cells) };
    }
    const { slab } = this;
    const from = place * TILE_CELLS,
      to = from + TILE_CELLS;
    const tile: Tile = {
      key,
      frames: slab.frames.subarray(6 * from, 6 * to),
      depth: slab.depth.subarray(from, to),
      motion: slab.motion.subarray(from, to),
      under: null,
      changed: false,
      spans: [],
    };
    this.makeFrames(along, round, tile.frames);
    this.slots[key] = this.tiles.length;
    this.tiles.push(tile);
    return tile;
  }

  /**
   * The cells of rows, tiles made for them.
   * @param first Row that the spans begin with; on a closed blank rows go on from the last to the first.
   * @param count Rows.
   * @param spans First and last column of each row; nothing where the first is larger.
   * @param motion The motion that asks, for the tiles' spans; −1 where it is not to be noted.
   * @returns The same object every time.
   */
  touchRows(first: number, count: number, spans: Int32Array, motion: number): CellRuns {
    const { runs } = this;
    const { closed, rows } = this.grid;
    const { tiles } = runs;
    let k = 0,
      asked = 0;
    for (let line = 0; line < count; line++) {
      const to = spans[2 * line + 1]!;
      let c = spans[2 * line]!;
      if (c > to) continue;
      let row = first + line;
      if (row < 0 || row >= rows) {
        if (!closed) continue;
        row -= rows * Math.floor(row / rows);
      }
      asked += to - c + 1;
      const own = (row & 31) * TILE;
      for (; c <= to; k++) {
        const end = to < (c | 31) ? to : c | 31;
        if (2 * k + 2 > runs.cells.length) {
          const more = new Int32Array(2 * runs.cells.length);
          more.set(runs.cells);
          runs.cells = more;
        }
        const tile = this.touch(c >> 5, row >> 5);
        if (motion >= 0) noteSpan(tile.spans, motion);
        tiles[k] = tile;
        runs.cells[2 * k] = own + (c & 31);
        runs.cells[2 * k + 1] = own + (end & 31);
        c = end + 1;
      }
    }
    runs.count = k;
    runs.asked = asked;
    return runs;
  }

  /** Keys of the tiles that rows lie in, added to a set; none is made. As `touchRows`. */
  collectKeys(first: number, count: number, spans: Int32Array, out: Set<number>): void {
    const { closed, rows, tilesAlong } = this.grid;
    for (let line = 0; line < count; line++) {
      let row = first + line;
      if (row < 0 || row >= rows) {
        if (!closed) continue;
        row -= rows * Math.floor(row / rows);
      }
      const to = spans[2 * line + 1]!;
      for (let c = spans[2 * line]!; c <= to; c = (c | (TILE - 1)) + 1) out.add((c >> 5) + (row >> 5) * tilesAlong);
    }
  }

  /** Sheet place of the middle of a cell. */
  cellX = (column: number): number => this.grid.minX + (column + 0.5) * this.grid.cellX;
  cellY = (row: number): number => this.grid.minY + (row + 0.5) * this.grid.cellY;

  /** Depth at a sheet place, of the cell it lies in, mm; 0 outside the sheet. */
  depthAt(x: number, y: number): number {
    const found = this.locate(x, y);
    return found ? found.tile.depth[found.cell]! : 0;
  }

  /** Depth of a cell by its column and row, which go on round a closed blank, mm. */
  depthOf(column: number, row: number): number {
    const { rows, closed } = this.grid;
    const r = closed && (row < 0 || row >= rows) ? row - rows * Math.floor(row / rows) : row;
    const tile = this.find(column >> 5, r >> 5);
    return tile ? tile.depth[(r & 31) * TILE + (column & 31)]! : 0;
  }

  /** Whether a block of cells, ends included, lies in tiles that were never touched. */
  isWhole(c0: number, r0: number, c1: number, r1: number): boolean {
    const { rows, closed } = this.grid;
    for (let r = r0; ; r = Math.min(r1, r + TILE)) {
      const row = closed && (r < 0 || r >= rows) ? r - rows * Math.floor(r / rows) : r;
      for (let c = c0; ; c = Math.min(c1, c + TILE)) {
        if (this.find(c >> 5, row >> 5)) return false;
        if (c === c1) break;
      }
      if (r === r1) return true;
    }
  }

  /** The touched cell that a sheet place lies in, or null. */
  locate(x: number, y: number): { tile: Tile; cell: number } | null {
    const { minX, minY, cellX, cellY, columns, rows, closed } = this.grid;
    const c = Math.floor((x - minX) / cellX);
    let r = Math.floor((y - minY) / cellY);
    if (closed) r -= rows * Math.floor(r / rows);
    if (c < 0 || c >= columns || r < 0 || r >= rows) return null;
    const tile = this.find(c >> 5, r >> 5);
    return tile && { tile, cell: (r & 31) * TILE + (c & 31) };
  }

  /**
   * Frames of a tile's cells. Where rows or columns are straight with one normal, as on a plate, a cylinder, a cone or along the turn
   * of a profile, only their ends are asked for.
   */
  private makeFrames(along: number, round: number, out: Float32Array): void {
    const x0 = this.cellX(along * TILE),
      y0 = this.cellY(round * TILE);
    const { cellX, cellY } = this.grid;
    const { frame, surface } = this;
    const first = new Float64Array(6),
      last = new Float64Array(6);
    for (let r = 0; r < TILE; r++) {
      const y = y0 + r * cellY;
      surface.frameInto(x0, y, first);
      surface.frameInto(x0 + (TILE - 1) * cellX, y, last);
      surface.frameInto(x0 + ((TILE - 1) / 2) * cellX, y, frame);
      let straight = true;
      for (let k = 0; k < 6 && straight; k++) {
        straight = Math.abs(frame[k]! - (first[k]! + last[k]!) / 2) < 1e-9 && (k < 3 || Math.abs(first[k]! - last[k]!) < 1e-12);
      }
      if (straight) {
        const [x1, x2, x3, nx, ny, nz] = first as unknown as [number, number, number, number, number, number];
        const d1 = (last[0]! - x1) / (TILE - 1),
          d2 = (last[1]! - x2) / (TILE - 1),
          d3 = (last[2]! - x3) / (TILE - 1);
        for (let c = 0, o = 6 * r * TILE; c < TILE; c++, o += 6) {
          out[o] = x1 + c * d1;
          out[o + 1] = x2 + c * d2;
          out[o + 2] = x3 + c * d3;
          out[o + 3] = nx;
          out[o + 4] = ny;
          out[o + 5] = nz;
        }
        continue;
      }
      for (let c = 0, o = 6 * r * TILE; c < TILE; c++, o += 6) {
        surface.frameInto(x0 + c * cellX, y, frame);
        for (let k = 0; k < 6; k++) out[o + k] = frame[k]!;
      }
    }
  }
}

/** Notes a motion, which is no earlier than the last one or belongs to it. */
function noteSpan(spans: number[], motion: number): void {
  const end = spans.length - 1;
  if (end < 0 || motion > spans[end]! + 1) spans.push(motion, motion);
  else if (motion > spans[end]!) spans[end] = motion;
}

/**
 * Takes the stretch from `inMm` to `outMm` of a cell's ray away. What hangs together with the surface is the depth; the rest is kept
 * until what stands above it goes.
 * @returns By how much the cell got deeper, mm.
 */
export function removeStretch(tile: Tile, cell: number, inMm: number, outMm: number, motion: number): number {
  const depth = tile.depth[cell]!;
  if (outMm <= depth) return 0;
  if (inMm > depth + JOINED_MM) {
    tile.under ??= new Map();
    const list = tile.under.get(cell);
    if (list) addStretch(list, inMm, outMm);
    else tile.under.set(cell, [inMm, outMm]);
    return 0;
  }
  let deep = outMm;
  const list = tile.under?.get(cell);
  if (list) {
    for (let again = true; again;) {
      again = false;
      for (let k = 0; k < list.length; k += 2) {
        if (list[k]! > deep + JOINED_MM) continue;
        deep = Math.max(deep, list[k + 1]!);
        list.splice(k, 2);
        again = true;
        break;
      }
    }
    if (list.length === 0) tile.under!.delete(cell);
  }
  tile.depth[cell] = deep;
  tile.motion[cell] = motion + 1;
  tile.changed = true;
  return deep - depth;
}

/** Puts a stretch into a list of stretches, those that meet made one. */
function addStretch(list: number[], from: number, to: number): void {
  let [lo, hi] = [from, to];
  for (let k = list.length - 2; k >= 0; k -= 2) {
    if (list[k]! > hi || list[k + 1]! < lo) continue;
    lo = Math.min(lo, list[k]!);
    hi = Math.max(hi, list[k + 1]!);
    list.splice(k, 2);
  }
  list.push(lo, hi);
}
