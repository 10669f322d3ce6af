import type { Surface } from '../surface/surface';
import type { Kernel } from './kernel';

/** Cells along each side of a tile. */
export const TILE = 32;
export const TILE_CELLS = TILE * TILE;
/** Bytes of the frames of a tile that is not straight. */
export const FRAMES_BYTES = 24 * TILE_CELLS;

/** How a tile lies in memory, by struct Tile of the kernel: bytes. */
const UNDER_AT = 4,
  CHANGED_AT = 8,
  NOTED_AT = 12,
  FRAMES_AT = 16,
  ROWS_AT = 24,
  ROW_NUMBERS = 9,
  DEPTH_AT = ROWS_AT + 8 * ROW_NUMBERS * TILE,
  MOTION_AT = DEPTH_AT + 4 * TILE_CELLS;
export const TILE_BYTES = MOTION_AT + 4 * TILE_CELLS;

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

  /** Where its rows lie, bytes. */
  get rowsAt(): number {
    return this.at + ROWS_AT;
  }

  /**
   * Gives it its rows, or where they are not all straight with one normal each, frames of its cells.
   * @param x0, y0 Middle of its first cell. @returns Whether its rows are straight.
   */
  layRows(surface: Pick<Surface, 'frameInto'>, x0: number, y0: number, cellX: number, cellY: number): boolean {
    const { doubles } = this.kernel;
    const first = new Float64Array(6),
      middle = new Float64Array(6),
      last = new Float64Array(6);
    for (let r = 0; r < TILE; r++) {
      const y = y0 + r * cellY;
      surface.frameInto(x0, y, first);
      surface.frameInto(x0 + (TILE - 1) * cellX, y, last);
      surface.frameInto(x0 + ((TILE - 1) / 2) * cellX, y, middle);
      const row = (this.rowsAt >> 3) + ROW_NUMBERS * r;
      for (let k = 0; k < 6; k++) {
        const isStraight = Math.abs(middle[k]! - (first[k]! + last[k]!) / 2) < 1e-9 && (k < 3 || Math.abs(first[k]! - last[k]!) < 1e-12);
        if (isStraight) continue;
        this.layFrames(surface, x0, y0, cellX, cellY);
        return false;
      }
      for (let k = 0; k < 3; k++) {
        doubles[row + k] = first[k]!;
        doubles[row + 3 + k] = (last[k]! - first[k]!) / (TILE - 1);
        doubles[row + 6 + k] = first[3 + k]!;
      }
    }
    return true;
  }

  private layFrames(surface: Pick<Surface, 'frameInto'>, x0: number, y0: number, cellX: number, cellY: number): void {
    const at = this.kernel.take(FRAMES_BYTES);
    this.kernel.ints[(this.at + FRAMES_AT) >> 2] = at;
    const frame = new Float64Array(6);
    const out = new Float32Array(this.kernel.ints.buffer, at, 6 * TILE_CELLS);
    for (let i = 0; i < TILE_CELLS; i++) {
      surface.frameInto(x0 + (i & 31) * cellX, y0 + (i >> 5) * cellY, frame);
      for (let k = 0; k < 6; k++) out[6 * i + k] = frame[k]!;
    }
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
