import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { readMachineFile } from '../core/job/machineFile';
import { STARTER_MACHINES } from '../core/job/starterMachines';
import { machineSchema, type Job } from '../core/job/schema';
import type { Setup } from '../core/pipeline/setup';
import { findStrokeStart } from '../core/program/beginHere';
import { toPartName, type Program, type ProgramInput } from '../core/program/dialect';
import { toDryRun } from '../core/program/dryRun';
import { DIALECTS } from '../core/program/registry';
import { beginProven } from '../core/proof/begin';
import { proveDryRun } from '../core/proof/dryRun';
import { toPartTexts } from '../core/proof/readBack';

export const EXIT_INVALID = 2;

export const complain = (line: string): void => void process.stderr.write(`${line}\n`);

/** A machine that ships, by its id, or one from a file, as JSON; what is wrong with it is said, and null returned. */
export async function readMachine(file: string): Promise<Job['machine'] | null> {
  const starter = STARTER_MACHINES.find((m) => m.id === file);
  if (starter) return starter;
  try {
    const read = readMachineFile(await readFile(file, 'utf8'));
    if (read.ok) return read.value;
    for (const line of read.error.lines) complain(`${file}: ${line}`);
  } catch (error) {
    const why = (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'is no file, and no machine that ships' : (error as Error).message;
    complain(`--machine: ${file} ${why}; of those that ship there is ${STARTER_MACHINES.map((m) => m.id).join(', ')}`);
  }
  process.exitCode = EXIT_INVALID;
  return null;
}

/** The job on another machine; null where that is none, which is said. */
export function readWith(job: Job, machine: Record<string, unknown>): Job | null {
  const parsed = machineSchema.safeParse(machine);
  if (parsed.success) return { ...job, machine: parsed.data };
  const dialect = parsed.error.issues.some(({ path: at }) => at[0] === 'dialect');
  complain(dialect ? `--dialect: there is ${Object.keys(DIALECTS).join(', ')}` : parsed.error.issues[0]!.message);
  process.exitCode = EXIT_INVALID;
  return null;
}

/** Writes the dry run of a program beside it, if it stays off the blank and within the machine; says why not. */
export async function writeDryRuns(setup: Setup, written: Program, liftMm: number, folder: string): Promise<void> {
  const refuse = (why: string): void => {
    complain(`--dry: ${why}`);
    process.exitCode = EXIT_INVALID;
  };
  if (!(liftMm > 0)) return refuse('give a height in mm, more than 0');
  const texts = toDryRun(toPartTexts(written), setup.job, liftMm);
  const { leastMm, beyond, still, faults } = proveDryRun(setup, texts);
  if (!(leastMm > 0)) return refuse(`lifted by ${liftMm} mm it would come ${(-leastMm).toFixed(3)} mm into the blank: lift it more`);
  if (beyond[0]) return refuse(`lifted by ${liftMm} mm it would be more than the machine can do: ${beyond[0].text}`);
  if (!still) return refuse('a block of the machine’s own starts the spindle: take that out of it');
  if (faults > 0) return refuse('it does not read back: report this');
  for (const [k, part] of written.parts.entries()) await writeFile(path.join(folder, toPartName(part, 'program-dry')), texts[k]!);
}

/** What the rest of a file is called. @param place As `beginAt` has it. */
export const toBegunStem = (place: string): string => {
  const [line, file] = place.split(':').reverse();
  return `program${file ? `-${file}` : ''}-from-line-${line}`;
};

/**
 * The rest of a file from the stroke on that stands on a line of it; null where there is none or it does not read back, as is said.
 * @param place The line, from 1, or where there are several files the file and the line: 2:120.
 */
export function beginAt(setup: Setup, plan: Pick<ProgramInput, 'laid' | 'moves'>, whole: Program, place: string): Program | null {
  const refuse = (why: string): null => {
    complain(`--from: ${why}`);
    process.exitCode = EXIT_INVALID;
    return null;
  };
  const [, file = '1', digits = ''] = /^(?:(\d+):)?(\d+)$/.exec(place) ?? [];
  const { parts, partOfBlock, lineOfBlock } = whole;
  if (parts.length > 1 && !place.includes(':'))
    return refuse(`the program has ${parts.length} files: say which, and the line of it, as 2:120`);
  const part = Number(file) - 1,
    line = Number(digits);
  if (!parts[part]) return refuse(`there is no file ${file}; there ${parts.length === 1 ? 'is 1' : `are ${parts.length}`}`);
  const block = lineOfBlock.findIndex((l, i) => partOfBlock[i] === part && l + 1 >= line);
  const from = block < 0 || !(line >= 1) ? 0 : findStrokeStart(plan, block);
  if (from === 0 || partOfBlock[from] !== part || partOfBlock[from - 1] !== part)
    return refuse(`give a line of the program after its first stroke, up to ${parts[part].lines.length}`);
  return beginProven(setup, plan, whole, from) ?? refuse('begun there it does not read back as the whole program does: report this');
}
