import type { Kinematics } from './kinematics';
import { upInto, type Work } from './stance';

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

/** A turning axis that goes through its zero does so to within this, degrees; and a move is halved so often to see whether it does. */
const AT_ZERO_DEG = 1e-4;
const MOST_HALVINGS = 20;
/** A laid move is followed in steps that turn a round blank by at most this, so that the rotary's way is known between its ends. */
const FOLLOWED_TURN_RAD = Math.PI / 2;

/** A place of the sheet between two: x, y, depth. */
const between = (from: ArrayLike<number>, to: ArrayLike<number>, share: number): Float64Array =>
  Float64Array.of(from[0]! + share * (to[0]! - from[0]!), from[1]! + share * (to[1]! - from[1]!), from[2]! + share * (to[2]! - from[2]!));

export type PoseSolver = ReturnType<typeof createPoseSolver>;

/** Axis values for places of a work: sheet x, y, depth. */
export function createPoseSolver(work: Work, kinematics: Kinematics) {
  const frame = new Float64Array(6);
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    wanted = new Float64Array(3);
  const solve = (at: ArrayLike<number>, near: ArrayLike<number>, liftMm = 0): Float64Array => {
    const out = new Float64Array(kinematics.axes.length);
    poseAt(work, at[0]!, at[1]!, at[2]!, liftMm, frame, tip, axis);
    kinematics.inverse(tip, axis, near, out);
    return out;
  };
  const turning = kinematics.axes.flatMap(({ kind }, k) => (kind === 'rotary' ? [k] : []));
  const passesZero = (from: Float64Array, to: Float64Array): boolean =>
    turning.some((k) => from[k]! * to[k]! < 0 && Math.max(Math.abs(from[k]!), Math.abs(to[k]!)) > AT_ZERO_DEG);
  /**
   * The values at `to` on from those at `from`, on the same of two solutions. On a way that goes by the pole the nearer one at its end may
   * be the other, which no axis could go over to: it is followed closer by where a tilt seems to go through its zero.
   */
  const track = (
    from: ArrayLike<number>,
    fromValues: Float64Array,
    to: ArrayLike<number>,
    liftMm: number,
    halvings = MOST_HALVINGS,
  ): Float64Array => {
    const values = solve(to, fromValues, liftMm);
    if (halvings === 0 || !passesZero(fromValues, values)) return values;
    const middle = between(from, to, 0.5);
    return track(middle, track(from, fromValues, middle, 0, halvings - 1), to, liftMm, halvings - 1);
  };
  return {
    solve,
    /** The values at `to`, with the rotary going the way that the sheet goes from `from`, and a tilt the way that the tool leans. */
    follow(from: ArrayLike<number>, fromValues: Float64Array, to: ArrayLike<number>, liftMm: number): Float64Array {
      const steps = work.round ? Math.ceil(Math.abs(to[1]! - from[1]!) / work.mmPerRad / FOLLOWED_TURN_RAD) : 1;
      let values = fromValues;
      let last = from;
      for (let k = 1; k < steps; k++) {
        const next = between(from, to, k / steps);
        values = track(last, values, next, 0);
        last = next;
      }
      return track(last, values, to, liftMm);
    },
    /** How far the tip is from a place while the axes stand at given values, mm. */
    findGap(at: ArrayLike<number>, axisValues: ArrayLike<number>, liftMm = 0): number {
      poseAt(work, at[0]!, at[1]!, at[2]!, liftMm, frame, wanted, axis);
      kinematics.forward(axisValues, tip, axis);
      const dx = tip[0]! - wanted[0]!,
        dy = tip[1]! - wanted[1]!,
        dz = tip[2]! - wanted[2]!;
      return Math.sqrt(dx * dx + dy * dy + dz * dz);
    },
  };
}
