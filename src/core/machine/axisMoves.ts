import { assertAllFinite } from '../base/invariant';
import type { Steps } from '../base/steps';
import { MOVE, poseAt, type LaidPaths } from '../lay/laidPaths';
import type { Kinematics } from './kinematics';
import type { Work } from './stance';

/** Most halvings of one laid move; 2¹² blocks are a full turn in steps of 0.09°. */
const MAX_SPLITS = 12;
/** A block turns by at most this, so that its length and its chord are well measured. */
const MAX_BLOCK_TURN_DEG = 30;
/** A laid move is followed in steps that turn a round blank by at most this, so that the rotary's way is known between its ends. */
const FOLLOWED_TURN_RAD = Math.PI / 2;

/** Moves worked out between two reports. */
const MOVES_A_STEP = 2000;

/** Axis values per block, one for each axis, with the laid move it belongs to. Block i runs from block i − 1 to its own values. */
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
 * Sends laid paths through the inverse kinematics. Feed moves are split so that between two blocks, with the axes running linearly,
 * the tip stays within the chord tolerance of its way on the blank; rapids are laid so that one block of each is safe. Yields the
 * share done. O(blocks).
 */
export function* computeAxisMoves(laid: LaidPaths, work: Work, kinematics: Kinematics, chordToleranceMm: number): Steps<number, AxisMoves> {
  const n = kinematics.axes.length;
  const values: number[] = [],
    sheet: number[] = [],
    move: number[] = [];
  const rotary = kinematics.axes.flatMap((a, k) => (a.kind === 'rotary' ? [k] : []));
  const solver = createPoseSolver(work, kinematics);
  const push = (at: ArrayLike<number>, axisValues: Float64Array, i: number): void => {
    for (let k = 0; k < n; k++) values.push(axisValues[k]!);
    sheet.push(at[0]!, at[1]!, at[2]!);
    move.push(i);
  };
  const split = (
    from: ArrayLike<number>,
    fromValues: Float64Array,
    to: ArrayLike<number>,
    toValues: Float64Array,
    i: number,
    depth: number,
  ): void => {
    const middle = Float64Array.of((from[0]! + to[0]!) / 2, (from[1]! + to[1]!) / 2, (from[2]! + to[2]!) / 2);
    const halfway = fromValues.map((v, k) => (v + toValues[k]!) / 2);
    let turnsFar = false;
    for (const k of rotary) turnsFar ||= Math.abs(toValues[k]! - fromValues[k]!) > MAX_BLOCK_TURN_DEG;
    if (depth < MAX_SPLITS && (turnsFar || solver.findGap(middle, halfway) > chordToleranceMm)) {
      const middleValues = solver.solve(middle, halfway);
      split(from, fromValues, middle, middleValues, i, depth + 1);
      split(middle, middleValues, to, toValues, i, depth + 1);
      return;
    }
    push(to, toValues, i);
  };
  let previous: Float64Array = new Float64Array(n);
  for (let i = 0; i < laid.count; i++) {
    const at = laid.sheet.subarray(3 * i, 3 * i + 3);
    if (i === 0) {
      previous = solver.solve(at, previous, laid.liftMm[0]!);
      push(at, previous, 0);
      continue;
    }
    const from = laid.sheet.subarray(3 * i - 3, 3 * i);
    // Through the air a blank that closes on itself turns the short way; along a cut it turns as the sheet goes.
    const free = work.periodMm !== null && laid.kind[i] === MOVE.hop;
    const solved = free ? solver.solve(at, previous, laid.liftMm[i]!) : solver.follow(from, previous, at, laid.liftMm[i]!);
    if (laid.feedMmPerMin[i]! > 0) split(from, previous, at, solved, i, 0);
    else push(at, solved, i);
    previous = solved;
    if (i % MOVES_A_STEP === 0) yield (0.7 * i) / laid.count;
  }
  assertAllFinite('computeAxisMoves', values);
  return yield* measureBlocks(laid, kinematics, Float64Array.from(values), Float64Array.from(sheet), Uint32Array.from(move));
}

/** Axis values for places of a work: sheet x, y, depth. */
function createPoseSolver(work: Work, kinematics: Kinematics) {
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
  return {
    solve,
    /** The values at `to`, with the rotary going the way that the sheet goes from `from`. */
    follow(from: ArrayLike<number>, fromValues: Float64Array, to: ArrayLike<number>, liftMm: number): Float64Array {
      const steps = work.round ? Math.ceil(Math.abs(to[1]! - from[1]!) / work.mmPerRad / FOLLOWED_TURN_RAD) : 1;
      let values = fromValues;
      for (let k = 1; k < steps; k++) {
        const t = k / steps;
        values = solve(
          [from[0]! + t * (to[0]! - from[0]!), from[1]! + t * (to[1]! - from[1]!), from[2]! + t * (to[2]! - from[2]!)],
          values,
        );
      }
      return solve(to, values, liftMm);
    },
    /** How far the tip is from a place while the axes stand at given values, mm. */
    findGap(at: ArrayLike<number>, axisValues: ArrayLike<number>): number {
      poseAt(work, at[0]!, at[1]!, at[2]!, 0, frame, wanted, axis);
      kinematics.forward(axisValues, tip, axis);
      const dx = tip[0]! - wanted[0]!,
        dy = tip[1]! - wanted[1]!,
        dz = tip[2]! - wanted[2]!;
      return Math.sqrt(dx * dx + dy * dy + dz * dz);
    },
  };
}

function* measureBlocks(
  laid: LaidPaths,
  kinematics: Kinematics,
  values: Float64Array,
  sheet: Float64Array,
  move: Uint32Array,
): Steps<number, AxisMoves> {
  const n = kinematics.axes.length;
  const count = move.length;
  const lengthMm = new Float64Array(count);
  const feedTimeMin = new Float64Array(count);
  for (let i = 1; i < count; i++) {
    lengthMm[i] = computeTipLength(kinematics, values.subarray(n * (i - 1), n * i), values.subarray(n * i, n * (i + 1)));
    const feed = laid.feedMmPerMin[move[i]!]!;
    if (feed > 0) feedTimeMin[i] = lengthMm[i]! / feed;
    if (i % MOVES_A_STEP === 0) yield 0.7 + (0.3 * i) / count;
  }
  return { count, values, sheet, move, lengthMm, feedTimeMin };
}

/**
 * Length of the tip's way in the blank frame while the axes run linearly, mm: eight chords and four, or two and one where little turns,
 * extrapolated (error of order h⁴; below 1e-6 of the length for a block that turns 30°).
 */
export function computeTipLength(kinematics: Kinematics, from: Float64Array, to: Float64Array): number {
  const n = from.length;
  const { tip, axis, at, points } = scratch;
  const values = at.length === n ? at : (scratch.at = new Float64Array(n));
  const chords = turnsLittle(kinematics, from, to) ? FEW_CHORDS : CHORDS;
  for (let k = 0; k <= chords; k++) {
    for (let j = 0; j < n; j++) values[j] = from[j]! + (k / chords) * (to[j]! - from[j]!);
    kinematics.forward(values, tip, axis);
    points[3 * k] = tip[0]!;
    points[3 * k + 1] = tip[1]!;
    points[3 * k + 2] = tip[2]!;
  }
  const fine = sumChords(points, chords, 1);
  return fine + (fine - sumChords(points, chords, 2)) / 3;
}

/** Chords of a block that turns far, and of one that turns so little that each of its chords turns no farther. */
const CHORDS = 8;
const FEW_CHORDS = 2;
const LITTLE_TURN_DEG = (MAX_BLOCK_TURN_DEG * FEW_CHORDS) / CHORDS;

function turnsLittle({ axes }: Kinematics, from: Float64Array, to: Float64Array): boolean {
  for (let k = 0; k < axes.length; k++) if (axes[k]!.kind === 'rotary' && !(Math.abs(to[k]! - from[k]!) <= LITTLE_TURN_DEG)) return false;
  return true;
}

/** Room that is used anew for every block: there are a hundred thousand. */
const scratch = {
  tip: new Float64Array(3),
  axis: new Float64Array(3),
  at: new Float64Array(4),
  points: new Float64Array(3 * (CHORDS + 1)),
};

function sumChords(points: Float64Array, chords: number, step: number): number {
  let sum = 0;
  for (let k = 3 * step; k <= 3 * chords; k += 3 * step) {
    const j = k - 3 * step;
    const dx = points[k]! - points[j]!,
      dy = points[k + 1]! - points[j + 1]!,
      dz = points[k + 2]! - points[j + 2]!;
    sum += Math.sqrt(dx * dx + dy * dy + dz * dz);
  }
  return sum;
}
