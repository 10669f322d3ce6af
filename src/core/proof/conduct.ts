import { isFeedMove } from '../lay/laidPaths';
import type { Run, Setup } from '../pipeline/setup';
import type { ProgramReading } from '../program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import type { ProgramPlace, WrittenPlan } from './readBack';

/**
 * What a program does besides moving the tip along its way, judged from its text alone: the tool in the spindle, the spindle's sense
 * and speed, how cutters are changed, how high the tool crosses, and how the program ends.
 */
export type ConductFault = ProgramPlace &
  (
    | { kind: 'wrong-tool'; run: Run; found: string }
    | { kind: 'spindle-wrong'; run: Run; rpm: number }
    | { kind: 'change-unsafe'; what: string }
    | { kind: 'too-low'; what: string; heightMm: number; wantedMm: number }
    | { kind: 'end-unsafe'; what: string }
  );

/** A rapid that moves the tool's foot on the surface by more than this crosses it, mm. */
const CROSSING_MM = 0.01;
/** Slack for the program's last digits, mm. */
const HEIGHT_SLACK_MM = 0.002;
/** Steps down a tool's line to the surface, and where it counts as reached, mm. */
const MAX_FOOT_STEPS = 100;
const FOOT_MM = 1e-7;
/** Closer than this the slope gives the rest of the way; farther off only the distance itself is sure not to pass the surface, mm. */
const NEAR_FOOT_MM = 0.5;

/**
 * Checks every part of a program from its readings. Each fault is reported once a run, a change or a crossing.
 * O(motions + rapids · steps to the foot).
 */
export function findConductFaults(setup: Setup, written: WrittenPlan, readings: readonly ProgramReading[]): ConductFault[] {
  return readings.flatMap((reading, part) => new ConductCheck(setup, written, reading, part).check());
}

/** Where the tool stands: height over the surface along the tool, and the sheet place under it. */
interface Stand {
  x: number;
  y: number;
  heightMm: number;
}

class ConductCheck {
  private readonly faults: ConductFault[] = [];
  private readonly runOfMotion: Int32Array;
  private readonly index: readonly number[];
  private readonly values: Float64Array;
  private readonly tip = new Float64Array(3);
  private readonly axis = new Float64Array(3);
  private readonly frame = new Float64Array(6);

  constructor(
    private readonly setup: Setup,
    private readonly written: WrittenPlan,
    private readonly reading: ProgramReading,
    private readonly part: number,
  ) {
    this.index = setup.kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
    this.values = new Float64Array(this.index.length);
    this.runOfMotion = this.findRuns();
  }

  check(): ConductFault[] {
    this.checkTools();
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

  private add(line: number, fault: object): void {
    this.faults.push({ part: this.part, line, ...fault } as ConductFault);
  }

  private checkTools(): void {
    const { motions, stops } = this.reading;
    const { runs, job } = this.setup;
    const byHand = this.listToolsByHand();
    const wrongTool = new Set<number>(),
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
      const rpm = motions.spindleRpm[m]!;
      if (rpm !== Math.round(run.cut.spindleRpm) && !wrongSpindle.has(run.index)) {
        wrongSpindle.add(run.index);
        this.add(motions.line[m]!, { kind: 'spindle-wrong', run, rpm });
      }
    }
  }

  /** Without a changer nothing in the text names a tool: the cutters are put in one after the other, at each pause the next. */
  private listToolsByHand(): Run[] {
    const out: Run[] = [];
    for (const index of this.runOfMotion) {
      const run = this.setup.runs[index];
      if (run && run.tool.number !== out[out.length - 1]?.tool.number) out.push(run);
    }
    return out;
  }

  private checkStops(): void {
    const park = this.setup.job.motion.parkHeightMm - HEIGHT_SLACK_MM;
    for (const { kind, line, afterMotions, spindleRpm, coolant } of this.reading.stops) {
      const say = (what: string): void => this.add(line, { kind: kind === 'end' ? 'end-unsafe' : 'change-unsafe', what });
      if (spindleRpm !== 0) say('while the spindle turns');
      if (coolant !== 0) say('while the coolant runs');
      if (afterMotions === 0) continue;
      const { heightMm } = this.standAfter(afterMotions - 1);
      if (heightMm < park) say(`with the tool ${heightMm.toFixed(3)} mm over the surface, below the park height`);
    }
  }

  /** Between strokes the tool crosses at hop height or above, between runs at park height. */
  private checkCrossings(): void {
    const { hopHeightMm, parkHeightMm } = this.setup.job.motion;
    const { motions } = this.reading;
    const placed = this.findPlaced();
    let from: Stand | null = null;
    let lastRun = -1;
    for (let m = 0; m < motions.count; m++) {
      if (!motions.rapid[m]) {
        if (this.runOfMotion[m]! >= 0) lastRun = this.runOfMotion[m]!;
        from = null;
        continue;
      }
      // Until every axis is stated the tool comes from wherever the machine stands.
      from ??= m > placed ? this.standAfter(m - 1) : null;
      const to = this.standAfter(m);
      if (from && this.isCrossing(from, to)) {
        const nextRun = this.nextRun(m);
        const between = nextRun >= 0 && nextRun === lastRun;
        const wantedMm = between ? hopHeightMm : parkHeightMm;
        const heightMm = Math.min(from.heightMm, to.heightMm);
        if (heightMm < wantedMm - HEIGHT_SLACK_MM) {
          this.add(motions.line[m]!, { kind: 'too-low', what: between ? 'between strokes' : 'between cuts', heightMm, wantedMm });
        }
      }
      from = m >= placed ? to : null;
    }
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

  private isCrossing(a: Stand, b: Stand): boolean {
    const { periodMm } = this.setup.work;
    const dy = Math.abs(a.y - b.y);
    return Math.hypot(a.x - b.x, periodMm === null ? dy : Math.min(dy, periodMm - dy)) > CROSSING_MM;
  }

  /** Where the tool stands at the end of a motion: its line followed down to the surface. */
  private standAfter(m: number): Stand {
    const { work, kinematics } = this.setup;
    const { end } = this.reading.motions;
    for (let k = 0; k < this.index.length; k++) this.values[k] = end[AXIS_COUNT * m + this.index[k]!]!;
    const { tip: t, axis: a, frame: f } = this;
    kinematics.forward(this.values, t, a);
    let height = 0;
    let foot = work.toSheet(t[0]!, t[1]!, t[2]!);
    for (let k = 0; k < MAX_FOOT_STEPS && Math.abs(foot.heightMm) > FOOT_MM; k++) {
      work.frameInto(foot.x, foot.y, f);
      const facing = a[0]! * f[3]! + a[1]! * f[4]! + a[2]! * f[5]!;
      height += Math.abs(foot.heightMm) < NEAR_FOOT_MM ? foot.heightMm / Math.max(0.05, facing) : foot.heightMm;
      foot = work.toSheet(t[0]! - height * a[0]!, t[1]! - height * a[1]!, t[2]! - height * a[2]!);
    }
    return { x: foot.x, y: foot.y, heightMm: height };
  }
}
