import type { Surface } from '../surface/surface';
import type { CutterShape } from './cutterShape';
import { KERNEL_BYTES } from './kernelBytes';
import type { Piece } from './piece';

/* The module that sweeps (native/sweep/kernel.cpp), and the memory that it shares with the field. */

/** What the module asks for outside. */
export interface KernelHost {
  /** Makes the tile of a key. @returns Where it lies. */
  makeTile(key: number): number;
  /** As `removeStretch`, for a tile with stretches below what stands. */
  removeUnder(key: number, cell: number, inMm: number, outMm: number, motion: number): number;
  /** A motion reached a tile. */
  noteTile(key: number, motion: number): void;
  /** A motion would reach a tile. */
  collectKey(key: number): void;
}

interface Exports {
  sweep(motion: number): void;
  breakOff(): void;
  gridAt(): number;
  shapeAt(): number;
  pieceAt(): number;
  setScratch(slots: number, rows: number, spans: number, rowCount: number): void;
  fillRows(rows: number, key: number): number;
  setLoad(taken: number, most: number, cell: number): void;
  setModes(notes: number, collects: number): void;
  getAsked(): number;
  heapBase(): number;
}

/** The part of a surface that a sweep needs. */
export type SweptSurface = Pick<
  Surface,
  | 'toSheet'
  | 'frameInto'
  | 'curvatureInto'
  | 'periodMm'
  | 'chordMm'
  | 'edgesX'
  | 'flat'
  | 'round'
  | 'homogeneous'
  | 'isometric'
  | 'mmPerRad'
>;

const PAGE_BYTES = 65536;
/** Memory at the start, and the least by which it grows, pages. */
const FIRST_PAGES = 32;
const GROWTH_PAGES = 64;
/** Parts of a cutter that the module has room for. */
const MOST_PARTS = 4;

let compiled: WebAssembly.Module | null = null;
const compile = (): WebAssembly.Module =>
  (compiled ??= new WebAssembly.Module(Uint8Array.from(atob(KERNEL_BYTES), (c) => c.charCodeAt(0))));

/** One instance of the module, with a memory of its own. */
export class Kernel {
  readonly exports: Exports;
  ints!: Int32Array<ArrayBuffer>;
  floats!: Float32Array<ArrayBuffer>;
  doubles!: Float64Array<ArrayBuffer>;
  private readonly memory = new WebAssembly.Memory({ initial: FIRST_PAGES });
  private end: number;
  private surface: SweptSurface | null = null;
  private readonly frame = new Float64Array(6);
  /** Called when the memory moved: views of it are made anew. */
  onMove: () => void = () => undefined;

  constructor(host: KernelHost) {
    this.view();
    const { frame } = this;
    const env = {
      memory: this.memory,
      toSheet: (x: number, y: number, z: number, out: number) => {
        const at = this.surface!.toSheet(x, y, z);
        const o = out >> 3;
        this.doubles[o] = at.x;
        this.doubles[o + 1] = at.y;
        this.doubles[o + 2] = at.heightMm;
      },
      frameAt: (x: number, y: number, out: number) => {
        this.surface!.frameInto(x, y, frame);
        const o = out >> 3;
        for (let k = 0; k < 6; k++) this.doubles[o + k] = frame[k]!;
      },
      curvatureAt: (x: number, y: number) => {
        this.surface!.curvatureInto(x, y, frame);
        return Math.max(Math.abs(frame[0]!), Math.abs(frame[1]!));
      },
      makeTile: (key: number) => host.makeTile(key),
      removeUnder: (key: number, cell: number, inMm: number, outMm: number, motion: number) =>
        host.removeUnder(key, cell, inMm, outMm, motion),
      noteTile: (key: number, motion: number) => host.noteTile(key, motion),
      collectKey: (key: number) => host.collectKey(key),
    };
    this.exports = new WebAssembly.Instance(compile(), { env }).exports as unknown as Exports;
    this.end = (this.exports.heapBase() + 15) & ~15;
  }

  /** Bytes that were taken so far. */
  get taken(): number {
    return this.end;
  }

  /** Takes so many bytes of the memory, all 0, at a place that 16 divides. */
  take(bytes: number): number {
    const at = this.end;
    this.end = (at + bytes + 15) & ~15;
    const missing = Math.ceil((this.end - this.memory.buffer.byteLength) / PAGE_BYTES);
    if (missing > 0) {
      this.memory.grow(Math.max(missing, GROWTH_PAGES, Math.floor(this.memory.buffer.byteLength / PAGE_BYTES / 2)));
      this.view();
      this.onMove();
    }
    return at;
  }

  private view(): void {
    const { buffer } = this.memory;
    this.ints = new Int32Array(buffer);
    this.floats = new Float32Array(buffer);
    this.doubles = new Float64Array(buffer);
  }

  /** Says on what is swept, by struct Grid. */
  setGrid(
    grid: { minX: number; minY: number; cellX: number; cellY: number; columns: number; rows: number; tilesAlong: number; closed: boolean },
    surface: SweptSurface,
  ): void {
    this.surface = surface;
    const at = this.exports.gridAt();
    const perCell = 1 / Math.min(grid.cellX, grid.cellY);
    this.doubles.set([grid.minX, grid.minY, grid.cellX, grid.cellY, surface.periodMm ?? 0, perCell], at >> 3);
    const hasEdges = surface.chordMm !== undefined || (surface.edgesX?.length ?? 0) > 0;
    const kind = surface.flat ? 1 : surface.round && surface.homogeneous === 'everywhere' && surface.isometric ? 2 : 0;
    this.ints.set([grid.columns, grid.rows, grid.tilesAlong, Number(grid.closed), Number(hasEdges), kind], (at >> 2) + 12);
    this.doubles[(at >> 3) + 9] = surface.mmPerRad;
    // A plane is known from three of its places.
    const [o, x, y] = [
      [0, 0],
      [1, 0],
      [0, 1],
    ].map(([u, v]) => {
      surface.frameInto(u!, v!, this.frame);
      return Array.from(this.frame);
    }) as [number[], number[], number[]];
    const from = (p: number[]) => [0, 1, 2].map((k) => p[k]! - o[k]!);
    this.doubles.set([...o.slice(0, 3), ...from(x), ...from(y), ...o.slice(3)], (at >> 3) + 10);
  }

  /** Says what cuts, by struct Shape. */
  setShape({ flatMm, roundMm, tanBeta, halfWidthMm, cornerMm, parts }: CutterShape): void {
    if (parts.length > MOST_PARTS) throw new RangeError(`a cutter of ${parts.length} parts`);
    const at = this.exports.shapeAt();
    this.doubles.set([flatMm, roundMm, tanBeta, halfWidthMm, cornerMm], at >> 3);
    this.ints[(at >> 2) + 10] = parts.length;
    for (const [k, p] of parts.entries()) {
      this.doubles.set([p.m, p.centreMm, p.radiusSquared, p.fromMm, p.toMm], (at >> 3) + 6 + 5 * k);
    }
  }

  /** Says along what the cutter goes, by struct Piece. */
  setPiece({ tip, move, bow, axis, axisMove, axisBow }: Piece): void {
    const o = this.exports.pieceAt() >> 3;
    const { doubles } = this;
    for (let k = 0; k < 3; k++) {
      doubles[o + k] = tip[k]!;
      doubles[o + 3 + k] = move[k]!;
      doubles[o + 6 + k] = bow[k]!;
      doubles[o + 9 + k] = axis[k]!;
      doubles[o + 12 + k] = axisMove[k]!;
      doubles[o + 15 + k] = axisBow[k]!;
    }
  }
}
