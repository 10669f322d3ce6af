import type { AxisMoves } from '../machine/axisMoves';
import type { LaidPaths } from '../lay/laidPaths';
import type { Kinematics } from '../machine/kinematics';
import type { Cut, Job, Machine, Tool } from '../job/schema';

/** All that a dialect needs to write a program. */
export interface ProgramInput {
  job: Job;
  machine: Machine;
  kinematics: Kinematics;
  laid: LaidPaths;
  moves: AxisMoves;
  cuts: readonly { cut: Cut; tool: Tool; levelsMm: readonly number[] }[];
}

/** NC text with the block that each line stands for. */
export interface Program {
  /** Lines without their ends. */
  lines: string[];
  /** Line (from 0) on which block i of the axis moves is written; a block that changes no word shares the line before it. */
  lineOfBlock: Uint32Array;
}

/** One flavour of word-address code. A new one is one new file and one line in the registry. */
export interface Dialect {
  id: string;
  write(input: ProgramInput): Program;
}
