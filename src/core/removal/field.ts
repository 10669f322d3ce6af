import type { Surface } from '../surface/surface';
import { Kernel, type SweptSurface } from './kernel';

/** Cells along each side of a tile. */
export const TILE = 32;
export const TILE_CELLS = TILE * TILE;
/** Bytes of the frames of a tile that is not straight. */
const FRAMES_BYTES = 24 * TILE_CELLS;
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

/** How a tile lies in memory, by struct Tile of the kernel: bytes. */
const UNDER_AT = 4,
  CHANGED_AT = 8,
  NOTED_AT = 12,
  FRAMES_AT = 16,
  ROWS_AT = 24,
  ROW_NUMBERS = 9,
  DEPTH_AT = ROWS_AT + 8 * ROW_NUMBERS * TILE,
  MOTION_AT = DEPTH_AT + 4 * TILE_CELLS,
  TILE_BYTES = MOTION_AT + 4 * TILE_CELLS;

const shownFrames = new Float32Array(6 * TILE_CELLS);

/** A touched part of the sheet, 32 × 32 cells, row by row along x. What it holds lies in the kernel's memory. */
export class Tile {
  /** Material that is gone along each cell's ray, from the surface inwards without a gap, mm. */
  depth!: Float32Array;
  /** Motion that made each cell as deep as it is, plus one; 0 where nothing was cut. */
  motion!: Uint32Array;
  /** Motions of the whole run that reached it: first and last of each stretch in turn. */
  readonly spans: number[] = [];
  private stretches: Map<number, number[]> | null = null;

  constructor(
    private readonly kernel: Kernel,
    /** Where it lies. */
    readonly at: number,
    /** Place among the tiles, along + round · tilesAlong. */
    readonly key: number,
  ) {
    kernel.ints[at >> 2] = key;
    this.view();
    this.forgetNoted();
  }

  /** Looks at the memory, which may have moved. */
  view(): void {
    const { buffer } = this.kernel.ints;
    this.depth = new Float32Array(buffer, this.at + DEPTH_AT, TILE_CELLS);
    this.motion = new Uint32Array(buffer, this.at + MOTION_AT, TILE_CELLS);
  }

  /**
   * Per cell the surface point and the unit outward normal at its middle.
   * @returns Good until this is asked of any tile again.
   */
  getFrames(): Float32Array {
    const { ints, doubles } = this.kernel;
    const frames = ints[(this.at + FRAMES_AT) >> 2]!;
    if (frames !== 0) return new Float32Array(ints.buffer, frames, 6 * TILE_CELLS);
    for (let r = 0; r < TILE; r++) {
      const row = ((this.at + ROWS_AT) >> 3) + ROW_NUMBERS * r;
      for (let c = 0, o = 6 * r * TILE; c < TILE; c++, o += 6) {
        for (let k = 0; k < 3; k++) {
          shownFrames[o + k] = doubles[row + k]! + c * doubles[row + 3 + k]!;
          shownFrames[o + 3 + k] = doubles[row + 6 + k]!;
        }
      }
    }
    return shownFrames;
  }

  /** Mean distance between neighbouring cells of the tile along the sheet's x, and square to it, mm on the surface. */
  getSteps(): [number, number] {
    const { ints, doubles } = this.kernel;
    const own = ints[(this.at + FRAMES_AT) >> 2]!;
    const f = own !== 0 ? new Float32Array(ints.buffer, own, 6 * TILE_CELLS) : null;
    const rows = (this.at + ROWS_AT) >> 3;
    const at = (r: number, c: number, k: number): number =>
      f ? f[6 * (r * TILE + c) + k]! : doubles[rows + ROW_NUMBERS * r + k]! + c * doubles[rows + ROW_NUMBERS * r + 3 + k]!;
    const [half, last] = [TILE / 2, TILE - 1];
    // By halves, since round a small blank a tile's chord is clearly shorter than its way.
    const apart = (r0: number, c0: number, r1: number, c1: number): number =>
      Math.hypot(at(r1, c1, 0) - at(r0, c0, 0), at(r1, c1, 1) - at(r0, c0, 1), at(r1, c1, 2) - at(r0, c0, 2));
    return [
      (apart(half, 0, half, half) + apart(half, half, half, last)) / last,
      (apart(0, half, half, half) + apart(half, half, last, half)) / last,
    ];
  }

  /** Stretches that are gone below what still stands: from, to in turn, by cell. */
  get under(): Map<number, number[]> | null {
    return this.stretches;
  }
  set under(stretches: Map<number, number[]> | null) {
    this.stretches = stretches;
    this.kernel.ints[(this.at + UNDER_AT) >> 2] = stretches ? 1 : 0;
  }

  /** Whether it was cut since this was last put to false. */
  get changed(): boolean {
    return this.kernel.ints[(this.at + CHANGED_AT) >> 2] !== 0;
  }
  set changed(changed: boolean) {
    this.kernel.ints[(this.at + CHANGED_AT) >> 2] = Number(changed);
  }

  /** The next motion that reaches it is noted, whatever its number. */
  forgetNoted(): void {
    this.kernel.ints[(this.at + NOTED_AT) >> 2] = -1;
  }

  /** Puts it back to where nothing was cut. */
  clear(): void {
    this.depth.fill(0);
    this.motion.fill(0);
    this.under = null;
  }
}

/** Tiles whose memory is taken at once. */
const SLAB_TILES = 32;
/** Room taken for a load, in its own size. */
const LOAD_ROOM = 1.5;
/** Rows that a footprint may have besides those of the sheet: it may reach beyond. */
const SPARE_ROWS = 256;

/** Material missing below the sheet, in tiles that are made when they are first cut. */
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

export class DepthField {
  readonly tiles: Tile[] = [];
  readonly kernel: Kernel;
  /** Where keys go that motions would reach. */
  collected: Set<number> | null = null;
  private readonly slots: Int32Array;
  private readonly slotsAt: number;
  private readonly frame = new Float64Array(6);
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
    this.makeFrames(along, round, tile);
    return tile;
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

  /** Gives a tile its rows, or where they are not all straight with one normal each, frames of its cells. */
  private makeFrames(along: number, round: number, tile: Tile): void {
    const x0 = this.cellX(along * TILE),
      y0 = this.cellY(round * TILE);
    const { cellX, cellY } = this.grid;
    const { frame, surface, kernel } = this;
    if (this.isBound && kernel.exports.fillRows(tile.at + ROWS_AT, tile.key)) return;
    const first = new Float64Array(6),
      last = new Float64Array(6);
    for (let r = 0; r < TILE; r++) {
      const y = y0 + r * cellY;
      surface.frameInto(x0, y, first);
      surface.frameInto(x0 + (TILE - 1) * cellX, y, last);
      surface.frameInto(x0 + ((TILE - 1) / 2) * cellX, y, frame);
      const row = ((tile.at + ROWS_AT) >> 3) + ROW_NUMBERS * r;
      for (let k = 0; k < 6; k++) {
        const isStraight = Math.abs(frame[k]! - (first[k]! + last[k]!) / 2) < 1e-9 && (k < 3 || Math.abs(first[k]! - last[k]!) < 1e-12);
        if (!isStraight) return this.makeBent(x0, y0, tile);
      }
      for (let k = 0; k < 3; k++) {
        kernel.doubles[row + k] = first[k]!;
        kernel.doubles[row + 3 + k] = (last[k]! - first[k]!) / (TILE - 1);
        kernel.doubles[row + 6 + k] = first[3 + k]!;
      }
    }
  }

  private makeBent(x0: number, y0: number, tile: Tile): void {
    const { frame, surface, kernel } = this;
    const { cellX, cellY } = this.grid;
    const at = kernel.take(FRAMES_BYTES);
    kernel.ints[(tile.at + FRAMES_AT) >> 2] = at;
    this.bent++;
    const out = new Float32Array(kernel.ints.buffer, at, 6 * TILE_CELLS);
    for (let i = 0; i < TILE_CELLS; i++) {
      surface.frameInto(x0 + (i & 31) * cellX, y0 + (i >> 5) * cellY, frame);
      for (let k = 0; k < 6; k++) out[6 * i + k] = frame[k]!;
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
    tile.changed = true;
    return 0;
  }
  let deep = outMm,
    gone = 0;
  const list = tile.under?.get(cell);
  if (list) {
    for (let again = true; again;) {
      again = false;
      for (let k = 0; k < list.length; k += 2) {
        if (list[k]! > deep + JOINED_MM) continue;
        deep = Math.max(deep, list[k + 1]!);
        // What was gone below the surface is not taken again.
        gone += list[k + 1]! - list[k]!;
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
  return Math.max(0, deep - depth - gone);
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
