import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { DIALECTS } from '../program/registry';
import { unpackShape } from '../shape/readShape';
import type { ShapeMesh } from '../shape/shapeMesh';
import { LineIntake } from './lineIntake';
import { timeBatch, type PlannedMotion } from './lookAhead';
import { between, MachineSpace } from './machineSpace';
import { MotionQueue } from './motionQueue';
import { RUNNER_FAULTS, runnerSetupSchema, type RunnerFault, type RunnerSetup, type RunnerState, type RunnerStatus } from './protocol';
import { findTrip, type RealBlank } from './realBlank';

/** Motions that are planned together: a control looks so far ahead. */
const LOOK_AHEAD = 256;
/** Lines that are taken before those before them have run. */
const MOST_QUEUED = 2000;
/** A batch is begun when so many lines wait, or when none came for so long, ms. */
const BATCH_WAIT_MS = 30;
/** Answers are so late where that fault is on, ms. */
const SLOW_MS = 500;
/** Every so many lines one is lost where that fault is on. */
const LOST_EVERY = 37;
const HOMING_MS = 800;
/** Homed, Z stands so much higher where nobody knows its end, mm. */
const HOMED_UP_MM = 30;

/**
 * A machine that ships with Hobel in place of a real one: axes with speeds, accelerations and limits, a spindle, a probe, a work offset,
 * and a line protocol (`protocol.ts`). It depends on nothing but the time it is told, so that it can be tested.
 */
export class SimulatedMachine {
  private setup: RunnerSetup | null = null;
  private space: MachineSpace | null = null;
  /** Free shapes that were sent, by their ids. */
  private readonly shapes = new Map<string, ShapeMesh>();
  private intake: LineIntake | null = null;
  private readonly motions = new MotionQueue();
  private state: RunnerState = 'idle';
  private isHomed = false;
  private alarm: string | null = null;
  private waits: string | null = null;
  private ended = false;
  private readonly faults = new Set<RunnerFault>();
  private speed = 1;
  private touches = 0;
  private lastMs: number;
  private lastLineMs = 0;
  private homedAtMs = 0;
  private taken = 0;
  private late: { at: number; text: string }[] = [];
  /** The probing move that tripped last. */
  private touchAt: PlannedMotion | null = null;
  /** Work offset: where the machine stands is its words and this. It is none while its zero is where the job says. */
  private readonly offset = new Float64Array(AXIS_COUNT);

  /** @param nowMs Time at the start. */
  constructor(
    private readonly real: RealBlank,
    nowMs: number,
  ) {
    this.lastMs = nowMs;
  }

  /**
   * Takes one line of the protocol. @returns What is told by the way, and answers, which may be none where they come late or the line was
   * lost.
   */
  handle(text: string, nowMs: number): string[] {
    const told = this.tick(nowMs);
    const answers = this.answer(text.trim(), nowMs);
    if (!this.faults.has('slow-answer') || /^(fault|power|status)/.test(text)) return [...told, ...answers];
    this.late.push(...answers.map((own) => ({ at: nowMs + SLOW_MS, text: own })));
    return told;
  }

  private answer(text: string, nowMs: number): string[] {
    const [, word = '', rest = ''] = /^(\S+)\s*(.*)$/.exec(text) ?? [];
    if (this.state === 'off' && word !== 'power' && word !== 'status')
      return [`no ${word === 'line' ? rest.split(' ')[0] : word} the power is off`];
    switch (word) {
      case 'line':
        return this.takeLine(rest, nowMs);
      case 'shape':
        return this.takeShape(rest);
      case 'setup':
        return this.takeSetup(rest);
      case 'hold':
        if (this.state === 'run') this.state = 'hold';
        return ['ok hold'];
      case 'resume':
        if (this.waits !== null) this.waits = null;
        if (this.state === 'hold') this.state = this.queued > 0 ? 'run' : 'idle';
        return ['ok resume'];
      case 'stop':
        this.forget();
        if (this.state !== 'alarm') this.state = 'idle';
        return ['ok stop'];
      case 'reset':
        this.forget();
        this.alarm = null;
        this.state = 'idle';
        return ['ok reset'];
      case 'home':
        return this.home();
      case 'jog':
        return this.jog(rest);
      case 'zero':
        return this.setZero(rest);
      case 'speed': {
        const speed = Number(rest);
        if (!(speed >= 0.1 && speed <= 100000)) return ['no speed give a number from 0.1 to 100000'];
        this.speed = speed;
        return ['ok speed'];
      }
      case 'fault': {
        const [name = '', how] = rest.split(' ');
        if (!(name in RUNNER_FAULTS)) return [`no fault there is ${Object.keys(RUNNER_FAULTS).join(', ')}`];
        if (how === 'on') this.faults.add(name as RunnerFault);
        else this.faults.delete(name as RunnerFault);
        return ['ok fault'];
      }
      case 'power':
        return this.switchPower(rest);
      case 'status':
        return [this.tellStatus()];
      default:
        return [`no ${word || '?'} is not known`];
    }
  }

  private takeShape(rest: string): string[] {
    const [id = '', packed = ''] = rest.split(' ');
    let mesh: ShapeMesh | null = null;
    try {
      mesh = unpackShape(Uint8Array.from(atob(packed), (c) => c.charCodeAt(0)));
    } catch {
      // What is no base64 is no shape either.
    }
    if (id === '' || !mesh) return ['no shape it is none: say its id and it, packed, in base64'];
    this.shapes.set(id, mesh);
    return ['ok shape'];
  }

  private takeSetup(json: string): string[] {
    let value: unknown;
    try {
      value = JSON.parse(json);
    } catch {
      return ['no setup it is no JSON'];
    }
    const parsed = runnerSetupSchema.safeParse(value);
    if (!parsed.success) return [`no setup ${parsed.error.issues[0]!.path.join('.')} ${parsed.error.issues[0]!.message}`];
    if (this.state === 'run' || this.state === 'hold') return ['no setup a program runs'];
    this.setup = parsed.data;
    this.space = new MachineSpace(parsed.data, this.shapes, this.offset);
    this.forget();
    this.motions.line = 0;
    return ['ok setup'];
  }

  /** Nothing waits, and the next program begins with line 1. */
  private forget(): void {
    this.motions.drop();
    this.intake = this.setup ? new LineIntake(DIALECTS[this.setup.machine.dialect].rules, this.motions.at) : null;
    this.waits = null;
    this.ended = false;
    this.motions.share = 0;
    this.touches = 0;
  }

  private takeLine(rest: string, nowMs: number): string[] {
    const [, digits = '', own = ''] = /^(\d+) ?(.*)$/.exec(rest) ?? [];
    const n = Number(digits);
    const no = (why: string): string[] => [`no ${digits} ${why}`];
    if (!this.intake || !this.space) return no('there is no set-up yet');
    if (this.state === 'alarm') return no(`alarm: ${this.alarm}`);
    if (!this.isHomed) return no('home it first');
    this.taken++;
    // As on a bad cable: it never comes here.
    if (this.faults.has('line-lost') && this.taken % LOST_EVERY === 0) return [];
    if (n === 1 && (this.ended || this.intake.expects > 1) && this.motions.count === 0) this.forget();
    const { intake } = this;
    if (n !== intake.expects) return no(`line ${intake.expects} is waited for`);
    if (this.queued >= MOST_QUEUED) return no('full');
    const faults = intake.read(own);
    if (faults.length > 0) {
      this.fail(`line ${n}: ${faults[0]}`);
      return no(faults[0]!);
    }
    const beyond = this.findBeyond(intake.listFresh());
    if (beyond) {
      this.fail(`line ${n}: ${beyond}`);
      return no(beyond);
    }
    intake.accept();
    this.lastLineMs = nowMs;
    return [`ok ${n}`];
  }

  /** What of the ends of motions goes beyond an end of the machine; null where nothing does. */
  private findBeyond(ends: readonly Float64Array[]): string | null {
    for (const end of ends) {
      const beyond = this.space!.findBeyond(end);
      if (beyond !== null) return beyond;
    }
    return this.faults.has('limit-hit') && ends.length > 0 ? 'a limit switch is hit' : null;
  }

  private fail(why: string): void {
    this.alarm = why;
    this.state = 'alarm';
    this.motions.drop();
    this.intake?.drop();
    this.late.push({ at: 0, text: `alarm ${why}` });
  }

  private home(): string[] {
    if (this.state === 'run' || this.state === 'hold') return ['no home a program runs'];
    if (this.state === 'alarm') return [`no home alarm: ${this.alarm}`];
    this.state = 'homing';
    this.homedAtMs = this.motions.clockMs + HOMING_MS;
    return ['ok home'];
  }

  private jog(rest: string): string[] {
    const [, letter = '', by = '', feed = ''] = /^([XYZABC]) (-?[\d.]+) F ?([\d.]+)$/.exec(rest) ?? [];
    if (!letter) return ['no jog say it as: jog X 10 F 600'];
    if (this.state !== 'idle') return [`no jog it is in ${this.state}`];
    if (!this.isHomed) return ['no jog home it first'];
    const k = AXIS_LETTERS.indexOf(letter);
    if (!this.space?.has(letter)) return [`no jog there is no axis ${letter}`];
    const end = this.motions.at.slice();
    end[k]! += Number(by);
    // One that stands beyond an end already may be jogged back.
    const beyond = this.space.findBeyond(end);
    if (beyond !== null && this.space.findBeyond(this.motions.at) === null) return [`no jog ${beyond}`];
    const endMs = this.motions.clockMs + (60000 * Math.abs(Number(by))) / Math.max(1, Number(feed));
    this.motions.push([{ line: this.motions.line, end, endMs, spindleRpm: 0, tool: this.motions.tool, probes: false, stop: null }]);
    this.state = 'run';
    return ['ok jog'];
  }

  /** Makes the word of an axis read a value where it stands: another work offset. */
  private setZero(rest: string): string[] {
    const [, letter = '', value = ''] = /^([XYZABC]) (-?[\d.]+)$/.exec(rest) ?? [];
    const k = AXIS_LETTERS.indexOf(letter);
    if (!letter || !this.space?.has(letter)) return ['no zero say it as: zero X 0'];
    if (this.state !== 'idle') return [`no zero it is in ${this.state}`];
    this.offset[k]! += this.motions.at[k]! - Number(value);
    this.motions.at[k] = Number(value);
    this.intake?.stand(this.motions.at);
    return ['ok zero'];
  }

  private switchPower(how: string): string[] {
    if (how === 'off') {
      // The axes stand where they are; all else is gone.
      this.motions.drop();
      this.intake?.drop();
      this.isHomed = false;
      this.state = 'off';
      return ['ok power'];
    }
    if (this.state === 'off') {
      const line = this.motions.line;
      this.forget();
      this.motions.line = line;
      this.alarm = null;
      this.state = 'idle';
    }
    return ['ok power'];
  }

  /** Goes on to a time. @returns What is told without having been asked: touches, alarms, answers that were late. */
  tick(nowMs: number): string[] {
    const passed = Math.max(0, nowMs - this.lastMs);
    this.lastMs = nowMs;
    if (this.state === 'run' || this.state === 'homing') this.motions.clockMs += passed * this.speed;
    if (this.state === 'homing' && this.motions.clockMs >= this.homedAtMs) {
      this.isHomed = true;
      this.state = 'idle';
      // Up, to where Z ends; the others find their marks and come back.
      if (this.space && !this.space.kinematics.machine) {
        const top = this.space.limits.Z![1] - this.offset[2]!;
        this.motions.at[2] = Math.max(this.motions.at[2]!, Number.isFinite(top) ? top : this.motions.at[2]! + HOMED_UP_MM);
      }
      this.intake?.stand(this.motions.at);
    }
    this.begin(nowMs);
    this.run();
    const told = this.late.filter((l) => l.at <= nowMs).map((l) => l.text);
    this.late = this.late.filter((l) => l.at > nowMs);
    return told;
  }

  /** Plans what waits, as far as a control looks ahead. */
  private begin(nowMs: number): void {
    if (!this.intake || this.intake.count === 0 || this.motions.count > 0 || this.waits !== null) return;
    if (this.state !== 'idle' && this.state !== 'run') return;
    const isWhole = this.intake.count >= LOOK_AHEAD || nowMs - this.lastLineMs > BATCH_WAIT_MS || this.intake.isEnded;
    if (!isWhole) return;
    this.state = 'run';
    this.plan();
  }

  private plan(): void {
    const { intake, space, setup } = this;
    const { at, spindleRpm, tool, clockMs } = this.motions;
    const { planned, wantedS, lastLine } = intake!.takeOut(LOOK_AHEAD, { end: at, spindleRpm, tool });
    timeBatch(planned, wantedS, at, {
      kinematics: space!.kinematics,
      cornerToleranceMm: setup!.machine.cornerToleranceMm,
      radiusMm: Math.abs(space!.surface.topMm),
      fromMs: clockMs,
    });
    if (planned.length === 0 && lastLine !== undefined) this.motions.line = lastLine;
    this.motions.push(planned);
  }

  /** Runs what is planned up to the clock. */
  private run(): void {
    if (this.state !== 'run') return;
    for (let next = this.motions.enter(); next; next = this.motions.enter()) {
      if (next.probes && !this.probe(next)) return;
      if (!this.motions.advance(next)) return;
      if (next.stop !== null && this.stopAt(next.stop)) return;
    }
    if (!this.intake || this.intake.count === 0) this.state = 'idle';
    else this.plan();
  }

  private stopAt(stop: string): boolean {
    if (stop === 'end') {
      this.ended = true;
      this.motions.drop();
      this.state = 'idle';
      return true;
    }
    if (stop.startsWith('tool')) {
      this.motions.tool = Number(stop.slice(5));
      return false;
    }
    // Put in by hand, which somebody has to say is done.
    this.waits = 'a cutter to be put in, or somebody to go on';
    this.state = 'hold';
    return true;
  }

  /** Finds where a probe trips on its way, and ends the way there. @returns Whether it does. */
  private probe(next: PlannedMotion): boolean {
    if (this.touchAt === next) return true;
    const space = this.space!;
    const { from } = this.motions;
    const share = this.faults.has('probe-misses') ? null : findTrip((s) => space.isTouching(this.real, between(from, next.end, s)));
    if (share === null) {
      this.fail(`line ${next.line}: the probe did not trip`);
      return false;
    }
    this.motions.cutShort(next, share);
    this.touchAt = next;
    this.touches++;
    const unit = this.setup!.machine.programUnit === 'in' ? 25.4 : 1;
    const words = space.kinematics.axes.map((a) => {
      const v = next.end[AXIS_LETTERS.indexOf(a.letter)]!;
      return `${a.letter}${(a.kind === 'linear' ? v / unit : v).toFixed(5)}`;
    });
    this.late.push({ at: 0, text: `touch ${words.join(' ')}` });
    return true;
  }

  /** Lines and motions that wait. */
  private get queued(): number {
    return this.motions.count + (this.intake?.count ?? 0);
  }

  get status(): RunnerStatus {
    const letters = this.space?.kinematics.axes.map((a) => a.letter) ?? ['X', 'Y', 'Z'];
    const words = Object.fromEntries(letters.map((l) => [l, this.motions.at[AXIS_LETTERS.indexOf(l)]!]));
    const own = this.space?.toOwn(this.motions.at);
    return {
      state: this.state,
      line: this.motions.line,
      expects: this.intake?.expects ?? 1,
      queued: this.queued,
      words,
      own: own ? Object.fromEntries(letters.map((l, k) => [l, own[k]!])) : words,
      share: this.motions.share,
      spindleRpm: this.state === 'hold' || this.state === 'run' ? this.motions.spindleRpm : 0,
      tool: this.motions.tool,
      isHomed: this.isHomed,
      ended: this.ended,
      waits: this.waits,
      alarm: this.alarm,
      faults: [...this.faults],
      speed: this.speed,
      touches: this.touches,
    };
  }

  tellStatus(): string {
    return `at ${JSON.stringify(this.status)}`;
  }
}
