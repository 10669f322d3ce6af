import type { Steps } from '../base/steps';
import { getDwellS, getStages } from '../job/cutSchema';
import type { Placeholder } from '../job/machineSchema';
import type { Tool } from '../job/toolSchema';
import { isArrival, isFeedMove, MOVE } from '../lay/laidPaths';
import { getStance } from '../machine/registry';
import { levelOf, upInto } from '../machine/stance';
import { findArc } from './arcWords';
import { AxisWords } from './axisWords';
import type { Manner, Program, ProgramInput, ProgramPart, ProgramSplit } from './dialect';
import { compensateArcFeed, compensateFeed } from './feedWord';
import { fillOwnBlock, toOwnName, type OwnBlock } from './ownBlocks';
import { tellHead } from './programHead';
import { ProgramText } from './programText';
import { getLengthDigits, getUnitMm } from './units';
import { formatFeed, formatWord } from './words';

/** Blocks written between two reports. */
const BLOCKS_A_STEP = 4000;

/**
 * Writes a program in a dialect's manner.
 * @param fromBlock Where it begins: a rapid to a stroke. What comes before is taken to be cut. Yields the share that is written. O(blocks).
 * @param toBlock Where it ends, at park height: a block with which a stroke begins, or the end.
 */
export function* writeProgram(
  manner: Manner,
  input: ProgramInput,
  split: ProgramSplit,
  fromBlock = 0,
  toBlock = input.moves.count,
): Steps<number, Program> {
  const writer = new ProgramWriter(manner, input, split, fromBlock);
  for (let i = fromBlock; i < toBlock; i++) {
    writer.writeBlock(i);
    if (i % BLOCKS_A_STEP === 0) yield i / toBlock;
  }
  return writer.finish(toBlock);
}

/** Lines that are kept for what ends a file. */
const END_LINES = 30;

/** Whether a block is the first of its move. */
const isFirstOf = ({ move }: ProgramInput['moves'], block: number): boolean => block === 0 || move[block] !== move[block - 1];

/** Writes block by block, leaving out words that did not change. */
class ProgramWriter {
  private readonly parts: ProgramPart[] = [];
  private readonly text: ProgramText;
  private readonly words: AxisWords;
  private readonly partOfBlock: Uint16Array;
  private readonly lineOfBlock: Uint32Array;
  private readonly perMm: number;
  private feedMode = '';
  /** The feed word written last. */
  private feedWord = '';
  private motion = '';
  private run = -1;
  /** The last block that stands on the arc written last. */
  private arcTo = -1;
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
    this.text = new ProgramText(manner, job.machine.longestLine);
    this.words = new AxisWords(kinematics, job.machine);
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
    this.lineOfBlock[i] = this.text.count - 1;
    const dwellS = laid.kind[move] === MOVE.plunge && moves.move[i + 1] !== move ? getDwellS(this.input.runs[this.run]!.cut) : 0;
    if (dwellS > 0) this.text.say(this.manner.dwell?.(dwellS));
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
    if (this.keeps) this.text.say('G49');
    this.text.say('G53 G0 Z0.');
    this.forgetState();
    const words = this.words.take(values);
    const isTurning = (word: string): boolean => 'ABC'.includes(word[0]!);
    this.text.say(`G0 ${words.filter(isTurning).join(' ')}`);
    if (job.machine.toolLengths === 'table') this.text.say(`${this.manner.keepsPoint} H${this.tool!.number}`);
    this.keeps = true;
    this.text.say(`G0 ${words.filter((w) => !isTurning(w)).join(' ')}`);
    this.motion = 'G0';
  }

  /** @param toBlock The block that is not written any more. */
  finish(toBlock: number): Program {
    if (toBlock < this.input.moves.count) this.goUp(toBlock);
    this.endPart();
    this.partOfBlock.fill(this.parts.length, toBlock);
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
    return this.text.count + (end - i) + END_LINES > mostLines && this.hasCut;
  }

  /** Ends the file between two strokes, at park height, and goes on in another with the same cutter. */
  private goOnInAnother(block: number): void {
    this.goUp(block);
    this.endPart();
    this.coming = this.runOf(block);
    this.startPart();
    this.run = -1;
    this.resumes = true;
  }

  /** Up to park height from the last block before one. */
  private goUp(block: number): void {
    this.leaveInverseTime();
    if (!this.manner.keepsPoint) {
      this.text.say(`G0 Z${this.parkWord()}`);
      return;
    }
    const words = this.words.take(this.raise(block - 1));
    if (words.length > 0) this.text.say(['G1', ...words, `F${formatFeed(this.airFeed)}`].join(' '));
    this.feedWord = '';
  }

  private parkWord(): string {
    const { moves, job } = this.input;
    return formatWord(moves.values[2]! * this.perMm, getLengthDigits(job.machine));
  }

  private startPart(): void {
    const { machine } = this.input.job;
    this.hasCut = false;
    this.text.frame();
    tellHead(this.text, this.input);
    this.text.say(...this.manner.opening(machine.programUnit));
    // As the times were worked out: corners rounded by no more than this, or run out.
    this.text.say(this.manner.corner?.(machine.cornerToleranceMm * this.perMm, getLengthDigits(machine)));
    this.sayOwn('start', this.input.runs[this.coming]);
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
    this.text.say(...lines);
    if (lines.length > 0) this.feedMode = '';
  }

  private setCoolant(on: boolean): void {
    const { coolant } = this.input.job.machine;
    if (coolant === 'none' || on === this.isWet) return;
    this.isWet = on;
    this.text.say(!on ? 'M9' : coolant === 'mist' ? 'M7' : 'M8');
  }

  /** Where the machine stands is not known, at the start or after a change by hand: every axis is stated again, Z first. */
  private forgetState(): void {
    this.feedWord = '';
    this.words.forget();
    this.motion = '';
  }

  private leaveInverseTime(): void {
    if (this.feedMode === 'G93') this.text.say('G94');
    this.feedMode = '';
  }

  private endPart(): void {
    this.leaveInverseTime();
    this.setCoolant(false);
    this.text.say('M5');
    if (this.input.job.machine.toolLengths === 'table') this.text.say('G49');
    this.keeps = false;
    this.sayOwn('end', this.input.runs[Math.max(0, this.run)]);
    this.text.say(this.manner.end);
    this.text.frame();
    // In running order, and no two alike where a cutter comes again; by the cutter that has to be in when it starts.
    const tool = this.first?.tool ?? this.tool;
    const suffix = tool ? `${this.parts.length + 1}-T${tool.number}` : '';
    this.parts.push({ suffix, toolNumber: tool?.number ?? 0, cut: this.first?.cut.name ?? '', lines: this.text.take() });
    this.first = null;
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
    this.text.tell(`cut ${run + 1}: ${cut.name}${part}`);
    if (tool.id !== this.tool?.id) this.changeTool(this.input.runs[run]!);
    // A cutter that is dragged wants the spindle still.
    this.text.say(spindleRpm > 0 ? `S${Math.round(spindleRpm)} M3` : 'M5');
    this.setCoolant(spindleRpm > 0);
  }

  /** A change leaves the control in a known state: units a minute, and Z stated before anything else moves. */
  private changeTool(run: ProgramInput['runs'][number]): void {
    const { machine } = this.input.job;
    const { tool } = run;
    const first = this.tool === null;
    this.leaveInverseTime();
    this.setCoolant(false);
    if (!first) this.text.say('M5');
    if (this.keeps) this.text.say('G49');
    this.keeps = false;
    const callsLength = machine.toolLengths === 'table';
    if (machine.ownBlocks.change !== null && (machine.toolChanger || !first)) this.sayOwn('change', run);
    else {
      if (machine.toolChanger) this.text.say(`T${tool.number} M6`);
      else if (first) this.text.tell(`tool ${tool.number} in the spindle`);
      else {
        this.text.tell(`put in tool ${tool.number}, ${tool.name}${callsLength ? '' : ', and set Z zero again'}`);
        // Where nothing can be told, the cutter's number stands in the block itself.
        this.text.say(this.manner.comment === null ? `T${tool.number} M0` : 'M0');
      }
      if (callsLength && !this.manner.keepsPoint) this.text.say(`G43 H${tool.number}`);
    }
    this.forgetState();
    this.tool = tool;
  }

  /** The words of block i that changed; they count as written from here on. */
  private takeChanged(i: number): string[] {
    return this.words.take(this.input.moves.values, this.axisCount * i);
  }

  private writeRapid(i: number): void {
    const first = Number.isNaN(this.words.rounded[2]!);
    if (this.manner.keepsPoint) return this.comeFromTop(this.input.moves.values.subarray(this.axisCount * i, this.axisCount * (i + 1)));
    if (first && this.resumes) return this.comeTo(i);
    let words = this.takeChanged(i);
    if (words.length === 0) return;
    const motion = this.motionWord('G0');
    if (first) {
      // The first approach brings Z up before anything else moves.
      this.text.say(`G0 ${words.find((w) => w.startsWith('Z'))!}`);
      words = words.filter((w) => !w.startsWith('Z'));
    }
    if (words.length > 0) this.text.say([...motion, ...words].join(' '));
  }

  /** The first rapid of a program that begins between two strokes: up, across at park height, and only then down to where it hops. */
  private comeTo(i: number): void {
    this.resumes = false;
    const park = this.parkWord();
    this.words.state(2, park);
    this.text.say(`G0 Z${park}`);
    const words = this.takeChanged(i);
    const across = words.filter((w) => !w.startsWith('Z'));
    this.motion = 'G0';
    if (across.length > 0) this.text.say(across.join(' '));
    this.text.say(words.find((w) => w.startsWith('Z')));
  }

  /** @param own Feed where it is not the block's own, in the program's unit a minute. */
  private writeFeed(i: number, own: number | null = null): void {
    const { moves, job } = this.input;
    const { rounded, isRotary } = this.words;
    const before = rounded.slice();
    const words = this.takeChanged(i);
    if (words.length === 0) return;
    const { feedMode } = job.machine;
    const modes = this.feedMode === feedMode ? [] : [(this.feedMode = feedMode)];
    const timeMin = moves.feedTimeMin[i]!;
    const feed =
      own ??
      // Where the control keeps the tool's point F is the tip's own, and the same all along a stroke.
      (this.manner.keepsPoint ? this.input.laid.feedMmPerMin[moves.move[i]!]! * this.perMm : null) ??
      (feedMode === 'G93' ? 1 / timeMin : compensateFeed(before, rounded, isRotary, timeMin));
    const word = `F${formatFeed(feed)}`;
    // A feed holds until it is another, where it is no time.
    const isKept = this.manner.keepsPoint !== undefined && modes.length === 0 && word === this.feedWord;
    this.feedWord = word;
    const goes = this.input.probes && this.input.laid.kind[moves.move[i]!] === MOVE.plunge ? 'G38.2' : 'G1';
    this.text.say([...modes, ...this.motionWord(goes), ...words, ...(isKept ? [] : [word])].join(' '));
  }

  /** @returns Whether an arc begins with block i, which is written. */
  private writeArc(i: number): boolean {
    if (!this.takesArcs) return false;
    const { rounded } = this.words;
    const arc = findArc(this.input, i, this.words);
    if (!arc) return false;
    const before = [rounded[0]!, rounded[1]!];
    const words = this.takeChanged(arc.last);
    if (words.length === 0) return false;
    const { feedMode } = this.input.job.machine;
    const modes = this.feedMode === feedMode ? [] : [(this.feedMode = feedMode)];
    const feed = feedMode === 'G93' ? 1 / arc.timeMin : compensateArcFeed(before, rounded, arc.centre, arc.timeMin);
    const motion = this.motionWord(arc.clockwise ? 'G2' : 'G3');
    const [iWord, jWord] = arc.centreWords;
    this.text.say([...modes, ...motion, ...words, `I${iWord}`, `J${jWord}`, `F${formatFeed(feed)}`].join(' '));
    this.arcTo = arc.last;
    return true;
  }

  private motionWord(word: string): string[] {
    if (this.motion === word) return [];
    this.motion = word;
    return [word];
  }
}
