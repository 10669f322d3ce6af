import { assertAllFinite } from '../base/invariant';
import { poseAt, type LaidPaths } from '../lay/laidPaths';
import type { Work } from './stance';
import type { Kinematics } from './kinematics';

/** Most blocks one laid move is split into; 2¹² is a full turn in steps of 0.09°. */
const MAX_SPLITS = 12;
/** Share of a rapid's height over the surface by which it may leave its way. */
const RAPID_SHARE = 0.02;
/** A block turns by at most this, so that its length and its chord are well measured. */
const MAX_BLOCK_TURN_DEG = 30;

/** Axis values per block, one for each letter, with the laid move it belongs to. Block i runs from block i − 1 to its own values. */
export interface AxisMoves {
  count: number;
  values: Float64Array;
  /** Sheet x, y, depth at the end of the block. */
  sheet: Float64Array;
  /** Index of the laid move. */
  move: Uint32Array;
  /** True length of the tip's way in the blank frame, mm. */
  lengthMm: Float64Array;
  /** Intended time for feed blocks, min; 0 for rapid. */
  feedTimeMin: Float64Array;
}

/**
 * Sends laid paths through the inverse kinematics, split so that between two blocks, with the axes running linearly, the
 * tip stays within the chord tolerance of its way on the blank. O(blocks).
 */
export function computeAxisMoves(laid: LaidPaths, work: Work, kinematics: Kinematics, chordToleranceMm: number): AxisMoves {
  const n = kinematics.letters.length;
  const { turnIndex } = kinematics;
  const values: number[] = [],
    sheet: number[] = [],
    move: number[] = [];
  const frame = new Float64Array(6);
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    middleTip = new Float64Array(3);
  const solve = (at: ArrayLike<number>): Float64Array => {
    const out = new Float64Array(n);
    poseAt(work, at[0]!, at[1]!, at[2]!, frame, tip, axis);
    kinematics.inverse(tip, axis, at[1]! / work.mmPerRad, out);
    return out;
  };
  const split = (
    from: ArrayLike<number>,
    fromValues: Float64Array,
    to: ArrayLike<number>,
    toValues: Float64Array,
    i: number,
    depth: number,
  ): void => {
    const middle = [0, 1, 2].map((k) => (from[k]! + to[k]!) / 2);
    poseAt(work, middle[0]!, middle[1]!, middle[2]!, frame, middleTip, axis);
    kinematics.forward(
      fromValues.map((v, k) => (v + toValues[k]!) / 2),
      tip,
      axis,
    );
    const gap = Math.hypot(tip[0]! - middleTip[0]!, tip[1]! - middleTip[1]!, tip[2]! - middleTip[2]!);
    const turn = turnIndex < 0 ? 0 : Math.abs(toValues[turnIndex]! - fromValues[turnIndex]!);
    // A rapid may leave its way by a share of its height over the surface: it still clears it.
    const tolerance = laid.feedMmPerMin[i]! > 0 ? chordToleranceMm : Math.max(chordToleranceMm, -RAPID_SHARE * Math.max(from[2]!, to[2]!));
    if (depth < MAX_SPLITS && (gap > tolerance || (laid.feedMmPerMin[i]! > 0 && turn > MAX_BLOCK_TURN_DEG))) {
      const middleValues = solve(middle);
      split(from, fromValues, middle, middleValues, i, depth + 1);
      split(middle, middleValues, to, toValues, i, depth + 1);
      return;
    }
    values.push(...toValues);
    sheet.push(to[0]!, to[1]!, to[2]!);
    move.push(i);
  };
  let previous: Float64Array | null = null;
  for (let i = 0; i < laid.count; i++) {
    const at = laid.sheet.subarray(3 * i, 3 * i + 3);
    const solved = solve(at);
    if (previous) split(laid.sheet.subarray(3 * i - 3, 3 * i), previous, at, solved, i, 0);
    else {
      values.push(...solved);
      sheet.push(at[0]!, at[1]!, at[2]!);
      move.push(i);
    }
    previous = solved;
  }
  assertAllFinite('computeAxisMoves', values);
  const count = move.length;
  const packed = Float64Array.from(values);
  const lengthMm = new Float64Array(count);
  const feedTimeMin = new Float64Array(count);
  for (let i = 1; i < count; i++) {
    lengthMm[i] = computeTipLength(kinematics, packed.subarray(n * (i - 1), n * i), packed.subarray(n * i, n * (i + 1)));
    const feed = laid.feedMmPerMin[move[i]!]!;
    if (feed > 0) feedTimeMin[i] = lengthMm[i]! / feed;
  }
  return { count, values: packed, sheet: Float64Array.from(sheet), move: Uint32Array.from(move), lengthMm, feedTimeMin };
}

/**
 * Length of the tip's way in the blank frame while the axes run linearly, mm: eight chords and four, extrapolated
 * (error of order h⁴; below 1e-6 of the length for a block that turns 30°).
 */
export function computeTipLength(kinematics: Kinematics, from: Float64Array, to: Float64Array): number {
  const tip = new Float64Array(3),
    axis = new Float64Array(3);
  const at = new Float64Array(from.length);
  const points: number[] = [];
  for (let k = 0; k <= 8; k++) {
    for (let j = 0; j < from.length; j++) at[j] = from[j]! + (k / 8) * (to[j]! - from[j]!);
    kinematics.forward(at, tip, axis);
    points.push(tip[0]!, tip[1]!, tip[2]!);
  }
  const chords = (step: number) => {
    let sum = 0;
    for (let k = step; k <= 8; k += step) {
      sum += Math.hypot(
        points[3 * k]! - points[3 * (k - step)]!,
        points[3 * k + 1]! - points[3 * (k - step) + 1]!,
        points[3 * k + 2]! - points[3 * (k - step) + 2]!,
      );
    }
    return sum;
  };
  const fine = chords(1);
  return fine + (fine - chords(2)) / 3;
}
