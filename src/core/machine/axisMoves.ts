import { assertAllFinite } from '../base/invariant';
import type { Steps } from '../base/steps';
import { isCutMove, MOVE, type LaidPaths } from '../lay/laidPaths';
import type { Kinematics } from './kinematics';
import { createPoseSolver } from './pose';
import type { Work } from './stance';

/**
 * Most halvings of one laid move. By the pole of a table half a turn of it is a few µm of way, and only there so many are wanted; where the
 * control keeps the tool's point the words would not tell such blocks apart, and need not.
 */
const MAX_SPLITS = 20;
const MAX_POINT_SPLITS = 12;
/** A block turns by at most this, so that its length and its chord are well measured. */
const MAX_BLOCK_TURN_DEG = 30;
/** A way through the air at feed is kept to within this share of the hop height. */
export const AIR_SHARE = 0.2;

/** Moves worked out between two reports. */
const MOVES_A_STEP = 2000;

/** Axis values per block, one for each axis, with the laid move it belongs to. Block i runs from block i − 1 to its own values. */
export interface AxisMoves {
  count: number;
  values: Float64Array;
  /** Sheet x, y, depth at the end of the block. */
  sheet: Float64Array;
  /** How far the tip is raised straight up there, mm. */
  liftMm: Float64Array;
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
 * @param airMm Least height at which the tool crosses at feed, mm; 0 where every way through the air is kept as exactly as a cut.
 */
export function* computeAxisMoves(
  laid: LaidPaths,
  work: Work,
  kinematics: Kinematics,
  chordToleranceMm: number,
  airMm = 0,
): Steps<number, AxisMoves> {
  const n = kinematics.axes.length;
  const values: number[] = [],
    sheet: number[] = [],
    move: number[] = [];
  const rotary = kinematics.axes.flatMap((a, k) => (a.kind === 'rotary' ? [k] : []));
  const solver = createPoseSolver(work, kinematics);
  const lift: number[] = [];
  const push = (at: ArrayLike<number>, axisValues: Float64Array, i: number): void => {
    for (let k = 0; k < n; k++) values.push(axisValues[k]!);
    sheet.push(at[0]!, at[1]!, at[2]!);
    lift.push(at[3]!);
    move.push(i);
  };
  let toleranceMm = chordToleranceMm;
  const mostSplits = work.stance.toolPoint ? MAX_POINT_SPLITS : MAX_SPLITS;
  const split = (
    from: Float64Array,
    fromValues: Float64Array,
    to: Float64Array,
    toValues: Float64Array,
    i: number,
    depth: number,
  ): void => {
    const middle = from.map((v, k) => (v + to[k]!) / 2);
    const halfway = fromValues.map((v, k) => (v + toValues[k]!) / 2);
    let turnsFar = false;
    for (const k of rotary) turnsFar ||= Math.abs(toValues[k]! - fromValues[k]!) > MAX_BLOCK_TURN_DEG;
    if (depth < mostSplits && (turnsFar || solver.findGap(middle, halfway, middle[3]!) > toleranceMm)) {
      const middleValues = solver.solve(middle, halfway, middle[3]!);
      split(from, fromValues, middle, middleValues, i, depth + 1);
      split(middle, middleValues, to, toValues, i, depth + 1);
      return;
    }
    push(to, toValues, i);
  };
  const period = work.periodMm;
  const placeOf = (i: number): Float64Array =>
    Float64Array.of(laid.sheet[3 * i]!, laid.sheet[3 * i + 1]!, laid.sheet[3 * i + 2]!, laid.liftMm[i]!);
  let previous: Float64Array = new Float64Array(n);
  for (let i = 0; i < laid.count; i++) {
    const at = placeOf(i);
    const near = laid.nearOf?.get(i) ?? previous;
    if (i === 0) {
      previous = solver.solve(at, near, at[3]!);
      push(at, previous, 0);
      continue;
    }
    const from = placeOf(i - 1);
    // Through the air a blank that closes on itself turns the short way; along a cut it turns as the sheet goes.
    const isAir = laid.kind[i] === MOVE.hop || laid.kind[i] === MOVE.across;
    if (isAir && period !== null) from[1]! += period * Math.round((at[1]! - from[1]!) / period);
    const free = near !== previous || (period !== null && isAir);
    const solved = free ? solver.solve(at, near, at[3]!) : solver.follow(from, previous, at, at[3]!);
    toleranceMm = isCutMove(laid.kind[i]!) ? chordToleranceMm : Math.max(chordToleranceMm, AIR_SHARE * airMm);
    if (laid.feedMmPerMin[i]! > 0) split(from, previous, at, solved, i, 0);
    else push(at, solved, i);
    previous = solved;
    if (i % MOVES_A_STEP === 0) yield (0.7 * i) / laid.count;
  }
  assertAllFinite('computeAxisMoves', values);
  return yield* measureBlocks(laid, kinematics, {
    values: Float64Array.from(values),
    sheet: Float64Array.from(sheet),
    liftMm: Float64Array.from(lift),
    move: Uint32Array.from(move),
  });
}

function* measureBlocks(
  laid: LaidPaths,
  kinematics: Kinematics,
  blocks: Pick<AxisMoves, 'values' | 'sheet' | 'liftMm' | 'move'>,
): Steps<number, AxisMoves> {
  const { values, move } = blocks;
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
  return { count, ...blocks, lengthMm, feedTimeMin };
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
