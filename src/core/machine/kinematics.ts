/**
 * A machine's axes against the blank: `inverse` asks where the axes stand for a tip and a tool axis in the blank frame,
 * `forward` where the tip is for given axes. Axis values are in the program's words: mm, and degrees for the rotary.
 */
export interface Kinematics {
  /** Letters of the axes, in the order of the values. */
  letters: readonly string[];
  /** Which values are degrees. */
  rotary: readonly boolean[];
  /** Which value turns the blank, or −1. */
  turnIndex: number;
  /**
   * @param tip Tip point, blank frame, mm. @param axis Unit tool axis, tip to spindle, within what the axes can reach.
   * @param nearTurnRad The turn, of all that reach the pose, should be next to this one.
   */
  inverse(tip: Float64Array, axis: Float64Array, nearTurnRad: number, out: Float64Array): void;
  forward(values: Float64Array, tip: Float64Array, axis: Float64Array): void;
}
