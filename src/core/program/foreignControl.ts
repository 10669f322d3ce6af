import { arcByCentre, arcByRadius, countChords, getRadiusSlackMm, PLANES, type PlaneCode } from './arc';
import { ExpressionFault } from './expression';
import { parseForeignBlock, type ForeignBlock } from './foreignBlock';
import type { ProgramFault, ProgramReading, ProgramStop } from './interpreter';
import { AWAY, AXIS_COUNT, AXIS_LETTERS, COOLANT, MotionRecorder } from './motions';

/*
 * Reads programs from elsewhere: the motion of RS274/NGC as NISTIR 6556 has it (from memory: expressions 3.3.2, modal groups 3.4, arcs
 * 3.5.3, canned cycles 3.5.16, order of execution 3.8), and what controls of its kind add (G90.1, G91.1). What it does not know is
 * listed by line and never guessed: subroutines, loops, other offsets than those the text itself sets.
 */

/** Chord error of arcs, mm. */
const ARC_TOLERANCE_MM = 0.0005;
/** How far a pecking drill stops over the hole's bottom before it feeds on, mm (0.010 in, common practice). */
const PECK_GAP_MM = 0.254;
/** G20 of RS274/NGC and G70 of ISO 6983-1 (both from memory). */
const INCHES = new Set(['G20', 'G70']);
/** Faults kept; the rest would say the same. */
const MAX_FAULTS = 500;

/** What a text from elsewhere says, with notes on what was taken for granted. */
export interface ForeignReading extends ProgramReading {
  notes: string[];
}

/** A control that runs blocks from elsewhere one by one. */
export class ForeignControl {
  readonly motions = new MotionRecorder();
  ended = false;
  private readonly stops: ProgramStop[] = [];
  private readonly corners: ProgramReading['corners'] = [];
  private readonly dwells: ProgramReading['dwells'] = [];
  private readonly faults: ProgramFault[] = [];
  private readonly notes = new Set<string>();
  private readonly placedBy = new Int32Array(AXIS_COUNT).fill(-1);
  private readonly at = new Float64Array(AXIS_COUNT);
  private readonly end = new Float64Array(AXIS_COUNT);
  /** What G92 adds to the program's coordinates. */
  private readonly shift = new Float64Array(AXIS_COUNT);
  private readonly parameters = new Map<number, number>();
  private motion = '';
  private plane: PlaneCode = 'G17';
  private relative = false;
  private centresAbsolute = false;
  private inverse = false;
  private unitMm = 1;
  private feed = 0;
  private returnsToStart = true;
  /** What a canned cycle keeps from block to block: Z, R, Q, P, and Z before it began. */
  private cycle = new Map<string, number>();
  private cycleFromZ = 0;
  private selected = 0;
  private tool = 0;
  private length = 0;
  /** Whether the tool's point is kept, and whether the machine stands at its top, away from what the words say. */
  private keeps = false;
  private away: number = AWAY.no;
  private speed = 0;
  private spindle = 0;
  private coolant = 0;
  private line = 0;

  /** @param keepsPoint Word by which the control keeps the tool's point: X, Y and Z are the tip's then. Null where it has none. */
  constructor(private readonly keepsPoint: string | null = null) {}

  fault(line: number, text: string): void {
    if (this.faults.length < MAX_FAULTS) this.faults.push({ line, text });
  }

  finish(lastLine: number): ForeignReading {
    if (!this.ended) this.fault(lastLine, 'the program has no end (M2 or M30)');
    const { stops, corners, dwells, faults, placedBy } = this;
    return { motions: this.motions.finish(), placedBy, stops, corners, dwells, faults, notes: [...this.notes] };
  }

  readLine(raw: string, line: number): void {
    this.line = line;
    const source = raw
      .replace(/\([^)]*\)/g, '')
      .replace(/;.*$/, '')
      .replace(/\s+/g, '')
      .toUpperCase();
    if (source === '' || source === '%') return;
    if (source.startsWith('/')) {
      this.notes.add('lines with a block delete sign were left out');
      return;
    }
    if (source.includes('(')) return this.fault(line, 'a comment is not closed');
    if (/^(N\d+)?O/.test(source)) return this.fault(line, `"${raw.trim().slice(0, 40)}": subroutines and loops are not followed`);
    try {
      this.run(parseForeignBlock(source, this.parameters, (text) => this.fault(line, text)));
    } catch (error) {
      if (!(error instanceof ExpressionFault)) throw error;
      this.fault(line, error.message);
    }
  }

  private run({ words, groups, unclear }: ForeignBlock): void {
    const mode = groups.get('feed mode');
    if (mode) {
      this.inverse = mode === 'G93';
      this.feed = 0;
    }
    const units = groups.get('units');
    if (units) this.unitMm = INCHES.has(units) ? 25.4 : 1;
    const feed = words.get('F');
    if (feed !== undefined) {
      if (!(feed > 0)) this.fault(this.line, 'F is not positive');
      this.feed = feed;
    } else if (this.inverse) this.feed = 0;
    this.speed = words.get('S') ?? this.speed;
    this.selected = words.get('T') ?? this.selected;
    if (groups.has('tool change')) {
      this.tool = this.selected;
      this.stop('change');
    }
    const spindle = groups.get('spindle');
    if (spindle) this.spindle = spindle === 'M3' ? 1 : spindle === 'M4' ? -1 : 0;
    const coolant = groups.get('coolant');
    if (coolant) this.coolant = coolant === 'M9' ? 0 : this.coolant | (coolant === 'M7' ? COOLANT.mist : COOLANT.flood);
    this.plane = (groups.get('plane') as PlaneCode | undefined) ?? this.plane;
    const offset = groups.get('length offset');
    if (offset && offset.startsWith('G43') && offset !== 'G43' && offset !== this.keepsPoint)
      this.fault(this.line, `${offset} is not followed: the job's machine has no control that keeps the tool's point`);
    else if (offset) {
      this.length = offset === 'G49' ? 0 : (words.get('H') ?? this.tool);
      this.keeps = offset === this.keepsPoint;
    }
    const coordinates = groups.get('coordinates');
    if (coordinates && coordinates !== 'G54') this.notes.add(`${coordinates} was taken to be where G54 is`);
    const path = groups.get('path control');
    if (path) {
      const p = words.get('P');
      const toleranceMm = path !== 'G64' ? 0 : p !== undefined && p > 0 ? p * this.unitMm : Infinity;
      this.corners.push({ line: this.line, toleranceMm, afterMotions: this.motions.count });
    }
    if (groups.has('distance')) this.relative = groups.get('distance') === 'G91';
    if (groups.has('centres')) this.centresAbsolute = groups.get('centres') === 'G90.1';
    if (groups.has('return')) this.returnsToStart = groups.get('return') === 'G98';
    const once = groups.get('once');
    if (once === 'G53') this.goToTop(groups.get('motion'), words);
    else if (once) this.runOnce(once, words);
    else if (!unclear) this.move(groups.get('motion'), words);
    const stopping = groups.get('stopping');
    if (stopping === 'M2' || stopping === 'M30') {
      this.ended = true;
      this.stop('end');
    } else if (stopping) this.stop('pause');
  }

  private stop(kind: ProgramStop['kind']): void {
    const { tool, coolant, line } = this;
    this.stops.push({ line, kind, afterMotions: this.motions.count, tool, spindleRpm: this.spindle * this.speed, coolant });
  }

  /** To the top of the machine, Z alone and as a rapid: where that is the text does not say. */
  private goToTop(code: string | undefined, words: Map<string, number>): void {
    this.motion = code ?? this.motion;
    const axes = [...AXIS_LETTERS].filter((l) => words.has(l));
    if (this.motion !== 'G0' || axes.join() !== 'Z' || words.get('Z') !== 0)
      return this.fault(this.line, 'G53 is followed to the top alone (G53 G0 Z0)');
    if (this.keeps) return this.fault(this.line, 'G53 while the tool’s point is kept is not followed');
    this.away = AWAY.stays;
    this.notes.add('G53 G0 Z0 was taken to go to the machine’s top, clear of the work');
  }

  private runOnce(code: string, words: Map<string, number>): void {
    if (code === 'G4') {
      const seconds = words.get('P');
      if (seconds !== undefined && seconds >= 0) this.dwells.push({ line: this.line, seconds, afterMotions: this.motions.count });
      return;
    }
    if (code === 'G28' || code === 'G30') {
      // By way of the place that is stated; where the machine's own place lies, the text does not say.
      if (this.hasAxes(words)) this.straight(words, true);
      this.notes.add(`${code} was followed to the place that it states, not on to the machine's own`);
      return;
    }
    if (code === 'G92') {
      for (let k = 0; k < AXIS_COUNT; k++) {
        const value = words.get(AXIS_LETTERS[k]!);
        if (value !== undefined) this.shift[k] = this.at[k]! - value * this.scaleOf(k);
      }
    } else if (code === 'G92.3') this.fault(this.line, 'G92.3 is not followed: the text does not say what was kept');
    else this.shift.fill(0);
  }

  private scaleOf = (k: number): number => (k < 3 ? this.unitMm : 1);
  private hasAxes = (words: Map<string, number>): boolean => [...AXIS_LETTERS].some((l) => words.has(l));

  private move(code: string | undefined, words: Map<string, number>): void {
    if (code) {
      if (this.isCycle(code) && !this.isCycle(this.motion)) {
        this.cycleFromZ = this.at[2]!;
        this.cycle = new Map();
      }
      this.motion = code;
    }
    if (!this.hasAxes(words)) {
      if ((code === 'G2' || code === 'G3') && (words.has('I') || words.has('J') || words.has('K'))) this.arc(words);
      return;
    }
    if (this.motion === 'G0' || this.motion === 'G1') this.straight(words, this.motion === 'G0');
    else if (this.motion === 'G2' || this.motion === 'G3') this.arc(words);
    else if (this.isCycle(this.motion)) this.drill(words);
    else this.fault(this.line, 'axis words without a motion');
  }

  private isCycle = (code: string): boolean => code === 'G81' || code === 'G82' || code === 'G83';

  /** Sets `end` from the axis words of a block. */
  private aim(words: Map<string, number>): void {
    this.end.set(this.at);
    if (this.away !== AWAY.no) this.away = words.has('Z') ? AWAY.arrives : AWAY.stays;
    if (this.keepsPoint && !this.keeps && ['X', 'Y', 'Z'].some((l) => words.has(l)))
      this.fault(this.line, `X, Y or Z before ${this.keepsPoint}: they would be the axes’ own, not the tip’s`);
    for (let k = 0; k < AXIS_COUNT; k++) {
      const value = words.get(AXIS_LETTERS[k]!);
      if (value === undefined) continue;
      const scaled = value * this.scaleOf(k);
      this.end[k] = this.relative ? this.at[k]! + scaled : scaled + this.shift[k]!;
      if (this.placedBy[k]! < 0) this.placedBy[k] = this.motions.count;
    }
  }

  private straight(words: Map<string, number>, rapid: boolean): void {
    this.aim(words);
    this.go(this.end, rapid, 1);
  }

  /** Goes to a place. @param share Of the block's own time in inverse time. */
  private go(end: Float64Array, rapid: boolean, share: number): void {
    let linear = 0,
      turn = 0;
    for (let k = 0; k < AXIS_COUNT; k++) {
      const d = (end[k]! - this.at[k]!) ** 2;
      if (k < 3) linear += d;
      else turn += d;
    }
    const { line, tool, length, coolant } = this;
    this.motions.add(end, {
      line,
      rapid,
      timeMin: rapid ? 0 : this.timeOf(Math.sqrt(linear), Math.sqrt(turn), share),
      tool,
      length,
      spindleRpm: this.spindle * this.speed,
      coolant,
      away: this.away,
      probes: false,
    });
    if (this.away === AWAY.arrives) this.away = AWAY.no;
    this.at.set(end);
  }

  private timeOf(linearMm: number, turnDeg: number, share: number): number {
    if (!(this.feed > 0)) {
      this.fault(this.line, this.inverse ? 'no F word on a feed block in inverse time' : 'no feed rate set');
      return 0;
    }
    if (this.inverse) return share / this.feed;
    return linearMm > 0 ? linearMm / (this.feed * this.unitMm) : turnDeg / this.feed;
  }

  private arc(words: Map<string, number>): void {
    const [a, b, c] = PLANES[this.plane];
    this.aim(words);
    const from = [this.at[a]!, this.at[b]!],
      to = [this.end[a]!, this.end[b]!];
    const clockwise = this.motion === 'G2';
    const radius = words.get('R');
    const offsets = [a, b].map((k) => words.get('IJK'[k]!));
    if (radius === undefined && offsets.every((o) => o === undefined)) {
      return this.fault(this.line, `an arc needs R, or ${'IJK'[a]!} and ${'IJK'[b]!}`);
    }
    const centre = offsets.map((o, k) => {
      const axis = k === 0 ? a : b;
      const value = (o ?? 0) * this.unitMm;
      return this.centresAbsolute ? (o === undefined ? from[k]! : value + this.shift[axis]!) : from[k]! + value;
    });
    const slackMm = getRadiusSlackMm(this.unitMm);
    const arc =
      radius !== undefined
        ? arcByRadius(from, to, radius * this.unitMm, clockwise, slackMm)
        : arcByCentre(from, to, centre, clockwise, slackMm);
    if (typeof arc === 'string') return this.fault(this.line, arc);
    const turns = words.get('P');
    if (turns !== undefined && turns > 1) arc.sweepRad += Math.sign(arc.sweepRad) * 2 * Math.PI * (Math.round(turns) - 1);
    const n = countChords(arc, ARC_TOLERANCE_MM);
    const start = this.at.slice(),
      end = this.end.slice(),
      place = new Float64Array(AXIS_COUNT);
    for (let k = 1; k <= n; k++) {
      for (let j = 0; j < AXIS_COUNT; j++) place[j] = start[j]! + (k / n) * (end[j]! - start[j]!);
      if (k < n) {
        const angle = arc.startRad + (k / n) * arc.sweepRad;
        place[a] = arc.centre[0] + arc.radiusMm * Math.cos(angle);
        place[b] = arc.centre[1] + arc.radiusMm * Math.sin(angle);
      } else {
        place[a] = end[a]!;
        place[b] = end[b]!;
      }
      place[c] = start[c]! + (k / n) * (end[c]! - start[c]!);
      this.go(place, false, 1 / n);
    }
  }

  /** A canned cycle in G17: over the hole, down to R, down to Z in one go or in pecks, and up again. */
  private drill(words: Map<string, number>): void {
    if (this.plane !== 'G17') return this.fault(this.line, `${this.motion} is followed in G17 only`);
    if (this.inverse) return this.fault(this.line, `${this.motion} cannot run in inverse time`);
    for (const letter of 'ZRPQ') if (words.has(letter)) this.cycle.set(letter, words.get(letter)!);
    for (const letter of this.motion === 'G83' ? 'ZRQ' : 'ZR') {
      if (!this.cycle.has(letter)) return this.fault(this.line, `${this.motion} needs ${letter}`);
    }
    const peck = (this.cycle.get('Q') ?? 0) * this.unitMm;
    if (this.motion === 'G83' && !(peck > 0)) return this.fault(this.line, 'Q is not positive');
    const rWord = this.cycle.get('R')! * this.unitMm,
      zWord = this.cycle.get('Z')! * this.unitMm;
    const repeats = Math.max(1, Math.round(words.get('L') ?? 1));
    for (let k = 0; k < repeats; k++) {
      const clearZ = this.relative ? this.cycleFromZ + rWord : rWord + this.shift[2]!;
      const bottom = this.relative ? clearZ + zWord : zWord + this.shift[2]!;
      if (clearZ < bottom) return this.fault(this.line, 'R lies below Z');
      const xy = new Map([...words].filter(([l]) => l !== 'Z' && AXIS_LETTERS.includes(l)));
      const lift = (z: number, rapid: boolean) => {
        this.end.set(this.at);
        this.end[2] = z;
        if (this.placedBy[2]! < 0) this.placedBy[2] = this.motions.count;
        if (z !== this.at[2]) this.go(this.end, rapid, 1);
      };
      if (this.at[2]! < clearZ) lift(clearZ, true);
      this.straight(xy, true);
      lift(clearZ, true);
      if (this.motion === 'G83') {
        for (let z = clearZ - peck; z > bottom; z -= peck) {
          lift(z, false);
          lift(clearZ, true);
          lift(Math.min(clearZ, z + PECK_GAP_MM), true);
        }
      }
      lift(bottom, false);
      lift(this.returnsToStart ? Math.max(clearZ, this.cycleFromZ) : clearZ, true);
    }
  }
}
