import type { Steps } from '../base/steps';
import type { Run } from '../pipeline/setup';
import type { Job, Machine } from '../job/schema';
import type { LaidPaths } from '../lay/laidPaths';
import type { AxisMoves } from '../machine/axisMoves';
import type { Kinematics } from '../machine/kinematics';

/** All that a dialect needs to write a program. */
export interface ProgramInput {
  job: Job;
  kinematics: Kinematics;
  laid: LaidPaths;
  moves: Pick<AxisMoves, 'count' | 'values' | 'move' | 'feedTimeMin'>;
  /** The runs that `laid.run` counts. */
  runs: readonly Pick<Run, 'cut' | 'tool' | 'before' | 'spindleRpm'>[];
  /** Whether what would go into the work at plunge feed touches it with a probe instead (G38.2). */
  probes?: boolean;
  /** Whether its head is stamped when it was read back. */
  isStamped?: boolean;
}

/** How a program is divided into files: one for everything, or one for each cutter in the spindle or each cut. */
export type ProgramSplit = 'none' | 'tool' | 'cut';

/** How a machine wants its programs divided. */
export const getSplit = ({ files }: Pick<Machine, 'files'>): ProgramSplit =>
  (({ one: 'none', 'per-cutter': 'tool', 'per-cut': 'cut' }) as const)[files];

/** One file of a program. */
export interface ProgramPart {
  /** Its part of a file name; '' if it is the only file. */
  suffix: string;
  /** Number of its first cutter, and name of its first cut. */
  toolNumber: number;
  cut: string;
  /** Lines without their ends. */
  lines: string[];
}

/** NC text with the block that each line stands for. */
export interface Program {
  parts: ProgramPart[];
  /** Part and line (both from 0) on which block i of the axis moves is written; a block that changes no word shares the line before it. */
  partOfBlock: Uint16Array;
  lineOfBlock: Uint32Array;
}

/** What an interpreter has to know of a dialect to read it, from the dialect's published description. */
export interface ReadingRules {
  /** Modal group by word: two words of one group may not stand in one block; a word that is missing here is unknown. */
  groups: Readonly<Record<string, string>>;
  /** Patterns of what is no code: comments. */
  comments: readonly RegExp[];
  /** Lines that stand outside the program. */
  frame: readonly string[];
  /** Word by which the control keeps the tool's point; left out where it has none. */
  keepsPoint?: string;
  /** Most characters that a line may have; left out where any number is taken. */
  longestLine?: number;
}

/** How a dialect says what every program says. Words it has not got are null, and it says in `cannot` when they would be needed. */
export interface Manner {
  /** First and last line of the text, outside the program. */
  frame: string | null;
  /** A line for people. */
  comment: ((...words: readonly string[]) => string) | null;
  /** Blocks that put the control into a known state. */
  opening(unit: Machine['programUnit']): string[];
  /** By how much corners may be rounded, in the program's unit. */
  corner: ((tolerance: number, digits: number) => string) | null;
  dwell: ((seconds: number) => string) | null;
  end: string;
  /** Whether it takes G2 and G3. */
  arcs: boolean;
  /** Whether every block has a number. */
  numbered: boolean;
  /** Whether words are parted by spaces. */
  spaced: boolean;
  /** Word by which the control keeps the tool's point, with an entry of its table of lengths; left out where the words are the axes'. */
  keepsPoint?: string;
}

/** One flavour of word-address code. A new one is one new file and one line in the registry. */
export interface Dialect {
  /** For people. */
  name: string;
  /** What the job needs said and the dialect has no words for; nothing where it can write all of it. */
  cannot(job: Pick<Job, 'machine' | 'cuts'>): string[];
  /** @param fromBlock, toBlock Where it begins and ends: a rapid to a stroke; left out for all of it. Yields the share that is written. */
  write(input: ProgramInput, split: ProgramSplit, fromBlock?: number, toBlock?: number): Steps<number, Program>;
  rules: ReadingRules;
}

/** Whether a dialect has words for how far corners may be rounded. */
export const saysCorners = ({ rules }: Pick<Dialect, 'rules'>): boolean => Object.values(rules.groups).includes('path control');

/** What the file of one part is called. @param stem Without extension. */
export const toPartName = (part: Pick<ProgramPart, 'suffix'>, stem: string): string => `${stem}${part.suffix && `-${part.suffix}`}.nc`;

/** The text of one part, as it goes into a file. */
export const toPartText = (part: ProgramPart): string => `${part.lines.join('\n')}\n`;
