/*
 * A grid of places as few triangles as an error allows: blocks are halved until they are flat enough, and each is a fan round its middle
 * over every corner that it or a neighbour has on its edges, so that no corner lies on an edge of another face.
 */

/** A block of a grid, first and last column and row. */
export type IsFlat = (x0: number, y0: number, x1: number, y1: number) => boolean;

/** Largest block, in places of the grid. */
const LARGEST = 64;

/** Which places of a grid are corners of faces, and the blocks they are corners of. */
export class AdaptiveMesh {
  /** Number of each corner plus one, by place; 0 where there is none. */
  private readonly ids: Int32Array;
  private readonly blocks: number[] = [];
  /** Rows with a number of their own: on a ring the last row is the first. */
  private readonly own: number;
  corners = 0;

  /**
   * @param nx Columns of places, at least 2. @param ny Rows, at least 2. @param isRing Whether the last row is followed by the first.
   */
  constructor(
    private readonly nx: number,
    private readonly ny: number,
    private readonly isRing: boolean,
    isFlat: IsFlat,
  ) {
    this.own = ny;
    this.ids = new Int32Array(nx * ny);
    const lastRow = isRing ? ny : ny - 1;
    for (let y = 0; y < lastRow; y += LARGEST) {
      for (let x = 0; x < nx - 1; x += LARGEST) this.divide(x, y, Math.min(nx - 1, x + LARGEST), Math.min(lastRow, y + LARGEST), isFlat);
    }
  }

  private divide(x0: number, y0: number, x1: number, y1: number, isFlat: IsFlat): void {
    const w = x1 - x0,
      h = y1 - y0;
    if ((w === 1 && h === 1) || isFlat(x0, y0, x1, y1)) {
      this.blocks.push(x0, y0, x1, y1);
      this.mark(x0, y0);
      this.mark(x1, y0);
      this.mark(x0, y1);
      this.mark(x1, y1);
      return;
    }
    const xm = x0 + (w >> 1),
      ym = y0 + (h >> 1);
    if (w === 1 || h > 2 * w) {
      this.divide(x0, y0, x1, ym, isFlat);
      this.divide(x0, ym, x1, y1, isFlat);
    } else if (h === 1 || w > 2 * h) {
      this.divide(x0, y0, xm, y1, isFlat);
      this.divide(xm, y0, x1, y1, isFlat);
    } else {
      this.divide(x0, y0, xm, ym, isFlat);
      this.divide(xm, y0, x1, ym, isFlat);
      this.divide(x0, ym, xm, y1, isFlat);
      this.divide(xm, ym, x1, y1, isFlat);
    }
  }

  private at = (x: number, y: number): number => (y === this.own ? 0 : y) * this.nx + x;

  private mark(x: number, y: number): void {
    const k = this.at(x, y);
    if (this.ids[k] === 0) this.ids[k] = ++this.corners;
  }

  /** Number of the corner at a place of the grid, or −1. */
  find = (x: number, y: number): number => this.ids[this.at(x, y)]! - 1;

  /** Places round the outside, first to last of each side, as (x, y) pairs: of a ring the first and last column. */
  private listRim(): [number, number][][] {
    const { nx, ny, isRing } = this;
    const rows = isRing ? ny + 1 : ny;
    const column = (x: number): [number, number][] => Array.from({ length: rows }, (_, y) => [x, y]);
    const row = (y: number): [number, number][] => Array.from({ length: nx }, (_, x) => [x, y]);
    return isRing ? [column(0), column(nx - 1)] : [column(0), column(nx - 1), row(0), row(ny - 1)];
  }

  /** Gives both meshes of one grid every corner of either round the outside. */
  static joinRims(a: AdaptiveMesh, b: AdaptiveMesh): void {
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const) {
      for (const side of from.listRim()) for (const [x, y] of side) if (from.find(x, y) >= 0) to.mark(x, y);
    }
  }

  /** Corners of each side of the outside, in the order of `listRim`. */
  listRimCorners(): [number, number][][] {
    return this.listRim().map((side) => side.filter(([x, y]) => this.find(x, y) >= 0));
  }

  /** Triangles by the numbers of their corners, counter-clockwise for x to the right and y up. Middles of fans become corners. */
  triangulate(): Uint32Array {
    const out: number[] = [];
    const rim: number[] = [];
    const { blocks } = this;
    for (let k = 0; k < blocks.length; k += 4) {
      const [x0, y0, x1, y1] = [blocks[k]!, blocks[k + 1]!, blocks[k + 2]!, blocks[k + 3]!];
      rim.length = 0;
      const take = (x: number, y: number): void => {
        const id = this.find(x, y);
        if (id >= 0) rim.push(id);
      };
      for (let x = x0; x < x1; x++) take(x, y0);
      for (let y = y0; y < y1; y++) take(x1, y);
      for (let x = x1; x > x0; x--) take(x, y1);
      for (let y = y1; y > y0; y--) take(x0, y);
      if (rim.length === 4) {
        out.push(rim[0]!, rim[1]!, rim[2]!, rim[0]!, rim[2]!, rim[3]!);
        continue;
      }
      if (x1 - x0 > 1 && y1 - y0 > 1) {
        const xm = x0 + ((x1 - x0) >> 1),
          ym = y0 + ((y1 - y0) >> 1);
        this.mark(xm, ym);
        const middle = this.find(xm, ym);
        for (let i = 0; i < rim.length; i++) out.push(middle, rim[i]!, rim[(i + 1) % rim.length]!);
      } else this.zip(x0, y0, x1, y1, out);
    }
    return Uint32Array.from(out);
  }

  /** A block one place wide, whose two long sides have corners of their own: a strip between them. */
  private zip(x0: number, y0: number, x1: number, y1: number, out: number[]): void {
    const lies = y1 - y0 === 1;
    const side = (across: number): [number, number][] => {
      const list: [number, number][] = [];
      for (let k = lies ? x0 : y0; k <= (lies ? x1 : y1); k++) {
        const id = lies ? this.find(k, across) : this.find(across, k);
        if (id >= 0) list.push([k, id]);
      }
      return list;
    };
    // From the right of the way to its left: below and above where it lies, right and left where it stands.
    const right = side(lies ? y0 : x1),
      left = side(lies ? y1 : x0);
    let i = 0,
      j = 0;
    while (i + 1 < right.length || j + 1 < left.length) {
      const goesRight = j + 1 >= left.length || (i + 1 < right.length && right[i + 1]![0] <= left[j + 1]![0]);
      if (goesRight) {
        out.push(left[j]![1], right[i]![1], right[i + 1]![1]);
        i++;
      } else {
        out.push(right[i]![1], left[j + 1]![1], left[j]![1]);
        j++;
      }
    }
  }

  /** Calls with the place and the number of every corner, those of fans too. */
  forEachCorner(use: (x: number, y: number, id: number) => void): void {
    const { nx, ids } = this;
    for (let k = 0; k < ids.length; k++) if (ids[k]! > 0) use(k % nx, Math.floor(k / nx), ids[k]! - 1);
  }
}
