import type { Axis, Kinematics } from '../machine/kinematics';
import { createPoseSolver, poseAt, type PoseSolver } from '../machine/pose';
import { upInto, type Work } from '../machine/stance';
import { createCrossing } from './crossing';

/**
 * What a move is for. `plunge` and `cut` take metal away; `enter` and `leave` run at feed through the air along a tool that tilts, and
 * `across` from one stroke to the next where the control keeps the tool's point; the others are rapids.
 */
export const MOVE = { start: 0, hop: 1, approach: 2, plunge: 3, cut: 4, retract: 5, park: 6, enter: 7, leave: 8, across: 9 } as const;
export type MoveKind = (typeof MOVE)[keyof typeof MOVE];
export const isFeedMove = (kind: number): boolean => isCutMove(kind) || kind === MOVE.enter || kind === MOVE.leave || kind === MOVE.across;
/** Whether a move brings the tool to the start of a stroke. */
export const isArrival = (kind: number): boolean => kind === MOVE.hop || kind === MOVE.across;
/** Whether a move ends in the work. */
export const isCutMove = (kind: number): boolean => kind === MOVE.plunge || kind === MOVE.cut;

/**
 * The tool's whole way over the blank, a list of moves in order. Move i goes from where i − 1 ended to
 * `sheet[3i..]` = x, y, depth (negative above the surface) raised straight up by `liftMm[i]`; between the two all change linearly.
 * `tip` and `axis` are the same end in the blank frame: tip point, mm, and unit tool axis from tip to spindle.
 */
export interface LaidPaths {
  count: number;
  kind: Uint8Array;
  /** Index of the run among the set-up's runs, and of the level in its cut. */
  run: Uint16Array;
  level: Uint16Array;
  sheet: Float64Array;
  liftMm: Float64Array;
  tip: Float64Array;
  axis: Float64Array;
  /** Feed of the tip along the material, mm/min; 0 for rapid. */
  feedMmPerMin: Float64Array;
  /** Where axes are taken to stand before a move: turned back by whole turns, so that the next stroke is in their range. */
  nearOf?: ReadonlyMap<number, Float64Array>;
}

/** Strokes of one level of one run, in running order. */
export interface Pass {
  run: number;
  level: number;
  strokes: Float64Array[];
  /** Depth to which every one of these strokes was cut before, where it begins, mm: so far the tool comes down as a rapid. */
  readyMm?: number;
}

export interface CutMotion {
  feedMmPerMin: number;
  plungeMmPerMin: number;
  /**
   * Rise over way of the steepest way down at full feed: a cone's own flank; 0 for an end mill. On a steeper one the tool sinks no faster
   * than it plunges. Without it ways down are not looked at.
   */
  steepest?: number;
  /** How much higher than its middle a cutter's rim may meet the surface at a place, mm: where it leans, or in a hollow. */
  rimRiseAt?: (x: number, y: number) => number;
  /** Height at which its strokes are crossed between, mm; the common one if left out. */
  hopHeightMm?: number | null;
}

export interface MotionHeights {
  /** Over the highest place of the blank. */
  parkHeightMm: number;
  /** Over the surface, and over all that a crossing may pass. */
  hopHeightMm: number;
  approachGapMm: number;
}

/** Two strokes that meet closer than this are run without lifting, mm. */
const JOIN_MM = 1e-6;
/** A tool whose axis is this near to upright does not tilt: its way out of the work is Z alone. */
const UPRIGHT = 1e-12;
/** A fall less than this is none, mm. */
const LEAST_FALL_MM = 1e-4;
/** A lift less than this is none, mm. */
const NO_LIFT_MM = 1e-9;

/**
 * Links passes into one way: out of the work along the tool, up, across, down to the approach gap, in by plunge feed, along the stroke.
 * Rapids run Z alone, or across at one height of Z that clears all they may pass whether or not the control runs rapids straight.
 * Where the tool tilts, its ways in and out run at feed, since X and Z move at once. The way starts and ends over the highest
 * place of the blank, and is there between runs, where the tool can be changed.
 * Where turning axes have limits, a stroke that they do not reach as they stand is come to at park height with the axes turned back.
 * @param motions Feeds by run. @param freeFeedMmPerMin Feed through the air. @param kinematics Asked where axes are limited or the blank is
 * tilted; left out, neither is.
 */
export function layPaths(
  work: Work,
  passes: readonly Pass[],
  motions: readonly CutMotion[],
  heights: MotionHeights,
  freeFeedMmPerMin: number,
  kinematics: Kinematics | null = null,
): LaidPaths {
  const laying = new Laying(work, motions, heights, freeFeedMmPerMin, kinematics);
  for (const pass of passes) for (const stroke of pass.strokes) laying.addStroke(pass, stroke);
  return laying.finish();
}

/** A range of axes is kept to within this, degrees. */
const RANGE_SLACK_DEG = 1e-6;
/** Most whole turns by which axes are turned back. */
const MOST_TURNS = 8;

class Laying {
  private readonly kind: number[] = [];
  private readonly run: number[] = [];
  private readonly level: number[] = [];
  private readonly feed: number[] = [];
  private readonly sheet: number[] = [];
  private readonly lift: number[] = [];
  private readonly frame = new Float64Array(6);
  private readonly metric = new Float64Array(3);
  /** Poses at both ends of a move. */
  private readonly from = new Float64Array(6);
  private readonly to = new Float64Array(6);
  private readonly up = new Float64Array(3);
  private crossing!: ReturnType<typeof createCrossing>;
  /** Heights of the run that is laid. */
  private heights!: MotionHeights;
  private last: Pass | null = null;
  /** Where the axes stand, followed where it matters. */
  private readonly solver: PoseSolver | null;
  private values: Float64Array;
  private readonly nearOf = new Map<number, Float64Array>();
  private readonly toolPoint: boolean;

  constructor(
    private readonly work: Work,
    private readonly motions: readonly CutMotion[],
    private readonly common: MotionHeights,
    private readonly freeFeedMmPerMin: number,
    private readonly kinematics: Kinematics | null,
  ) {
    const isLimited = kinematics?.axes.some(isLimitedTurn) ?? false;
    this.solver = kinematics && (isLimited || work.stance.centre) ? createPoseSolver(work, kinematics) : null;
    this.values = new Float64Array(kinematics?.axes.length ?? 0);
    this.toolPoint = work.stance.toolPoint;
    this.useHeights(common.hopHeightMm);
  }

  private useHeights(hopHeightMm: number): void {
    if (this.heights?.hopHeightMm === hopHeightMm) return;
    this.heights = { ...this.common, hopHeightMm };
    this.crossing = createCrossing(this.work, this.heights, this.kinematics);
  }

  addStroke(pass: Pass, points: Float64Array): void {
    const { feedMmPerMin, plungeMmPerMin, rimRiseAt } = this.motions[pass.run]!;
    const x = points[0]!,
      y = points[1]!,
      depth = points[2]!;
    const readyMm = Math.max(0, Math.min(pass.readyMm ?? 0, depth)) - (rimRiseAt?.(x, y) ?? 0);
    const { last } = this;
    const isOtherRun = last !== null && last.run !== pass.run;
    const near = this.findNear(points);
    if (last && !isOtherRun && !near) {
      const [px, py, pd] = this.sheet.slice(-3) as [number, number, number];
      if (Math.hypot(px - x, py - y, pd - depth) <= JOIN_MM) return this.addCut(pass, points, feedMmPerMin);
    }
    if (last && (isOtherRun || near)) this.park(last);
    this.useHeights(this.motions[pass.run]!.hopHeightMm ?? this.common.hopHeightMm);
    if (near) this.nearOf.set(this.kind.length, near);
    if (!last || isOtherRun || near) {
      // A control that keeps the tool's point is told anew where everything stands.
      const kind = last && !this.toolPoint ? MOVE.hop : MOVE.start;
      this.comeIn(kind, pass, x, y, this.crossing.parkLevelAt(x, y), readyMm);
    } else if (this.toolPoint) {
      this.add(MOVE.leave, pass, ...(this.sheet.slice(-3, -1) as [number, number]), -this.heights.hopHeightMm, this.freeFeedMmPerMin);
      this.add(MOVE.across, pass, x, y, -this.heights.hopHeightMm, this.freeFeedMmPerMin);
      this.add(MOVE.enter, pass, x, y, readyMm - this.heights.approachGapMm, this.freeFeedMmPerMin);
    } else {
      const [px, py] = this.sheet.slice(-3) as [number, number, number];
      const levelMm = this.crossing.findLevel(px, py, x, y, this.values, this.valuesAt(x, y));
      this.goOut(pass, levelMm, MOVE.retract);
      this.comeIn(MOVE.hop, pass, x, y, levelMm, readyMm);
    }
    this.add(MOVE.plunge, pass, x, y, depth, plungeMmPerMin);
    this.addCut(pass, points, feedMmPerMin);
  }

  /** Where the axes will stand after a hop to a place. */
  private valuesAt(x: number, y: number, near = this.values): Float64Array {
    const { solver, work } = this;
    if (!solver) return this.values;
    const at = [x, y, -this.heights.hopHeightMm];
    if (this.kind.length === 0 || near !== this.values || work.periodMm !== null) return solver.solve(at, near);
    return solver.follow(this.sheet.slice(-3), near, at, 0);
  }

  /**
   * Where limited axes have to be taken to stand so that all of a stroke is in their range: turned back by whole turns.
   * @returns Null where they may go on as they stand, or where nothing helps.
   */
  private findNear(points: Float64Array): Float64Array | null {
    const { solver, kinematics, values } = this;
    if (!solver || this.fits(points, values)) return null;
    const turning = kinematics!.axes.findIndex(isLimitedTurn);
    if (turning < 0) return null;
    for (let turns = 1; turns <= MOST_TURNS; turns++) {
      for (const by of [360 * turns, -360 * turns]) {
        const near = values.slice();
        near[turning]! += by;
        if (this.fits(points, near)) return near;
      }
    }
    return null;
  }

  private fits(points: Float64Array, near: Float64Array): boolean {
    const { axes } = this.kinematics!;
    let values = this.valuesAt(points[0]!, points[1]!, near);
    let from: Float64Array | null = null;
    for (let i = 0; i < points.length; i += 3) {
      const at = points.subarray(i, i + 3);
      if (from) values = this.solver!.follow(from, values, at, 0);
      from = at;
      for (let k = 0; k < axes.length; k++) {
        if (values[k]! < axes[k]!.min - RANGE_SLACK_DEG || values[k]! > axes[k]!.max + RANGE_SLACK_DEG) return false;
      }
    }
    return true;
  }

  finish(): LaidPaths {
    if (this.last) this.park(this.last);
    const count = this.kind.length;
    const sheet = Float64Array.from(this.sheet),
      liftMm = Float64Array.from(this.lift);
    const tip = new Float64Array(3 * count);
    const axis = new Float64Array(3 * count);
    for (let i = 0; i < count; i++) {
      const [x, y, depth] = [sheet[3 * i]!, sheet[3 * i + 1]!, sheet[3 * i + 2]!];
      poseAt(this.work, x, y, depth, liftMm[i]!, this.frame, tip.subarray(3 * i, 3 * i + 3), axis.subarray(3 * i, 3 * i + 3));
    }
    return {
      count,
      kind: Uint8Array.from(this.kind),
      run: Uint16Array.from(this.run),
      level: Uint16Array.from(this.level),
      sheet,
      liftMm,
      tip,
      axis,
      feedMmPerMin: Float64Array.from(this.feed),
      ...(this.nearOf.size > 0 && { nearOf: this.nearOf }),
    };
  }

  private park(pass: Pass): void {
    const [x, y] = this.sheet.slice(-3) as [number, number, number];
    this.goOut(pass, this.crossing.parkLevelAt(x, y), MOVE.park);
  }

  private add(kind: MoveKind, pass: Pass, x: number, y: number, depth: number, feedMmPerMin: number, liftMm = 0): void {
    this.follow(kind, x, y, depth, liftMm);
    this.kind.push(kind);
    this.run.push(pass.run);
    this.level.push(pass.level);
    this.sheet.push(x, y, depth);
    this.lift.push(liftMm);
    this.feed.push(feedMmPerMin);
    this.last = pass;
  }

  /** Goes on with the axes as `computeAxisMoves` will. */
  private follow(kind: MoveKind, x: number, y: number, depth: number, liftMm: number): void {
    const { solver, work } = this;
    if (!solver) return;
    const i = this.kind.length;
    const near = this.nearOf.get(i) ?? this.values;
    const free = i === 0 || near !== this.values || (isArrival(kind) && work.periodMm !== null);
    const at = [x, y, depth];
    this.values = free ? solver.solve(at, near, liftMm) : solver.follow(this.sheet.slice(-3), near, at, liftMm);
  }

  private addCut(pass: Pass, points: Float64Array, feedMmPerMin: number): void {
    for (let i = 3; i < points.length; i += 3)
      this.add(MOVE.cut, pass, points[i]!, points[i + 1]!, points[i + 2]!, this.slowDown(pass, points, i, feedMmPerMin));
  }

  /** Feed from a point of a stroke to the next: the tool sinks no faster than it plunges where its flank does not cut. */
  private slowDown(pass: Pass, points: Float64Array, i: number, feedMmPerMin: number): number {
    const { plungeMmPerMin, steepest = Infinity } = this.motions[pass.run]!;
    const { fall, along } = this.work.alongNormal ? this.measureOnSheet(points, i) : this.measureAlongTool(points, i);
    if (!(fall > LEAST_FALL_MM)) return feedMmPerMin;
    if (fall <= steepest * along) return feedMmPerMin;
    return Math.min(feedMmPerMin, (plungeMmPerMin * Math.hypot(fall, along)) / fall);
  }

  /** How far it goes down and along from one point of a stroke to the next, mm: by depth and way on the sheet. */
  private measureOnSheet(points: Float64Array, i: number): { fall: number; along: number } {
    const fall = points[i + 2]! - points[i - 1]!;
    if (!(fall > LEAST_FALL_MM)) return { fall, along: 0 };
    this.work.metricInto(points[i]!, points[i + 1]!, this.metric);
    const [dx, dy] = [points[i]! - points[i - 3]!, points[i + 1]! - points[i - 2]!];
    const along = Math.sqrt(Math.max(0, this.metric[0]! * dx * dx + 2 * this.metric[1]! * dx * dy + this.metric[2]! * dy * dy));
    return { fall, along };
  }

  /** … and along a tool that leans and beside it: downhill it sinks at one depth as well. */
  private measureAlongTool(points: Float64Array, i: number): { fall: number; along: number } {
    const { from, to } = this;
    this.work.poseInto(points[i - 3]!, points[i - 2]!, from);
    this.work.poseInto(points[i]!, points[i + 1]!, to);
    let down = 0,
      square = 0;
    for (let k = 0; k < 3; k++) {
      const by = to[k]! - points[i + 2]! * to[3 + k]! - from[k]! + points[i - 1]! * from[3 + k]!;
      down -= by * to[3 + k]!;
      square += by * by;
    }
    return { fall: down, along: Math.sqrt(Math.max(0, square - down * down)) };
  }

  /** Out of the work and up to a level. Where the tool stands upright both are one move of Z. */
  private goOut(pass: Pass, levelMm: number, kind: MoveKind): void {
    const [x, y] = this.sheet.slice(-3) as [number, number];
    const hop = this.heights.hopHeightMm;
    if (!this.toolPoint && this.isUpright(x, y)) return this.addAtLevel(kind, pass, x, y, levelMm);
    this.add(MOVE.leave, pass, x, y, -hop, this.freeFeedMmPerMin);
    this.addAtLevel(kind, pass, x, y, levelMm);
  }

  /** Across at a level, down, and to the approach gap over the surface or over what is cut there already. */
  private comeIn(kind: MoveKind, pass: Pass, x: number, y: number, levelMm: number, readyMm: number): void {
    const { hopHeightMm } = this.heights;
    const approachGapMm = this.heights.approachGapMm - readyMm;
    this.addAtLevel(kind, pass, x, y, levelMm);
    if (this.toolPoint) this.add(MOVE.enter, pass, x, y, -hopHeightMm, this.freeFeedMmPerMin);
    else if (this.isUpright(x, y)) return this.add(MOVE.approach, pass, x, y, -approachGapMm, 0);
    else if (levelMm - this.crossing.levelAt(x, y) > NO_LIFT_MM) this.add(MOVE.approach, pass, x, y, -hopHeightMm, 0);
    this.add(MOVE.enter, pass, x, y, -approachGapMm, this.freeFeedMmPerMin);
  }

  /** A tip at a level: raised along an upright tool, so that its height is seen as one; else straight up from the hop height. */
  private addAtLevel(kind: MoveKind, pass: Pass, x: number, y: number, levelMm: number): void {
    const hop = this.heights.hopHeightMm;
    const lift = Math.max(0, levelMm - this.crossing.levelAt(x, y));
    // No word is up where the control keeps the tool's point: a way up is a feed move like any other.
    const isFed = this.toolPoint && kind === MOVE.park;
    const own = isFed ? MOVE.leave : kind;
    const feed = isFed ? this.freeFeedMmPerMin : 0;
    if (this.isUpright(x, y)) this.add(own, pass, x, y, -hop - lift, feed);
    else if (lift > NO_LIFT_MM || kind !== MOVE.retract) this.add(own, pass, x, y, -hop, feed, lift);
  }

  private isUpright(x: number, y: number): boolean {
    const { frame: f, up } = this;
    this.work.poseInto(x, y, f);
    upInto(this.work.stance, f, up);
    return f[3]! * up[0]! + f[4]! * up[1]! + f[5]! * up[2]! > 1 - UPRIGHT;
  }
}

/** Whether an axis turns blanks, and not without end. */
const isLimitedTurn = ({ kind, min, max }: Axis): boolean => kind === 'rotary' && Number.isFinite(min) && max - min >= 360;
