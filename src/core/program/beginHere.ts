import { runSteps } from '../base/steps';
import { isArrival } from '../lay/laidPaths';
import type { Program, ProgramInput } from './dialect';
import { DIALECTS } from './registry';

/** The block with which the tool comes to the stroke that a block belongs to: its rapid across. O(blocks of the stroke). */
export function findStrokeStart({ laid, moves }: Pick<ProgramInput, 'laid' | 'moves'>, block: number): number {
  let i = Math.min(block, moves.count - 1);
  const isStart = (k: number): boolean => {
    const kind = laid.kind[moves.move[k]!];
    return isArrival(kind!) && (k === 0 || moves.move[k] !== moves.move[k - 1]);
  };
  while (i > 0 && !isStart(i)) i--;
  return Math.max(0, i);
}

/**
 * A file from a stroke on to its end: what it says at its start, then up to park height, across, down to where it hops, and on as before.
 * What comes before the stroke is taken to be cut; files after it stay as they are.
 * @param whole The program that it is of. @param fromBlock As `findStrokeStart` has it.
 */
export function writeFrom(input: ProgramInput, { partOfBlock }: Pick<Program, 'partOfBlock'>, fromBlock: number): Program {
  const { job, moves } = input;
  let toBlock = fromBlock;
  while (toBlock < moves.count && partOfBlock[toBlock] === partOfBlock[fromBlock]) toBlock++;
  // What is left of a file is no longer than it was.
  const machine = { ...job.machine, mostLines: 0 };
  const own = { ...input, job: { ...job, machine }, isStamped: false };
  return runSteps(DIALECTS[machine.dialect].write(own, 'none', fromBlock, toBlock));
}
