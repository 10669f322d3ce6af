import { isFeedMove, poseAt, type LaidPaths } from '../lay/laidPaths';
import type { AxisMoves } from '../machine/axisMoves';
import type { Kinematics } from '../machine/kinematics';
import type { Program } from '../program/dialect';
import { readProgram, type ProgramFault } from '../program/interpreter';
import type { Work } from '../machine/stance';

/** How far a program, read back from its text, is from the plan. */
export interface ReadBack {
  /** Largest distance of the tip from its way on the blank, µm; at block ends and middles. */
  maxTipUm: number;
  /** Largest difference of an axis word from the axis value, µm and 0.001°. */
  maxAxisUm: number;
  /** Largest |time of a feed block / intended time − 1|. */
  maxTimeRatio: number;
  faults: ProgramFault[];
  /** Whether the tip runs round the blank the wrong way, so that the lettering comes out mirrored. */
  mirrored: boolean;
  /** Line of the worst tip deviation, from 0. */
  worstLine: number;
  /** A rapid that ends or passes below the surface: its line, or −1. */
  rapidInWorkLine: number;
}

const LETTERS = 'XYZABC';
/** A rapid lower than this below the surface touches the work, mm. */
const TOUCH_MM = 1e-4;

/**
 * Reads the program's text with the interpreter, sends it forward through the machine on to the blank, and compares it
 * with the plan in the blank frame. O(lines).
 * @param kinematics The machine as it is, which may differ from what the program was written for.
 */
export function computeReadBack(
  text: string,
  program: Program,
  laid: LaidPaths,
  moves: AxisMoves,
  work: Work,
  kinematics: Kinematics,
): ReadBack {
  const reading = readProgram(text);
  const n = kinematics.letters.length;
  const index = kinematics.letters.map((letter) => LETTERS.indexOf(letter));
  const values = new Float64Array(n);
  const middle = new Float64Array(n);
  const previous = new Float64Array(n);
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    planned = new Float64Array(3),
    frame = new Float64Array(6);
  const back: ReadBack = {
    maxTipUm: 0,
    maxAxisUm: 0,
    maxTimeRatio: 0,
    faults: reading.faults,
    mirrored: false,
    worstLine: 0,
    rapidInWorkLine: -1,
  };
  const compare = (at: Float64Array, sheetX: number, sheetY: number, depth: number, line: number): void => {
    kinematics.forward(at, tip, axis);
    poseAt(work, sheetX, sheetY, depth, frame, planned, axis);
    const um = 1000 * Math.hypot(tip[0]! - planned[0]!, tip[1]! - planned[1]!, tip[2]! - planned[2]!);
    if (!(um <= back.maxTipUm)) {
      back.maxTipUm = um;
      back.worstLine = line;
    }
  };
  let motion = -1;
  let chirality = 0;
  for (let i = 0; i < moves.count; i++) {
    const line = program.lineOfBlock[i]!;
    const startedAt = motion;
    while (motion + 1 < reading.motions.length && reading.motions[motion + 1]!.line <= line) motion++;
    const current = reading.motions[motion];
    if (!current) continue;
    index.forEach((k, j) => {
      values[j] = current.end[k]!;
      const wanted = moves.values[n * i + j]!;
      back.maxAxisUm = Math.max(back.maxAxisUm, 1000 * Math.abs(values[j]! - wanted));
    });
    const [x, y, depth] = [moves.sheet[3 * i]!, moves.sheet[3 * i + 1]!, moves.sheet[3 * i + 2]!];
    compare(values, x, y, depth, line);
    const feeding = isFeedMove(laid.kind[moves.move[i]!]!);
    if (i > 0) {
      const [px, py, pd] = [moves.sheet[3 * i - 3]!, moves.sheet[3 * i - 2]!, moves.sheet[3 * i - 1]!];
      if (motion > startedAt) {
        // On the way: a feed block must keep to the plan; a rapid must keep out of the work.
        for (let j = 0; j < n; j++) middle[j] = (previous[j]! + values[j]!) / 2;
        if (feeding) compare(middle, (px + x) / 2, (py + y) / 2, (pd + depth) / 2, line);
        kinematics.forward(values, tip, axis);
        const low = work.toSheet(tip[0]!, tip[1]!, tip[2]!).heightMm;
        if (current.rapid && low < -TOUCH_MM && back.rapidInWorkLine < 0) back.rapidInWorkLine = line;
        if (current.rapid === feeding)
          back.faults.push({ line, text: feeding ? 'a feed move is written as a rapid' : 'a rapid is written as a feed move' });
      }
      if (feeding && motion > startedAt) {
        back.maxTimeRatio = Math.max(back.maxTimeRatio, Math.abs(current.timeMin / moves.feedTimeMin[i]! - 1));
        kinematics.forward(previous, tip, axis);
        const from = work.toSheet(tip[0]!, tip[1]!, tip[2]!).y;
        kinematics.forward(values, tip, axis);
        const to = work.toSheet(tip[0]!, tip[1]!, tip[2]!).y;
        const period = work.periodMm;
        const turn = to - from - (period === null ? 0 : period * Math.round((to - from) / period));
        chirality += turn * (y - py);
      }
    }
    previous.set(values);
  }
  back.mirrored = chirality < 0;
  return back;
}
