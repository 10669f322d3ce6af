import { createPartChoice, type CutterShape, type ShapePart } from './cutterShape';
import { removeStretch, TILE_CELLS, type Tile } from './field';
import type { Piece } from './piece';

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
  private highMm = 0;
  private inReach: (heightMm: number) => readonly ShapePart[] = () => [];

  use(shape: CutterShape): void {
    this.shape = shape;
    this.inReach = createPartChoice(shape);
  }

  /**
   * Leaves out the parts of the cutter that stand clear of the surface, with room for what was not looked at.
   * @param highMm Greatest height over the tip at which the surface is met, mm.
   */
  choose(highMm: number): void {
    this.highMm = highMm;
    this.parts = this.inReach(1.5 * highMm + 0.1);
  }

  /** Cuts a run of cells of one tile. */
  cutRow(tile: Tile, from: number, count: number, piece: Piece, fixed: -1 | 0 | 1): void {
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
