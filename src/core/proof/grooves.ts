import Flatbush from 'flatbush';
import type { Kinematics } from '../machine/kinematics';
import { AXIS_COUNT, AXIS_LETTERS, type Motions } from '../program/motions';

/** So deep below a place a groove is looked for, mm. */
const MOST_DEPTH_MM = 100;
/** Longest piece of a motion that turns the blank, degrees: on a radius of 100 mm its chord is within 4 µm. */
const PIECE_DEG = 1;
const MOST_PIECES = 1000;
/** A tool that leans otherwise by more than this stands otherwise, radians. */
const SAME_LEAN_RAD = 2e-3;

/**
 * Where the tip was on the blank at feed in one file of a program, and with which cutter. However the axes stood: a blank that was turned
 * back, or a table that leans the other way, is cut all the same.
 */
export class Grooves {
  /** Tip and tool axis at the ends of pieces of motions, blank frame, x y z i j k; and the motion that each piece is of. */
  private poses: Float64Array | null = null;
  private motionOf!: Uint32Array;
  private index!: Flatbush;
  private readonly axes: readonly number[];

  /**
   * @param toolOf The cutter that cuts by a motion, by its id; null for a motion that does not cut.
   * @param slackMm Places that differ by less than this are one: the digits of the words, and the chords between them.
   * @param end Motions from this on are not cut yet.
   */
  constructor(
    private readonly motions: Motions,
    private readonly kinematics: Pick<Kinematics, 'axes' | 'forward'>,
    private readonly toolOf: (motion: number) => string | null,
    private readonly slackMm: number,
    private readonly end = Infinity,
  ) {
    this.axes = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  }

  /** The same as it was before a motion. */
  until(motion: number): Grooves {
    return new Grooves(this.motions, this.kinematics, this.toolOf, this.slackMm, motion);
  }

  /**
   * Whether a cutter's tip was as deep as a place, along the tool that stands there, by a motion before one of a number.
   * @param place Words of all axes, X Y Z A B C.
   */
  reach(place: ArrayLike<number>, tool: string, before = this.end): boolean {
    const poses = (this.poses ??= this.makePoses());
    const { slackMm } = this;
    const p = this.poseOf(place, 0);
    const from = [p[0]! - MOST_DEPTH_MM * p[3]!, p[1]! - MOST_DEPTH_MM * p[4]!];
    const [x0, x1] = [Math.min(p[0]!, from[0]!) - slackMm, Math.max(p[0]!, from[0]!) + slackMm];
    const [y0, y1] = [Math.min(p[1]!, from[1]!) - slackMm, Math.max(p[1]!, from[1]!) + slackMm];
    return this.index.search(x0, y0, x1, y1).some((found) => {
      const piece = found + 1;
      const motion = this.motionOf[piece]!;
      if (motion >= before || this.motions.rapid[motion] || this.toolOf(motion) !== tool) return false;
      return this.passesBelow(poses, 6 * piece, p);
    });
  }

  /** Whether the way of the tip to a pose, in a straight line, passes through the tool's line below another one. */
  private passesBelow(poses: Float64Array, to: number, p: Float64Array): boolean {
    const { slackMm } = this;
    // Square to the tool: from the place to where the way begins, and along it.
    let startUp = 0,
      wayUp = 0;
    for (let k = 0; k < 3; k++) {
      startUp += (poses[to - 6 + k]! - p[k]!) * p[3 + k]!;
      wayUp += (poses[to + k]! - poses[to - 6 + k]!) * p[3 + k]!;
    }
    let along = 0,
      square = 0,
      start = 0;
    for (let k = 0; k < 3; k++) {
      const a = poses[to - 6 + k]! - p[k]! - startUp * p[3 + k]!,
        w = poses[to + k]! - poses[to - 6 + k]! - wayUp * p[3 + k]!;
      along -= a * w;
      square += w * w;
      start += a * a;
    }
    // Straight down the tool's line its end is the deepest.
    const share = square > slackMm * slackMm ? Math.max(0, Math.min(1, along / square)) : wayUp < 0 ? 1 : 0;
    const off2 = start - 2 * share * along + share * share * square;
    if (off2 > slackMm * slackMm || startUp + share * wayUp > slackMm) return false;
    let lean = 0;
    for (let k = 3; k < 6; k++) lean += (poses[to - 6 + k]! + share * (poses[to + k]! - poses[to - 6 + k]!) - p[k]!) ** 2;
    return lean < SAME_LEAN_RAD * SAME_LEAN_RAD;
  }

  private readonly pose = new Float64Array(6);
  private poseOf(words: ArrayLike<number>, at: number): Float64Array {
    const values = Float64Array.from(this.axes, (k) => words[at + k]!);
    this.kinematics.forward(values, this.pose.subarray(0, 3), this.pose.subarray(3));
    return this.pose;
  }

  /** The poses, and all pieces of motions by x and y on the blank: what turns is no chord there. */
  private makePoses(): Float64Array {
    const { end, count: motions } = this.motions;
    const rotary = this.axes.filter((_, k) => this.kinematics.axes[k]!.kind === 'rotary');
    const turnOf = (m: number): number =>
      Math.max(0, ...rotary.map((k) => Math.abs(end[AXIS_COUNT * m + k]! - end[AXIS_COUNT * (m - 1) + k]!)));
    const pieces = Array.from({ length: motions }, (_, m) =>
      m === 0 || this.motions.rapid[m] ? 1 : Math.min(MOST_PIECES, Math.max(1, Math.ceil(turnOf(m) / PIECE_DEG))),
    );
    const count = pieces.reduce((sum, n) => sum + n, 0);
    const poses = new Float64Array(6 * count);
    this.motionOf = new Uint32Array(count);
    const words = new Float64Array(AXIS_COUNT);
    for (let m = 0, at = 0; m < motions; m++) {
      for (let k = 1; k <= pieces[m]!; k++, at++) {
        for (let a = 0; a < AXIS_COUNT; a++) {
          const from = m > 0 ? end[AXIS_COUNT * (m - 1) + a]! : end[a]!;
          words[a] = from + (k / pieces[m]!) * (end[AXIS_COUNT * m + a]! - from);
        }
        poses.set(this.poseOf(words, 0), 6 * at);
        this.motionOf[at] = m;
      }
    }
    this.index = new Flatbush(Math.max(1, count - 1));
    for (let m = 6; m < 6 * count; m += 6) {
      const [a, b, c, d] = [poses[m - 6]!, poses[m - 5]!, poses[m]!, poses[m + 1]!];
      this.index.add(Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d));
    }
    if (count < 2) this.index.add(0, 0, 0, 0);
    this.index.finish();
    return poses;
  }
}
