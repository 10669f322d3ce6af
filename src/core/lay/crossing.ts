import { wrapTo } from '../base/angle';
import type { Kinematics } from '../machine/kinematics';
import { levelOf, upInto, type Work } from '../machine/stance';
import { computeReach, createHull } from '../machine/swing';
import type { MotionHeights } from './laidPaths';

/** Samples of what a crossing may pass: spacing, and most a way, mm. */
const SPACING_MM = 0.5;
const MAX_SAMPLES = 60;

/**
 * Heights at which the tool crosses the blank, as levels: heights of the tip straight up on the machine, measured from the rotary's axis
 * where it turns the blank, else from z = 0.
 */
export function createCrossing(work: Work, heights: MotionHeights, kinematics: Kinematics | null = null) {
  const frame = new Float64Array(6),
    up = new Float64Array(3),
    curvature = new Float64Array(2);
  const hop = heights.hopHeightMm;
  /** Level of the tip at hop height over a sheet place. */
  const levelAt = (x: number, y: number): number => {
    work.poseInto(x, y, frame);
    upInto(work.stance, frame, up);
    for (let k = 0; k < 3; k++) frame[k]! += hop * frame[3 + k]!;
    return levelOf(work.stance, frame, up);
  };
  const same = work.homogeneous === 'everywhere' && work.alongNormal && (work.stance.turns || work.flat);
  const turnsAlike = work.homogeneous === 'round' && work.stance.turns;
  const { centre } = work.stance;
  const findTilted = centre && kinematics ? createTiltedLevel(work, centre, kinematics.machine ?? kinematics, hop) : null;
  const tiltAt = (x: number, y: number): number => {
    work.poseInto(x, y, frame);
    return Math.asin(Math.min(1, Math.max(-1, frame[3]!)));
  };
  return {
    levelAt,
    /**
     * Where the tool waits and is changed: over the highest place of the blank. A head without tip control lifts its tip as it tilts; with
     * that added Z stands at one height whatever the tilt, and is safe before the tilt is known. Where the axes of a table pass each other
     * a tilt lifts the blank besides, between any two positions by twice that at the most.
     */
    parkLevelAt(x: number, y: number): number {
      const { pivotMm, asideMm } = work.stance;
      return work.topMm + heights.parkHeightMm + 2 * asideMm + (pivotMm > 0 ? pivotMm * (1 - Math.cos(tiltAt(x, y))) : 0);
    },
    /**
     * The level at which the tool crosses from one place to another: at hop height or more over all that lies between, whether the axes
     * run together or each at its own speed. Then each place of the rectangle between the two may be passed.
     * O(samples); nothing is sampled where every place is alike.
     * @param from, to Where the axes stand at both ends: asked where the blank is tilted.
     */
    findLevel(x0: number, y0: number, x1: number, wantedY1: number, from: ArrayLike<number> = [], to: ArrayLike<number> = []): number {
      if (same) return levelAt(x0, y0);
      if (findTilted) return Math.max(levelAt(x0, y0), levelAt(x1, wantedY1), findTilted(from, to));
      // The short way round, as the rotary takes it.
      const y1 = work.periodMm === null ? wantedY1 : y0 + wrapTo(wantedY1 - y0, work.periodMm);
      const { pivotMm } = work.stance;
      // While a head without tip control tilts, the tip leaves its place by what its pivot makes of it.
      const tilts = pivotMm > 0 ? [tiltAt(x0, y0), tiltAt(x1, y1)] : [0, 0];
      const aside = pivotMm * Math.abs(Math.sin(tilts[1]!) - Math.sin(tilts[0]!));
      const below = pivotMm * Math.abs(Math.cos(tilts[1]!) - Math.cos(tilts[0]!));
      const minX = Math.min(x0, x1) - aside,
        maxX = Math.max(x0, x1) + aside,
        minY = turnsAlike ? y0 : Math.min(y0, y1),
        maxY = turnsAlike ? y0 : Math.max(y0, y1);
      // A plane is highest at a corner.
      const nx = work.flat ? 1 : countSamples(maxX - minX),
        ny = work.flat ? 1 : countSamples(maxY - minY);
      let level = Math.max(levelAt(x0, y0), levelAt(x1, y1));
      for (let i = 0; i <= nx; i++) {
        for (let k = 0; k <= ny; k++) {
          const x = minX + (nx && i / nx) * (maxX - minX),
            y = minY + (ny && k / ny) * (maxY - minY);
          work.curvatureInto(x, y, curvature);
          // Between samples a convex surface rises by no more than its sagitta.
          const step = Math.hypot(nx && (maxX - minX) / nx, ny && (maxY - minY) / ny);
          level = Math.max(level, levelAt(x, y) + (Math.max(0, curvature[0]!) * step * step) / 8);
        }
      }
      return level + below;
    },
  };
}

const countSamples = (lengthMm: number): number => Math.min(MAX_SAMPLES, Math.ceil(lengthMm / SPACING_MM));

/** Directions of the tool are asked in steps of this of both axes, degrees. */
const DIRECTION_DEG = 2;

/**
 * The level that clears the whole blank in every position between two of the axes that tilt and turn it: how far it reaches towards the
 * tool, asked at the corners of a grid and kept. Between two corners it reaches no farther than its swing bows there. Where the axes of the
 * table pass each other its tilt lifts the whole of it by as much as the sine of the tilt grows. O(new corners · hull).
 */
function createTiltedLevel(work: Work, centre: readonly [number, number, number], kinematics: Kinematics, hopMm: number) {
  const hull = createHull(work);
  const { axes } = kinematics;
  const turning = axes.flatMap((a, k) => (a.kind === 'rotary' ? [k] : []));
  const [tiltAt, turnAt] = turning as [number, number];
  const values = new Float64Array(axes.length),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  const bowMm = work.topMm * (1 - Math.cos((DIRECTION_DEG / Math.SQRT2) * (Math.PI / 180)));
  const kept = new Map<number, number>();
  const reachAt = (tiltDeg: number, turnDeg: number): number => {
    values[tiltAt] = tiltDeg;
    values[turnAt] = turnDeg;
    kinematics.forward(values, tip, axis);
    return computeReach(hull, centre, axis);
  };
  const reachAtCorner = (i: number, j: number): number => {
    const key = i * 100003 + j;
    let reach = kept.get(key);
    if (reach === undefined) kept.set(key, (reach = reachAt(i * DIRECTION_DEG, j * DIRECTION_DEG)));
    return reach;
  };
  return (from: ArrayLike<number>, to: ArrayLike<number>): number => {
    const [t0, t1] = [Math.min(from[tiltAt]!, to[tiltAt]!), Math.max(from[tiltAt]!, to[tiltAt]!)];
    // Turned on a round blank that stands upright, all is alike.
    const [c0, c1] = work.round ? [0, 0] : [Math.min(from[turnAt]!, to[turnAt]!), Math.max(from[turnAt]!, to[turnAt]!)];
    let most = -Infinity;
    for (const tilt of [t0, t1]) for (const turn of [c0, c1]) most = Math.max(most, reachAt(tilt, turn));
    if (t1 - t0 > DIRECTION_DEG || c1 - c0 > DIRECTION_DEG) {
      const [i0, i1] = [Math.floor(t0 / DIRECTION_DEG), Math.ceil(t1 / DIRECTION_DEG)];
      const j0 = Math.floor(c0 / DIRECTION_DEG);
      const j1 = Math.min(Math.ceil(c1 / DIRECTION_DEG), j0 + 360 / DIRECTION_DEG);
      for (let i = i0; i <= i1; i++) for (let j = j0; j <= j1; j++) most = Math.max(most, reachAtCorner(i, j));
    }
    const [low, high] = sineRange(t0, t1);
    const liftMm = work.stance.asideMm * (high - low);
    // Where nothing turns, nothing bows.
    return most + liftMm + (t1 - t0 > ALIKE_DEG || c1 - c0 > ALIKE_DEG ? bowMm : 0) + hopMm;
  };
}

/** Least and largest sine between two angles that are no farther than half a turn from 0, degrees. */
function sineRange(from: number, to: number): [least: number, most: number] {
  const [a, b] = [from, to].map((v) => Math.sin((v * Math.PI) / 180)) as [number, number];
  return [from < -90 && to > -90 ? -1 : Math.min(a, b), from < 90 && to > 90 ? 1 : Math.max(a, b)];
}

/** Positions nearer than this are one, degrees. */
const ALIKE_DEG = 1e-6;
