import Flatbush from 'flatbush';
import { computeBox, type Box, type Rings } from '../base/rings';
import type { Profile } from '../cut/profile';
import { computeLean, type Work } from '../machine/stance';

/** On a curved surface, and under a leaning tool, segments are no longer than this, mm: they sag by less than 0.5 µm on a radius of 10. */
const LONGEST_MM = 0.2;
/** Outlines are first looked for so near, mm. */
const LEAST_WINDOW_MM = 0.1;
/** Places of a segment that are asked besides the nearest where a tool leans: a quarter of 0.2 mm apart. */
const LEANING_SHARES = [0, 0.25, 0.5, 0.75, 1] as const;
/** What distance adds to a depth, so that of equal depths the nearest contact is taken. */
const NEARER = 1e-6;
/** Least rise of a flank over a surface that it leans towards, by which contacts are bounded. */
const LEAST_FALL = 0.05;
/** No tool is taken to lean by more, radians. */
const MOST_LEAN_RAD = 1.4;
/** Slack on that bound for stretch and for how the surface falls away. */
const BOUND_SLACK = 1.05;

/** The place of an outline that comes nearest to a cutter's surface. */
export interface Contact {
  /** What was asked for, at its least: a depth along the tool, a distance beside it, or a clearance, mm. */
  leastMm: number;
  /** Distance beside the tool's axis, mm. */
  lateralMm: number;
  /** Its sheet place, at the turn of the place that was asked. */
  x: number;
  y: number;
}

/** Where a segment comes nearest beside a tool: beside its axis, below its place, mm; and how far along the segment, 0 to 1. */
interface Met {
  lateralMm: number;
  belowMm: number;
  share: number;
}

/** What of a profile a contact depends on; its cone's slope bounds how far one is looked for under a tool that leans. */
type ContactProfile = Pick<Profile, 'heightAt'> & Partial<Pick<Profile, 'cotBeta' | 'flatMm' | 'ballRadiusMm'>>;

/**
 * Segments of rings or chains in space, asked by what a cutter that stands on the sheet would meet. Its own search and its own contact
 * rule: it shares nothing with what plans the passes.
 */
export class Outlines {
  readonly box: Box;
  readonly count: number;
  private readonly index: Flatbush | null;
  /** Sheet x, y and space x, y, z of both ends: 10 numbers a segment. */
  private readonly ends: Float64Array;
  private readonly pose = new Float64Array(6);
  private readonly metric = new Float64Array(3);
  private readonly met: Met = { lateralMm: 0, belowMm: 0, share: 0 };
  /** How much longer on the surface than beside the axis of a tool that leans over it a distance near these outlines is at the most. */
  private aslant = 1;
  /** How far the nearest was when asked last, mm. */
  private lastFarMm = 0;

  constructor(
    rings: Rings,
    isClosed: boolean,
    private readonly work: Work,
  ) {
    this.box = computeBox(rings.xy);
    const longest = work.flat && work.alongNormal ? Infinity : LONGEST_MM;
    const sheet: number[] = [];
    for (let k = 0; k + 1 < rings.starts.length; k++) {
      const [from, to] = [rings.starts[k]!, rings.starts[k + 1]!];
      for (let i = from; i < to; i++) {
        const j = i + 1 < to ? i + 1 : isClosed ? from : -1;
        if (j < 0) continue;
        const [ax, ay, bx, by] = [rings.xy[2 * i]!, rings.xy[2 * i + 1]!, rings.xy[2 * j]!, rings.xy[2 * j + 1]!];
        const parts = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / longest));
        for (let p = 0; p < parts; p++)
          sheet.push(
            ax + (p / parts) * (bx - ax),
            ay + (p / parts) * (by - ay),
            ax + ((p + 1) / parts) * (bx - ax),
            ay + ((p + 1) / parts) * (by - ay),
          );
      }
    }
    this.count = sheet.length / 4;
    this.ends = new Float64Array(10 * this.count);
    this.index = this.count > 0 ? new Flatbush(this.count) : null;
    const point = new Float64Array(3);
    let lean = 0;
    if (!work.alongNormal) for (let i = 0; i < sheet.length; i += 4) lean = Math.max(lean, computeLean(work, sheet[i]!, sheet[i + 1]!));
    this.aslant = 1 / Math.cos(Math.min(MOST_LEAN_RAD, lean));
    for (let s = 0; s < this.count; s++) {
      const [ax, ay, bx, by] = [sheet[4 * s]!, sheet[4 * s + 1]!, sheet[4 * s + 2]!, sheet[4 * s + 3]!];
      work.pointInto(ax, ay, point);
      this.ends.set([ax, ay, ...point], 10 * s);
      work.pointInto(bx, by, point);
      this.ends.set([bx, by, ...point], 10 * s + 5);
      this.index!.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
    }
    this.index?.finish();
  }

  /** Whether a sheet place lies inside, by the even–odd rule; a blank that closes on itself is asked at the turn where the shapes lie. */
  isInside(x: number, y: number): boolean {
    const { periodMm } = this.work;
    if (periodMm === null) return this.isInsideAt(x, y);
    return this.turnsNear(y, 0).some((turn) => this.isInsideAt(x, y + turn));
  }

  private isInsideAt(x: number, y: number): boolean {
    const { box, ends } = this;
    if (!this.index || x < box.minX || x > box.maxX || y < box.minY || y > box.maxY) return false;
    let crossings = 0;
    // Across a line of words less is met than along it.
    const isAcross = box.maxX - box.minX > box.maxY - box.minY;
    const met = isAcross ? this.index.search(x, y, x, box.maxY) : this.index.search(x, y, box.maxX, y);
    for (const s of met) {
      const o = 10 * s;
      const ax = ends[o]!,
        ay = ends[o + 1]!,
        bx = ends[o + 5]!,
        by = ends[o + 6]!;
      if (isAcross) {
        if (ax > x !== bx > x && ay + ((x - ax) / (bx - ax)) * (by - ay) > y) crossings++;
      } else if (ay > y !== by > y && ax + ((y - ay) / (by - ay)) * (bx - ax) > x) crossings++;
    }
    return crossings % 2 === 1;
  }

  /** The turns at which shapes lie near a sheet place. What goes all the way round is asked at its middle turn, far from its own ends. */
  private turnsNear(y: number, reach: number): number[] {
    const { periodMm } = this.work;
    if (periodMm === null) return [0];
    const { minY, maxY } = this.box;
    if (maxY - minY > periodMm) return [periodMm * Math.round(((minY + maxY) / 2 - y) / periodMm)];
    const first = Math.ceil((this.box.minY - reach - y) / periodMm),
      last = Math.floor((this.box.maxY + reach - y) / periodMm);
    return Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => (first + k) * periodMm);
  }

  /**
   * The contact that lets a cutter go least deep at a sheet place.
   * @param reachMm Outlines farther away beside the tool than this do not count, mm.
   * @returns Null where none is as near.
   */
  findContact(x: number, y: number, profile: ContactProfile, reachMm: number): Contact | null {
    // Under a flat tip many allow the same: then the nearest counts.
    const rate = (delta: number, lateral: number): number => delta + profile.heightAt(lateral) + NEARER * lateral;
    if (this.work.alongNormal || !profile.cotBeta) return this.findLeast(x, y, reachMm, rate);
    // Uphill of a tool that leans by λ the surface comes nearer: d ≥ h(ℓ) − ℓ·tan λ, so what allows less than d lies within d/(cot β −
    // tan λ).
    const fall = Math.max(LEAST_FALL, profile.cotBeta - Math.tan(Math.min(MOST_LEAN_RAD, computeLean(this.work, x, y))));
    return this.findLeast(x, y, reachMm, rate, (least) => Math.max(0, least) / fall + (profile.flatMm ?? 0) + (profile.ballRadiusMm ?? 0));
  }

  /** The place of the outlines that is nearest beside the tool's axis. */
  findNearest(x: number, y: number, reachMm: number): Contact | null {
    return this.findLeast(x, y, reachMm, (_, lateral) => lateral);
  }

  /**
   * The nearest clearance of a cutter at a depth: distance beside its axis less its half-width at the height of the outline, mm.
   * `reachMm` where no outline is as near.
   */
  findClearance(x: number, y: number, depthMm: number, profile: Pick<Profile, 'halfWidthAt'>, reachMm: number): number {
    const found = this.findLeast(x, y, reachMm, (delta, lateral) => lateral - profile.halfWidthAt(Math.max(1e-9, depthMm - delta)));
    return found ? found.leastMm : reachMm;
  }

  private findLeast(
    x: number,
    y: number,
    reachMm: number,
    rate: (delta: number, lateral: number) => number,
    farthest: (leastMm: number) => number = () => 0,
  ): Contact | null {
    const { ends } = this;
    if (!this.index) return null;
    this.work.poseInto(x, y, this.pose);
    this.work.metricInto(x, y, this.metric);
    const [e, f, g] = this.metric as unknown as [number, number, number];
    const det = Math.sqrt(Math.max(1e-12, e * g - f * f));
    const [spanX, spanY] = [(this.aslant * Math.sqrt(g)) / det, (this.aslant * Math.sqrt(e)) / det];
    let best: Contact | null = null;
    for (const turn of this.turnsNear(y, reachMm * spanY * BOUND_SLACK)) {
      const py = y + turn;
      // A window about the place, wider until something lies in it for certain; the last one is a good first guess.
      let window = Math.min(reachMm, Math.max(LEAST_WINDOW_MM, BOUND_SLACK * this.lastFarMm));
      let far = Infinity;
      const meetAll = (r: number): void => {
        for (const s of this.index!.search(x - r * spanX, py - r * spanY, x + r * spanX, py + r * spanY)) {
          const own = this.meet(s, reachMm);
          if (!own) continue;
          const { lateralMm, share } = own;
          far = Math.min(far, lateralMm);
          const leastMm = rate(own.belowMm, lateralMm);
          if (best && !(leastMm < best.leastMm)) continue;
          const o = 10 * s;
          const [ax, ay, bx, by] = [ends[o]!, ends[o + 1]!, ends[o + 5]!, ends[o + 6]!];
          best = { leastMm, lateralMm, x: ax + share * (bx - ax), y: ay + share * (by - ay) - turn };
        }
      };
      for (meetAll(window); far * BOUND_SLACK > window && window < reachMm; meetAll(window))
        window = Math.min(reachMm, far < Infinity ? far * BOUND_SLACK : 3 * window);
      if (far < Infinity) this.lastFarMm = far;
      // Nothing nearer than the nearest beside the tool; what rates less though it is farther lies within a little more.
      const found = best as Contact | null;
      const reach = Math.min(reachMm, Math.max(far * BOUND_SLACK + 0.02, found ? farthest(found.leastMm) : reachMm));
      if (reach > window) meetAll(reach);
    }
    return best;
  }

  /** Visits the place of each segment near a sheet place that is nearest beside the tool there; under a tool that leans others too. */
  visitNear(x: number, y: number, reachMm: number, visit: (x: number, y: number, lateralMm: number, isNearest: boolean) => void): void {
    if (!this.index) return;
    this.work.poseInto(x, y, this.pose);
    this.work.metricInto(x, y, this.metric);
    const [e, f, g] = this.metric as unknown as [number, number, number];
    const det = Math.sqrt(Math.max(1e-12, e * g - f * f));
    const far = BOUND_SLACK * reachMm * this.aslant;
    const [spanX, spanY] = [(far * Math.sqrt(g)) / det, (far * Math.sqrt(e)) / det];
    // All of them are met before the first is visited: a visitor may ask something of the outlines itself.
    const places: number[] = [];
    for (const turn of this.turnsNear(y, spanY))
      for (const s of this.index.search(x - spanX, y + turn - spanY, x + spanX, y + turn + spanY)) {
        const own = this.meet(s, reachMm);
        if (!own) continue;
        const { share, lateralMm } = own;
        const o = 10 * s;
        const [ax, ay, bx, by] = [this.ends[o]!, this.ends[o + 1]!, this.ends[o + 5]!, this.ends[o + 6]!];
        places.push(ax + share * (bx - ax), ay + share * (by - ay) - turn, lateralMm, 1);
        if (this.work.alongNormal) continue;
        // Under a tool that leans the place that cuts deepest is not the nearest.
        for (const at of LEANING_SHARES) places.push(ax + at * (bx - ax), ay + at * (by - ay) - turn, this.besideAxis(o, at), 0);
      }
    for (let k = 0; k < places.length; k += 4) visit(places[k]!, places[k + 1]!, places[k + 2]!, places[k + 3] === 1);
  }

  /** Distance of a place of a segment beside the axis of the pose that was asked last, mm. */
  private besideAxis(o: number, share: number): number {
    const { ends, pose: p } = this;
    const [qx, qy, qz] = [2, 3, 4].map((k) => ends[o + k]! + share * (ends[o + 5 + k]! - ends[o + k]!) - p[k - 2]!) as [
      number,
      number,
      number,
    ];
    const h = qx * p[3]! + qy * p[4]! + qz * p[5]!;
    return Math.sqrt(Math.max(0, qx * qx + qy * qy + qz * qz - h * h));
  }

  /** Where a segment comes nearest beside the axis of the pose that was asked last; null where that is too far. One result, used again. */
  private meet(s: number, reachMm: number): Met | null {
    const { ends, pose: p, met } = this;
    const o = 10 * s;
    const ax = p[3]!,
      ay = p[4]!,
      az = p[5]!;
    const qx = ends[o + 2]! - p[0]!,
      qy = ends[o + 3]! - p[1]!,
      qz = ends[o + 4]! - p[2]!;
    const ux = ends[o + 7]! - ends[o + 2]!,
      uy = ends[o + 8]! - ends[o + 3]!,
      uz = ends[o + 9]! - ends[o + 4]!;
    const qh = qx * ax + qy * ay + qz * az,
      uh = ux * ax + uy * ay + uz * az;
    const lx = qx - qh * ax,
      ly = qy - qh * ay,
      lz = qz - qh * az;
    const mx = ux - uh * ax,
      my = uy - uh * ay,
      mz = uz - uh * az;
    const mm = mx * mx + my * my + mz * mz;
    const t = mm > 0 ? Math.max(0, Math.min(1, -(lx * mx + ly * my + lz * mz) / mm)) : 0;
    const dx = lx + t * mx,
      dy = ly + t * my,
      dz = lz + t * mz;
    met.lateralMm = Math.sqrt(dx * dx + dy * dy + dz * dz);
    met.belowMm = -(qh + t * uh);
    met.share = t;
    return met.lateralMm > reachMm ? null : met;
  }
}
