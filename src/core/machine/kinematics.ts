/** One axis of a machine with what it can do. Values and rates are in the program's units: mm, or degrees where it turns. */
export interface Axis {
  letter: string;
  kind: 'linear' | 'rotary';
  /** Range of its words; infinite where none is known. */
  min: number;
  max: number;
  maxPerMin: number;
  accelerationPerS2: number;
}

/**
 * A machine's axes against a blank on it: `inverse` gives where the axes stand for a tip and a tool axis in the blank frame,
 * `forward` where the tip is for given axes. Axis values are the program's words, in the order of `axes`.
 */
export interface Kinematics {
  axes: readonly Axis[];
  /**
   * @param tip Tip point, blank frame, mm. @param axis Unit tool axis, tip to spindle, within what the axes can reach.
   * @param near Where the axes stood before, or are expected: of all positions that reach the pose the nearest is taken, and an axis
   * that is free stays there.
   */
  inverse(tip: Float64Array, axis: Float64Array, near: ArrayLike<number>, out: Float64Array): void;
  forward(values: ArrayLike<number>, tip: Float64Array, axis: Float64Array): void;
}
