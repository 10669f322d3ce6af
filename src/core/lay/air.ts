import type { Axis, Kinematics } from '../machine/kinematics';
import { poseAt } from '../machine/pose';
import { levelOf, upInto, type Work } from '../machine/stance';
import type { MotionHeights } from './laidPaths';

/** One axis as a crossing uses it. */
export interface AirAxis {
  perS: number;
  perS2: number;
  /** What is one whole turn of it, so that it can go either way round; 0 where it cannot. */
  turn: number;
}

/**
 * The air over a blank as the machine crosses it from the end of one stroke to the start of another: Z up out of the work to a level that
 * clears both places, the other axes across, Z down to the approach gap, and in at plunge feed.
 */
export interface Air {
  /** All but Z, at least two. */
  axes: readonly AirAxis[];
  z: AirAxis;
  hopHeightMm: number;
  approachGapMm: number;
  plungeMmPerS: number;
  /** Where the axes stand over a sheet place, in their own units, and after them the level of the surface there, mm. */
  placeInto(x: number, y: number, out: Float64Array): void;
}

/** Seconds in which an axis goes a way from rest to rest: its acceleration, its top speed, its acceleration. */
export function computeRestToRestS({ perS, perS2 }: Pick<AirAxis, 'perS' | 'perS2'>, way: number): number {
  return way * perS2 < perS * perS ? 2 * Math.sqrt(way / perS2) : way / perS + perS / perS2;
}

/** The air over a work. A rotary goes either way round where the blank closes on itself; else the way back lies through the unknown. */
export function createAir(work: Work, kinematics: Kinematics, heights: MotionHeights, plungeMmPerMin: number): Air {
  const used = kinematics.axes.flatMap((axis, k) => (axis.letter === 'Z' ? [] : [k]));
  const toAir = (axis: Axis): AirAxis => ({
    perS: axis.maxPerMin / 60,
    perS2: axis.accelerationPerS2,
    turn: axis.kind === 'rotary' && axis.max - axis.min >= 720 && work.periodMm !== null ? 360 : 0,
  });
  const frame = new Float64Array(6),
    tip = new Float64Array(3),
    axis = new Float64Array(3),
    up = new Float64Array(3);
  const near = new Float64Array(kinematics.axes.length),
    values = new Float64Array(kinematics.axes.length);
  return {
    axes: used.map((k) => toAir(kinematics.axes[k]!)),
    z: toAir(kinematics.axes.find((a) => a.letter === 'Z')!),
    hopHeightMm: heights.hopHeightMm,
    approachGapMm: heights.approachGapMm,
    plungeMmPerS: plungeMmPerMin / 60,
    placeInto(x, y, out) {
      poseAt(work, x, y, 0, 0, frame, tip, axis);
      kinematics.inverse(tip, axis, near, values);
      used.forEach((k, i) => {
        out[i] = values[k]!;
      });
      upInto(work.stance, frame, up);
      out[used.length] = levelOf(work.stance, tip, up);
    },
  };
}
