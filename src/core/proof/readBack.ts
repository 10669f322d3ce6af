import { wrapTo } from '../base/angle';
import type { Steps } from '../base/steps';
import { isFeedMove, MOVE } from '../lay/laidPaths';
import { poseAt } from '../machine/pose';
import type { Plan } from '../pipeline/plan';
import type { Setup } from '../pipeline/setup';
import { toPartText, type Program } from '../program/dialect';
import { readProgram, type ProgramFault, type ProgramReading } from '../program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { getRules } from '../program/registry';
import { getLengthDigits, getUnitMm } from '../program/units';
import { measureLastDigitMm } from './tipWay';

/** A place in a program: part and line, from 0. */
export interface ProgramPlace {
  part: number;
  line: number;
}

/** How far a program, read back from its text, is from the plan. */
export interface ReadBack {
  /** One reading a part: what the text says, for whoever goes on from there. */
  readings: ProgramReading[];
  /** Largest distance of the tip from its way on the blank, µm; at block ends and middles. */
  maxTipUm: number;
  /** How far rounding to the machine's digits may move the tip at that place, µm. */
  lastDigitUm: number;
  /** Largest difference of an axis word from the axis value, µm and 0.001°. */
  maxAxisUm: number;
  /** Largest |time of a feed block / intended time − 1|. */
  maxTimeRatio: number;
  faults: (ProgramFault & ProgramPlace)[];
  /** Whether the tip runs round the blank the wrong way, so that the lettering comes out mirrored. */
  mirrored: boolean;
  /** Lines that are arcs. */
  arcs: number;
  /** Place of the worst tip deviation. */
  worst: ProgramPlace;
  /** A rapid that ends or passes below the surface; null if there is none. */
  rapidInWork: ProgramPlace | null;
}

/** Blocks compared between two reports. */
const BLOCKS_A_STEP = 2000;
/** On an arc so many chords are looked at beyond the nearest. */
const ARC_LOOK_ON = 4;
/** A rapid lower than this below the surface touches the work, mm. */
const TOUCH_MM = 1e-4;

/** What read-back compares: the program with the plan that it was written from. */
export type WrittenPlan = Pick<Plan, 'program' | 'laid' | 'moves'>;

/** The texts of a program's parts, as they go into files. */
export const toPartTexts = (program: Program): string[] => program.parts.map(toPartText);

/**
 * Reads the program's texts with the interpreter, sends them forward through the machine on to the blank, and compares them with the
 * plan in the blank frame. Yields the share read, then the share compared. O(lines).
 * @param setup With the machine as it is, which may differ from what the program was written for.
 * @param texts One a part; by default what the program says.
 */
export function* computeReadBack(
  setup: Setup,
  written: WrittenPlan,
  texts: readonly string[] = toPartTexts(written.program),
): Steps<number, ReadBack> {
  const rules = getRules(setup.job.machine);
  const readings: ProgramReading[] = [];
  for (const text of texts) readings.push(yield* readProgram(text, rules));
  const comparison = new Comparison(setup, written, readings);
  const { count } = written.moves;
  for (let i = 0; i < count; i++) {
    comparison.compareBlock(i);
    if (i % BLOCKS_A_STEP === 0) yield i / count;
  }
  return comparison.finish();
}

class Comparison {
  private readonly back: ReadBack;
  /** Which value of a motion each axis has, and how many axes there are. */
  private readonly index: readonly number[];
  private readonly values: Float64Array;
  private readonly previous: Float64Array;
  private readonly middle: Float64Array;
  private readonly worstValues: Float64Array;
  private readonly tip = new Float64Array(3);
  private readonly axis = new Float64Array(3);
  private readonly planned = new Float64Array(3);
  private readonly frame = new Float64Array(6);
  private part = 0;
  private motion = -1;
  /** The motion before those of the line at hand; the same where the line is an arc, else −1; and how long its blocks are to last. */
  private startedAt = -1;
  private arcFrom = -1;
  /** The chord of the arc that the block before was nearest to: blocks come in order, so none before it is asked again. */
  private arcAt = 0;
  private arcTimeMin = 0;
  /** Sum of turns read times turns planned: negative if the one runs against the other. */
  private chirality = 0;

  constructor(
    private readonly setup: Setup,
    private readonly written: WrittenPlan,
    private readonly readings: ProgramReading[],
  ) {
    const { axes } = setup.kinematics;
    this.index = axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
    [this.values, this.previous, this.middle, this.worstValues] = [0, 1, 2, 3].map(() => new Float64Array(axes.length)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    this.back = {
      readings,
      maxTipUm: 0,
      lastDigitUm: 0,
      maxAxisUm: 0,
      maxTimeRatio: 0,
      faults: readings.flatMap((r, part) => r.faults.map((f) => ({ ...f, part }))),
      mirrored: false,
      arcs: 0,
      worst: { part: 0, line: 0 },
      rapidInWork: null,
    };
  }

  compareBlock(i: number): void {
    const { program, laid, moves } = this.written;
    const place = { part: program.partOfBlock[i]!, line: program.lineOfBlock[i]! };
    const fresh = this.goTo(place);
    const { motions } = this.readings[place.part]!;
    if (this.motion < 0) return;
    const n = this.index.length;
    if (fresh) {
      this.arcFrom = this.motion - this.startedAt > 1 ? this.startedAt : -1;
      this.arcAt = this.arcFrom + 1;
    }
    if (this.arcFrom >= 0 && i > 0 && isFeedMove(laid.kind[moves.move[i]!]!)) return this.compareOnArc(i, place);
    for (let k = 0; k < n; k++) {
      this.values[k] = motions.end[AXIS_COUNT * this.motion + this.index[k]!]!;
      this.back.maxAxisUm = Math.max(this.back.maxAxisUm, 1000 * Math.abs(this.values[k]! - moves.values[n * i + k]!));
    }
    const s = moves.sheet;
    this.compareTip(this.values, s[3 * i]!, s[3 * i + 1]!, s[3 * i + 2]!, moves.liftMm[i]!, place);
    if (i > 0 && fresh) {
      const feeding = isFeedMove(laid.kind[moves.move[i]!]!);
      const rapid = motions.rapid[this.motion] === 1;
      if (rapid === feeding) {
        this.back.faults.push({ ...place, text: feeding ? 'a feed move is written as a rapid' : 'a rapid is written as a feed move' });
      }
      if (rapid) this.checkRapid(i, place);
      if (feeding) this.compareFeed(i, motions.timeMin[this.motion]!, place);
    }
    for (let k = 0; k < this.values.length; k++) this.previous[k] = this.values[k]!;
  }

  /**
   * A block that stands on an arc with others: its end and its middle are held against the nearest place of what was read, and the arc has
   * to last as long as all of them.
   */
  private compareOnArc(i: number, place: ProgramPlace): void {
    const { program, moves } = this.written;
    const n = this.index.length;
    const s = moves.sheet;
    for (const share of [0.5, 1]) {
      const wanted = this.middle;
      for (let k = 0; k < n; k++) {
        const from = moves.values[n * (i - 1) + k]!;
        wanted[k] = from + share * (moves.values[n * i + k]! - from);
      }
      this.findOnArc(wanted);
      const mean = (k: number): number => s[3 * i - 3 + k]! + share * (s[3 * i + k]! - s[3 * i - 3 + k]!);
      for (let k = 0; k < n; k++) this.back.maxAxisUm = Math.max(this.back.maxAxisUm, 1000 * Math.abs(this.values[k]! - wanted[k]!));
      this.compareTip(this.values, mean(0), mean(1), mean(2), share * moves.liftMm[i]!, place);
    }
    this.arcTimeMin += moves.feedTimeMin[i]!;
    const turned = this.sheetYAt(this.values) - this.sheetYAt(this.previous);
    this.chirality += turned * (s[3 * i + 1]! - s[3 * i - 2]!);
    this.previous.set(this.values);
    if (program.lineOfBlock[i + 1] === place.line && program.partOfBlock[i + 1] === place.part) return;
    // The last block of it.
    const { motions } = this.readings[place.part]!;
    let read = 0;
    for (let m = this.arcFrom + 1; m <= this.motion; m++) {
      read += motions.timeMin[m]!;
      if (motions.rapid[m]) this.back.faults.push({ ...place, text: 'a feed move is written as a rapid' });
    }
    this.back.maxTimeRatio = Math.max(this.back.maxTimeRatio, Math.abs(read / this.arcTimeMin - 1));
    this.arcTimeMin = 0;
    this.back.arcs++;
    // It has to end where its last block does.
    for (let k = 0; k < n; k++) this.values[k] = motions.end[AXIS_COUNT * this.motion + this.index[k]!]!;
    this.compareTip(this.values, s[3 * i]!, s[3 * i + 1]!, s[3 * i + 2]!, moves.liftMm[i]!, place);
    this.previous.set(this.values);
  }

  /**
   * Sets `values` to the place of the arc that was read nearest to where the axes are wanted, on from where the one before was. Where a
   * text is wrong that may be farther than the nearest of all, never nearer. O(chords gone on).
   */
  private findOnArc(wanted: Float64Array): void {
    const { end } = this.readings[this.part]!.motions;
    const { index, values } = this;
    const n = index.length;
    let best = Infinity,
      bestShare = 0,
      farther = 0;
    for (let m = this.arcAt; m <= this.motion && farther < ARC_LOOK_ON; m++, farther++) {
      const to = AXIS_COUNT * m,
        from = to - AXIS_COUNT;
      let along = 0,
        square = 0,
        straight = 0;
      for (let k = 0; k < n; k++) {
        const start = end[from + index[k]!]!;
        const way = end[to + index[k]!]! - start,
          off = wanted[k]! - start;
        along += off * way;
        square += way * way;
        straight += off * off;
      }
      const share = square > 0 ? Math.min(1, Math.max(0, along / square)) : 0;
      const off = straight - 2 * share * along + share * share * square;
      if (off >= best) continue;
      best = off;
      bestShare = share;
      farther = 0;
      this.arcAt = m;
    }
    const to = AXIS_COUNT * this.arcAt,
      from = to - AXIS_COUNT;
    for (let k = 0; k < n; k++) values[k] = end[from + index[k]!]! + bestShare * (end[to + index[k]!]! - end[from + index[k]!]!);
  }

  finish(): ReadBack {
    this.back.mirrored = this.chirality < 0;
    this.back.lastDigitUm = 1000 * measureLastDigitMm(this.setup.kinematics, this.setup.job.machine, this.worstValues);
    return this.back;
  }

  /** Goes on to the last motion written up to a line. @returns Whether there is a new one. */
  private goTo({ part, line }: ProgramPlace): boolean {
    if (part !== this.part) {
      this.part = part;
      this.motion = -1;
    }
    const { motions } = this.readings[part]!;
    const startedAt = (this.startedAt = this.motion);
    while (this.motion + 1 < motions.count && motions.line[this.motion + 1]! <= line) this.motion++;
    return this.motion > startedAt;
  }

  private compareTip(at: Float64Array, x: number, y: number, depth: number, liftMm: number, place: ProgramPlace): void {
    const { tip, planned, back } = this;
    this.setup.kinematics.forward(at, tip, this.axis);
    poseAt(this.setup.work, x, y, depth, liftMm, this.frame, planned, this.axis);
    const um = 1000 * Math.hypot(tip[0]! - planned[0]!, tip[1]! - planned[1]!, tip[2]! - planned[2]!);
    if (um <= back.maxTipUm) return;
    back.maxTipUm = um;
    back.worst = place;
    this.worstValues.set(at);
  }

  /** A rapid must keep out of the work, but for one that is planned to come down into what is cut already: conduct judges that. */
  private checkRapid(i: number, place: ProgramPlace): void {
    const { laid, moves } = this.written;
    const move = moves.move[i]!;
    if (laid.kind[move] === MOVE.approach && laid.sheet[3 * move + 2]! > 0) return;
    const { tip } = this;
    this.setup.kinematics.forward(this.values, tip, this.axis);
    if (this.setup.work.toSheet(tip[0]!, tip[1]!, tip[2]!).heightMm < -TOUCH_MM) this.back.rapidInWork ??= place;
  }

  /** A feed block must keep to the plan on its way, and last as long as it is meant to. */
  private compareFeed(i: number, timeMin: number, place: ProgramPlace): void {
    const { moves } = this.written;
    const s = moves.sheet;
    for (let k = 0; k < this.index.length; k++) this.middle[k] = (this.previous[k]! + this.values[k]!) / 2;
    const mean = (k: number): number => (s[3 * i - 3 + k]! + s[3 * i + k]!) / 2;
    const move = moves.move[i]!;
    // The tool goes across at feed as near to its way as the height needs, no nearer.
    if (this.written.laid.kind[move] !== MOVE.across) {
      const liftMm = (moves.liftMm[i - 1]! + moves.liftMm[i]!) / 2;
      this.compareTip(this.middle, mean(0), mean(1), mean(2), liftMm, place);
    }
    // An F that is the tip's own gives a short block a time that is as true as its rounded ends.
    const { job, kinematics } = this.setup;
    const ends = kinematics.machine ? (2 * getUnitMm(job.machine) * 10 ** -getLengthDigits(job.machine)) / moves.lengthMm[i]! : 0;
    const off = Math.abs(timeMin / moves.feedTimeMin[i]! - 1);
    this.back.maxTimeRatio = Math.max(this.back.maxTimeRatio, off - ends);
    // Across the seam, the sheet's y goes on by a whole turn of its own.
    if (this.written.laid.kind[move] === MOVE.across) return;
    const turned = this.sheetYAt(this.values) - this.sheetYAt(this.previous);
    const period = this.setup.work.periodMm;
    this.chirality += (period === null ? turned : wrapTo(turned, period)) * (s[3 * i + 1]! - s[3 * i - 2]!);
  }

  private sheetYAt(values: Float64Array): number {
    const { tip } = this;
    this.setup.kinematics.forward(values, tip, this.axis);
    return this.setup.work.toSheet(tip[0]!, tip[1]!, tip[2]!).y;
  }
}
