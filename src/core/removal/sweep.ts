import type { Surface } from '../surface/surface';
import { widthAt, type CutterShape } from './cutterShape';
import { type CellGrid, type DepthField } from './field';
import type { Piece } from './piece';
import { RayCutter } from './rayCutter';

/* Where a cutter that moves touches what it leaves: which cells of the sheet a piece of its way can be deepest for. */

/** A piece less steep than this against its length is level. */
const LEVEL = 1e-7;
/** Corners of the print of a whole cutter, and the factor that takes its polygon round the print. */
const PRINT_CORNERS = 12;
const PRINT_SPREAD = 1 / Math.cos(Math.PI / PRINT_CORNERS) + 0.02;
/** Cells round a footprint that are asked as well, besides what its bends ask for. */
const MARGIN_CELLS = 0.2;
/** Factor on what is measured of a footprint's bends, since few places are asked. */
const BEND_SPREAD = 1.5;
/** Pieces longer than this many cells are looked at in the middle as well. */
const LONG_CELLS = 3;
/** How far the middle of a wedge reaches beyond the print, so that its straight edges take in the round. */
const WEDGE_SPREAD = 1.12;
/** Joints whose sides differ by less than this many cells need no wedge. */
const WEDGE_CELLS = 0.1;
const MAX_CORNERS = 16;

/** A place of the tool: where its tip is on the sheet, how high over the surface, the normal there, and how the tool stands. */
interface Place {
  x: number;
  y: number;
  heightMm: number;
  normal: Float64Array;
  tip: Float64Array;
  axis: Float64Array;
}

/** A side of a piece: direction away from the axis in which it touches, and where it leaves the surface at its ends, sheet x and y. */
interface Side {
  out: Float64Array;
  from: Float64Array;
  to: Float64Array;
}

const createPlace = (): Place => ({
  x: 0,
  y: 0,
  heightMm: 0,
  normal: new Float64Array(3),
  tip: new Float64Array(3),
  axis: new Float64Array(3),
});
const createSides = (): [Side, Side] =>
  [0, 1].map(() => ({ out: new Float64Array(3), from: new Float64Array(2), to: new Float64Array(2) })) as [Side, Side];
const dot = (a: ArrayLike<number>, b: ArrayLike<number>): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/** Takes what a cutter sweeps out of a depth field. */
export class Sweeper {
  readonly rays = new RayCutter();
  /** Whether tiles note which motions reached them. */
  notes = false;
  /** Where the tiles that would be reached are put; null to cut them. */
  keys: Set<number> | null = null;
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
  /** First and last column of each row. */
  private spans = new Int32Array(512);
  private readonly frame = new Float64Array(6);
  private readonly radial = new Float64Array(3);
  private readonly middleAxis = new Float64Array(3);
  private readonly spot = new Float64Array(2);
  private readonly square = new Float64Array(6);
  private readonly curvatures = new Float64Array(2);
  private mostCurved = 0;
  /** How far sides' lines to the surface bend on the sheet, mm, and how far the normal turns under the footprint. */
  private bendMm = 0;
  private normalTurn = 0;
  /** Whether the surface has edges, at which its normal turns at once. */
  private readonly hasEdges: boolean;
  /** Cells to a millimetre, the smaller ones. */
  private readonly perCell: number;

  constructor(
    private readonly field: DepthField,
    private readonly surface: Pick<Surface, 'toSheet' | 'frameInto' | 'curvatureInto' | 'periodMm' | 'chordMm' | 'edgesX'>,
  ) {
    this.grid = field.grid;
    this.hasEdges = surface.chordMm !== undefined || (surface.edgesX?.length ?? 0) > 0;
    this.perCell = 1 / Math.min(field.grid.cellX, field.grid.cellY);
  }

  /** Goes on with another cutter, from anywhere. */
  use(shape: CutterShape): void {
    this.shape = shape;
    this.rays.use(shape);
    this.breakOff();
  }

  /** What comes next does not go on from where the last piece ended. */
  breakOff(): void {
    this.finishJoint(this.to);
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
    const isIn = from.heightMm < this.reachUp(from) || to.heightMm < this.reachUp(to);
    if (!isIn) {
      this.finishJoint(from);
      this.rays.motion = motion;
      return;
    }
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
      this.finishJoint(from);
      this.rays.motion = motion;
      this.fillPrint(lower);
      this.wasIn = false;
      return;
    }
    this.rays.motion = motion;
    this.rays.take(piece);
    this.resetReach(from, to);
    this.makeSides(move, a, along, cos);
    this.fillJoint();
    this.setMargin(Math.max(this.turnMm(piece, tan, along), this.sagMm(piece, Math.max(0, -from.heightMm, -to.heightMm))));
    for (const side of this.sides) this.fillSide(side);
    const tipMm = Math.max(shape.flatMm, shape.roundMm);
    // A flat or round tip that rises or sinks along its axis touches in a bow beside the sides' lines.
    if (tipMm > 0 && (Math.abs(along) > LEVEL * across || shape.flatMm > 0)) this.fillTip(tipMm);
    [this.sides, this.lastSides] = [this.lastSides, this.sides];
    this.wasIn = true;
    this.lastMotion = motion;
  }

  /** Begins to look how high the surface is met and how footprints bend, for places of the tool. */
  private resetReach(a: Place, b: Place): void {
    this.highMm = Math.max(0, -a.heightMm, -b.heightMm);
    this.bendMm = 0;
    this.normalTurn = 0;
    if (!this.hasEdges) return;
    this.surface.curvatureInto(a.x, a.y, this.curvatures);
    this.mostCurved = Math.max(Math.abs(this.curvatures[0]!), Math.abs(this.curvatures[1]!));
  }

  /** The margin for what comes next. @param moreMm Besides what was seen of the footprint's bends, mm. */
  private setMargin(moreMm: number): void {
    const mm = BEND_SPREAD * (this.bendMm + this.normalTurn * this.highMm) + moreMm;
    this.margin = MARGIN_CELLS + mm * this.perCell;
  }

  /** Where the axis turns with the way, a place far out on the flank touches a little before or after its foot does: how far, mm. */
  private turnMm({ move, axisMove }: Piece, tan: number, along: number): number {
    const turn = Math.sqrt(dot(axisMove, axisMove));
    if (turn === 0) return 0;
    const moved = dot(move, move);
    const reach = widthAt(this.shape!, this.highMm);
    const steep = Math.max(0.02 * moved, moved - (1 + tan * tan) * along * along);
    return Math.min(reach, (turn * Math.sqrt(moved) * reach * (1 + tan * tan) * this.highMm) / (steep || 1));
  }

  /** How far the sides' outer edges may bend between the ends of a piece, mm: by the way's own bow on the sheet and by its depth. */
  private sagMm(piece: Piece, deepMm: number): number {
    if (dot(piece.move, piece.move) * this.perCell * this.perCell < LONG_CELLS * LONG_CELLS) return 0;
    const { from, to, middle } = this;
    this.setPlace(middle, piece, 0.5);
    const dx = middle.x - (from.x + to.x) / 2,
      dy = middle.y + this.unwrap(middle.y, from.y) - (from.y + to.y + this.unwrap(to.y, from.y)) / 2,
      dz = middle.heightMm - (from.heightMm + to.heightMm) / 2;
    return BEND_SPREAD * (Math.sqrt(dx * dx + dy * dy) + Math.abs(dz) * this.slopeAt(Math.max(deepMm, -middle.heightMm)));
  }

  /** Motion of the last piece with sides. */
  private lastMotion = 0;

  /** How high over the surface the tip may stand and the cutter still reach it: a leaning flat or round tip, or a flank beside an edge. */
  private reachUp(place: Place): number {
    const shape = this.shape!;
    const cos = dot(place.axis, place.normal);
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
    this.surface.frameInto(at.x, at.y, this.frame);
    for (let k = 0; k < 3; k++) place.normal[k] = this.frame[3 + k]!;
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
    const deep = Math.max(0, -place.heightMm);
    let h = deep;
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
      // How much nearer or farther the surface is than a plane through the foot would be.
      if (k === 0 && w > 0) {
        const off = at.heightMm - place.heightMm - w * dot(out, place.normal) - h * dot(axis, place.normal);
        this.bendMm = Math.max(this.bendMm, (Math.abs(off) * h) / w);
      }
      // Higher than the surface is farther out than need be.
      if (at.heightMm > -2e-5 || k === 8) break;
      h += 1.2 * -at.heightMm;
    }
    spot[1] = period === null ? y : y - period * Math.round((y - place.y) / period);
    if (!this.hasEdges) return;
    // More than the surface's own curvature turns it.
    const { frame } = this;
    const { normal } = place;
    this.surface.frameInto(spot[0]!, spot[1], frame);
    const x = frame[3]! - normal[0]!,
      y2 = frame[4]! - normal[1]!,
      z = frame[5]! - normal[2]!;
    const turn = Math.sqrt(x * x + y2 * y2 + z * z) - 1.2 * this.mostCurved * spread * widthAt(shape, h);
    this.normalTurn = Math.max(this.normalTurn, turn);
  }

  private fillSide(side: Side): void {
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
    this.fill(4, false);
  }

  private unwrap(y: number, near: number): number {
    const period = this.surface.periodMm;
    return period === null ? 0 : -period * Math.round((y - near) / period);
  }

  /** The wedges between the sides of the last piece and of this one, at the place where they meet. */
  private fillJoint(): void {
    if (!this.wasIn) return this.fillPrint(this.from);
    const { from, poly, grid, radial } = this;
    this.setMargin(0);
    for (let k = 0; k < 2; k++) {
      const a = this.lastSides[k]!,
        b = this.sides[k]!;
      const wrap = this.unwrap(a.to[1]!, b.from[1]!);
      const dx = (a.to[0]! - b.from[0]!) / grid.cellX,
        dy = (a.to[1]! + wrap - b.from[1]!) / grid.cellY;
      if (dx * dx + dy * dy < WEDGE_CELLS * WEDGE_CELLS) continue;
      // At a sharp turn the wedge is most of the print.
      if (dot(a.out, b.out) < 0.5) return this.fillPrint(from);
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
      this.rays.standAt(from.tip, from.axis);
      this.fill(4, true);
    }
  }

  /** What was swept last ends here, or goes on in another way: the whole print of the cutter there. */
  private finishJoint(end: Place): void {
    if (this.wasIn) {
      this.rays.motion = this.lastMotion;
      this.resetReach(end, end);
      this.fillPrint(end);
    }
    this.wasIn = false;
  }

  /** Everything that the cutter covers where it stands at a place. */
  private fillPrint(place: Place): void {
    const { poly, radial, spot } = this;
    const { bendMm, highMm, normalTurn } = this;
    this.resetReach(place, place);
    this.makeSquare(place.axis);
    for (let c = 0; c < PRINT_CORNERS; c++) {
      this.lookRound((2 * Math.PI * c) / PRINT_CORNERS);
      this.leaveInto(place, radial, PRINT_SPREAD, spot);
      poly[2 * c] = spot[0]!;
      poly[2 * c + 1] = spot[1]!;
    }
    this.setMargin(0);
    this.rays.standAt(place.tip, place.axis);
    this.fill(PRINT_CORNERS, true);
    this.bendMm = Math.max(bendMm, this.bendMm);
    this.highMm = Math.max(highMm, this.highMm);
    this.normalTurn = Math.max(normalTurn, this.normalTurn);
  }

  /** What the tip's flat or round part covers along a piece: half a round at each end. */
  private fillTip(tipMm: number): void {
    const { poly, radial, from, to, square } = this;
    // Forward first: as the sides' makers left it, or any way round where it does not move across.
    this.makeSquare(from.axis);
    let forward = 0,
      left = 0;
    for (let k = 0; k < 3; k++) {
      const d = to.tip[k]! - from.tip[k]!;
      forward += d * square[k]!;
      left += d * square[3 + k]!;
    }
    const ahead = Math.atan2(left, forward);
    const w = PRINT_SPREAD * tipMm;
    const half = PRINT_CORNERS / 2;
    for (let c = 0; c < PRINT_CORNERS + 2; c++) {
      const isBack = c <= half;
      const place = isBack ? from : to;
      this.lookRound(ahead + Math.PI / 2 + (Math.PI * (isBack ? c : c - 1)) / half);
      const at = this.surface.toSheet(place.tip[0]! + w * radial[0]!, place.tip[1]! + w * radial[1]!, place.tip[2]! + w * radial[2]!);
      poly[2 * c] = at.x;
      poly[2 * c + 1] = at.y + this.unwrap(at.y, from.y);
    }
    this.fill(PRINT_CORNERS + 2, false);
  }

  /** Two directions square to an axis, and to each other, to `square`. */
  private makeSquare(a: Float64Array): void {
    const { square } = this;
    const k = Math.abs(a[0]!) < 0.6 ? 0 : 1;
    const ux = k === 0 ? 1 - a[0]! * a[0]! : -a[1]! * a[0]!,
      uy = k === 0 ? -a[0]! * a[1]! : 1 - a[1]! * a[1]!,
      uz = k === 0 ? -a[0]! * a[2]! : -a[1]! * a[2]!;
    const l = Math.sqrt(ux * ux + uy * uy + uz * uz);
    square[0] = ux / l;
    square[1] = uy / l;
    square[2] = uz / l;
    square[3] = a[1]! * square[2] - a[2]! * square[1];
    square[4] = a[2]! * square[0] - a[0]! * square[2];
    square[5] = a[0]! * square[1] - a[1]! * square[0];
  }

  /** The direction at an angle between those two, to `radial`. */
  private lookRound(angle: number): void {
    const { radial, square } = this;
    const cs = Math.cos(angle),
      sn = Math.sin(angle);
    for (let k = 0; k < 3; k++) radial[k] = cs * square[k]! + sn * square[3 + k]!;
  }

  /** Width of the margin round footprints, in cells. */
  private margin = MARGIN_CELLS;

  /** Columns of cells in the rows that a convex polygon touches, widened by the margin. @returns First row, and how many. */
  private scan(corners: number): [number, number] {
    const { poly, grid, margin } = this;
    const perX = 1 / grid.cellX,
      perY = 1 / grid.cellY;
    let low = Infinity,
      high = -Infinity;
    for (let k = 0; k < corners; k++) {
      const x = (poly[2 * k]! - grid.minX) * perX - 0.5,
        y = (poly[2 * k + 1]! - grid.minY) * perY - 0.5;
      poly[2 * k] = x;
      poly[2 * k + 1] = y;
      if (y < low) low = y;
      if (y > high) high = y;
    }
    const first = Math.ceil(low - margin),
      last = Math.floor(high + margin);
    const count = last - first + 1;
    if (count > this.rowFrom.length) {
      this.rowFrom = new Float64Array(2 * count);
      this.rowTo = new Float64Array(2 * count);
      this.spans = new Int32Array(4 * count);
    }
    const { rowFrom, rowTo, spans } = this;
    for (let r = 0; r < count; r++) {
      rowFrom[r] = Infinity;
      rowTo[r] = -Infinity;
    }
    let bx = poly[2 * corners - 2]!,
      by = poly[2 * corners - 1]!;
    for (let k = 0; k < corners; k++) {
      const ax = bx,
        ay = by;
      bx = poly[2 * k]!;
      by = poly[2 * k + 1]!;
      const lowY = ay < by ? ay : by,
        highY = ay < by ? by : ay;
      const slope = highY - lowY > 1e-12 ? (bx - ax) / (by - ay) : 0;
      const r0 = Math.max(first, Math.ceil(lowY - margin)),
        r1 = Math.min(last, Math.floor(highY + margin));
      for (let r = r0; r <= r1; r++) {
        // The part of the edge within a margin of the row.
        const y0 = r - margin > lowY ? r - margin : lowY,
          y1 = r + margin < highY ? r + margin : highY;
        const x0 = slope === 0 ? ax : ax + (y0 - ay) * slope,
          x1 = slope === 0 ? bx : ax + (y1 - ay) * slope;
        const left = x0 < x1 ? x0 : x1,
          right = x0 < x1 ? x1 : x0;
        if (left < rowFrom[r - first]!) rowFrom[r - first] = left;
        if (right > rowTo[r - first]!) rowTo[r - first] = right;
      }
    }
    for (let r = 0; r < count; r++) {
      const none = rowFrom[r]! > rowTo[r]!;
      spans[2 * r] = none ? 1 : Math.max(0, Math.ceil(rowFrom[r]! - margin));
      spans[2 * r + 1] = none ? 0 : Math.min(grid.columns - 1, Math.floor(rowTo[r]! + margin));
    }
    return [first, count];
  }

  /**
   * Cuts the cells of a polygon.
   * @param stands Whether the cutter stands where it was put; else it moves along the piece that was taken.
   */
  private fill(corners: number, stands: boolean): void {
    const { grid, field } = this;
    let [first, count] = this.scan(corners);
    const { spans } = this;
    if (grid.closed && count > grid.rows) {
      // A print that goes round the whole blank: every cell once, over all its columns.
      let from = Infinity,
        to = -Infinity;
      for (let r = 0; r < count; r++) {
        from = Math.min(from, spans[2 * r]!);
        to = Math.max(to, spans[2 * r + 1]!);
      }
      [first, count] = [0, grid.rows];
      for (let r = 0; r < count; r++) [spans[2 * r], spans[2 * r + 1]] = [from, to];
    }
    if (this.keys) return field.collectKeys(first, count, spans, this.keys);
    this.rays.cut(field.touchRows(first, count, spans, this.notes ? this.rays.motion : -1), stands, this.highMm);
  }
}
