import { describeBlank, getMount } from '../job/blankText';
import { isArrival, isFeedMove, MOVE } from '../lay/laidPaths';
import { getStance } from '../machine/registry';
import { levelOf, upInto } from '../machine/stance';
import { getLayout } from '../machine/layouts/registry';
import { describeCentre, listZeroWords } from '../machine/zeroText';
import { getDwellS, getStages } from '../job/cutSchema';
import type { Placeholder } from '../job/machineSchema';
import type { Tool } from '../job/toolSchema';
import type { Steps } from '../base/steps';
import type { Manner, Program, ProgramInput, ProgramPart, ProgramSplit } from './dialect';
import { fitArc, lies } from './arcFit';
import { fillOwnBlock, toOwnName, type OwnBlock } from './ownBlocks';
import { UNSTAMPED } from './stamp';
import { getLengthDigits, getUnitMm } from './units';
import { formatFeed, formatWord } from './words';

/** An arc is sought over so many blocks. */
const MOST_ARC_BLOCKS = 400;
/** Blocks written between two reports. */
const BLOCKS_A_STEP = 4000;

/**
 * Writes a program in a dialect's manner.
 * @param fromBlock Where it begins: a rapid to a stroke. What comes before is taken to be cut. Yields the share that is written. O(blocks).
 */
export function* writeProgram(manner: Manner, input: ProgramInput, split: ProgramSplit, fromBlock = 0): Steps<number, Program> {
  const writer = new ProgramWriter(manner, input, split, fromBlock);
  const { count } = input.moves;
  for (let i = fromBlock; i < count; i++) {
    writer.writeBlock(i);
    if (i % BLOCKS_A_STEP === 0) yield i / count;
  }
  return writer.finish();
}

/** Lines that are kept for what ends a file. */
const END_LINES = 30;

/** Whether a block is the first of its move. */
const isFirstOf = ({ move }: ProgramInput['moves'], block: number): boolean => block === 0 || move[block] !== move[block - 1];

/** Writes block by block, leaving out words that did not change. */
class ProgramWriter {
  private readonly parts: ProgramPart[] = [];
  private lines: string[] = [];
  private readonly partOfBlock: Uint16Array;
  private readonly lineOfBlock: Uint32Array;
  private readonly digits: readonly number[];
  /** Program units in one of an axis: 1/25.4 for a length in inches. */
  private readonly perUnit: readonly number[];
  private readonly perMm: number;
  /** Words as written last, as text and as numbers; '' and NaN before the first. */
  private readonly words: string[];
  private readonly rounded: Float64Array;
  private feedMode = '';
  /** The feed word written last. */
  private feedWord = '';
  private motion = '';
  private run = -1;
  /** The last block that stands on the arc written last. */
  private arcTo = -1;
  private block = 0;
  private readonly takesArcs: boolean;
  private readonly axisCount: number;
  /** Feed through the air, in the program's unit a minute. */
  private readonly airFeed: number;
  /** Whether the tool's point is kept. */
  private keeps = false;
  /** Whether the coolant runs. */
  private isWet = false;
  /** Whether the next rapid begins at park height, since the tool does not come to it from the stroke before. */
  private resumes: boolean;
  /** The run that a file begins with. */
  private coming: number;
  /** The first run of a file. */
  private first: ProgramInput['runs'][number] | null = null;
  /** Whether anything is cut in this file. */
  private hasCut = false;
  /** The cutter in the spindle; null before the first. Two cutters with one number are still two. */
  private tool: Tool | null = null;

  constructor(
    private readonly manner: Manner,
    private readonly input: ProgramInput,
    private readonly split: ProgramSplit,
    fromBlock: number,
  ) {
    const { kinematics, moves, job } = input;
    const n = kinematics.axes.length;
    this.axisCount = n;
    this.partOfBlock = new Uint16Array(moves.count);
    this.lineOfBlock = new Uint32Array(moves.count);
    this.perMm = 1 / getUnitMm(job.machine);
    this.airFeed = job.machine.maxFeedMmPerMin * this.perMm;
    this.digits = kinematics.axes.map((a) => (a.kind === 'rotary' ? job.machine.angleDigits : getLengthDigits(job.machine)));
    this.perUnit = kinematics.axes.map((a) => (a.kind === 'rotary' ? 1 : this.perMm));
    this.words = new Array<string>(n).fill('');
    this.rounded = new Float64Array(n).fill(NaN);
    // A control that stops at every corner would be timed by an arc's chords.
    const { arcMm, cornerToleranceMm } = job.machine;
    this.takesArcs =
      manner.arcs && arcMm > 0 && cornerToleranceMm > 0 && kinematics.axes[0]!.letter === 'X' && kinematics.axes[1]!.letter === 'Y';
    this.resumes = fromBlock > 0;
    this.coming = this.runOf(fromBlock);
    this.startPart();
  }

  private runOf(block: number): number {
    const { laid, moves } = this.input;
    return moves.count > 0 ? laid.run[moves.move[block]!]! : 0;
  }

  writeBlock(i: number): void {
    const { laid, moves } = this.input;
    const move = moves.move[i]!;
    if (this.isFull(i)) this.goOnInAnother(i);
    if (laid.run[move]! !== this.run && laid.kind[move] !== MOVE.park) this.startRun(laid.run[move]!);
    if (i > this.arcTo && !this.isPassed(i)) {
      if (!isFeedMove(laid.kind[move]!)) this.writeRapid(i);
      else {
        this.hasCut = true;
        if (!this.writeArc(i)) this.writeFeed(i);
      }
    }
    this.partOfBlock[i] = this.parts.length;
    this.lineOfBlock[i] = this.lines.length - 1;
    const dwellS = laid.kind[move] === MOVE.plunge && moves.move[i + 1] !== move ? getDwellS(this.input.runs[this.run]!.cut) : 0;
    if (dwellS > 0) this.say(this.manner.dwell?.(dwellS));
  }

  /**
   * Where the control keeps the tool's point and the program begins between two strokes: whether a block is of the way across, which is not
   * run. At its end the tool comes from the machine's top to park height over the stroke, and down.
   */
  private isPassed(i: number): boolean {
    const { moves, laid } = this.input;
    if (!this.resumes || !this.manner.keepsPoint || laid.kind[moves.move[i]!] !== MOVE.across) return false;
    if (moves.move[i + 1] === moves.move[i]) return true;
    this.resumes = false;
    this.comeFromTop(this.raise(i));
    this.writeFeed(i, this.airFeed);
    return true;
  }

  /** Words of the place at park height straight over that of a block. */
  private raise(i: number): Float64Array {
    const { moves, kinematics, job } = this.input;
    const n = this.axisCount;
    const stance = getStance(job);
    const tip = new Float64Array(3),
      frame = new Float64Array(6),
      up = new Float64Array(3);
    const levelAt = (block: number): number => {
      kinematics.forward(moves.values.subarray(n * block, n * (block + 1)), tip, frame.subarray(3));
      upInto(stance, frame, up);
      return levelOf(stance, tip, up);
    };
    const byMm = levelAt(0) - levelAt(i);
    for (let k = 0; k < 3; k++) tip[k]! += byMm * up[k]!;
    const out = new Float64Array(n);
    kinematics.inverse(tip, frame.subarray(3), moves.values.subarray(n * i, n * (i + 1)), out);
    return out;
  }

  /** From the machine's top to a place at park height, the turning axes first: only then is the tool's point kept. */
  private comeFromTop(values: Float64Array): void {
    const { job } = this.input;
    if (this.keeps) this.say('G49');
    this.say('G53 G0 Z0.');
    this.forgetState();
    const words = this.takeWords(values);
    const isTurning = (word: string): boolean => 'ABC'.includes(word[0]!);
    this.say(`G0 ${words.filter(isTurning).join(' ')}`);
    if (job.machine.toolLengths === 'table') this.say(`${this.manner.keepsPoint} H${this.tool!.number}`);
    this.keeps = true;
    this.say(`G0 ${words.filter((w) => !isTurning(w)).join(' ')}`);
    this.motion = 'G0';
  }

  finish(): Program {
    this.endPart();
    if (this.parts.length === 1) this.parts[0]!.suffix = '';
    return { parts: this.parts, partOfBlock: this.partOfBlock, lineOfBlock: this.lineOfBlock };
  }

  private isOtherCut(run: number): boolean {
    const { runs } = this.input;
    return this.run >= 0 && runs[run]!.cut.id !== runs[this.run]!.cut.id;
  }

  /** Whether the stroke that begins with a block does not go into the file any more. */
  private isFull(i: number): boolean {
    const { laid, moves, job } = this.input;
    const { mostLines } = job.machine;
    const begins = (k: number): boolean => isArrival(laid.kind[moves.move[k]!]!) && isFirstOf(moves, k);
    if (i === 0 || this.tool === null || !begins(i)) return false;
    const run = this.runOf(i);
    // Where the cutter changes as well the tool is up already.
    if (this.split === 'cut' && this.isOtherCut(run) && this.input.runs[run]!.tool.id === this.tool.id) return true;
    if (mostLines === 0) return false;
    let end = i + 1;
    while (end < moves.count && !begins(end)) end++;
    return this.lines.length + (end - i) + END_LINES > mostLines && this.hasCut;
  }

  /** Ends the file between two strokes, at park height, and goes on in another with the same cutter. */
  private goOnInAnother(block: number): void {
    this.leaveInverseTime();
    if (this.manner.keepsPoint) {
      this.say(['G1', ...this.takeWords(this.raise(block - 1)), `F${formatFeed(this.airFeed)}`].join(' '));
      this.feedWord = '';
    } else this.say(`G0 Z${this.parkWord()}`);
    this.endPart();
    this.coming = this.runOf(block);
    this.startPart();
    this.run = -1;
    this.resumes = true;
  }

  private parkWord(): string {
    const { moves, job } = this.input;
    return formatWord(moves.values[2]! * this.perMm, getLengthDigits(job.machine));
  }

  /** Writes a block; nothing where the dialect has no words for it. */
  private say(...blocks: (string | null | undefined)[]): void {
    const { numbered, spaced } = this.manner;
    for (const block of blocks) {
      if (!block) continue;
      const line = numbered ? `N${++this.block} ${block}` : block;
      this.lines.push(spaced ? line : line.replaceAll(' ', ''));
    }
  }

  /** Writes what is for people, where the control lets it pass, and no more of it than it takes in a line. */
  private tell(...words: readonly string[]): void {
    if (!this.manner.comment) return;
    const line = this.manner.comment(...words);
    const { longestLine } = this.input.job.machine;
    const tooLong = longestLine > 0 ? line.length - longestLine : 0;
    this.lines.push(tooLong > 0 ? this.manner.comment(words.join(' ').slice(0, -tooLong)) : line);
  }

  /** Writes a line that stands outside the program. */
  private frame(): void {
    if (this.manner.frame) this.lines.push(this.manner.frame);
  }

  private startPart(): void {
    const { job, runs } = this.input;
    const { machine, blank } = job;
    const layout = getLayout(machine.layout);
    const length = (mm: number): string => formatWord(mm, 3);
    const size = describeBlank(blank, length, 'mm');
    this.block = 0;
    this.hasCut = false;
    this.frame();
    this.tell('Hobel:', job.name);
    this.tell(`blank ${size}, ${job.material}`);
    const zero = listZeroWords(job);
    this.tell(
      `zero ${zero
        .filter(({ letter }) => 'XYZ'.includes(letter))
        .map(({ letter, where }) => `${letter} ${where}`)
        .join(', ')}`,
    );
    for (const { letter, where } of zero) if (!'XYZ'.includes(letter)) this.tell(`${letter} is zero ${where}`);
    for (const line of layout.describe(machine.layout, getMount(blank), length)) this.tell(line);
    const centre = describeCentre(job, length);
    if (centre !== null) this.tell(centre);
    for (const tool of new Set(runs.map((r) => r.tool))) this.tell(`T${tool.number} ${tool.name}`);
    const { parkHeightMm, hopHeightMm, approachGapMm } = job.motion;
    this.tell(`waits ${length(parkHeightMm)} mm over the blank, hops at ${length(hopHeightMm)}, rapid down to ${length(approachGapMm)}`);
    if (this.input.isStamped) this.tell(UNSTAMPED);
    this.say(...this.manner.opening(machine.programUnit));
    // As the times were worked out: corners rounded by no more than this, or run out.
    this.say(this.manner.corner?.(machine.cornerToleranceMm * this.perMm, getLengthDigits(machine)));
    this.sayOwn('start', runs[this.coming]);
    this.forgetState();
    this.tool = null;
  }

  /** Writes a block of the machine's own, after which nothing is known of the control but what every program counts on. */
  private sayOwn(block: OwnBlock, run: ProgramInput['runs'][number] | undefined): void {
    const { job, moves } = this.input;
    const values: Record<Placeholder, string> = {
      number: String(run?.tool.number ?? 0),
      tool: toOwnName(run?.tool.name ?? ''),
      rpm: String(Math.round(run?.spindleRpm ?? 0)),
      job: toOwnName(job.name),
      park: moves.count > 0 ? this.parkWord() : '0.',
    };
    const lines = fillOwnBlock(job.machine.ownBlocks[block] ?? '', values);
    this.say(...lines);
    if (lines.length > 0) this.feedMode = '';
  }

  private setCoolant(on: boolean): void {
    const { coolant } = this.input.job.machine;
    if (coolant === 'none' || on === this.isWet) return;
    this.isWet = on;
    this.say(!on ? 'M9' : coolant === 'mist' ? 'M7' : 'M8');
  }

  /** Where the machine stands is not known, at the start or after a change by hand: every axis is stated again, Z first. */
  private forgetState(): void {
    this.feedWord = '';
    this.words.fill('');
    this.rounded.fill(NaN);
    this.motion = '';
  }

  private leaveInverseTime(): void {
    if (this.feedMode === 'G93') this.say('G94');
    this.feedMode = '';
  }

  private endPart(): void {
    this.leaveInverseTime();
    this.setCoolant(false);
    this.say('M5');
    if (this.input.job.machine.toolLengths === 'table') this.say('G49');
    this.keeps = false;
    this.sayOwn('end', this.input.runs[Math.max(0, this.run)]);
    this.say(this.manner.end);
    this.frame();
    // In running order, and no two alike where a cutter comes again; by the cutter that has to be in when it starts.
    const tool = this.first?.tool ?? this.tool;
    const suffix = tool ? `${this.parts.length + 1}-T${tool.number}` : '';
    this.parts.push({ suffix, toolNumber: tool?.number ?? 0, cut: this.first?.cut.name ?? '', lines: this.lines });
    this.first = null;
    this.lines = [];
  }

  private startRun(run: number): void {
    const { cut, tool, before, spindleRpm } = this.input.runs[run]!;
    const isOther = this.tool !== null && tool.id !== this.tool.id;
    const isNext = isOther && (this.split === 'tool' || (this.split === 'cut' && this.isOtherCut(run)));
    if (isNext) this.endPart();
    this.run = this.coming = run;
    if (isNext) this.first = null;
    if (isNext) this.startPart();
    this.first ??= this.input.runs[run]!;
    const part = getStages(cut).length > 0 ? `, cutter ${before.length + 1}` : '';
    this.tell(`cut ${run + 1}: ${cut.name}${part}`);
    if (tool.id !== this.tool?.id) this.changeTool(this.input.runs[run]!);
    // A cutter that is dragged wants the spindle still.
    this.say(spindleRpm > 0 ? `S${Math.round(spindleRpm)} M3` : 'M5');
    this.setCoolant(spindleRpm > 0);
  }

  /** A change leaves the control in a known state: units a minute, and Z stated before anything else moves. */
  private changeTool(run: ProgramInput['runs'][number]): void {
    const { machine } = this.input.job;
    const { tool } = run;
    const first = this.tool === null;
    this.leaveInverseTime();
    this.setCoolant(false);
    if (!first) this.say('M5');
    if (this.keeps) this.say('G49');
    this.keeps = false;
    if (machine.ownBlocks.change !== null && (machine.toolChanger || !first)) this.sayOwn('change', run);
    else if (machine.toolChanger) {
      this.say(`T${tool.number} M6`);
      if (machine.toolLengths === 'table' && !this.manner.keepsPoint) this.say(`G43 H${tool.number}`);
    } else if (first) this.tell(`tool ${tool.number} in the spindle`);
    else {
      this.tell(`put in tool ${tool.number}, ${tool.name}, and set Z zero again`);
      this.say('M0');
    }
    this.forgetState();
    this.tool = tool;
  }

  /** The words of block i that changed; they count as written from here on. */
  private takeChanged(i: number): string[] {
    return this.takeWords(this.input.moves.values, this.axisCount * i);
  }

  /** The words of axis values, from a place in them on, that changed. */
  private takeWords(values: Float64Array, from = 0): string[] {
    const { kinematics } = this.input;
    const n = this.axisCount;
    const out: string[] = [];
    for (let k = 0; k < n; k++) {
      const word = formatWord(values[from + k]! * this.perUnit[k]!, this.digits[k]!);
      if (word === this.words[k]) continue;
      this.words[k] = word;
      this.rounded[k] = Number(word);
      out.push(kinematics.axes[k]!.letter + word);
    }
    return out;
  }

  private writeRapid(i: number): void {
    const first = Number.isNaN(this.rounded[2]!);
    if (this.manner.keepsPoint) return this.comeFromTop(this.input.moves.values.subarray(this.axisCount * i, this.axisCount * (i + 1)));
    if (first && this.resumes) return this.comeTo(i);
    let words = this.takeChanged(i);
    if (words.length === 0) return;
    const motion = this.motionWord('G0');
    if (first) {
      // The first approach brings Z up before anything else moves.
      this.say(`G0 ${words.find((w) => w.startsWith('Z'))!}`);
      words = words.filter((w) => !w.startsWith('Z'));
    }
    if (words.length > 0) this.say([...motion, ...words].join(' '));
  }

  /** The first rapid of a program that begins between two strokes: up, across at park height, and only then down to where it hops. */
  private comeTo(i: number): void {
    this.resumes = false;
    this.words[2] = this.parkWord();
    this.rounded[2] = Number(this.words[2]);
    this.say(`G0 Z${this.words[2]}`);
    const words = this.takeChanged(i);
    const across = words.filter((w) => !w.startsWith('Z'));
    this.motion = 'G0';
    if (across.length > 0) this.say(across.join(' '));
    this.say(words.find((w) => w.startsWith('Z')));
  }

  /** @param own Feed where it is not the block's own, in the program's unit a minute. */
  private writeFeed(i: number, own: number | null = null): void {
    const { moves, kinematics, job } = this.input;
    const before = this.rounded.slice();
    const words = this.takeChanged(i);
    if (words.length === 0) return;
    const { feedMode } = job.machine;
    const modes = this.feedMode === feedMode ? [] : [(this.feedMode = feedMode)];
    const timeMin = moves.feedTimeMin[i]!;
    const feed =
      own ??
      // Where the control keeps the tool's point F is the tip's own, and the same all along a stroke.
      (this.manner.keepsPoint ? this.input.laid.feedMmPerMin[moves.move[i]!]! * this.perMm : null) ??
      (feedMode === 'G93'
        ? 1 / timeMin
        : compensateFeed(
            before,
            this.rounded,
            kinematics.axes.map((a) => a.kind === 'rotary'),
            timeMin,
          ));
    const word = `F${formatFeed(feed)}`;
    // A feed holds until it is another, where it is no time.
    const isKept = this.manner.keepsPoint !== undefined && modes.length === 0 && word === this.feedWord;
    this.feedWord = word;
    const goes = this.input.probes && this.input.laid.kind[moves.move[i]!] === MOVE.plunge ? 'G38.2' : 'G1';
    this.say([...modes, ...this.motionWord(goes), ...words, ...(isKept ? [] : [word])].join(' '));
  }

  /** An arc from where the tool stands over as many blocks as lie on it, where X and Y alone move. @returns Whether it was one. */
  private writeArc(i: number): boolean {
    const { moves, laid, kinematics, job } = this.input;
    if (!this.takesArcs || laid.kind[moves.move[i]!] !== MOVE.cut || this.rounded.some(Number.isNaN)) return false;
    const n = kinematics.axes.length;
    const { feedMmPerMin } = laid;
    let end = i - 1;
    const goesOn = (k: number): boolean => {
      const move = moves.move[k]!;
      if (laid.kind[move] !== MOVE.cut || laid.run[move] !== this.run || feedMmPerMin[move] !== feedMmPerMin[moves.move[i]!]) return false;
      for (let a = 2; a < n; a++) if (moves.values[n * k + a] !== moves.values[n * (i - 1) + a]) return false;
      return true;
    };
    while (end + 1 < moves.count && end - i < MOST_ARC_BLOCKS && goesOn(end + 1)) end++;
    const toleranceMm = job.machine.arcMm;
    const way = (k: number): readonly [number, number] => [moves.values[n * k]!, moves.values[n * k + 1]!];
    const arc = fitArc(way, i - 1, end, toleranceMm);
    if (!arc) return false;
    // As it is read: about a centre of so many digits.
    const { perMm } = this;
    const [x0, y0] = [this.rounded[0]!, this.rounded[1]!];
    const digits = getLengthDigits(job.machine);
    const [iWord, jWord] = [formatWord(arc.centre[0] * perMm - x0, digits), formatWord(arc.centre[1] * perMm - y0, digits)];
    const centre = [x0 + Number(iWord), y0 + Number(jWord)] as const;
    const radius = Math.hypot(Number(iWord), Number(jWord));
    const slackMm = toleranceMm + (0.75 * 10 ** -digits) / perMm;
    if (!lies(way, i - 1, arc.last, [centre[0] / perMm, centre[1] / perMm], radius / perMm, arc.clockwise, slackMm)) return false;
    const words = this.takeChanged(arc.last);
    if (words.length === 0) return false;
    let timeMin = 0;
    for (let k = i; k <= arc.last; k++) timeMin += moves.feedTimeMin[k]!;
    const turned = Math.atan2(
      (x0 - centre[0]) * (this.rounded[1]! - centre[1]) - (y0 - centre[1]) * (this.rounded[0]! - centre[0]),
      (x0 - centre[0]) * (this.rounded[0]! - centre[0]) + (y0 - centre[1]) * (this.rounded[1]! - centre[1]),
    );
    const { feedMode } = job.machine;
    const modes = this.feedMode === feedMode ? [] : [(this.feedMode = feedMode)];
    const feed = feedMode === 'G93' ? 1 / timeMin : (radius * Math.abs(turned)) / timeMin;
    const motion = this.motionWord(arc.clockwise ? 'G2' : 'G3');
    this.say([...modes, ...motion, ...words, `I${iWord}`, `J${jWord}`, `F${formatFeed(feed)}`].join(' '));
    this.arcTo = arc.last;
    return true;
  }

  private motionWord(word: string): string[] {
    if (this.motion === word) return [];
    this.motion = word;
    return [word];
  }
}

/**
 * The G94 word under which a block takes a given time: where X, Y or Z moves, F applies to their path alone; where only
 * a rotary moves, F is in degrees/min. Worked out from the rounded words, so that the time holds for the shortest block.
 */
function compensateFeed(before: Float64Array, after: Float64Array, rotary: readonly boolean[], timeMin: number): number {
  let linear = 0;
  let turn = 0;
  after.forEach((v, k) => {
    const d = v - before[k]!;
    if (rotary[k]) turn += d * d;
    else linear += d * d;
  });
  return Math.sqrt(linear > 0 ? linear : turn) / timeMin;
}
