import type { Surface } from '../surface/surface';
import { widthAt, type CutterShape, type ShapePart } from './cutterShape';
import { removeStretch, TILE, TILE_CELLS, type CellGrid, type DepthField, type Tile } from './field';

/*
 * Exact sweep of a cutter along pieces of its way. For each cell the place on the piece at which its ray goes deepest follows in
 * closed form for every part of the cutter (a quadric moving straight); there the ray is cut with the cutter as it stands. Any place
 * on the piece is a true position, so an error there is of second order and never too deep.
 */

/**
 * A piece of the tool's way in the blank frame, s from 0 to 1: tip(s) = tip + s·move + s(s − 1)·bow, and the axis alike. Short enough
 * that the bow is small.
 */
export interface Piece {
  tip: Float64Array;
  move: Float64Array;
  bow: Float64Array;
  axis: Float64Array;
  axisMove: Float64Array;
  axisBow: Float64Array;
}

export const createPiece = (): Piece => ({
  tip: new Float64Array(3),
  move: new Float64Array(3),
  bow: new Float64Array(3),
  axis: new Float64Array(3),
  axisMove: new Float64Array(3),
  axisBow: new Float64Array(3),
});

function copyPiece(from: Piece, to: Piece): void {
  to.tip.set(from.tip);
  to.move.set(from.move);
  to.bow.set(from.bow);
  to.axis.set(from.axis);
  to.axisMove.set(from.axisMove);
  to.axisBow.set(from.axisBow);
}

/** Corners of the print of a whole cutter, and the factor that takes its polygon round the print. */
const PRINT_CORNERS = 12;
const PRINT_SPREAD = 1 / Math.cos(Math.PI / PRINT_CORNERS) + 0.02;
/** Cells round a footprint that are asked as well. */
const MARGIN_CELLS = 1.01;
/** A bow smaller than this is none, mm. */
const STRAIGHT_MM = 1e-8;
/** A piece less steep than this against its length is level. */
const LEVEL = 1e-7;
/** How far the middle of a wedge reaches beyond the print, so that its straight edges take in the round. */
const WEDGE_SPREAD = 1.12;
/** Joints whose sides differ by less than this many cells need no wedge. */
const WEDGE_CELLS = 0.5;
const MAX_CORNERS = 16;
/** A height may miss its part by rounding, mm. */
const HEIGHT_SLACK_MM = 2e-5;
const ALONG = 1e-9;
/** A root's square this little below 0 is 0, mm². */
const ROUNDING = 1e-9;
/** How far normals of neighbouring faces of a mesh may differ, radians: rays of two cells then need not lie beside each other below. */
const FACE_TURN = 0.12;
/** A place so far off a part's own heights is not this part's, mm. */
const AWAY_MM = 0.01;
/** What a flat tip's plane may differ over its width and still be taken as one, mm. */
const PLANE_MM = 1e-4;
/** A cutter of more parts is a round corner, whose deepest place is sought in so many rounds of five. */
const MAX_PARTS = 4;
const SEEK_ROUNDS = 4;

/** What each motion took away, by the field. */
export interface Load {
  /** Depths summed over the cells that got deeper, mm. */
  taken: Float32Array;
  /** The most that one cell got deeper at once, mm. */
  most: Float32Array;
  /** That cell: place of its tile among the tiles times the cells of a tile, plus its own; -1 where nothing was taken. */
  cell: Int32Array;
}

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
  /** Where what each motion takes is noted, or null. */
  load: Load | null = null;
  /** Cells that were asked so far: the measure of work. */
  cells = 0;
  private shape: CutterShape | null = null;
  /** Parts of the cutter that can meet the surface where it stands: those that begin below it. */
  private parts: readonly ShapePart[] = [];
  /** Greatest height over the tip at which the surface was met by the sides of what is filled, mm. */
  private highMm = 0;
  private readonly grid: CellGrid;
  private from = createPlace();
  private to = createPlace();
  private readonly middle = createPlace();
  private sides = createSides();
  private lastSides = createSides();
  /** Whether the piece before ended in the work, and whether it had sides there. */
  private wasIn = false;
  private hadSides = false;
  private fresh = true;
  private readonly poly = new Float64Array(2 * MAX_CORNERS);
  private rowFrom = new Float64Array(256);
  private rowTo = new Float64Array(256);
  private readonly frame = new Float64Array(6);
  private readonly radial = new Float64Array(3);
  private readonly middleAxis = new Float64Array(3);
  private readonly spot = new Float64Array(2);
  private motion = 0;

  constructor(
    private readonly field: DepthField,
    private readonly surface: Pick<Surface, 'toSheet' | 'frameInto' | 'periodMm' | 'chordMm'>,
  ) {
    this.grid = field.grid;
  }

  /** Goes on with another cutter, from anywhere. */
  use(shape: CutterShape): void {
    this.shape = shape;
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
    this.motion = motion;
    if (!isIn) return this.finishJoint();
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
      this.hadSides = false;
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
    const roomMm = Math.min(reach, bentMm) + (this.surface.chordMm === undefined ? 0 : FACE_TURN * this.highMm);
    this.margin = MARGIN_CELLS + roomMm / Math.min(this.grid.cellX, this.grid.cellY);
    this.fillJoint(piece);
    for (const side of this.sides) this.fillSide(piece, side);
    const tipMm = Math.max(shape.flatMm, shape.roundMm);
    // A flat or round tip that rises or sinks along its axis touches in a bow beside the sides' lines.
    if (tipMm > 0 && (Math.abs(along) > LEVEL * across || shape.flatMm > 0)) this.fillTip(piece, tipMm, across);
    [this.sides, this.lastSides] = [this.lastSides, this.sides];
    this.wasIn = true;
    this.hadSides = true;
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
    if (!this.wasIn || !this.hadSides) return this.fillPrint(piece, 0);
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
      const { motion } = this;
      this.motion = this.lastMotion;
      this.fillPrint(this.lastPiece, 1);
      this.motion = motion;
      [this.from, this.to] = keep;
    }
    this.wasIn = false;
    this.hadSides = false;
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
    this.choose();
    if (grid.closed && last - first + 1 > grid.rows) return this.fillRound(piece, first, last, fixed);
    for (let r = first; r <= last; r++) {
      const row = grid.closed ? r - grid.rows * Math.floor(r / grid.rows) : r;
      if (row < 0 || row >= grid.rows) continue;
      const c0 = Math.max(0, Math.ceil(this.rowFrom[r - first]! - this.margin)),
        c1 = Math.min(grid.columns - 1, Math.floor(this.rowTo[r - first]! + this.margin));
      for (let c = c0; c <= c1;) {
        const along = c >> 5;
        const end = Math.min(c1, (along << 5) + TILE - 1);
        this.cutRow(field.touch(along, row >> 5), (row & 31) * TILE + (c & 31), end - c + 1, piece, fixed);
        c = end + 1;
      }
    }
  }

  /** Leaves out the parts of the cutter that stand clear of the surface, with room for what was not looked at. */
  private choose(): void {
    const { parts } = this.shape!;
    const reach = 1.5 * this.highMm + 0.1;
    const at = this.kept.findIndex((k) => k.of === parts && k.upTo > reach);
    if (at >= 0) this.parts = this.kept[at]!.parts;
    else {
      const low = parts.filter((q) => q.fromMm <= reach);
      const upTo = Math.min(Infinity, ...parts.filter((q) => q.fromMm > reach).map((q) => q.fromMm));
      this.kept.push({ of: parts, upTo, parts: low });
      this.kept.sort((a, b) => a.upTo - b.upTo);
      this.parts = low;
    }
  }

  private readonly kept: { of: readonly ShapePart[]; upTo: number; parts: readonly ShapePart[] }[] = [];

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
        this.cutRow(field.touch(along, row >> 5), (row & 31) * TILE + (c & 31), end - c + 1, piece, fixed);
        c = end + 1;
      }
    }
  }

  /** Cuts a run of cells of one tile. */
  private cutRow(tile: Tile, from: number, count: number, piece: Piece, fixed: -1 | 0 | 1): void {
    const { tip, move, bow, axis, axisMove, axisBow } = piece;
    const { parts, motion } = this;
    const flat = this.shape!.flatMm;
    const { frames, depth } = tile;
    const chain = this.shape!.parts.length > MAX_PARTS;
    this.cells += count;
    const bent =
      Math.abs(bow[0]!) + Math.abs(bow[1]!) + Math.abs(bow[2]!) > STRAIGHT_MM ||
      Math.abs(axisMove[0]!) + Math.abs(axisMove[1]!) + Math.abs(axisMove[2]!) > STRAIGHT_MM;
    // The straight way that stands for the piece, with its middle axis.
    const ax = axis[0]! + axisMove[0]! / 2 - axisBow[0]! / 4,
      ay = axis[1]! + axisMove[1]! / 2 - axisBow[1]! / 4,
      az = axis[2]! + axisMove[2]! / 2 - axisBow[2]! / 4;
    const tx = tip[0]! - bow[0]! / 6,
      ty = tip[1]! - bow[1]! / 6,
      tz = tip[2]! - bow[2]! / 6;
    const vx = move[0]!,
      vy = move[1]!,
      vz = move[2]!;
    const va = vx * ax + vy * ay + vz * az,
      vv = vx * vx + vy * vy + vz * vz;
    // How much deeper than the straight way's a bent one's depth may be.
    const slackMm = bent
      ? 2 * this.highMm * Math.sqrt(axisMove[0]! ** 2 + axisMove[1]! ** 2 + axisMove[2]! ** 2) +
        Math.sqrt(bow[0]! ** 2 + bow[1]! ** 2 + bow[2]! ** 2)
      : 0;
    const turning = Math.sqrt((axisMove[0]! ** 2 + axisMove[1]! ** 2 + axisMove[2]! ** 2) / (vv || 1));
    const plain = flat * flat * turning < PLANE_MM;
    for (let i = from; i < from + count; i++) {
      const o = 6 * i;
      const sx = frames[o]!,
        sy = frames[o + 1]!,
        sz = frames[o + 2]!,
        nx = frames[o + 3]!,
        ny = frames[o + 4]!,
        nz = frames[o + 5]!;
      if (fixed >= 0) {
        this.tryAt(tile, i, piece, fixed, sx, sy, sz, nx, ny, nz, false);
        continue;
      }
      const dx = sx - tx,
        dy = sy - ty,
        dz = sz - tz;
      // Normals are of single precision: their own length counts, or the walls would not meet on the tool's way.
      const nn = nx * nx + ny * ny + nz * nz;
      const na = nx * ax + ny * ay + nz * az,
        nv = nx * vx + ny * vy + nz * vz;
      const tipA = dx * ax + dy * ay + dz * az;
      if (chain) {
        this.trySought(tile, i, piece, sx, sy, sz, nx, ny, nz);
        continue;
      }
      for (let k = 0; k < parts.length; k++) {
        const part = parts[k]!;
        const { m, centreMm, radiusSquared } = part;
        const px = dx - centreMm * ax,
          py = dy - centreMm * ay,
          pz = dz - centreMm * az;
        const pa = tipA - centreMm,
          pn = px * nx + py * ny + pz * nz,
          pv = px * vx + py * vy + pz * vz;
        const qvv = vv - m * va * va;
        const qnn = nn - m * na * na,
          qpn = pn - m * pa * na,
          qpp = px * px + py * py + pz * pz - m * pa * pa - radiusSquared;
        if (!(qvv > 1e-18)) {
          // Steeper than this part's flank: deepest at an end.
          this.tryAt(tile, i, piece, va < 0 ? 1 : 0, sx, sy, sz, nx, ny, nz, true);
          continue;
        }
        const inverse = 1 / qvv;
        const qvn = nv - m * va * na,
          qpv = pv - m * pa * va;
        const A = qnn - qvn * qvn * inverse,
          B = qpn - qpv * qvn * inverse,
          C = qpp - qpv * qpv * inverse;
        const D = B * B - A * C;
        // On the tool's own way the two walls meet, and rounding may put the root below nothing.
        if (D < -ROUNDING) continue;
        const root = D > 0 ? Math.sqrt(D) : 0;
        const t = B <= 0 ? C / (B - root) : (B + root) / A;
        let s = (qpv - t * qvn) * inverse;
        if (!(t + slackMm > depth[i]!)) continue;
        if (bent) {
          // The axis turns on the way, so places on the flank move otherwise than the tip: Newton's steps for it.
          const first = s;
          for (let step = 0; step < 2; step++) {
            const off =
              axisMove[0]! * (dx - s * vx - t * nx) + axisMove[1]! * (dy - s * vy - t * ny) + axisMove[2]! * (dz - s * vz - t * nz);
            const h = tipA - s * va - t * na;
            s = first + off * (centreMm + m * (h - centreMm)) * inverse;
          }
        }
        if (s > 0 && s < 1) {
          // Another part's place, clearly.
          const h = tipA - s * va - t * na;
          if (h < part.fromMm - AWAY_MM || h > part.toMm + AWAY_MM) continue;
          if (!bent && qnn <= ALONG && h >= part.fromMm && h <= part.toMm) {
            this.note(removeStretch(tile, i, 0, t, motion), tile, i);
            continue;
          }
        }
        s = s < 0 ? 0 : s > 1 ? 1 : s;
        this.tryAt(tile, i, piece, s, sx, sy, sz, nx, ny, nz, true);
      }
      if (flat > 0) {
        // The rim of the flat: where its plane meets its own circle on the ray.
        const ux = dx - (tipA / na) * nx,
          uy = dy - (tipA / na) * ny,
          uz = dz - (tipA / na) * nz;
        const zx = vx - (va / na) * nx,
          zy = vy - (va / na) * ny,
          zz = vz - (va / na) * nz;
        const z2 = zx * zx + zy * zy + zz * zz,
          uz2 = ux * zx + uy * zy + uz * zz;
        const D = uz2 * uz2 - z2 * (ux * ux + uy * uy + uz * uz - flat * flat);
        if (D < 0 || !(z2 > 0)) continue;
        const root = Math.sqrt(D);
        const s1 = (uz2 - root) / z2,
          s2 = (uz2 + root) / z2;
        if (s1 > 1 || s2 < 0) continue;
        this.tryFlat(tile, i, piece, s1 < 0 ? 0 : s1, s2 > 1 ? 1 : s2, root, plain ? va : NaN, sx, sy, sz, nx, ny, nz);
      }
    }
  }

  /** Cuts one ray with the flat of the tip, which is over it from s1 to s2: where its plane is deepest there. */
  private tryFlat(
    tile: Tile,
    cell: number,
    p: Piece,
    s1: number,
    s2: number,
    root: number,
    /** The piece's rise along the axis, where the higher end of the flat's stay is the deeper; NaN where it has to be looked for. */
    rise: number,
    sx: number,
    sy: number,
    sz: number,
    nx: number,
    ny: number,
    nz: number,
  ): void {
    if (rise > 0 ? s1 === 0 : rise < 0 ? s2 === 1 : rise === 0) {
      return this.tryAt(tile, cell, p, rise > 0 ? 0 : rise < 0 ? 1 : (s1 + s2) / 2, sx, sy, sz, nx, ny, nz, true);
    }
    // The piece is a little bent: into the circle, should its ends have come to lie outside.
    let lo = s1,
      hi = s2;
    for (let k = 0; k < 3; k++) {
      const over = this.flatAt(p, lo, sx, sy, sz, nx, ny, nz);
      if (over <= 0) break;
      lo += root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
    }
    for (let k = 0; k < 3; k++) {
      const over = this.flatAt(p, hi, sx, sy, sz, nx, ny, nz);
      if (over <= 0) break;
      hi -= root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
    }
    if (!(lo <= hi)) return;
    if (rise === rise) return this.tryAt(tile, cell, p, rise > 0 ? lo : hi, sx, sy, sz, nx, ny, nz, true);
    const out = this.flatOut;
    this.flatAt(p, lo, sx, sy, sz, nx, ny, nz);
    const a = out.t;
    this.flatAt(p, hi, sx, sy, sz, nx, ny, nz);
    const c = out.t;
    let s = a > c ? lo : a < c ? hi : (lo + hi) / 2;
    if (Math.max(a, c) <= tile.depth[cell]! - 0.01) return;
    this.flatAt(p, (lo + hi) / 2, sx, sy, sz, nx, ny, nz);
    const b = out.t;
    if (b > Math.max(a, c) || 2 * b > a + c) {
      // The vertex of the parabola through the three.
      const bend = a - 2 * b + c;
      const at = bend < 0 ? (lo + hi) / 2 + ((a - c) / bend) * ((hi - lo) / 4) : s;
      if (at > lo && at < hi) s = at;
    }
    this.tryAt(tile, cell, p, s, sx, sy, sz, nx, ny, nz, true);
  }

  private readonly flatOut = { t: 0 };

  /** Where a ray meets the plane of the tip's flat at s, to `flatOut`. @returns How far outside its circle, as a difference of squares. */
  private flatAt(p: Piece, s: number, sx: number, sy: number, sz: number, nx: number, ny: number, nz: number): number {
    const bow = s * (s - 1);
    const ax = p.axis[0]! + s * p.axisMove[0]! + bow * p.axisBow[0]!,
      ay = p.axis[1]! + s * p.axisMove[1]! + bow * p.axisBow[1]!,
      az = p.axis[2]! + s * p.axisMove[2]! + bow * p.axisBow[2]!;
    const dx = sx - p.tip[0]! - s * p.move[0]! - bow * p.bow[0]!,
      dy = sy - p.tip[1]! - s * p.move[1]! - bow * p.bow[1]!,
      dz = sz - p.tip[2]! - s * p.move[2]! - bow * p.bow[2]!;
    const t = (dx * ax + dy * ay + dz * az) / (nx * ax + ny * ay + nz * az);
    this.flatOut.t = t;
    const ux = dx - t * nx,
      uy = dy - t * ny,
      uz = dz - t * nz;
    const flat = this.shape!.flatMm;
    return ux * ux + uy * uy + uz * uz - flat * flat;
  }

  /** Cuts one ray with the cutter as it stands at s; `moves` says that it comes from elsewhere on the piece. */
  private tryAt(
    tile: Tile,
    cell: number,
    p: Piece,
    s: number,
    sx: number,
    sy: number,
    sz: number,
    nx: number,
    ny: number,
    nz: number,
    moves: boolean,
  ): void {
    const out = this.leaveAt(p, s, sx, sy, sz, nx, ny, nz);
    const depth = tile.depth[cell]!;
    if (!(out > depth)) return;
    let from = this.entered;
    // Where the ray enters through the flank it may do so sooner from elsewhere on the piece, and the stretch is one.
    for (let k = 0; k < 3 && moves && from > depth; k++) from = Math.min(from, this.entryAt(p, k / 2, sx, sy, sz, nx, ny, nz));
    this.note(removeStretch(tile, cell, from, out, this.motion), tile, cell);
  }

  /** Cuts one ray where it goes deepest along the piece, found by stepping: for a round corner, which is many cones. */
  private trySought(tile: Tile, cell: number, p: Piece, sx: number, sy: number, sz: number, nx: number, ny: number, nz: number): void {
    // The depth along a piece has one top where the ray meets the cutter at all.
    let lo = 0,
      hi = 1,
      best = -Infinity,
      at = 0;
    for (let round = 0; round < SEEK_ROUNDS; round++) {
      const step = (hi - lo) / 4;
      const first = lo;
      for (let k = 0; k <= 4; k++) {
        const s = first + k * step;
        const t = this.leaveAt(p, s, sx, sy, sz, nx, ny, nz);
        if (t > best) {
          best = t;
          at = s;
        }
      }
      if (best === -Infinity) return;
      lo = Math.max(0, at - step);
      hi = Math.min(1, at + step);
    }
    this.tryAt(tile, cell, p, at, sx, sy, sz, nx, ny, nz, true);
  }

  private note(deeper: number, tile: Tile, cell: number): void {
    const { load, motion } = this;
    if (!load || !(deeper > 0)) return;
    load.taken[motion]! += deeper;
    if (deeper <= load.most[motion]!) return;
    load.most[motion] = deeper;
    load.cell[motion] = tile.key * TILE_CELLS + cell;
  }

  /** Where the last ray entered the cutter through its flank; −∞ if it came from above. */
  private entered = -Infinity;

  /** Where a ray leaves the cutter as it stands at s, and in `entered` where it enters it; −∞ if it misses. */
  private leaveAt(p: Piece, s: number, sx: number, sy: number, sz: number, nx: number, ny: number, nz: number): number {
    const bow = s * (s - 1);
    const ax = p.axis[0]! + s * p.axisMove[0]! + bow * p.axisBow[0]!,
      ay = p.axis[1]! + s * p.axisMove[1]! + bow * p.axisBow[1]!,
      az = p.axis[2]! + s * p.axisMove[2]! + bow * p.axisBow[2]!;
    const dx = sx - p.tip[0]! - s * p.move[0]! - bow * p.bow[0]!,
      dy = sy - p.tip[1]! - s * p.move[1]! - bow * p.bow[1]!,
      dz = sz - p.tip[2]! - s * p.move[2]! - bow * p.bow[2]!;
    const nn = nx * nx + ny * ny + nz * nz;
    const na = nx * ax + ny * ay + nz * az,
      da = dx * ax + dy * ay + dz * az;
    const flat = this.shape!.flatMm;
    const { parts } = this;
    let out = -Infinity,
      into = Infinity,
      missed = false;
    for (let k = 0; k < parts.length; k++) {
      const part = parts[k]!;
      const { m, centreMm } = part;
      const px = dx - centreMm * ax,
        py = dy - centreMm * ay,
        pz = dz - centreMm * az;
      const pa = da - centreMm;
      const A = nn - m * na * na,
        B = px * nx + py * ny + pz * nz - m * pa * na,
        C = px * px + py * py + pz * pz - m * pa * pa - part.radiusSquared;
      const D = B * B - A * C;
      missed = D < -ROUNDING;
      if (missed) continue;
      const root = D > 0 ? Math.sqrt(D) : 0;
      const t = B <= 0 ? C / (B - root) : A > 0 ? (B + root) / A : -Infinity;
      const h = da - t * na;
      if (h >= part.fromMm - HEIGHT_SLACK_MM && h <= part.toMm + HEIGHT_SLACK_MM && t > out) out = t;
      if (A > ALONG) {
        const t0 = (B - root) / A;
        const h0 = da - t0 * na;
        if (h0 >= part.fromMm - HEIGHT_SLACK_MM && h0 <= part.toMm + HEIGHT_SLACK_MM && t0 < into) into = t0;
      }
    }
    if (flat > 0) {
      const t = da / na;
      const ux = dx - t * nx,
        uy = dy - t * ny,
        uz = dz - t * nz;
      if (ux * ux + uy * uy + uz * uz <= flat * flat) {
        if (na > 0) out = Math.max(out, t);
        else into = Math.min(into, t);
      }
    }
    // A ray that grazes the rim enters where it leaves; any other comes from parts that stand clear of the surface.
    const { m, toMm } = parts[parts.length - 1]!;
    this.entered = into < Infinity ? into : 1 - m * na * na > ALONG && (missed || toMm === Infinity) ? out : -Infinity;
    return out;
  }

  /** Where a ray enters the cutter as it stands at s; infinite if it does not. */
  private entryAt(p: Piece, s: number, sx: number, sy: number, sz: number, nx: number, ny: number, nz: number): number {
    const bow = s * (s - 1);
    const ax = p.axis[0]! + s * p.axisMove[0]! + bow * p.axisBow[0]!,
      ay = p.axis[1]! + s * p.axisMove[1]! + bow * p.axisBow[1]!,
      az = p.axis[2]! + s * p.axisMove[2]! + bow * p.axisBow[2]!;
    const dx = sx - p.tip[0]! - s * p.move[0]! - bow * p.bow[0]!,
      dy = sy - p.tip[1]! - s * p.move[1]! - bow * p.bow[1]!,
      dz = sz - p.tip[2]! - s * p.move[2]! - bow * p.bow[2]!;
    const na = nx * ax + ny * ay + nz * az,
      da = dx * ax + dy * ay + dz * az;
    let into = Infinity;
    for (const { m, centreMm, radiusSquared, fromMm, toMm } of this.parts) {
      const px = dx - centreMm * ax,
        py = dy - centreMm * ay,
        pz = dz - centreMm * az;
      const pa = da - centreMm;
      const A = 1 - m * na * na,
        B = px * nx + py * ny + pz * nz - m * pa * na,
        D = B * B - A * (px * px + py * py + pz * pz - m * pa * pa - radiusSquared);
      if (D < 0 || !(A > ALONG)) continue;
      const t = (B - Math.sqrt(D)) / A;
      const h = da - t * na;
      if (h >= fromMm - HEIGHT_SLACK_MM && h <= toMm + HEIGHT_SLACK_MM && t < into) into = t;
    }
    return into;
  }
}
