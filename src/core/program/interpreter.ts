import type { Steps } from '../base/steps';
import type { ReadingRules } from './dialect';
import { arcByCentre, countChords, getRadiusSlackMm } from './arc';
import { AWAY, AXIS_COUNT, AXIS_LETTERS, COOLANT, MotionRecorder, type Motions } from './motions';

/**
 * Reads word-address text back. Shares nothing with the writer: it knows the words of NISTIR 6556 (from memory: block
 * format in 3.3, modal groups in 3.4, feed rules in 2.1.2.5 and 3.5.19–20) as far as the dialect's rules allow them, not what
 * the writer meant.
 */

export interface ProgramFault {
  /** Line in the text, from 0. */
  line: number;
  text: string;
  /** Set where the line is longer than the control takes. */
  tooLong?: { characters: number; limit: number };
}

/** A place where the program stops, or has its tool changed; with what runs then. */
export interface ProgramStop {
  line: number;
  kind: 'pause' | 'change' | 'end';
  /** Number of motions before it. */
  afterMotions: number;
  /** Number of the tool in the spindle after it. */
  tool: number;
  /** Spindle speed on reaching it, rev/min, signed; 0 if it stands still. */
  spindleRpm: number;
  coolant: number;
}

export interface ProgramReading {
  motions: Motions;
  /** Motion that first states each of X Y Z A B C; −1 if none does: until then nobody knows where that axis stands. */
  placedBy: Int32Array;
  stops: ProgramStop[];
  /** Tolerances for corners that the program sets, mm, with their lines: 0 for exact path, infinite for as the control likes. */
  corners: { line: number; toleranceMm: number; afterMotions: number }[];
  /** Where the machine stands still for a while, the spindle turning, s. */
  dwells: ProgramDwell[];
  faults: ProgramFault[];
}

export interface ProgramDwell {
  line: number;
  seconds: number;
  /** Number of motions before it. */
  afterMotions: number;
}

/** Chord error of arcs, mm. */
const ARC_CHORD_MM = 5e-5;
/** Lines read between two reports. */
const LINES_A_STEP = 4000;

/** The words of one block, sorted out. */
interface Block {
  axes: Map<string, number>;
  /** Word by modal group. */
  groups: Map<string, string>;
  feed: number | null;
  tool: number | null;
  speed: number | null;
  /** H word: entry of the table of lengths. */
  length: number | null;
  /** P word: tolerance for corners under G64, seconds under G4. */
  parameter: number | null;
  /** I and J words: from the start of an arc to its centre. */
  centre: [number | null, number | null];
}

/** Interprets a program from start to end. Faults do not stop it, so that all of them are seen. Yields the share read. O(length). */
export function* readProgram(text: string, rules: ReadingRules): Steps<number, ProgramReading> {
  const lines = text.split('\n');
  const interpreter = new Interpreter(rules.keepsPoint ?? null);
  for (const [line, raw] of lines.entries()) {
    readLine(interpreter, raw, line, rules);
    if (line % LINES_A_STEP === 0) yield line / lines.length;
  }
  if (!interpreter.ended) interpreter.faults.push({ line: lines.length - 1, text: 'the program has no end' });
  const { placedBy, stops, corners, dwells, faults } = interpreter;
  return { motions: interpreter.motions.finish(), placedBy, stops, corners, dwells, faults };
}

/** Reads a program line by line, as it comes: what a control does that is fed. */
export interface LineReader {
  /** What stands so far; motions are added as lines are read. */
  readonly motions: MotionRecorder;
  readonly stops: readonly ProgramStop[];
  readonly dwells: readonly ProgramDwell[];
  readonly ended: boolean;
  /** Where the words stand: X Y Z A B C, mm and degrees. May be set where a motion ended elsewhere than it was meant to. */
  readonly at: Float64Array;
  /** Reads one line. @returns What is wrong with it; nothing where it was taken. */
  read(raw: string, line: number): string[];
}

export function createLineReader(rules: ReadingRules): LineReader {
  const interpreter = new Interpreter(rules.keepsPoint ?? null);
  return Object.assign(interpreter, {
    read(raw: string, line: number): string[] {
      const before = interpreter.faults.length;
      readLine(interpreter, raw, line, rules);
      return interpreter.faults.slice(before).map((f) => f.text);
    },
  });
}

const SPACE = /\s/;
/** Words for inches: NISTIR 6556 has the one, ISO 6983-1 the other (from memory). */
const INCHES = new Set(['G20', 'G70']);

function readLine(interpreter: Interpreter, raw: string, line: number, rules: ReadingRules): void {
  let source = raw;
  for (const comment of rules.comments) source = source.replace(comment, '');
  if (SPACE.test(source)) source = source.replace(/\s+/g, '');
  source = source.toUpperCase();
  if (source === '' || rules.frame.includes(source)) return;
  const fault = (what: string): void => void interpreter.faults.push({ line, text: what });
  if (interpreter.ended) return fault('words after the end of the program');
  const { longestLine = Infinity } = rules;
  if (raw.length > longestLine) {
    const text = `the line has ${raw.length} characters, and no more than ${longestLine} are taken`;
    interpreter.faults.push({ line, text, tooLong: { characters: raw.length, limit: longestLine } });
  }
  const block = parseBlock(source, rules, fault);
  if (block) interpreter.run(block, line, fault);
}

/** Where a word that begins at a place ends: a letter, a sign or none, and digits with a point or none; −1 if there is no such word. */
function findWordEnd(source: string, start: number): number {
  const letter = source.charCodeAt(start);
  if (!(letter >= 65 && letter <= 90)) return -1;
  let i = start + 1;
  if (source[i] === '+' || source[i] === '-') i++;
  let digits = 0;
  for (let points = 0; i < source.length; i++) {
    const c = source.charCodeAt(i);
    if (c >= 48 && c <= 57) digits++;
    else if (c !== 46 || points++ > 0) break;
  }
  return digits > 0 ? i : -1;
}

/** @returns Null if the line cannot be read. */
function parseBlock(source: string, rules: ReadingRules, fault: (what: string) => void): Block | null {
  const block: Block = {
    axes: new Map(),
    groups: new Map(),
    feed: null,
    tool: null,
    speed: null,
    length: null,
    parameter: null,
    centre: [null, null],
  };
  for (let start = 0, end = 0; start < source.length; start = end) {
    end = findWordEnd(source, start);
    if (end < 0) {
      fault(`cannot read "${source.slice(start, start + 12)}"`);
      return null;
    }
    const letter = source[start]!;
    const value = Number(source.slice(start + 1, end));
    if (AXIS_LETTERS.includes(letter)) {
      const before = block.axes.size;
      block.axes.set(letter, value);
      if (block.axes.size === before) fault(`${letter} stands twice`);
    } else if (letter === 'G' || letter === 'M') {
      const code = `${letter}${value}`;
      const group = rules.groups[code];
      if (!group) fault(`${code} is not known here`);
      else if (block.groups.has(group)) fault(`${code} and ${block.groups.get(group)} are of one group`);
      else block.groups.set(group, code);
    } else if (letter === 'F') block.feed = value;
    else if (letter === 'T') block.tool = value;
    else if (letter === 'H') block.length = value;
    else if (letter === 'P') block.parameter = value;
    else if (letter === 'I' || letter === 'J') block.centre[letter === 'I' ? 0 : 1] = value;
    else if (letter === 'S') {
      if (value < 0) fault('S is negative');
      block.speed = value;
    } else if (letter === 'N') {
      if (value < 0) fault('N is negative');
    } else fault(`the word ${letter} is not known here`);
  }
  return block;
}

/** A control's modal state, run block by block. */
class Interpreter {
  readonly motions = new MotionRecorder();
  readonly stops: ProgramStop[] = [];
  readonly corners: ProgramReading['corners'] = [];
  readonly dwells: ProgramDwell[] = [];
  readonly faults: ProgramFault[] = [];
  ended = false;
  readonly at = new Float64Array(AXIS_COUNT);
  private readonly end = new Float64Array(AXIS_COUNT);
  readonly placedBy = new Int32Array(AXIS_COUNT).fill(-1);
  private motion = '';
  private plane = 'G17';
  private feedMode = 'G94';
  private unitMm = 1;
  private relative = false;
  private feed = 0;
  private selected = 0;
  private tool = 0;
  private speed = 0;
  /** 1 forward, −1 backward, 0 still. */
  private spindle = 0;
  private coolant = 0;
  private length = 0;
  /** Whether the tool's point is kept, and whether the machine stands at its top, away from what the words say. */
  private keeps = false;
  private away = false;

  /** @param keepsPoint Word by which the control keeps the tool's point; without it X, Y and Z would be others. Null where it has none. */
  constructor(private readonly keepsPoint: string | null) {}

  /**
   * Order of execution within a block: feed mode, feed, speed, tool, spindle, coolant, units, distance, motion, stop (NISTIR
   * 6556, 3.8). A tolerance with G64 is a P word, which NISTIR 6556 has not got and controls of its kind have (from memory).
   */
  run(block: Block, line: number, fault: (what: string) => void): void {
    const { groups } = block;
    if (groups.has('feed mode')) {
      this.feedMode = groups.get('feed mode')!;
      this.feed = 0;
    }
    if (block.feed !== null) this.feed = block.feed;
    if (block.speed !== null) this.speed = block.speed;
    if (block.tool !== null) this.selected = block.tool;
    if (groups.has('tool change')) {
      this.tool = this.selected;
      this.stop('change', line);
    }
    const spindle = groups.get('spindle');
    if (spindle) this.spindle = spindle === 'M3' ? 1 : spindle === 'M4' ? -1 : 0;
    if (this.spindle !== 0 && !(this.speed > 0)) fault('the spindle is started without a speed');
    const coolant = groups.get('coolant');
    if (coolant) this.coolant = coolant === 'M9' ? 0 : this.coolant | (coolant === 'M7' ? COOLANT.mist : COOLANT.flood);
    const offset = groups.get('length offset');
    const calls = offset === 'G43' || (offset !== undefined && offset === this.keepsPoint);
    if (calls && block.length === null) fault(`${offset} without an H word`);
    if (offset) {
      this.length = calls ? (block.length ?? 0) : 0;
      this.keeps = offset === this.keepsPoint;
    } else if (block.length !== null) fault('an H word without G43');
    if (groups.has('units')) this.unitMm = INCHES.has(groups.get('units')!) ? 25.4 : 1;
    const path = groups.get('path control');
    const dwells = groups.has('dwell');
    if (block.parameter !== null && path !== 'G64' && !dwells) fault('a P word without G64 or G4');
    if (dwells) this.dwell(block, line, fault);
    if (path) {
      // No tolerance, or one of nothing, leaves corners to the control.
      const toleranceMm = path === 'G61' ? 0 : block.parameter !== null && block.parameter > 0 ? block.parameter * this.unitMm : Infinity;
      this.corners.push({ line, toleranceMm, afterMotions: this.motions.count });
    }
    if (groups.has('distance')) this.relative = groups.get('distance') === 'G91';
    this.motion = groups.get('motion') ?? this.motion;
    if (groups.has('plane')) this.plane = groups.get('plane')!;
    if (groups.has('machine coordinates')) return this.goToTop(block, fault);
    const isArc = this.motion === 'G2' || this.motion === 'G3';
    if (isArc && (block.axes.size > 0 || block.centre.some((v) => v !== null))) this.arc(block, line, fault);
    else if (block.centre.some((v) => v !== null)) fault('I or J without an arc');
    else if (block.axes.size > 0) this.move(block, line, fault);
    const stopping = groups.get('stopping');
    if (stopping === 'M2' || stopping === 'M30') {
      this.ended = true;
      this.stop('end', line);
    } else if (stopping) this.stop('pause', line);
  }

  /** Seconds as a P word (NISTIR 6556, 3.5.4, from memory). */
  private dwell({ parameter, axes }: Block, line: number, fault: (what: string) => void): void {
    if (parameter === null || parameter < 0) fault('G4 without a P word of 0 s or more');
    else this.dwells.push({ line, seconds: parameter, afterMotions: this.motions.count });
    if (axes.size > 0) fault('axis words beside G4');
  }

  private stop(kind: ProgramStop['kind'], line: number): void {
    const { tool, coolant } = this;
    this.stops.push({ line, kind, afterMotions: this.motions.count, tool, spindleRpm: this.spindle * this.speed, coolant });
  }

  /** To the top of the machine, Z alone and as a rapid: where that is the words do not say. */
  private goToTop({ axes }: Block, fault: (what: string) => void): void {
    if (this.motion !== 'G0' || axes.size !== 1 || axes.get('Z') !== 0) return fault('G53 but for Z to the top (G53 G0 Z0)');
    if (this.keeps) return fault('G53 while the tool’s point is kept');
    this.away = true;
  }

  private move(block: Block, line: number, fault: (what: string) => void): void {
    const { at, end } = this;
    const rapid = this.motion === 'G0';
    const probes = this.motion === 'G38.2';
    if (!rapid && !probes && this.motion !== 'G1') fault('axis words without a motion');
    if (probes && this.spindle !== 0) fault('a probe while the spindle turns');
    const isPlaced = ['X', 'Y', 'Z'].some((letter) => block.axes.has(letter));
    if (this.keepsPoint && isPlaced && !this.keeps)
      fault(`X, Y or Z before ${this.keepsPoint}: they would be the axes’ own, not the tip’s`);
    const away = !this.away ? AWAY.no : block.axes.has('Z') ? AWAY.arrives : AWAY.stays;
    if (away === AWAY.arrives) this.away = false;
    end.set(at);
    let linear = 0;
    let turn = 0;
    block.axes.forEach((value, letter) => {
      const k = AXIS_LETTERS.indexOf(letter);
      const scaled = k < 3 ? value * this.unitMm : value;
      end[k] = this.relative ? at[k]! + scaled : scaled;
      if (this.placedBy[k]! < 0) {
        if (!rapid) fault(`${letter} is fed before it was ever placed`);
        this.placedBy[k] = this.motions.count;
      }
      const d = end[k]! - at[k]!;
      if (k < 3) linear += d * d;
      else turn += d * d;
    });
    const timeMin = rapid ? 0 : this.computeTime(block, Math.sqrt(linear), Math.sqrt(turn), fault);
    const { tool, length, coolant } = this;
    this.motions.add(end, { line, rapid, timeMin, tool, length, spindleRpm: this.spindle * this.speed, coolant, away, probes });
    at.set(end);
  }

  /**
   * An arc in the plane of X and Y about a centre that I and J give from its start, as chords (NISTIR 6556, 3.5.3.2, from memory). Other
   * axes stand still on it.
   */
  private arc(block: Block, line: number, fault: (what: string) => void): void {
    const { at, end } = this;
    const { axes, centre } = block;
    if (this.plane !== 'G17') return fault('an arc in another plane than X and Y');
    if (this.relative) return fault('an arc in increments');
    const others = [...axes.keys()].filter((letter) => letter !== 'X' && letter !== 'Y');
    if (others.length > 0) return fault(`${others.join(', ')} moves on an arc`);
    if (this.placedBy[0]! < 0 || this.placedBy[1]! < 0) fault('an arc before X and Y were ever placed');
    const to = [0, 1].map((k) => (axes.has('XY'[k]!) ? axes.get('XY'[k]!)! * this.unitMm : at[k]!));
    const middle = [0, 1].map((k) => at[k]! + (centre[k] ?? 0) * this.unitMm);
    const arc = arcByCentre([at[0]!, at[1]!], to, middle, this.motion === 'G2', getRadiusSlackMm(this.unitMm));
    if (typeof arc === 'string') return fault(arc);
    const lengthMm = arc.radiusMm * Math.abs(arc.sweepRad);
    const timeMin = this.computeTime(block, lengthMm, 0, fault);
    const count = countChords(arc, ARC_CHORD_MM);
    const { tool, length, coolant } = this;
    for (let k = 1; k <= count; k++) {
      const angle = arc.startRad + (k / count) * arc.sweepRad;
      end.set(at);
      end[0] = k === count ? to[0]! : arc.centre[0] + arc.radiusMm * Math.cos(angle);
      end[1] = k === count ? to[1]! : arc.centre[1] + arc.radiusMm * Math.sin(angle);
      const spindleRpm = this.spindle * this.speed;
      this.motions.add(end, {
        line,
        rapid: false,
        timeMin: timeMin / count,
        tool,
        length,
        spindleRpm,
        coolant,
        away: AWAY.no,
        probes: false,
      });
    }
    at.set(end);
  }

  /** Where X, Y or Z moves, a G94 feed applies to their path alone; where only a rotary moves it is in degrees/min. */
  private computeTime(block: Block, linearMm: number, turnDeg: number, fault: (what: string) => void): number {
    if (block.feed !== null && !(block.feed > 0)) fault('F is not positive');
    if (this.feedMode === 'G93') {
      if (block.feed === null) fault(`no F word on a ${this.motion} block in inverse time`);
      return block.feed ? 1 / block.feed : 0;
    }
    if (!(this.feed > 0)) {
      fault('no feed rate set');
      return 0;
    }
    return linearMm > 0 ? linearMm / (this.feed * this.unitMm) : turnDeg / this.feed;
  }
}
