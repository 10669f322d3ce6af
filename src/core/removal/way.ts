import { levelOf, type Work } from '../machine/stance';
import type { Kinematics } from '../machine/kinematics';
import { createPiece, type Piece } from './piece';

/** Most that an axis that turns may turn in one piece, degrees: the bow then holds to 1e-4 of the chord. */
const MAX_TURN_DEG = 0.6;
/** Longest piece near the blank, unless it is flat, mm. */
const MAX_LENGTH_MM = 2;

/** Sends motions forward through a machine's kinematics, in pieces short enough to be swept. */
export class Way {
  readonly piece: Piece = createPiece();
  private readonly at: Float64Array;
  private readonly tips = [0, 1, 2].map(() => new Float64Array(3)) as [Float64Array, Float64Array, Float64Array];
  private readonly axes = [0, 1, 2].map(() => new Float64Array(3)) as [Float64Array, Float64Array, Float64Array];

  constructor(
    private readonly kinematics: Kinematics,
    private readonly work: Pick<Work, 'flat' | 'topMm' | 'stance'>,
  ) {
    this.at = new Float64Array(kinematics.axes.length);
  }

  /** In how many pieces to go from one position of the axes to another; 0 where the way stays over the highest place of the blank. */
  countPieces(from: Float64Array, to: Float64Array): number {
    let turn = 0;
    for (const [k, axis] of this.kinematics.axes.entries()) {
      if (axis.kind === 'rotary') turn = Math.max(turn, Math.abs(to[k]! - from[k]!));
    }
    const pieces = Math.max(1, Math.ceil(turn / MAX_TURN_DEG - 1e-9));
    if (this.isClear(from, to, pieces)) return 0;
    if (this.work.flat) return pieces;
    let length = 0;
    for (const [k, axis] of this.kinematics.axes.entries()) if (axis.kind === 'linear') length += (to[k]! - from[k]!) ** 2;
    return Math.max(pieces, Math.ceil(Math.sqrt(length) / MAX_LENGTH_MM));
  }

  /** Fills `piece` with the k-th of n pieces. */
  setPiece(from: Float64Array, to: Float64Array, k: number, n: number): Piece {
    const { piece, tips, axes } = this;
    for (let j = 0; j < 3; j++) this.stand(from, to, (k + j / 2) / n, tips[j]!, axes[j]!);
    const [t0, tm, t1] = tips,
      [a0, am, a1] = axes;
    for (let c = 0; c < 3; c++) {
      piece.tip[c] = t0[c]!;
      piece.move[c] = t1[c]! - t0[c]!;
      piece.bow[c] = 2 * (t0[c]! + t1[c]!) - 4 * tm[c]!;
      piece.axis[c] = a0[c]!;
      piece.axisMove[c] = a1[c]! - a0[c]!;
      piece.axisBow[c] = 2 * (a0[c]! + a1[c]!) - 4 * am[c]!;
    }
    return piece;
  }

  private stand(from: Float64Array, to: Float64Array, s: number, tip: Float64Array, axis: Float64Array): void {
    for (let j = 0; j < this.at.length; j++) this.at[j] = from[j]! + s * (to[j]! - from[j]!);
    this.kinematics.forward(this.at, tip, axis);
  }

  /** Whether the tip stays higher than all of the blank: on a rotary that is a matter of the distance from its axis. */
  private isClear(from: Float64Array, to: Float64Array, pieces: number): boolean {
    const { topMm } = this.work;
    const steps = 2 * pieces;
    const [tip, axis] = [this.tips[0], this.axes[0]];
    // On a table what is high is high in z, though the blank be round.
    let low = Infinity,
      sag = 0,
      last = NaN;
    for (let k = 0; k <= steps; k++) {
      this.stand(from, to, k / steps, tip, axis);
      const high = this.heightOf(tip, axis);
      low = Math.min(low, high);
      if (k > 0) sag = Math.max(sag, Math.abs(high - last));
      last = high;
      if (low <= topMm) return false;
    }
    return low - sag > topMm;
  }

  /** How high a tip stands over what all of the blank is below. */
  private heightOf(tip: Float64Array, axis: Float64Array): number {
    const { stance } = this.work;
    if (stance.centre) return levelOf(stance, tip, axis);
    return stance.turns ? Math.sqrt(tip[1]! * tip[1]! + tip[2]! * tip[2]!) : tip[2]!;
  }
}
