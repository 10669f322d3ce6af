import type { Surface } from '../surface/surface';
import type { CellGrid } from './cellGrid';
import { Kernel, type SweptSurface } from './kernel';
import { removeStretch } from './stretches';
import { FRAMES_BYTES, Tile, TILE, TILE_BYTES } from './tile';

/** What each motion took away, by the field. */
export interface Load {
  /** Depths summed over the cells that got deeper, mm. */
  taken: Float32Array;
  /** The most that one cell got deeper at once, mm. */
  most: Float32Array;
  /** That cell: place of its tile among the tiles times the cells of a tile, plus its own; -1 where nothing was taken. */
  cell: Int32Array;
}

export const createLoad = (motions: number): Load => ({
  taken: new Float32Array(motions),
  most: new Float32Array(motions),
  cell: new Int32Array(motions).fill(-1),
});

/** Tiles whose memory is taken at once. */
const SLAB_TILES = 32;
/** Room taken for a load, in its own size. */
const LOAD_ROOM = 1.5;
/** Rows that a footprint may have besides those of the sheet: it may reach beyond. */
const SPARE_ROWS = 256;

/** What is asked of a field cell by cell. */
export type Depths = Pick<DepthField, 'grid' | 'cellX' | 'cellY' | 'depthAt' | 'depthOf'>;

/** A field as it is seen from the floor of a pocket: what is gone above it is none of a cut's that is made in it. */
export const belowFloor = (field: Depths, floorMm: number): Depths =>
  floorMm === 0
    ? field
    : {
        grid: field.grid,
        cellX: (column) => field.cellX(column),
        cellY: (row) => field.cellY(row),
        depthAt: (x, y) => Math.max(0, field.depthAt(x, y) - floorMm),
        depthOf: (column, row) => Math.max(0, field.depthOf(column, row) - floorMm),
      };

/** Material missing below the sheet, in tiles that are made when they are first cut. */
export class DepthField {
  readonly tiles: Tile[] = [];
  readonly kernel: Kernel;
  /** Where keys go that motions would reach. */
  collected: Set<number> | null = null;
  private readonly slots: Int32Array;
  private readonly slotsAt: number;
  private slab = { at: 0, free: 0 };
  /** Tiles that have frames of their own. */
  private bent = 0;
  /** Whether the kernel knows the surface. */
  private isBound = false;
  private load: { at: number; room: number; count: number } = { at: 0, room: 0, count: 0 };

  constructor(
    readonly grid: CellGrid,
    private readonly surface: Pick<Surface, 'frameInto'>,
  ) {
    const count = grid.tilesAlong * grid.tilesRound;
    this.slots = new Int32Array(count).fill(-1);
    this.kernel = new Kernel({
      makeTile: (key) => this.touch(key % grid.tilesAlong, Math.floor(key / grid.tilesAlong)).at,
      removeUnder: (key, cell, inMm, outMm, motion) => removeStretch(this.tiles[this.slots[key]!]!, cell, inMm, outMm, motion),
      noteTile: (key, motion) => noteSpan(this.tiles[this.slots[key]!]!.spans, motion),
      collectKey: (key) => this.collected?.add(key),
    });
    this.kernel.onMove = () => this.tiles.forEach((t) => t.view());
    this.slotsAt = this.kernel.take(4 * count);
  }

  /** Says on which surface it is swept. */
  bind(surface: SweptSurface): void {
    const { kernel } = this;
    const rows = (this.grid.closed ? 2 : 1) * this.grid.rows + SPARE_ROWS;
    kernel.setGrid(this.grid, surface);
    // Another run on the same field has what it needs already.
    if (this.isBound) return;
    this.isBound = true;
    kernel.exports.setScratch(this.slotsAt, kernel.take(16 * rows), kernel.take(8 * rows), rows);
  }

  /** Lets the kernel add to a load; `takeLoad` has it back. */
  setLoad({ taken, most, cell }: Load): void {
    const count = taken.length;
    if (count > this.load.room) {
      // With room to spare: programs get longer block by block while words are typed, and nothing is given back.
      const room = Math.ceil(LOAD_ROOM * count);
      this.load = { at: this.kernel.take(12 * room), room, count };
    }
    this.load.count = count;
    const at = this.load.at >> 2;
    this.kernel.floats.set(taken, at);
    this.kernel.floats.set(most, at + count);
    this.kernel.ints.set(cell, at + 2 * count);
    this.kernel.exports.setLoad(4 * at, 4 * (at + count), 4 * (at + 2 * count));
  }

  takeLoad(): Load {
    const { at: bytes, count } = this.load;
    const at = bytes >> 2;
    this.kernel.exports.setLoad(0, 0, 0);
    const { floats, ints } = this.kernel;
    return {
      taken: floats.slice(at, at + count),
      most: floats.slice(at + count, at + 2 * count),
      cell: ints.slice(at + 2 * count, at + 3 * count),
    };
  }

  /** Bytes that the tiles take. */
  get bytes(): number {
    return this.tiles.length * TILE_BYTES + this.bent * FRAMES_BYTES;
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
    if (this.slab.free === 0) this.slab = { at: this.kernel.take(SLAB_TILES * TILE_BYTES), free: SLAB_TILES };
    const tile = new Tile(this.kernel, this.slab.at, key);
    this.slab.at += TILE_BYTES;
    this.slab.free--;
    this.slots[key] = this.tiles.length;
    this.kernel.ints[(this.slotsAt >> 2) + key] = tile.at;
    this.tiles.push(tile);
    // Last, since it may take memory, which moves the tiles that are known.
    this.placeTile(along, round, tile);
    return tile;
  }

  /** Says where a tile's cells lie: by the kernel, where it knows the surface in closed form. */
  private placeTile(along: number, round: number, tile: Tile): void {
    if (this.isBound && this.kernel.exports.fillRows(tile.rowsAt, tile.key)) return;
    const { cellX, cellY } = this.grid;
    const isStraight = tile.layRows(this.surface, this.cellX(along * TILE), this.cellY(round * TILE), cellX, cellY);
    if (!isStraight) this.bent++;
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
}

/** Notes a motion, which is no earlier than the last one or belongs to it. */
function noteSpan(spans: number[], motion: number): void {
  const end = spans.length - 1;
  if (end < 0 || motion > spans[end]! + 1) spans.push(motion, motion);
  else if (motion > spans[end]!) spans[end] = motion;
}
