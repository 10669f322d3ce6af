import { isFeedMove, MOVE } from '../lay/laidPaths';
import { AIR_SHARE } from '../machine/axisMoves';
import { levelOf, upInto } from '../machine/stance';
import type { Run, Setup } from '../pipeline/setup';
import type { ProgramReading } from '../program/interpreter';
import { saysCorners } from '../program/dialect';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { DIALECTS } from '../program/registry';
import { getLengthDigits, getUnitMm } from '../program/units';
import { Grooves } from './grooves';
import type { AxisMoves } from '../machine/axisMoves';
import type { ProgramPlace, WrittenPlan } from './readBack';

/**
 * What a program does besides moving the tip along its way, judged from its text alone: the tool in the spindle, the spindle's sense
 * and speed, how cutters are changed, how high the tool crosses, and how the program ends.
 */
export type ConductFault = ProgramPlace &
  (
    | { kind: 'wrong-tool'; run: Run; found: string }
    | { kind: 'wrong-length'; run: Run; found: number }
    | { kind: 'spindle-wrong'; run: Run; rpm: number }
    | { kind: 'change-unsafe'; what: string }
    | { kind: 'too-low'; what: string; heightMm: number; wantedMm: number }
    | { kind: 'rapid-touches' }
    | { kind: 'end-unsafe'; what: string }
    | { kind: 'corners-wrong'; foundMm: number; wantedMm: number }
  );

/** A rapid that moves an axis besides Z by more than this crosses the blank, mm or degrees. */
const CROSSING = 0.001;
/** Slack for the program's last digits, mm. */
const HEIGHT_SLACK_MM = 0.002;
/** Slack for the rounding of a tolerance, mm. */
const CORNER_SLACK_MM = 1e-7;
/** Steps down a tool's line to the surface, and where it counts as reached, mm. */
const MAX_FOOT_STEPS = 100;
const FOOT_MM = 1e-7;
/** Closer than this the slope gives the rest of the way; farther off only the distance itself is sure not to pass the surface, mm. */
const NEAR_FOOT_MM = 0.5;
/** Places at which the way of a rapid is checked, each of two ways. */
const RAPID_SAMPLES = 12;
/** Places at which a way across at feed is checked, the last one included. */
const ACROSS_SAMPLES = 4;
/** A rapid lower than this below the surface touches the work, mm. */
const TOUCH_MM = 1e-4;

/**
 * Checks every part of a program from its readings, in the order in which they are run. Each fault is reported once a run, a change or a
 * crossing. O(motions + rapids · (steps to the foot + parts)).
 */
export function findConductFaults(
  setup: Setup,
  written: Conducted,
  readings: readonly ProgramReading[],
  before: CutBefore = NOTHING_CUT,
): ConductFault[] {
  const cut = before.readings.map((reading, part) => {
    const { grooves } = new ConductCheck(setup, { ...written, program: before.program! }, reading, part, []);
    return part < before.readings.length - 1 ? grooves : grooves.until(before.upTo);
  });
  return readings.flatMap((reading, part) => {
    const check = new ConductCheck(setup, written, reading, part, cut);
    const faults = check.check();
    cut.push(check.grooves);
    return faults;
  });
}

/** A program with what of its plan it is judged by. */
export type Conducted = Pick<WrittenPlan, 'program' | 'laid'> & { moves: Pick<AxisMoves, 'count' | 'move'> };

/** What was cut before a program: by the first files of another one of the same plan, up to a motion of the last of them. */
export interface CutBefore {
  readings: readonly ProgramReading[];
  program: Conducted['program'] | null;
  upTo: number;
}
const NOTHING_CUT: CutBefore = { readings: [], program: null, upTo: 0 };

/** Places of the tip that differ by less than this are one, mm: by the chords between blocks, and by the digits of words on either side. */
function findPlaceSlack({ job: { machine }, work }: Setup): number {
  const digitMm = getUnitMm(machine) * 10 ** -getLengthDigits(machine);
  const angleMm = ((10 ** -machine.angleDigits * Math.PI) / 180) * Math.abs(work.topMm);
  return machine.chordToleranceMm + 2 * (digitMm + angleMm);
}

/** Where the tool stands: height over the surface along the tool, and the sheet place under it. */
interface Stand {
  x: number;
  y: number;
  heightMm: number;
  /** Height straight up on the machine, from the rotary's axis or from z = 0, mm. */
  levelMm: number;
}

class ConductCheck {
  private readonly faults: ConductFault[] = [];
  private readonly runOfMotion: Int32Array;
  /** Whether each motion is of a way across at feed. */
  private readonly isAcross: Uint8Array;
  /** What this part cuts. */
  readonly grooves: Grooves;
  private readonly index: readonly number[];
  private readonly values: Float64Array;
  private readonly tip = new Float64Array(3);
  private readonly axis = new Float64Array(3);
  private readonly frame = new Float64Array(6);
  private readonly up = new Float64Array(3);

  constructor(
    private readonly setup: Setup,
    private readonly written: Conducted,
    private readonly reading: ProgramReading,
    private readonly part: number,
    /** What the parts before it have cut. */
    private readonly cutBefore: readonly Grooves[],
  ) {
    this.index = setup.kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
    this.values = new Float64Array(this.index.length);
    this.runOfMotion = this.findRuns();
    this.isAcross = this.findAcross();
    this.grooves = new Grooves(reading.motions, setup.kinematics, (m) => this.toolOf(this.runOfMotion[m]!), findPlaceSlack(setup));
  }

  /** The cutter of a run, by its id; null for none. */
  private toolOf(run: number): string | null {
    return this.setup.runs[run]?.tool.id ?? null;
  }

  check(): ConductFault[] {
    this.checkTools();
    this.checkCorners();
    this.checkStops();
    this.checkCrossings();
    return this.faults;
  }

  /** The run that each feed motion belongs to, by the line it stands on; −1 for a rapid or a line that no block is written on. */
  private findRuns(): Int32Array {
    const { program, laid, moves } = this.written;
    const runOfLine = new Map<number, number>();
    for (let i = 0; i < moves.count; i++) {
      const move = moves.move[i]!;
      if (program.partOfBlock[i] === this.part && isFeedMove(laid.kind[move]!)) runOfLine.set(program.lineOfBlock[i]!, laid.run[move]!);
    }
    const { count, line, rapid } = this.reading.motions;
    return Int32Array.from({ length: count }, (_, m) => (rapid[m] ? -1 : (runOfLine.get(line[m]!) ?? -1)));
  }

  /** Where the control keeps the tool's point: the feed motions on lines of ways across. */
  private findAcross(): Uint8Array {
    const { program, laid, moves } = this.written;
    const lines = new Set<number>();
    for (let i = 1; i < moves.count; i++) {
      // One that goes nowhere has no line of its own.
      const isWritten = program.lineOfBlock[i] !== program.lineOfBlock[i - 1];
      if (isWritten && program.partOfBlock[i] === this.part && laid.kind[moves.move[i]!] === MOVE.across)
        lines.add(program.lineOfBlock[i]!);
    }
    const { line, rapid } = this.reading.motions;
    return Uint8Array.from(this.runOfMotion, (_, m) => Number(!rapid[m] && lines.has(line[m]!)));
  }

  private add(line: number, fault: object): void {
    this.faults.push({ part: this.part, line, ...fault } as ConductFault);
  }

  private checkTools(): void {
    const { motions, stops } = this.reading;
    const { runs, job } = this.setup;
    const byHand = this.listToolsByHand();
    const wrongTool = new Set<number>(),
      wrongLength = new Set<number>(),
      wrongSpindle = new Set<number>();
    let stop = 0,
      pauses = 0;
    for (let m = 0; m < motions.count; m++) {
      for (; stop < stops.length && stops[stop]!.afterMotions <= m; stop++) if (stops[stop]!.kind === 'pause') pauses++;
      const run = runs[this.runOfMotion[m]!];
      if (!run) continue;
      const found = job.machine.toolChanger ? motions.tool[m]! : (byHand[pauses]?.tool.number ?? 0);
      if (found !== run.tool.number && !wrongTool.has(run.index)) {
        wrongTool.add(run.index);
        this.add(motions.line[m]!, { kind: 'wrong-tool', run, found: found === 0 ? 'no tool called' : `T${found}` });
      }
      const length = motions.length[m]!;
      if (length !== (job.machine.toolLengths === 'table' ? run.tool.number : 0) && !wrongLength.has(run.index)) {
        wrongLength.add(run.index);
        this.add(motions.line[m]!, { kind: 'wrong-length', run, found: length });
      }
      const rpm = motions.spindleRpm[m]!;
      if (rpm !== Math.round(run.spindleRpm) && !wrongSpindle.has(run.index)) {
        wrongSpindle.add(run.index);
        this.add(motions.line[m]!, { kind: 'spindle-wrong', run, rpm });
      }
    }
  }

  /** Corners are rounded by no more than the machine is set to, from the first motion on. */
  private checkCorners(): void {
    const { motions, corners } = this.reading;
    const { machine } = this.setup.job;
    const wantedMm = machine.cornerToleranceMm;
    // Where the dialect has no words for it, it is set at the control.
    if (motions.count === 0 || !saysCorners(DIALECTS[machine.dialect])) return;
    // As many digits of it as there are, rounded down.
    const leastMm = wantedMm - getUnitMm(machine) * 10 ** -getLengthDigits(machine);
    const wrong = corners.find((c) => c.toleranceMm > wantedMm + CORNER_SLACK_MM || c.toleranceMm < leastMm - CORNER_SLACK_MM);
    if (wrong) this.add(wrong.line, { kind: 'corners-wrong', foundMm: wrong.toleranceMm, wantedMm });
    else if (!(corners[0]?.afterMotions === 0)) this.add(motions.line[0]!, { kind: 'corners-wrong', foundMm: Infinity, wantedMm });
  }

  /** Without a changer nothing in the text names a tool: the cutters are put in one after the other, at each pause the next. */
  private listToolsByHand(): Run[] {
    const out: Run[] = [];
    for (const index of this.runOfMotion) {
      const run = this.setup.runs[index];
      if (run && run.tool.id !== out[out.length - 1]?.tool.id) out.push(run);
    }
    return out;
  }

  /** Cutters are changed, and the program ends, over the highest place of the blank. */
  private checkStops(): void {
    const parkLevel = this.parkLevelMm();
    for (const { kind, line, afterMotions, spindleRpm, coolant } of this.reading.stops) {
      const say = (what: string): void => this.add(line, { kind: kind === 'end' ? 'end-unsafe' : 'change-unsafe', what });
      if (spindleRpm !== 0) say('while the spindle turns');
      if (coolant !== 0) say('while the coolant runs');
      if (afterMotions === 0) continue;
      const { levelMm } = this.standAfter(afterMotions - 1);
      const { topMm } = this.setup.work;
      if (levelMm < parkLevel - HEIGHT_SLACK_MM) {
        say(`with the tool ${(levelMm - topMm).toFixed(3)} mm over the highest place of the blank, below the park height`);
      }
    }
  }

  private parkLevelMm(): number {
    return this.setup.work.topMm + this.setup.job.motion.parkHeightMm;
  }

  /** Between strokes the tool crosses at hop height or above; on its way in and between runs over the highest place of the blank. */
  private checkCrossings(): void {
    const { parkHeightMm } = this.setup.job.motion;
    const { topMm } = this.setup.work;
    const { motions } = this.reading;
    const placed = this.findPlaced();
    let from: Stand | null = null;
    let lastRun = -1;
    for (let m = 0; m < motions.count; m++) {
      if (!motions.rapid[m]) {
        if (this.runOfMotion[m]! >= 0) lastRun = this.runOfMotion[m]!;
        if (this.isAcross[m]) this.checkAcross(m, this.hopOf(lastRun));
        from = null;
        continue;
      }
      // At the machine's top it is higher than anything.
      if (motions.away[m] === AWAY.stays) continue;
      const to = this.standAfter(m);
      // Until every axis is stated the tool comes from wherever the machine stands, and from its top nobody knows from where.
      const comingIn = m <= placed || motions.away[m] === AWAY.arrives;
      from ??= comingIn ? null : this.standAfter(m - 1);
      const nextRun = this.nextRun(m);
      if (comingIn || (from && this.isCrossing(m) && nextRun !== lastRun)) {
        const heightMm = Math.min(to.levelMm, from?.levelMm ?? Infinity) - topMm;
        const what = comingIn ? 'on its way in' : 'between cuts';
        if (heightMm < parkHeightMm - HEIGHT_SLACK_MM)
          this.add(motions.line[m]!, { kind: 'too-low', what, heightMm, wantedMm: parkHeightMm });
      } else if (from && this.isCrossing(m)) {
        const heightMm = Math.min(from.heightMm, to.heightMm);
        const what = 'between strokes';
        const hopHeightMm = this.hopOf(lastRun);
        if (heightMm < hopHeightMm - HEIGHT_SLACK_MM)
          this.add(motions.line[m]!, { kind: 'too-low', what, heightMm, wantedMm: hopHeightMm });
      }
      if (!comingIn && !this.isLift(m) && this.touchesOnItsWay(m) && !this.sinksIntoGroove(m))
        this.add(motions.line[m]!, { kind: 'rapid-touches' });
      from = comingIn ? null : to;
    }
  }

  /** A way across at feed keeps its height all along, but for what the axes bow between two blocks. */
  private checkAcross(m: number, hopHeightMm: number): void {
    let heightMm = Infinity;
    for (let s = 1; s <= ACROSS_SAMPLES; s++) {
      this.valuesInto(m - 1, this.values);
      const { end } = this.reading.motions;
      for (let k = 0; k < this.index.length; k++)
        this.values[k]! += (s / ACROSS_SAMPLES) * (end[AXIS_COUNT * m + this.index[k]!]! - this.values[k]!);
      heightMm = Math.min(heightMm, this.standAtValues().heightMm);
    }
    if (heightMm >= (1 - AIR_SHARE) * hopHeightMm - HEIGHT_SLACK_MM) return;
    this.add(this.reading.motions.line[m]!, { kind: 'too-low', what: 'between strokes', heightMm, wantedMm: hopHeightMm });
  }

  /** Height at which a run crosses between its strokes, mm. */
  private hopOf(run: number): number {
    return this.setup.runs[run]?.cut.hopHeightMm ?? this.setup.job.motion.hopHeightMm;
  }

  /** The motion by which every axis of the machine is stated. */
  private findPlaced(): number {
    const { placedBy, motions } = this.reading;
    return Math.max(...this.index.map((k) => (placedBy[k]! < 0 ? motions.count : placedBy[k]!)));
  }

  private nextRun(m: number): number {
    while (m < this.runOfMotion.length && this.runOfMotion[m]! < 0) m++;
    return this.runOfMotion[m] ?? -1;
  }

  /** Whether a motion moves anything but Z. */
  private isCrossing(m: number): boolean {
    const { end } = this.reading.motions;
    return this.index.some(
      (k) => AXIS_LETTERS[k] !== 'Z' && Math.abs(end[AXIS_COUNT * m + k]! - end[AXIS_COUNT * (m - 1) + k]!) > CROSSING,
    );
  }

  /** Whether a motion lifts Z alone: the one way out of a groove that may be a rapid. */
  private isLift(m: number): boolean {
    const { end } = this.reading.motions;
    const z = AXIS_LETTERS.indexOf('Z');
    return !this.isCrossing(m) && end[AXIS_COUNT * m + z]! >= end[AXIS_COUNT * (m - 1) + z]!;
  }

  /** Whether a rapid brings Z alone down to where the tip of the same cutter was on the blank before, here or in a file before this one. */
  private sinksIntoGroove(m: number): boolean {
    const tool = this.toolOf(this.nextRun(m));
    if (this.isCrossing(m) || tool === null) return false;
    const place = this.reading.motions.end.subarray(AXIS_COUNT * m, AXIS_COUNT * (m + 1));
    return this.grooves.reach(place, tool, m) || this.cutBefore.some((g) => g.reach(place, tool));
  }

  /** Whether a rapid meets the blank, with its axes run together as one line, or each at its own speed until it arrives. */
  private touchesOnItsWay(m: number): boolean {
    const { axes, forward } = this.setup.kinematics;
    const from = new Float64Array(this.index.length),
      to = new Float64Array(this.index.length);
    this.valuesInto(m - 1, from);
    this.valuesInto(m, to);
    const minutes = axes.map((a, k) => Math.abs(to[k]! - from[k]!) / a.maxPerMin);
    const longest = Math.max(...minutes);
    if (longest === 0) return false;
    for (const together of [true, false]) {
      for (let s = 1; s < RAPID_SAMPLES; s++) {
        const share = s / RAPID_SAMPLES;
        for (let k = 0; k < axes.length; k++) {
          const own = together || minutes[k] === 0 ? share : Math.min(1, (share * longest) / minutes[k]!);
          this.values[k] = from[k]! + own * (to[k]! - from[k]!);
        }
        forward(this.values, this.tip, this.axis);
        if (this.setup.work.toSheet(this.tip[0]!, this.tip[1]!, this.tip[2]!).heightMm < -TOUCH_MM && this.isOverBlank()) return true;
      }
    }
    return false;
  }

  /** Whether the tip that was asked for last stands over the blank and not beside it. */
  private isOverBlank(): boolean {
    const { work } = this.setup;
    const { x, y } = work.toSheet(this.tip[0]!, this.tip[1]!, this.tip[2]!);
    return work.outsideMm(x, y) === 0;
  }

  private valuesInto(m: number, out: Float64Array): void {
    const { end } = this.reading.motions;
    for (let k = 0; k < this.index.length; k++) out[k] = end[AXIS_COUNT * m + this.index[k]!]!;
  }

  /** Where the tool stands at the end of a motion: its line followed down to the surface. */
  private standAfter(m: number): Stand {
    this.valuesInto(m, this.values);
    return this.standAtValues();
  }

  private standAtValues(): Stand {
    const { work, kinematics } = this.setup;
    const { tip: t, axis: a, frame: f, up } = this;
    kinematics.forward(this.values, t, a);
    f.set(a, 3);
    upInto(work.stance, f, up);
    const levelMm = levelOf(work.stance, t, up);
    let height = 0;
    let foot = work.toSheet(t[0]!, t[1]!, t[2]!);
    // Square to the surface the tool is at least as far from it as its own line is long, but for a tool that was raised straight up.
    const square = foot.heightMm;
    for (let k = 0; k < MAX_FOOT_STEPS && Math.abs(foot.heightMm) > FOOT_MM; k++) {
      work.frameInto(foot.x, foot.y, f);
      const facing = a[0]! * f[3]! + a[1]! * f[4]! + a[2]! * f[5]!;
      height += Math.abs(foot.heightMm) < NEAR_FOOT_MM ? foot.heightMm / Math.max(0.05, facing) : foot.heightMm;
      foot = work.toSheet(t[0]! - height * a[0]!, t[1]! - height * a[1]!, t[2]! - height * a[2]!);
    }
    return { x: foot.x, y: foot.y, heightMm: Math.max(height, square), levelMm };
  }
}
