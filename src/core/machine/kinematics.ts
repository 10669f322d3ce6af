import type { Machine } from '../job/machineSchema';

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
  /** The machine's own axes, where the words are not theirs but the tip's on the blank: its control works them out. */
  machine?: Kinematics;
}

/** One of X, Y and Z. */
export const linearAxis = ({ rapidMmPerMin, accelerationMmPerS2 }: Machine, letter: string): Axis => ({
  letter,
  kind: 'linear',
  min: -Infinity,
  max: Infinity,
  maxPerMin: rapidMmPerMin,
  accelerationPerS2: accelerationMmPerS2,
});

interface Turning {
  letter: string;
  maxDegPerMin: number;
  accelerationDegPerS2: number;
}

/** An axis that turns, in a range of its words or without end. */
export const turningAxis = (
  { letter, maxDegPerMin, accelerationDegPerS2 }: Turning,
  range: { minDeg: number; maxDeg: number } | null,
): Axis => ({
  letter,
  kind: 'rotary',
  min: range?.minDeg ?? -Infinity,
  max: range?.maxDeg ?? Infinity,
  maxPerMin: maxDegPerMin,
  accelerationPerS2: accelerationDegPerS2,
});

/** The range of an axis' words, whose limits are said in the direction of its sense. */
export const toWords = ({ sense, minDeg, maxDeg }: { sense: 1 | -1; minDeg: number; maxDeg: number }) =>
  sense > 0 ? { minDeg, maxDeg } : { minDeg: -maxDeg, maxDeg: -minDeg };

/**
 * Where the machine's own axes stand for the words of a program, block after block: the words themselves but under a control that keeps
 * the tool's point. @param values `axes.length` words a block.
 */
export function toMachineValues({ machine, axes, forward }: Kinematics, values: Float64Array): Float64Array {
  if (!machine) return values;
  const n = axes.length;
  const out = new Float64Array(values.length);
  const tip = new Float64Array(3),
    axis = new Float64Array(3);
  for (let i = 0; i < values.length; i += n) {
    const words = values.subarray(i, i + n);
    forward(words, tip, axis);
    // The turning words are the machine's own, so that the position nearest to them is the one.
    machine.inverse(tip, axis, words, out.subarray(i, i + n));
  }
  return out;
}
