import Flatbush from 'flatbush';
import type { Rings } from '../../base/rings';
import { computeLean, type Work } from '../../machine/stance';
import type { Profile } from '../profile';

/** Chords of the outline in space are this near to it, mm. */
const CHORD_MM = 1e-4;
/** Longest piece of an outline on a flat surface, mm. */
const LONGEST_MM = 20;
/** Steps of a settling, those of them that may go towards the outline, and the clearance that is none, mm. */
const MAX_SETTLING = 16;
const PULLS = 3;
const SETTLED_MM = 1e-4;
/** A settled place is left this much clear, for what chords between two of them cut off, mm. */
const MARGIN_MM = 6e-4;
/** A place farther off than this is no place of a wall, mm. */
export const FAR_MM = 1;
/** A leaning cone's print reaches uphill no farther than so many times its own width; what leans more than that cuts nothing true. */
const MOST_WIDENED = 4;
/** What clearance changes by for a step towards the outline: 1 for an upright tool, 1 ± tan λ·tan β for a cone that leans. */
const RATES = [0.25, 4] as const;
/** A step towards the outline is at the most so much of the way to it. */
const MOST_OF_WAY = 0.8;
/** A circle on a curved surface reaches this much farther on the sheet than it is wide, at the most; less on one that curves alike. */
const REACH_SLACK = 1.7;
const WIDE_SHARE = 0.9;
/** Step for the slope of a profile, mm. */
const SLOPE_STEP_MM = 1e-5;

/**
 * How far a cutter of any profile stands from an outline that lies on the surface, at a depth. For a tip at depth d below S₀ with tool
 * axis a, a point P of the outline lies δ = −(P − S₀)·a below S₀ and ℓ beside the axis; there the cutter is w(d − δ) wide, so that it is
 * clear of P by ℓ − w(d − δ), least over the outline. A flat end mill is as wide as it is at any height, and meets the surface at the
 * lateral distance of its radius, not at that arc length. One serves one plan at a time: it keeps scratch space.
 */
export class Clearance {
  private readonly index: Flatbush;
  /** Sheet places and points in space of the ends of each piece. */
  private readonly sheet: Float64Array;
  private readonly space: Float64Array;
  private readonly pose = new Float64Array(6);
  private readonly metric = new Float64Array(3);
  /** Sheet place that was nearest in the last measurement. */
  private readonly foot = new Float64Array(2);
  /** Curvature where it is the same all over and the tool stands along the normal, 1/mm; else null. */
  private readonly bend: number | null;
  /** How much wider uphill than upright the print of a cone is, where it leans most: cot β / (cot β − tan λ). */
  private readonly widened: number;

  constructor(
    private readonly work: Work,
    outline: Rings,
    private readonly profile: Profile,
  ) {
    const sheet: number[] = [];
    const { xy, starts } = outline;
    const curvature = new Float64Array(2);
    work.curvatureInto(0, 0, curvature);
    const isAlike = work.flat || (work.alongNormal && work.isometric && work.homogeneous === 'everywhere');
    this.bend = isAlike ? Math.max(Math.abs(curvature[0]!), Math.abs(curvature[1]!)) : null;
    for (let k = 0; k + 1 < starts.length; k++) {
      for (let i = starts[k]!; i < starts[k + 1]!; i++) {
        const j = i + 1 < starts[k + 1]! ? i + 1 : starts[k]!;
        const [ax, ay, bx, by] = [xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!];
        work.curvatureInto((ax + bx) / 2, (ay + by) / 2, curvature);
        const bend = Math.max(Math.abs(curvature[0]!), Math.abs(curvature[1]!));
        const longest = Math.min(LONGEST_MM, bend > 0 ? Math.sqrt((8 * CHORD_MM) / bend) : LONGEST_MM);
        const pieces = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / longest));
        for (let m = 0; m < pieces; m++)
          sheet.push(
            ax + (m / pieces) * (bx - ax),
            ay + (m / pieces) * (by - ay),
            ax + ((m + 1) / pieces) * (bx - ax),
            ay + ((m + 1) / pieces) * (by - ay),
          );
      }
    }
    this.sheet = Float64Array.from(sheet);
    const count = sheet.length / 4;
    this.widened = this.findWidened();
    this.space = new Float64Array(6 * count);
    this.index = new Flatbush(Math.max(1, count));
    const point = new Float64Array(3);
    for (let s = 0; s < count; s++) {
      const [ax, ay, bx, by] = this.sheet.subarray(4 * s, 4 * s + 4) as unknown as [number, number, number, number];
      work.pointInto(ax, ay, point);
      this.space.set(point, 6 * s);
      work.pointInto(bx, by, point);
      this.space.set(point, 6 * s + 3);
      this.index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
    }
    if (count === 0) this.index.add(1e9, 1e9, 1e9, 1e9);
    this.index.finish();
  }

  private findWidened(): number {
    const { work, sheet } = this;
    const cot = this.profile.cotBeta ?? 0;
    if (work.alongNormal || cot === 0) return 1;
    let lean = 0;
    for (let i = 0; i < sheet.length; i += 4) lean = Math.max(lean, computeLean(work, sheet[i]!, sheet[i + 1]!));
    return cot / Math.max(cot / MOST_WIDENED, cot - Math.tan(lean));
  }

  /**
   * Least clearance of the cutter at a place and depth, mm; negative where it cuts over the outline. `reachMm` where nothing is nearer.
   * Which side of the outline the place lies on is not asked.
   */
  measure(x: number, y: number, depthMm: number, reachMm = 0.5): number {
    const { pose, metric, work, profile, foot } = this;
    work.poseInto(x, y, pose);
    work.metricInto(x, y, metric);
    const [e, f, g] = metric as unknown as [number, number, number];
    const det = e * g - f * f;
    const wide = this.widened * profile.halfWidthAt(depthMm) + reachMm;
    const far = this.bend === null ? REACH_SLACK * wide : reachOver(this.bend, wide);
    const [farX, farY] = [far * Math.sqrt(g / det), far * Math.sqrt(e / det)];
    const [sx, sy, sz, ax, ay, az] = pose as unknown as [number, number, number, number, number, number];
    let least = reachMm;
    foot[0] = x;
    foot[1] = y;
    for (const s of this.index.search(x - farX, y - farY, x + farX, y + farY)) {
      const p = this.space;
      const [qx, qy, qz] = [p[6 * s]! - sx, p[6 * s + 1]! - sy, p[6 * s + 2]! - sz];
      const [ux, uy, uz] = [p[6 * s + 3]! - p[6 * s]!, p[6 * s + 4]! - p[6 * s + 1]!, p[6 * s + 5]! - p[6 * s + 2]!];
      // Heights along the tool, and what is left of both beside it.
      const qh = qx * ax + qy * ay + qz * az,
        uh = ux * ax + uy * ay + uz * az;
      const [lx, ly, lz] = [qx - qh * ax, qy - qh * ay, qz - qh * az],
        [mx, my, mz] = [ux - uh * ax, uy - uh * ay, uz - uh * az];
      const mm = mx * mx + my * my + mz * mz;
      const foot0 = mm > 0 ? -(lx * mx + ly * my + lz * mz) / mm : 0;
      let share = foot0;
      if (uh !== 0 && mm > 0) {
        // Where the width changes along the piece the least lies beside its foot: s = −m·h/√(1 − m²) for a slope m of the width.
        const height = depthMm + qh + Math.max(0, Math.min(1, foot0)) * uh;
        const slope = (profile.halfWidthAt(height + SLOPE_STEP_MM) - profile.halfWidthAt(height)) / SLOPE_STEP_MM;
        const m = (-slope * uh) / Math.sqrt(mm);
        const h = Math.sqrt(Math.max(0, lx * lx + ly * ly + lz * lz - foot0 * foot0 * mm));
        if (Math.abs(m) < 0.99) share = foot0 - (m * h) / Math.sqrt((1 - m * m) * mm);
      }
      const t = Math.max(0, Math.min(1, share));
      const [px, py, pz] = [lx + t * mx, ly + t * my, lz + t * mz];
      const here = Math.sqrt(px * px + py * py + pz * pz) - profile.halfWidthAt(depthMm + qh + t * uh);
      if (here < least) {
        least = here;
        foot[0] = this.sheet[4 * s]! + t * (this.sheet[4 * s + 2]! - this.sheet[4 * s]!);
        foot[1] = this.sheet[4 * s + 1]! + t * (this.sheet[4 * s + 3]! - this.sheet[4 * s + 1]!);
      }
    }
    return least;
  }

  /**
   * Moves a place that lies about right to where the cutter all but touches the outline: towards it first, then only away from it, so that
   * in a corner it ends clear of both walls. `out` is the place on the sheet.
   * @param pulls Whether it is moved towards the outline at all. @param farMm A place farther off than this is no place of a wall, mm.
   * @returns The clearance that is left, mm.
   */
  settle(x: number, y: number, depthMm: number, out: Float64Array, pulls = true, farMm = FAR_MM): number {
    let [px, py] = [x, y];
    let off = 0,
      stepMm = 0,
      rate = 1;
    for (let k = 0; k < MAX_SETTLING; k++) {
      const now = this.measure(px, py, depthMm, farMm) - MARGIN_MM;
      if (farMm > FAR_MM && stepMm !== 0) rate = Math.max(RATES[0], Math.min(RATES[1], (off - now) / stepMm));
      off = now;
      if (Math.abs(off) < SETTLED_MM || off > 0.99 * farMm - MARGIN_MM || (off > 0 && (!pulls || k >= PULLS))) break;
      const [dx, dy] = [this.foot[0]! - px, this.foot[1]! - py];
      const [e, f, g] = this.metric as unknown as [number, number, number];
      const away = Math.sqrt(e * dx * dx + 2 * f * dx * dy + g * dy * dy);
      if (!(away > 0)) break;
      // Never past the outline that it goes towards: on its other side it would be taken to be clear too.
      stepMm = farMm > FAR_MM ? Math.min(off / rate, MOST_OF_WAY * away) : off;
      px += (dx * stepMm) / away;
      py += (dy * stepMm) / away;
    }
    out[0] = px;
    out[1] = py;
    return off + MARGIN_MM;
  }

  /** How far off a way round an outline may lie at first, mm: a print is as wide uphill as downhill in the plane alone. */
  getFarMm(depthMm: number): number {
    return this.widened > 1 ? FAR_MM + this.widened * this.profile.halfWidthAt(depthMm) : FAR_MM;
  }
}

/** How far on the sheet what lies so far beside the tool can be: on a circle of radius R it is R·asin(w / R). */
const reachOver = (bend: number, wideMm: number): number =>
  bend * wideMm > WIDE_SHARE ? REACH_SLACK * wideMm : bend > 0 ? Math.asin(bend * wideMm) / bend : wideMm;
