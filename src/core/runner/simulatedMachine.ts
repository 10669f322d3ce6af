import type { Job } from '../job/schema';
import { toMachineValues, type Kinematics } from '../machine/kinematics';
import { getWordLimits, getZeroHeightMm } from '../machine/limits';
import { createKinematics } from '../machine/registry';
import { createLineReader, type LineReader } from '../program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { DIALECTS } from '../program/registry';
import { unpackShape } from '../shape/readShape';
import type { ShapeMesh } from '../shape/shapeMesh';
import { createSurface } from '../surface/registry';
import type { Surface } from '../surface/surface';
import { takeBatch, timeBatch, type PlannedMotion, type ReadUpTo } from './lookAhead';
import { RUNNER_FAULTS, runnerSetupSchema, type RunnerFault, type RunnerSetup, type RunnerState, type RunnerStatus } from './protocol';
import { findTrip, isInside, type RealBlank } from './realBlank';

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
const LIMIT_SLACK = 0.005;
const NOTHING_READ: ReadUpTo = { motions: 0, stops: 0, dwells: 0 };

/**
 * A machine that ships with Hobel in place of a real one: axes with speeds, accelerations and limits, a spindle, a probe, a work offset,
 * and a line protocol (`protocol.ts`). It depends on nothing but the time it is told, so that it can be tested.
 */
export class SimulatedMachine {
  private setup: RunnerSetup | null = null;
  private kinematics: Kinematics | null = null;
  private surface: Surface | null = null;
  /** Free shapes that were sent, by their ids. */
  private readonly shapes = new Map<string, ShapeMesh>();
  private reader: LineReader | null = null;
  private state: RunnerState = 'idle';
  private isHomed = false;
  private alarm: string | null = null;
  private waits: string | null = null;
  private ended = false;
  private expects = 1;
  private line = 0;
  private readonly faults = new Set<RunnerFault>();
  private speed = 1;
  private touches = 0;
  /** Lines taken but not planned yet, by how far motions and stops were read. */
  private waiting: { line: number; motions: number; stops: number }[] = [];
  private readMotions = 0;
  /** What of it is planned. */
  private planned: ReadUpTo = NOTHING_READ;
  private readonly queue: PlannedMotion[] = [];
  /** Where it stands, X Y Z A B C. */
  private at = new Float64Array(AXIS_COUNT);
  private from = new Float64Array(AXIS_COUNT);
  private spindleRpm = 0;
  private tool = 0;
  private share = 0;
  /** The machine's own clock, ms: it stands while held. */
  private clockMs = 0;
  private startMs = 0;
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
        if (this.state === 'hold') this.state = this.queue.length > 0 || this.waiting.length > 0 ? 'run' : 'idle';
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
    this.kinematics = createKinematics(parsed.data);
    this.surface = createSurface(parsed.data.blank, { find: (ref) => ('id' in ref ? (this.shapes.get(ref.id) ?? null) : null) });
    this.forget();
    this.line = 0;
    return ['ok setup'];
  }

  /** Nothing waits, and the next program begins with line 1. */
  private forget(): void {
    this.queue.length = 0;
    this.waiting = [];
    this.reader = this.setup ? createLineReader(DIALECTS[this.setup.machine.dialect].rules) : null;
    this.reader?.at.set(this.at);
    this.readMotions = 0;
    this.planned = NOTHING_READ;
    this.expects = 1;
    this.waits = null;
    this.ended = false;
    this.share = 0;
    this.spindleRpm = 0;
    this.touches = 0;
  }

  private takeLine(rest: string, nowMs: number): string[] {
    const [, digits = '', own = ''] = /^(\d+) ?(.*)$/.exec(rest) ?? [];
    const n = Number(digits);
    const no = (why: string): string[] => [`no ${digits} ${why}`];
    if (!this.reader || !this.kinematics) return no('there is no set-up yet');
    if (this.state === 'alarm') return no(`alarm: ${this.alarm}`);
    if (!this.isHomed) return no('home it first');
    this.taken++;
    // As on a bad cable: it never comes here.
    if (this.faults.has('line-lost') && this.taken % LOST_EVERY === 0) return [];
    if (n === 1 && (this.ended || this.expects > 1) && this.queue.length === 0) this.forget();
    if (n !== this.expects) return no(`line ${this.expects} is waited for`);
    if (this.queue.length + this.waiting.length >= MOST_QUEUED) return no('full');
    const faults = this.reader.read(own, n);
    if (faults.length > 0) {
      this.fail(`line ${n}: ${faults[0]}`);
      return no(faults[0]!);
    }
    const beyond = this.findBeyond();
    if (beyond) {
      this.fail(`line ${n}: ${beyond}`);
      return no(beyond);
    }
    this.expects = n + 1;
    this.lastLineMs = nowMs;
    this.readMotions = this.reader.motions.count;
    this.waiting.push({ line: n, motions: this.readMotions, stops: this.reader.stops.length });
    return [`ok ${n}`];
  }

  /** What of the motions that were read last goes beyond a limit of the machine; null where nothing does. */
  private findBeyond(): string | null {
    const { reader, kinematics, setup } = this;
    const limits = this.getLimits();
    for (let m = this.readMotions; m < reader!.motions.count; m++) {
      const own = this.toOwn(reader!.motions.endOf(m));
      for (const [k, { letter }] of (kinematics!.machine ?? kinematics!).axes.entries()) {
        const [least, most] = limits[letter]!;
        const v = own[k]!;
        if (v < least - LIMIT_SLACK || v > most + LIMIT_SLACK)
          return `${letter} would go to ${v.toFixed(3)}, and can go no ${v < least ? 'lower' : 'higher'} than ${(v < least ? least : most).toFixed(1)}`;
      }
    }
    return setup && this.faults.has('limit-hit') && reader!.motions.count > this.readMotions ? 'a limit switch is hit' : null;
  }

  /** Ends of the axes as words: across as the machine is described, along with the zero in the middle of the travel, Z by the nose. */
  private getLimits(): Record<string, [number, number]> {
    const { setup, kinematics } = this;
    const job = setup as Pick<Job, 'machine' | 'blank' | 'zero'>;
    const out = getWordLimits(job, kinematics!);
    const { noseMm } = setup!.machine.standsAt;
    if (noseMm > 0) out.Z = [-Infinity, noseMm - setup!.gaugeMm - getZeroHeightMm(job)];
    return out;
  }

  /** The machine's own axes for words, with the work offset. */
  private toOwn(words: Float64Array): Float64Array {
    const { kinematics } = this;
    const values = Float64Array.from(kinematics!.axes, (a) => this.placeOf(words, a.letter));
    return toMachineValues(kinematics!, values);
  }

  /** Where an axis is for words: with the work offset. */
  private placeOf(words: ArrayLike<number>, letter: string): number {
    const k = AXIS_LETTERS.indexOf(letter);
    return words[k]! + this.offset[k]!;
  }

  private fail(why: string): void {
    this.alarm = why;
    this.state = 'alarm';
    this.queue.length = 0;
    this.waiting = [];
    this.spindleRpm = 0;
    this.late.push({ at: 0, text: `alarm ${why}` });
  }

  private home(): string[] {
    if (this.state === 'run' || this.state === 'hold') return ['no home a program runs'];
    if (this.state === 'alarm') return [`no home alarm: ${this.alarm}`];
    this.state = 'homing';
    this.homedAtMs = this.clockMs + HOMING_MS;
    return ['ok home'];
  }

  private jog(rest: string): string[] {
    const [, letter = '', by = '', feed = ''] = /^([XYZABC]) (-?[\d.]+) F ?([\d.]+)$/.exec(rest) ?? [];
    if (!letter) return ['no jog say it as: jog X 10 F 600'];
    if (this.state !== 'idle') return [`no jog it is in ${this.state}`];
    if (!this.isHomed) return ['no jog home it first'];
    const k = AXIS_LETTERS.indexOf(letter);
    if (!this.kinematics?.axes.some((a) => a.letter === letter)) return [`no jog there is no axis ${letter}`];
    const end = this.at.slice();
    end[k]! += Number(by);
    const [least, most] = this.getLimits()[letter] ?? [-Infinity, Infinity];
    if (!this.kinematics.machine && (end[k]! < least || end[k]! > most))
      return [`no jog ${letter} ends at ${(end[k]! < least ? least : most).toFixed(1)}`];
    this.from.set(this.at);
    this.startMs = this.clockMs;
    const endMs = this.clockMs + (60000 * Math.abs(Number(by))) / Math.max(1, Number(feed));
    this.queue.push({ line: this.line, end, endMs, spindleRpm: 0, tool: this.tool, probes: false, stop: null });
    this.state = 'run';
    return ['ok jog'];
  }

  /** Makes the word of an axis read a value where it stands: another work offset. */
  private setZero(rest: string): string[] {
    const [, letter = '', value = ''] = /^([XYZABC]) (-?[\d.]+)$/.exec(rest) ?? [];
    const k = AXIS_LETTERS.indexOf(letter);
    if (!letter || !this.kinematics?.axes.some((a) => a.letter === letter)) return ['no zero say it as: zero X 0'];
    if (this.state !== 'idle') return [`no zero it is in ${this.state}`];
    this.offset[k]! += this.at[k]! - Number(value);
    this.at[k] = Number(value);
    this.reader?.at.set(this.at);
    return ['ok zero'];
  }

  private switchPower(how: string): string[] {
    if (how === 'off') {
      // The axes stand where they are; all else is gone.
      this.queue.length = 0;
      this.waiting = [];
      this.spindleRpm = 0;
      this.isHomed = false;
      this.state = 'off';
      return ['ok power'];
    }
    if (this.state === 'off') {
      const line = this.line;
      this.forget();
      this.line = line;
      this.alarm = null;
      this.state = 'idle';
    }
    return ['ok power'];
  }

  /** Goes on to a time. @returns What is told without having been asked: touches, alarms, answers that were late. */
  tick(nowMs: number): string[] {
    const passed = Math.max(0, nowMs - this.lastMs);
    this.lastMs = nowMs;
    if (this.state === 'run' || this.state === 'homing') this.clockMs += passed * this.speed;
    if (this.state === 'homing' && this.clockMs >= this.homedAtMs) {
      this.isHomed = true;
      this.state = 'idle';
      // Up, to where Z ends; the others find their marks and come back.
      const top = this.kinematics ? this.getLimits().Z![1] : Infinity;
      if (!this.kinematics?.machine) this.at[2] = Math.max(this.at[2]!, Number.isFinite(top) ? top : this.at[2]! + HOMED_UP_MM);
      this.reader?.at.set(this.at);
    }
    this.begin(nowMs);
    this.run();
    const told = this.late.filter((l) => l.at <= nowMs).map((l) => l.text);
    this.late = this.late.filter((l) => l.at > nowMs);
    return told;
  }

  /** Plans what waits, as far as a control looks ahead. */
  private begin(nowMs: number): void {
    if (this.waiting.length === 0 || this.queue.length > 0 || this.waits !== null) return;
    if (this.state !== 'idle' && this.state !== 'run') return;
    const isWhole = this.waiting.length >= LOOK_AHEAD || nowMs - this.lastLineMs > BATCH_WAIT_MS || this.reader!.ended;
    if (!isWhole) return;
    this.state = 'run';
    this.plan();
  }

  private plan(): void {
    const { reader, kinematics, setup } = this;
    const batch = this.waiting.splice(0, LOOK_AHEAD);
    const { planned, wantedS, upTo } = takeBatch(reader!, batch, this.planned, {
      end: this.at,
      spindleRpm: this.spindleRpm,
      tool: this.tool,
    });
    timeBatch(planned, wantedS, this.at, {
      kinematics: kinematics!,
      cornerToleranceMm: setup!.machine.cornerToleranceMm,
      radiusMm: Math.abs(this.surface!.topMm),
      fromMs: this.clockMs,
    });
    this.planned = upTo;
    if (planned.length === 0 && batch.length > 0) this.line = batch[batch.length - 1]!.line;
    this.from.set(this.at);
    this.startMs = this.clockMs;
    this.queue.push(...planned);
  }

  /** Runs what is planned up to the clock. */
  private run(): void {
    if (this.state !== 'run') return;
    while (this.queue.length > 0) {
      const next = this.queue[0]!;
      this.line = next.line;
      this.spindleRpm = next.spindleRpm;
      this.tool = next.tool;
      if (next.probes && !this.probe(next)) return;
      if (this.clockMs < next.endMs) {
        const span = next.endMs - this.startMs;
        this.share = span > 0 ? Math.max(0, Math.min(1, (this.clockMs - this.startMs) / span)) : 1;
        for (let k = 0; k < AXIS_COUNT; k++) this.at[k] = this.from[k]! + this.share * (next.end[k]! - this.from[k]!);
        return;
      }
      this.at.set(next.end);
      this.from.set(next.end);
      this.startMs = next.endMs;
      this.share = 1;
      this.queue.shift();
      if (next.stop !== null && this.stopAt(next.stop)) return;
    }
    if (this.waiting.length === 0) {
      this.state = 'idle';
      // What comes next begins now, not when this ended.
      this.startMs = this.clockMs;
    } else this.plan();
  }

  private stopAt(stop: string): boolean {
    if (stop === 'end') {
      this.ended = true;
      this.spindleRpm = 0;
      this.state = 'idle';
      this.queue.length = 0;
      return true;
    }
    if (stop.startsWith('tool')) {
      this.tool = Number(stop.slice(5));
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
    const at = (share: number): Float64Array => this.from.map((v, k) => v + share * (next.end[k]! - v));
    const share = this.faults.has('probe-misses') ? null : findTrip((s) => this.isTouching(at(s)));
    if (share === null) {
      this.fail(`line ${next.line}: the probe did not trip`);
      return false;
    }
    const end = at(share);
    next.endMs = this.startMs + share * (next.endMs - this.startMs);
    next.end.set(end);
    this.touchAt = next;
    this.touches++;
    const unit = this.setup!.machine.programUnit === 'in' ? 25.4 : 1;
    const words = this.kinematics!.axes.map((a) => {
      const v = end[AXIS_LETTERS.indexOf(a.letter)]!;
      return `${a.letter}${(a.kind === 'linear' ? v / unit : v).toFixed(5)}`;
    });
    this.late.push({ at: 0, text: `touch ${words.join(' ')}` });
    return true;
  }

  private isTouching(words: Float64Array): boolean {
    const { kinematics, surface } = this;
    const tip = new Float64Array(3),
      axis = new Float64Array(3);
    kinematics!.forward(
      kinematics!.axes.map((a) => this.placeOf(words, a.letter)),
      tip,
      axis,
    );
    return isInside(this.real, surface!, tip);
  }

  get status(): RunnerStatus {
    const letters = this.kinematics?.axes.map((a) => a.letter) ?? ['X', 'Y', 'Z'];
    const words = Object.fromEntries(letters.map((l) => [l, this.at[AXIS_LETTERS.indexOf(l)]!]));
    const own = this.kinematics ? this.toOwn(this.at) : null;
    return {
      state: this.state,
      line: this.line,
      expects: this.expects,
      queued: this.queue.length + this.waiting.length,
      words,
      own: own ? Object.fromEntries(letters.map((l, k) => [l, own[k]!])) : words,
      share: this.share,
      spindleRpm: this.state === 'hold' || this.state === 'run' ? this.spindleRpm : 0,
      tool: this.tool,
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
