import type { Surface } from '../surface/surface';
import { widthAt, type CutterShape } from './cutterShape';
import { TILE, type CellGrid, type DepthField } from './field';
import { copyPiece, createPiece, type Piece } from './piece';
import { RayCutter } from './rayCutter';

/* Where a cutter that moves touches what it leaves: which cells of the sheet a piece of its way can be deepest for. */

/** A piece less steep than this against its length is level. */
const LEVEL = 1e-7;
/** Corners of the print of a whole cutter, and the factor that takes its polygon round the print. */
const PRINT_CORNERS = 12;
const PRINT_SPREAD = 1 / Math.cos(Math.PI / PRINT_CORNERS) + 0.02;
/** Cells round a footprint that are asked as well. */
const MARGIN_CELLS = 1.01;
/** How far the middle of a wedge reaches beyond the print, so that its straight edges take in the round. */
const WEDGE_SPREAD = 1.12;
/** Joints whose sides differ by less than this many cells need no wedge. */
const WEDGE_CELLS = 0.5;
const MAX_CORNERS = 16;
/** How far normals of neighbouring faces of a mesh may differ, radians: rays of two cells then need not lie beside each other below. */
const FACE_TURN = 0.12;

/** A place of the tool: where its tip is on the sheet, how high over the surface, and how the tool stands there. */
interface Place {
  x: number;
  y: number;
  heightMm: number;
  tip: Float64Array;
  axis: Float64Array;
}

/** A side of a piece: direction away from the axis in which it touches, and where it leaves the surface at its ends, sheet x and y. */
interface Side {
  out: Float64Array;
  from: Float64Array;
  to: Float64Array;
}

const createPlace = (): Place => ({ x: 0, y: 0, heightMm: 0, tip: new Float64Array(3), axis: new Float64Array(3) });
const createSides = (): [Side, Side] =>
  [0, 1].map(() => ({ out: new Float64Array(3), from: new Float64Array(2), to: new Float64Array(2) })) as [Side, Side];
const dot = (a: ArrayLike<number>, b: ArrayLike<number>): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/** Takes what a cutter sweeps out of a depth field. */
export class Sweeper {
  readonly rays = new RayCutter();
  private shape: CutterShape | null = null;
  /** Greatest height over the tip at which the surface was met by the sides of what is filled, mm. */
  private highMm = 0;
  private readonly grid: CellGrid;
  private from = createPlace();
  private to = createPlace();
  private readonly middle = createPlace();
  private sides = createSides();
  private lastSides = createSides();
  /** Whether the piece before ended in the work with sides that the next may go on from. */
  private wasIn = false;
  private fresh = true;
  private readonly poly = new Float64Array(2 * MAX_CORNERS);
  private rowFrom = new Float64Array(256);
  private rowTo = new Float64Array(256);
  private readonly frame = new Float64Array(6);
  private readonly radial = new Float64Array(3);
  private readonly middleAxis = new Float64Array(3);
  private readonly spot = new Float64Array(2);

  constructor(
    private readonly field: DepthField,
    private readonly surface: Pick<Surface, 'toSheet' | 'frameInto' | 'periodMm' | 'chordMm'>,
  ) {
    this.grid = field.grid;
  }

  /** Goes on with another cutter, from anywhere. */
  use(shape: CutterShape): void {
    this.shape = shape;
    this.rays.use(shape);
    this.breakOff();
  }

  /** What comes next does not go on from where the last piece ended. */
  breakOff(): void {
    this.finishJoint();
    this.fresh = true;
  }

  /** Sweeps the cutter along a piece that goes on from the one before. */
  sweep(piece: Piece, motion: number): void {
    const shape = this.shape!;
    if (this.fresh) this.setPlace(this.from, piece, 0);
    else [this.from, this.to] = [this.to, this.from];
    this.setPlace(this.to, piece, 1);
    this.fresh = false;
    const { from, to } = this;
    this.highMm = Math.max(0, -from.heightMm, -to.heightMm);
    const isIn = from.heightMm < this.reachUp(from) || to.heightMm < this.reachUp(to);
    this.rays.motion = motion;
    if (!isIn) return this.finishJoint();
    const faceMm = this.surface.chordMm === undefined ? 0 : FACE_TURN * this.highMm;
    this.margin = MARGIN_CELLS + faceMm / Math.min(this.grid.cellX, this.grid.cellY);
    const { move } = piece;
    const a = this.middleAxis;
    for (let k = 0; k < 3; k++) a[k] = piece.axis[k]! + piece.axisMove[k]! / 2 - piece.axisBow[k]! / 4;
    const along = dot(move, a);
    const across = Math.sqrt(Math.max(0, dot(move, move) - along * along));
    const lower = to.heightMm < from.heightMm ? to : from;
    const tan = this.slopeAt(-lower.heightMm);
    const cos = across > 0 ? (tan * along) / across : Infinity;
    if (Math.abs(cos) >= 0.999) {
      // Steeper than the flank: what it takes is what it takes at its deepest.
      this.finishJoint();
      this.fillPrint(piece, lower === to ? 1 : 0);
      this.wasIn = false;
      return;
    }
    this.makeSides(move, a, along, cos);
    // Where the axis turns with the way, a place far out on the flank touches a little before or after its foot does.
    const { axisMove } = piece;
    const turning = Math.sqrt(dot(axisMove, axisMove) / (dot(move, move) || 1));
    const reach = widthAt(shape, this.highMm);
    const moved = dot(move, move);
    const steep = Math.max(0.02 * moved, moved - (1 + tan * tan) * along * along);
    const bentMm = (turning * moved * reach * (1 + tan * tan) * this.highMm) / steep;
    this.margin += Math.min(reach, bentMm) / Math.min(this.grid.cellX, this.grid.cellY);
    this.fillJoint(piece);
    for (const side of this.sides) this.fillSide(piece, side);
    const tipMm = Math.max(shape.flatMm, shape.roundMm);
    // A flat or round tip that rises or sinks along its axis touches in a bow beside the sides' lines.
    if (tipMm > 0 && (Math.abs(along) > LEVEL * across || shape.flatMm > 0)) this.fillTip(piece, tipMm, across);
    [this.sides, this.lastSides] = [this.lastSides, this.sides];
    this.wasIn = true;
    copyPiece(piece, this.lastPiece);
    this.lastMotion = motion;
  }

  /** The last piece with sides, and its motion. */
  private readonly lastPiece = createPiece();
  private lastMotion = 0;

  /** How high over the surface the tip may stand and the cutter still reach it: a leaning flat or round tip, or a flank beside an edge. */
  private reachUp(place: Place): number {
    const shape = this.shape!;
    this.surface.frameInto(place.x, place.y, this.frame);
    const cos = dot(place.axis, this.frame.subarray(3));
    const sin = Math.sqrt(Math.max(0, 1 - cos * cos));
    return sin < 1e-9 ? 1e-9 : Math.max(shape.flatMm, shape.roundMm) * sin + 1e-9;
  }

  /** Slope of the flank, half-width a height, at a height over the tip. */
  private slopeAt(heightMm: number): number {
    const shape = this.shape!;
    if (shape.roundMm === 0) return heightMm * shape.tanBeta > shape.halfWidthMm - shape.flatMm ? 0 : shape.tanBeta;
    const h = Math.max(1e-6, heightMm);
    const d = 1e-4 * h;
    return Math.min(50, (widthAt(shape, h + d) - widthAt(shape, h)) / d);
  }

  private setPlace(place: Place, p: Piece, s: number): void {
    const bow = s * (s - 1);
    for (let k = 0; k < 3; k++) {
      place.tip[k] = p.tip[k]! + s * p.move[k]! + bow * p.bow[k]!;
      place.axis[k] = p.axis[k]! + s * p.axisMove[k]! + bow * p.axisBow[k]!;
    }
    const at = this.surface.toSheet(place.tip[0]!, place.tip[1]!, place.tip[2]!);
    place.x = at.x;
    place.y = at.y;
    place.heightMm = at.heightMm;
  }

  /** Directions in which the moving cutter touches what it leaves, either side, and where they leave the surface. */
  private makeSides(move: Float64Array, a: Float64Array, along: number, cos: number): void {
    const { from, to } = this;
    const e = this.radial;
    for (let k = 0; k < 3; k++) e[k] = move[k]! - along * a[k]!;
    const l = Math.sqrt(dot(e, e)) || 1;
    const ex = e[0]! / l,
      ey = e[1]! / l,
      ez = e[2]! / l;
    const bx = a[1]! * ez - a[2]! * ey,
      by = a[2]! * ex - a[0]! * ez,
      bz = a[0]! * ey - a[1]! * ex;
    const sin = Math.sqrt(1 - cos * cos);
    for (let k = 0; k < 2; k++) {
      const side = this.sides[k]!;
      const turn = k === 0 ? sin : -sin;
      side.out[0] = cos * ex + turn * bx;
      side.out[1] = cos * ey + turn * by;
      side.out[2] = cos * ez + turn * bz;
      this.leaveInto(from, side.out, 1, side.from);
      this.leaveInto(to, side.out, 1, side.to);
    }
  }

  /**
   * Where the cutter's flank in a direction leaves the surface, sheet x and y, unwrapped against the place's own.
   * @param out Unit direction square to the axis, or nearly.
   */
  private leaveInto(place: Place, out: ArrayLike<number>, spread: number, spot: Float64Array): void {
    const shape = this.shape!;
    const { tip, axis } = place;
    let h = Math.max(0, -place.heightMm);
    const period = this.surface.periodMm;
    let y = place.y;
    for (let k = 0; ; k++) {
      const w = spread * widthAt(shape, h);
      const at = this.surface.toSheet(
        tip[0]! + w * out[0]! + h * axis[0]!,
        tip[1]! + w * out[1]! + h * axis[1]!,
        tip[2]! + w * out[2]! + h * axis[2]!,
      );
      spot[0] = at.x;
      y = at.y;
      if (h > this.highMm) this.highMm = h;
      // Higher than the surface is farther out than need be.
      if (at.heightMm > -2e-5 || k === 8) break;
      h += 1.2 * -at.heightMm;
    }
    spot[1] = period === null ? y : y - period * Math.round((y - place.y) / period);
  }

  private fillSide(piece: Piece, side: Side): void {
    const { from, to, poly } = this;
    const wrap = this.unwrap(to.y, from.y);
    poly[0] = from.x;
    poly[1] = from.y;
    poly[2] = to.x;
    poly[3] = to.y + wrap;
    poly[4] = side.to[0]!;
    poly[5] = side.to[1]! + wrap;
    poly[6] = side.from[0]!;
    poly[7] = side.from[1]!;
    this.fill(piece, 4, -1);
  }

  private unwrap(y: number, near: number): number {
    const period = this.surface.periodMm;
    return period === null ? 0 : -period * Math.round((y - near) / period);
  }

  /** The wedges between the sides of the last piece and of this one, at the place where they meet. */
  private fillJoint(piece: Piece): void {
    if (!this.wasIn) return this.fillPrint(piece, 0);
    const { from, poly, grid, radial } = this;
    for (let k = 0; k < 2; k++) {
      const a = this.lastSides[k]!,
        b = this.sides[k]!;
      const wrap = this.unwrap(a.to[1]!, b.from[1]!);
      const dx = (a.to[0]! - b.from[0]!) / grid.cellX,
        dy = (a.to[1]! + wrap - b.from[1]!) / grid.cellY;
      if (dx * dx + dy * dy < WEDGE_CELLS * WEDGE_CELLS) continue;
      // At a sharp turn the wedge is most of the print.
      if (dot(a.out, b.out) < 0.5) return this.fillPrint(piece, 0);
      for (let j = 0; j < 3; j++) radial[j] = a.out[j]! + b.out[j]!;
      const l = Math.sqrt(dot(radial, radial));
      for (let j = 0; j < 3; j++) radial[j]! /= l;
      this.leaveInto(from, radial, WEDGE_SPREAD, this.spot);
      poly[0] = from.x;
      poly[1] = from.y;
      poly[2] = a.to[0]!;
      poly[3] = a.to[1]! + wrap;
      poly[4] = this.spot[0]!;
      poly[5] = this.spot[1]!;
      poly[6] = b.from[0]!;
      poly[7] = b.from[1]!;
      this.fill(piece, 4, 0);
    }
  }

  /** What was swept last ends here, or goes on in another way: the whole print of the cutter there. */
  private finishJoint(): void {
    if (this.wasIn) {
      // The last piece's end is `from` where a new piece was begun already.
      const keep = [this.from, this.to] as const;
      const end = createPlace();
      this.setPlace(end, this.lastPiece, 1);
      this.to = end;
      const { motion } = this.rays;
      this.rays.motion = this.lastMotion;
      this.fillPrint(this.lastPiece, 1);
      this.rays.motion = motion;
      [this.from, this.to] = keep;
    }
    this.wasIn = false;
  }

  /** Everything that the cutter, or its tip up to a half-width, covers where it stands at one end of a piece. */
  private fillPrint(piece: Piece, s: 0 | 1): void {
    this.fillRoundabout(s === 0 ? this.from : this.to, piece, s, 0);
  }

  /** What the tip's flat or round part covers along a piece. */
  private fillTip(piece: Piece, tipMm: number, lengthMm: number): void {
    const { middle } = this;
    this.setPlace(middle, piece, 0.5);
    this.fillRoundabout(middle, piece, -1, tipMm + lengthMm / 2);
  }

  /** A polygon round a place: the print of the whole cutter, or of a half-width at the tip's height. */
  private fillRoundabout(place: Place, piece: Piece, fixed: -1 | 0 | 1, halfWidthMm: number): void {
    const a = place.axis;
    const { poly, radial } = this;
    // Two directions square to the axis.
    const k = Math.abs(a[0]!) < 0.6 ? 0 : 1;
    const ux = k === 0 ? 1 - a[0]! * a[0]! : -a[1]! * a[0]!,
      uy = k === 0 ? -a[0]! * a[1]! : 1 - a[1]! * a[1]!,
      uz = k === 0 ? -a[0]! * a[2]! : -a[1]! * a[2]!;
    const l = Math.sqrt(ux * ux + uy * uy + uz * uz);
    const ex = ux / l,
      ey = uy / l,
      ez = uz / l;
    const bx = a[1]! * ez - a[2]! * ey,
      by = a[2]! * ex - a[0]! * ez,
      bz = a[0]! * ey - a[1]! * ex;
    for (let c = 0; c < PRINT_CORNERS; c++) {
      const t = (2 * Math.PI * c) / PRINT_CORNERS;
      const [cs, sn] = [Math.cos(t), Math.sin(t)];
      radial[0] = cs * ex + sn * bx;
      radial[1] = cs * ey + sn * by;
      radial[2] = cs * ez + sn * bz;
      if (halfWidthMm > 0) {
        const w = PRINT_SPREAD * halfWidthMm;
        const at = this.surface.toSheet(place.tip[0]! + w * radial[0], place.tip[1]! + w * radial[1], place.tip[2]! + w * radial[2]);
        this.spot[0] = at.x;
        this.spot[1] = at.y + this.unwrap(at.y, place.y);
      } else this.leaveInto(place, radial, PRINT_SPREAD, this.spot);
      poly[2 * c] = this.spot[0]!;
      poly[2 * c + 1] = this.spot[1]!;
    }
    this.fill(piece, PRINT_CORNERS, fixed);
  }

  /** Width of the margin round footprints, in cells. */
  private margin = MARGIN_CELLS;

  /** Rows of cells that a convex polygon touches, widened by a margin: from and to column, in cells. @returns First and last row. */
  private scan(corners: number): [number, number] {
    const { poly, grid, margin } = this;
    let low = Infinity,
      high = -Infinity;
    for (let k = 0; k < corners; k++) {
      const r = (poly[2 * k + 1]! - grid.minY) / grid.cellY - 0.5;
      low = Math.min(low, r);
      high = Math.max(high, r);
    }
    const first = Math.ceil(low - margin),
      last = Math.floor(high + margin);
    const count = last - first + 1;
    if (count > this.rowFrom.length) {
      this.rowFrom = new Float64Array(2 * count);
      this.rowTo = new Float64Array(2 * count);
    }
    const { rowFrom, rowTo } = this;
    rowFrom.fill(Infinity, 0, count);
    rowTo.fill(-Infinity, 0, count);
    let bx = (poly[2 * corners - 2]! - grid.minX) / grid.cellX - 0.5,
      by = (poly[2 * corners - 1]! - grid.minY) / grid.cellY - 0.5;
    for (let k = 0; k < corners; k++) {
      const ax = bx,
        ay = by;
      bx = (poly[2 * k]! - grid.minX) / grid.cellX - 0.5;
      by = (poly[2 * k + 1]! - grid.minY) / grid.cellY - 0.5;
      const lowY = ay < by ? ay : by,
        highY = ay < by ? by : ay;
      const slope = highY - lowY > 1e-12 ? (bx - ax) / (by - ay) : 0;
      const r0 = Math.max(first, Math.ceil(lowY - margin)),
        r1 = Math.min(last, Math.floor(highY + margin));
      for (let r = r0; r <= r1; r++) {
        // The part of the edge within a cell of the row.
        const y0 = Math.max(lowY, r - margin),
          y1 = Math.min(highY, r + margin);
        let x0 = slope === 0 ? ax : ax + (y0 - ay) * slope,
          x1 = slope === 0 ? bx : ax + (y1 - ay) * slope;
        if (x0 > x1) [x0, x1] = [x1, x0];
        if (x0 < rowFrom[r - first]!) rowFrom[r - first] = x0;
        if (x1 > rowTo[r - first]!) rowTo[r - first] = x1;
      }
    }
    return [first, last];
  }

  /**
   * Cuts the cells of a polygon by the piece.
   * @param fixed 0 or 1: the cutter stands at that end; −1: it moves.
   */
  private fill(piece: Piece, corners: number, fixed: -1 | 0 | 1): void {
    const { grid, field } = this;
    const [first, last] = this.scan(corners);
    this.rays.choose(this.highMm);
    if (grid.closed && last - first + 1 > grid.rows) return this.fillRound(piece, first, last, fixed);
    for (let r = first; r <= last; r++) {
      const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
      if (row < 0 || row >= grid.rows) continue;
      const c0 = Math.max(0, Math.ceil(this.rowFrom[r - first]! - this.margin)),
        c1 = Math.min(grid.columns - 1, Math.floor(this.rowTo[r - first]! + this.margin));
      for (let c = c0; c <= c1;) {
        const along = c >> 5;
        const end = Math.min(c1, (along << 5) + TILE - 1);
        this.rays.cutRow(field.touch(along, row >> 5), (row & 31) * TILE + (c & 31), end - c + 1, piece, fixed);
        c = end + 1;
      }
    }
  }

  /** A print that goes round the whole blank: every cell once, over all its columns. */
  private fillRound(piece: Piece, first: number, last: number, fixed: -1 | 0 | 1): void {
    const { grid, field } = this;
    let c0 = Infinity,
      c1 = -Infinity;
    for (let r = first; r <= last; r++) {
      c0 = Math.min(c0, this.rowFrom[r - first]!);
      c1 = Math.max(c1, this.rowTo[r - first]!);
    }
    const from = Math.max(0, Math.ceil(c0 - this.margin)),
      to = Math.min(grid.columns - 1, Math.floor(c1 + this.margin));
    for (let row = 0; row < grid.rows; row++) {
      for (let c = from; c <= to;) {
        const along = c >> 5;
        const end = Math.min(to, (along << 5) + TILE - 1);
        this.rays.cutRow(field.touch(along, row >> 5), (row & 31) * TILE + (c & 31), end - c + 1, piece, fixed);
        c = end + 1;
      }
    }
  }
}
