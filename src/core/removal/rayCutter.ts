import { createPartChoice, type CutterShape, type ShapePart } from './cutterShape';
import { removeStretch, TILE_CELLS, type CellRuns, type Tile } from './field';
import { createPiece, type Piece } from './piece';

/*
 * Exact sweep of a cutter along pieces of its way. For each cell the place on the piece at which its ray goes deepest follows in
 * closed form for every part of the cutter (a quadric moving straight); there the ray is cut with the cutter as it stands. Any place
 * on the piece is a true position, so an error there is of second order and never too deep.
 */

/** A bow smaller than this is none, mm. */
const STRAIGHT_MM = 1e-8;
/** A height may miss its part by rounding, mm. */
const HEIGHT_SLACK_MM = 2e-5;
/** A ray steeper than a part's flank by less than this counts as along it. */
const ALONG = 1e-9;
/** A root's square this little below 0 is 0, mm². */
const ROUNDING = 1e-9;
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

/** Cuts the rays of cells with a cutter on its way. */
export class RayCutter {
  /** Where what each motion takes is noted, or null. */
  load: Load | null = null;
  /** Cells that were asked so far: the measure of work. */
  cells = 0;
  /** The motion that cuts. */
  motion = 0;
  private shape: CutterShape | null = null;
  /** Parts of the cutter that can meet the surface where it stands: those that begin below it. */
  private parts: readonly ShapePart[] = [];
  private inReach: (heightMm: number) => readonly ShapePart[] = () => [];
  private piece: Piece = createPiece();
  /** Of the straight way that stands for the piece: axis, tip, move, move·axis, move·move. */
  private readonly constants = new Float64Array(11);
  /** For each part of the cutter the way's own form in its quadric, and one over it. */
  private readonly partConstants = new Float64Array(2 * MAX_PARTS);
  /** Where the ray asked last enters the cutter and leaves it, mm. */
  private readonly stretch = new Float64Array(2);
  /** Tip and axis where the cutter stands. */
  private readonly stand = new Float64Array(6);
  private bent = false;
  private plain = true;
  private isChain = false;
  /** How much deeper than the straight way's a bent one's depth may be: in all, a millimetre of height, and by its bow. */
  private slackMm = 0;
  private turn = 0;
  private bowMm = 0;

  use(shape: CutterShape): void {
    this.shape = shape;
    this.inReach = createPartChoice(shape);
  }

  /** Takes the piece that cuts next: what is the same for all its rays. */
  take(piece: Piece): void {
    const { tip, move, bow, axis, axisMove, axisBow } = piece;
    const { constants, partConstants } = this;
    const shape = this.shape!;
    this.piece = piece;
    const bowMm = length(bow),
      axisTurn = length(axisMove);
    const bent = bowMm > STRAIGHT_MM || axisTurn > STRAIGHT_MM;
    this.bent = bent;
    // The straight way that stands for the piece, with its middle axis.
    for (let k = 0; k < 3; k++) {
      constants[k] = axis[k]! + axisMove[k]! / 2 - axisBow[k]! / 4;
      constants[3 + k] = tip[k]! - bow[k]! / 6;
      constants[6 + k] = move[k]!;
    }
    const va = move[0]! * constants[0]! + move[1]! * constants[1]! + move[2]! * constants[2]!,
      vv = move[0]! * move[0]! + move[1]! * move[1]! + move[2]! * move[2]!;
    constants[9] = va;
    constants[10] = vv;
    const turning = axisTurn / Math.sqrt(vv || 1);
    this.plain = shape.flatMm * shape.flatMm * turning < PLANE_MM;
    this.turn = bent ? 2 * axisTurn : 0;
    this.bowMm = bent ? bowMm : 0;
    this.isChain = shape.parts.length > MAX_PARTS;
    if (this.isChain) return;
    for (const [k, { m }] of shape.parts.entries()) {
      const qvv = vv - m * va * va;
      partConstants[2 * k] = qvv;
      partConstants[2 * k + 1] = 1 / qvv;
    }
  }

  /** Puts the cutter at a place, where it stands. */
  standAt(tip: Float64Array, axis: Float64Array): void {
    for (let k = 0; k < 3; k++) {
      this.stand[k] = tip[k]!;
      this.stand[3 + k] = axis[k]!;
    }
  }

  /**
   * Cuts runs of cells.
   * @param stands Whether the cutter stands where it was put; else it moves along the piece that was taken.
   * @param highMm Greatest height over the tip at which the surface is met, mm: parts of the cutter clear of it are left out.
   */
  cut(runs: CellRuns, stands: boolean, highMm: number): void {
    this.parts = this.inReach(1.5 * highMm + 0.1);
    this.cells += runs.asked;
    if (stands || this.isChain) return this.cutEach(runs, stands);
    this.slackMm = this.turn * highMm + this.bowMm;
    for (let k = 0; k < this.parts.length; k++) this.cutPart(runs, k);
    if (this.shape!.flatMm > 0) this.cutRim(runs);
  }

  /** Cuts cells one by one: by the cutter where it stands, or by a round corner that moves. */
  private cutEach({ count, tiles, cells }: CellRuns, stands: boolean): void {
    for (let run = 0; run < count; run++) {
      const tile = tiles[run]!;
      for (let i = cells[2 * run]!; i <= cells[2 * run + 1]!; i++) {
        if (stands) this.cutHere(tile, i, false);
        else this.trySought(tile, i);
      }
    }
  }

  /** Cuts cells with one part of a cutter that moves. */
  private cutPart({ count, tiles, cells: ends }: CellRuns, k: number): void {
    const { constants, partConstants, bent, slackMm } = this;
    const { m, centreMm, radiusSquared, fromMm, toMm } = this.parts[k]!;
    const ax = constants[0]!,
      ay = constants[1]!,
      az = constants[2]!,
      // The part's centre at the start of the way.
      tx = constants[3]! + centreMm * ax,
      ty = constants[4]! + centreMm * ay,
      tz = constants[5]! + centreMm * az,
      vx = constants[6]!,
      vy = constants[7]!,
      vz = constants[8]!,
      va = constants[9]!,
      mva = m * va;
    const { axisMove } = this.piece;
    const ux = axisMove[0]!,
      uy = axisMove[1]!,
      uz = axisMove[2]!;
    const isSteep = !(partConstants[2 * k]! > 1e-18),
      inverse = partConstants[2 * k + 1]!;
    const low = fromMm - centreMm,
      high = toMm - centreMm;
    for (let run = 0; run < count; run++) {
      const tile = tiles[run]!;
      const { frames, depth } = tile;
      const until = ends[2 * run + 1]!;
      for (let i = ends[2 * run]!; i <= until; i++) {
        const o = 6 * i;
        const sx = frames[o]!,
          sy = frames[o + 1]!,
          sz = frames[o + 2]!,
          nx = frames[o + 3]!,
          ny = frames[o + 4]!,
          nz = frames[o + 5]!;
        if (isSteep) {
          // Steeper than this part's flank: deepest at an end.
          this.goTo(va < 0 ? 1 : 0);
          this.cutHere(tile, i, true);
          continue;
        }
        const px = sx - tx,
          py = sy - ty,
          pz = sz - tz;
        const na = nx * ax + ny * ay + nz * az,
          nv = nx * vx + ny * vy + nz * vz;
        const pa = px * ax + py * ay + pz * az,
          pv = px * vx + py * vy + pz * vz;
        // Normals are of single precision: their own length counts, or the walls would not meet on the tool's way.
        const qnn = nx * nx + ny * ny + nz * nz - m * na * na,
          qpn = px * nx + py * ny + pz * nz - m * pa * na,
          qpp = px * px + py * py + pz * pz - m * pa * pa - radiusSquared;
        const qvn = nv - mva * na,
          qpv = pv - mva * pa;
        const A = qnn - qvn * qvn * inverse,
          B = qpn - qpv * qvn * inverse,
          C = qpp - qpv * qpv * inverse;
        const D = B * B - A * C;
        // On the tool's own way the two walls meet, and rounding may put the root below nothing.
        if (D < -ROUNDING) continue;
        const root = D > 0 ? Math.sqrt(D) : 0;
        const t = B <= 0 ? C / (B - root) : (B + root) / A;
        if (!(t + slackMm > depth[i]!)) continue;
        let s = (qpv - t * qvn) * inverse;
        if (bent) {
          // The axis turns on the way, so places on the flank move otherwise than the tip: Newton's steps for it.
          const first = s;
          const qx = px + centreMm * ax - t * nx,
            qy = py + centreMm * ay - t * ny,
            qz = pz + centreMm * az - t * nz;
          const at = ux * qx + uy * qy + uz * qz,
            step = ux * vx + uy * vy + uz * vz,
            up = pa - t * na;
          s = first + (at - s * step) * (centreMm + m * (up - s * va)) * inverse;
          s = first + (at - s * step) * (centreMm + m * (up - s * va)) * inverse;
        }
        if (s > 0 && s < 1) {
          // Another part's place, clearly.
          const h = pa - s * va - t * na;
          if (h < low - AWAY_MM || h > high + AWAY_MM) continue;
          if (!bent && qnn <= ALONG && h >= low && h <= high) {
            this.stretch[0] = 0;
            this.stretch[1] = t;
            this.remove(tile, i);
            continue;
          }
        } else s = s > 0 ? 1 : 0;
        this.goTo(s);
        this.cutHere(tile, i, true);
      }
    }
  }

  /** Cuts cells with the flat of the tip of a cutter that moves: where its plane meets its own circle on each ray. */
  private cutRim({ count, tiles, cells: ends }: CellRuns): void {
    const { constants } = this;
    const flat = this.shape!.flatMm;
    const ax = constants[0]!,
      ay = constants[1]!,
      az = constants[2]!,
      tx = constants[3]!,
      ty = constants[4]!,
      tz = constants[5]!,
      vx = constants[6]!,
      vy = constants[7]!,
      vz = constants[8]!,
      va = constants[9]!;
    const rise = this.plain ? va : NaN;
    for (let run = 0; run < count; run++) {
      const tile = tiles[run]!;
      const { frames } = tile;
      const until = ends[2 * run + 1]!;
      for (let i = ends[2 * run]!; i <= until; i++) {
        const o = 6 * i;
        const sx = frames[o]!,
          sy = frames[o + 1]!,
          sz = frames[o + 2]!,
          nx = frames[o + 3]!,
          ny = frames[o + 4]!,
          nz = frames[o + 5]!;
        const dx = sx - tx,
          dy = sy - ty,
          dz = sz - tz;
        const per = 1 / (nx * ax + ny * ay + nz * az);
        const t = (dx * ax + dy * ay + dz * az) * per,
          climb = va * per;
        const ux = dx - t * nx,
          uy = dy - t * ny,
          uz = dz - t * nz;
        const zx = vx - climb * nx,
          zy = vy - climb * ny,
          zz = vz - climb * nz;
        const z2 = zx * zx + zy * zy + zz * zz,
          uz2 = ux * zx + uy * zy + uz * zz;
        const D = uz2 * uz2 - z2 * (ux * ux + uy * uy + uz * uz - flat * flat);
        if (D < 0 || !(z2 > 0)) continue;
        const root = Math.sqrt(D);
        const s1 = (uz2 - root) / z2,
          s2 = (uz2 + root) / z2;
        if (s1 > 1 || s2 < 0) continue;
        if (s1 > 0 || s2 < 1 || rise !== rise) this.tryFlat(tile, i, s1 < 0 ? 0 : s1, s2 > 1 ? 1 : s2, root, rise);
        else {
          this.goTo(rise > 0 ? 0 : rise < 0 ? 1 : 0.5);
          this.cutHere(tile, i, true);
        }
      }
    }
  }

  /** Cuts one ray with the flat of the tip, which is over it from s1 to s2: where its plane is deepest there. */
  private tryFlat(
    tile: Tile,
    cell: number,
    s1: number,
    s2: number,
    root: number,
    /** The piece's rise along the axis, where the higher end of the flat's stay is the deeper; NaN where it has to be looked for. */
    rise: number,
  ): void {
    if (rise > 0 ? s1 === 0 : rise < 0 ? s2 === 1 : rise === 0) {
      return this.tryAt(tile, cell, rise > 0 ? 0 : rise < 0 ? 1 : (s1 + s2) / 2);
    }
    // The piece is a little bent: into the circle, should its ends have come to lie outside.
    let lo = s1,
      hi = s2;
    for (let k = 0; k < 3; k++) {
      const over = this.flatAt(lo, tile, cell);
      if (over <= 0) break;
      lo += root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
    }
    for (let k = 0; k < 3; k++) {
      const over = this.flatAt(hi, tile, cell);
      if (over <= 0) break;
      hi -= root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
    }
    if (!(lo <= hi)) return;
    if (rise === rise) return this.tryAt(tile, cell, rise > 0 ? lo : hi);
    this.flatAt(lo, tile, cell);
    const a = this.flatMeets;
    this.flatAt(hi, tile, cell);
    const c = this.flatMeets;
    let s = a > c ? lo : a < c ? hi : (lo + hi) / 2;
    if (Math.max(a, c) <= tile.depth[cell]! - 0.01) return;
    this.flatAt((lo + hi) / 2, tile, cell);
    const b = this.flatMeets;
    if (b > Math.max(a, c) || 2 * b > a + c) {
      // The vertex of the parabola through the three.
      const bend = a - 2 * b + c;
      const at = bend < 0 ? (lo + hi) / 2 + ((a - c) / bend) * ((hi - lo) / 4) : s;
      if (at > lo && at < hi) s = at;
    }
    this.tryAt(tile, cell, s);
  }

  /** Where the ray asked last meets the plane of the tip's flat. */
  private flatMeets = 0;

  /** Where a ray meets the flat’s plane at s, to `flatMeets`. @returns How far outside its circle, as a difference of squares. */
  private flatAt(s: number, tile: Tile, cell: number): number {
    this.goTo(s);
    const { frames } = tile;
    const o = 6 * cell;
    const sx = frames[o]!,
      sy = frames[o + 1]!,
      sz = frames[o + 2]!,
      nx = frames[o + 3]!,
      ny = frames[o + 4]!,
      nz = frames[o + 5]!;
    const { stand } = this;
    const ax = stand[3]!,
      ay = stand[4]!,
      az = stand[5]!;
    const dx = sx - stand[0]!,
      dy = sy - stand[1]!,
      dz = sz - stand[2]!;
    const t = (dx * ax + dy * ay + dz * az) / (nx * ax + ny * ay + nz * az);
    this.flatMeets = t;
    const ux = dx - t * nx,
      uy = dy - t * ny,
      uz = dz - t * nz;
    const flat = this.shape!.flatMm;
    return ux * ux + uy * uy + uz * uz - flat * flat;
  }

  /** Puts the cutter at s of the piece: tip and axis to `stand`. */
  private goTo(s: number): void {
    const { tip, move, bow, axis, axisMove, axisBow } = this.piece;
    const { stand } = this;
    const b = s * (s - 1);
    stand[0] = tip[0]! + s * move[0]! + b * bow[0]!;
    stand[1] = tip[1]! + s * move[1]! + b * bow[1]!;
    stand[2] = tip[2]! + s * move[2]! + b * bow[2]!;
    stand[3] = axis[0]! + s * axisMove[0]! + b * axisBow[0]!;
    stand[4] = axis[1]! + s * axisMove[1]! + b * axisBow[1]!;
    stand[5] = axis[2]! + s * axisMove[2]! + b * axisBow[2]!;
  }

  /** Cuts one ray with the cutter as it stands at s on its way. */
  private tryAt(tile: Tile, cell: number, s: number): void {
    this.goTo(s);
    this.cutHere(tile, cell, true);
  }

  /** Cuts one ray with the cutter where it stands; `moves` says that it comes from elsewhere on the piece. */
  private cutHere(tile: Tile, cell: number, moves: boolean): void {
    const { stretch } = this;
    this.leave(tile, cell);
    const depth = tile.depth[cell]!;
    if (!(stretch[1]! > depth)) return;
    // Where the ray enters through the flank it may do so sooner from elsewhere on the piece, and the stretch is one.
    for (let k = 0; k < 3 && moves && stretch[0]! > depth; k++) stretch[0] = Math.min(stretch[0]!, this.entryAt(k / 2, tile, cell));
    this.remove(tile, cell);
  }

  /** Takes the stretch away that was found, and notes what the motion took. */
  private remove(tile: Tile, cell: number): void {
    const { stretch, load, motion } = this;
    const depth = tile.depth[cell]!;
    let deeper: number;
    if (tile.under === null && stretch[0]! <= depth) {
      const out = stretch[1]!;
      if (!(out > depth)) return;
      tile.depth[cell] = out;
      tile.motion[cell] = motion + 1;
      tile.changed = true;
      deeper = out - depth;
    } else deeper = removeStretch(tile, cell, stretch[0]!, stretch[1]!, motion);
    if (!load || !(deeper > 0)) return;
    load.taken[motion]! += deeper;
    if (deeper <= load.most[motion]!) return;
    load.most[motion] = deeper;
    load.cell[motion] = tile.key * TILE_CELLS + cell;
  }

  /** Cuts one ray where it goes deepest along the piece, found by stepping: for a round corner, which is many cones. */
  private trySought(tile: Tile, cell: number): void {
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
        this.goTo(s);
        this.leave(tile, cell);
        const t = this.stretch[1]!;
        if (t > best) {
          best = t;
          at = s;
        }
      }
      if (best === -Infinity) return;
      lo = Math.max(0, at - step);
      hi = Math.min(1, at + step);
    }
    this.tryAt(tile, cell, at);
  }

  /** Where a ray enters and leaves the cutter where it stands, to `stretch`; leaves at −∞ if it misses, enters there from above. */
  private leave(tile: Tile, cell: number): void {
    const { parts, stand, stretch } = this;
    const { frames } = tile;
    const o = 6 * cell;
    const sx = frames[o]!,
      sy = frames[o + 1]!,
      sz = frames[o + 2]!,
      nx = frames[o + 3]!,
      ny = frames[o + 4]!,
      nz = frames[o + 5]!;
    const ax = stand[3]!,
      ay = stand[4]!,
      az = stand[5]!;
    const dx = sx - stand[0]!,
      dy = sy - stand[1]!,
      dz = sz - stand[2]!;
    const nn = nx * nx + ny * ny + nz * nz;
    const na = nx * ax + ny * ay + nz * az,
      da = dx * ax + dy * ay + dz * az;
    const flat = this.shape!.flatMm;
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
    stretch[0] = into < Infinity ? into : 1 - m * na * na > ALONG && (missed || toMm === Infinity) ? out : -Infinity;
    stretch[1] = out;
  }

  /** Where a ray enters the cutter as it stands at s; infinite if it does not. */
  private entryAt(s: number, tile: Tile, cell: number): number {
    this.goTo(s);
    const { frames } = tile;
    const o = 6 * cell;
    const sx = frames[o]!,
      sy = frames[o + 1]!,
      sz = frames[o + 2]!,
      nx = frames[o + 3]!,
      ny = frames[o + 4]!,
      nz = frames[o + 5]!;
    const { stand } = this;
    const ax = stand[3]!,
      ay = stand[4]!,
      az = stand[5]!;
    const dx = sx - stand[0]!,
      dy = sy - stand[1]!,
      dz = sz - stand[2]!;
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

const length = (v: Float64Array): number => Math.sqrt(v[0]! * v[0]! + v[1]! * v[1]! + v[2]! * v[2]!);
