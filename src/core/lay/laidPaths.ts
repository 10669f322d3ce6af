import { upInto, type Work } from '../machine/stance';
import { createCrossing } from './crossing';

/**
 * What a move is for. `plunge` and `cut` take metal away; `enter` and `leave` run at feed through the air along a tool that tilts; the
 * others are rapids.
 */
export const MOVE = { start: 0, hop: 1, approach: 2, plunge: 3, cut: 4, retract: 5, park: 6, enter: 7, leave: 8 } as const;
export type MoveKind = (typeof MOVE)[keyof typeof MOVE];
export const isFeedMove = (kind: number): boolean => isCutMove(kind) || kind === MOVE.enter || kind === MOVE.leave;
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
/** A lift less than this is none, mm. */
const NO_LIFT_MM = 1e-9;

/** Tip and tool axis below a sheet point; depth is measured along the tool, the lift straight up. */
export function poseAt(
  work: Work,
  x: number,
  y: number,
  depth: number,
  liftMm: number,
  frame: Float64Array,
  tip: Float64Array,
  axis: Float64Array,
): void {
  work.poseInto(x, y, frame);
  upInto(work.stance, frame, axis);
  for (let k = 0; k < 3; k++) {
    tip[k] = frame[k]! - depth * frame[3 + k]! + liftMm * axis[k]!;
    axis[k] = frame[3 + k]!;
  }
}

/**
 * Links passes into one way: out of the work along the tool, up, across, down to the approach gap, in by plunge feed, along the stroke.
 * Rapids run Z alone, or across at one height of Z that clears all they may pass whether or not the control runs rapids straight.
 * Where the tool tilts, its ways in and out run at feed, since X and Z move at once. The way starts and ends over the highest
 * place of the blank, and is there between runs, where the tool can be changed.
 * @param motions Feeds by run. @param freeFeedMmPerMin Feed through the air.
 */
export function layPaths(
  work: Work,
  passes: readonly Pass[],
  motions: readonly CutMotion[],
  heights: MotionHeights,
  freeFeedMmPerMin: number,
): LaidPaths {
  const laying = new Laying(work, motions, heights, freeFeedMmPerMin);
  for (const pass of passes) for (const stroke of pass.strokes) laying.addStroke(pass, stroke);
  return laying.finish();
}

class Laying {
  private readonly kind: number[] = [];
  private readonly run: number[] = [];
  private readonly level: number[] = [];
  private readonly feed: number[] = [];
  private readonly sheet: number[] = [];
  private readonly lift: number[] = [];
  private readonly frame = new Float64Array(6);
  private readonly up = new Float64Array(3);
  private crossing!: ReturnType<typeof createCrossing>;
  /** Heights of the run that is laid. */
  private heights!: MotionHeights;
  private last: Pass | null = null;

  constructor(
    private readonly work: Work,
    private readonly motions: readonly CutMotion[],
    private readonly common: MotionHeights,
    private readonly freeFeedMmPerMin: number,
  ) {
    this.useHeights(common.hopHeightMm);
  }

  private useHeights(hopHeightMm: number): void {
    if (this.heights?.hopHeightMm === hopHeightMm) return;
    this.heights = { ...this.common, hopHeightMm };
    this.crossing = createCrossing(this.work, this.heights);
  }

  addStroke(pass: Pass, points: Float64Array): void {
    const { feedMmPerMin, plungeMmPerMin, rimRiseAt } = this.motions[pass.run]!;
    const x = points[0]!,
      y = points[1]!,
      depth = points[2]!;
    const readyMm = Math.max(0, Math.min(pass.readyMm ?? 0, depth)) - (rimRiseAt?.(x, y) ?? 0);
    const { last } = this;
    if (last && last.run !== pass.run) this.park(last);
    this.useHeights(this.motions[pass.run]!.hopHeightMm ?? this.common.hopHeightMm);
    if (!last) this.comeIn(MOVE.start, pass, x, y, this.crossing.parkLevelAt(x, y), readyMm);
    else if (last.run !== pass.run) {
      this.comeIn(MOVE.hop, pass, x, y, this.crossing.parkLevelAt(x, y), readyMm);
    } else {
      const [px, py, pd] = this.sheet.slice(-3) as [number, number, number];
      if (Math.hypot(px - x, py - y, pd - depth) <= JOIN_MM) return this.addCut(pass, points, feedMmPerMin);
      const levelMm = this.crossing.findLevel(px, py, x, y);
      this.goOut(pass, levelMm, MOVE.retract);
      this.comeIn(MOVE.hop, pass, x, y, levelMm, readyMm);
    }
    this.add(MOVE.plunge, pass, x, y, depth, plungeMmPerMin);
    this.addCut(pass, points, feedMmPerMin);
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
    };
  }

  private park(pass: Pass): void {
    const [x, y] = this.sheet.slice(-3) as [number, number, number];
    this.goOut(pass, this.crossing.parkLevelAt(x, y), MOVE.park);
  }

  private add(kind: MoveKind, pass: Pass, x: number, y: number, depth: number, feedMmPerMin: number, liftMm = 0): void {
    this.kind.push(kind);
    this.run.push(pass.run);
    this.level.push(pass.level);
    this.sheet.push(x, y, depth);
    this.lift.push(liftMm);
    this.feed.push(feedMmPerMin);
    this.last = pass;
  }

  private addCut(pass: Pass, points: Float64Array, feedMmPerMin: number): void {
    for (let i = 3; i < points.length; i += 3) this.add(MOVE.cut, pass, points[i]!, points[i + 1]!, points[i + 2]!, feedMmPerMin);
  }

  /** Out of the work and up to a level. Where the tool stands upright both are one move of Z. */
  private goOut(pass: Pass, levelMm: number, kind: MoveKind): void {
    const [x, y] = this.sheet.slice(-3) as [number, number];
    const hop = this.heights.hopHeightMm;
    if (this.isUpright(x, y)) return this.addAtLevel(kind, pass, x, y, levelMm);
    this.add(MOVE.leave, pass, x, y, -hop, this.freeFeedMmPerMin);
    this.addAtLevel(kind, pass, x, y, levelMm);
  }

  /** Across at a level, down, and to the approach gap over the surface or over what is cut there already. */
  private comeIn(kind: MoveKind, pass: Pass, x: number, y: number, levelMm: number, readyMm: number): void {
    const { hopHeightMm } = this.heights;
    const approachGapMm = this.heights.approachGapMm - readyMm;
    this.addAtLevel(kind, pass, x, y, levelMm);
    if (this.isUpright(x, y)) return this.add(MOVE.approach, pass, x, y, -approachGapMm, 0);
    if (levelMm - this.crossing.levelAt(x, y) > NO_LIFT_MM) this.add(MOVE.approach, pass, x, y, -hopHeightMm, 0);
    this.add(MOVE.enter, pass, x, y, -approachGapMm, this.freeFeedMmPerMin);
  }

  /** A tip at a level: raised along an upright tool, so that its height is seen as one; else straight up from the hop height. */
  private addAtLevel(kind: MoveKind, pass: Pass, x: number, y: number, levelMm: number): void {
    const hop = this.heights.hopHeightMm;
    const lift = Math.max(0, levelMm - this.crossing.levelAt(x, y));
    if (this.isUpright(x, y)) this.add(kind, pass, x, y, -hop - lift, 0);
    else if (lift > NO_LIFT_MM || kind !== MOVE.retract) this.add(kind, pass, x, y, -hop, 0, lift);
  }

  private isUpright(x: number, y: number): boolean {
    const { frame: f, up } = this;
    this.work.poseInto(x, y, f);
    upInto(this.work.stance, f, up);
    return f[3]! * up[0]! + f[4]! * up[1]! + f[5]! * up[2]! > 1 - UPRIGHT;
  }
}
