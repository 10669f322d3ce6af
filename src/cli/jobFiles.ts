import { mkdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { runSteps } from '../core/base/steps';
import { toLocalDay } from '../core/base/today';
import { parseJobText } from '../core/job/parse';
import type { Job } from '../core/job/schema';
import { createLetterer, type Lettering } from '../core/pipeline/lettering';
import { createPlanner, type Plan } from '../core/pipeline/plan';
import { createSetup, type Setup } from '../core/pipeline/setup';
import { loadEngines } from '../server/resources/engines';
import { createFileLibrary } from '../server/resources/fonts';
import { loadFileShapes } from '../server/resources/shapes';
import { complain, EXIT_INVALID } from './posting';

/** Makes a folder and those above it, one by one: Node's own way spins for ever on a file system that takes none. */
export async function makeFolder(folder: string): Promise<void> {
  try {
    await mkdir(folder);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const parent = path.dirname(folder);
    if (code === 'EEXIST' && (await stat(folder)).isDirectory()) return;
    if (
      code !== 'ENOENT' ||
      parent === folder ||
      (await stat(parent).then(
        (s) => s.isDirectory(),
        () => false,
      ))
    )
      throw error;
    await makeFolder(parent);
    await mkdir(folder);
  }
}

/** Reads and checks a job file; what is wrong with it is said, and null returned. */
export async function readJob(file: string): Promise<Job | null> {
  let text: string;
  try {
    text = await readFile(file, 'utf8');
  } catch (error) {
    const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
    complain(`${file}: ${missing ? 'there is no such file' : (error as Error).message}`);
    process.exitCode = EXIT_INVALID;
    return null;
  }
  const parsed = parseJobText(text);
  if (parsed.ok) return parsed.value;
  for (const problem of parsed.error.problems) complain(`${problem.path}: ${problem.text}`);
  process.exitCode = EXIT_INVALID;
  return null;
}

/** Letters and plans a job; fonts and shapes that it names by file lie beside it. */
export async function planFile(job: Job, file: string): Promise<{ setup: Setup; lettering: Lettering; plan: Plan }> {
  const engines = await loadEngines();
  const baseDir = path.dirname(path.resolve(file));
  const shapes = await loadFileShapes(job, baseDir, complain);
  const lettering = createLetterer(createFileLibrary(engines, baseDir), () => toLocalDay(new Date()), shapes).compute(job);
  const setup = createSetup(job, shapes);
  return { setup, lettering, plan: runSteps(createPlanner(engines.voronoi).plan(setup, lettering)) };
}

/** The job with a trial in place of its cuts; null where it has none of that id, which is said. */
export function chooseTrial(job: Job, id: string | undefined): Job | null {
  if (id === undefined) return job;
  const trial = job.trials.find((t) => t.id === id);
  if (trial) return { ...job, cuts: trial.cuts };
  const there = job.trials.length > 0 ? `there is ${job.trials.map((t) => t.id).join(', ')}` : 'it has none';
  complain(`--trial: the job has no trial ${id}; ${there}`);
  process.exitCode = EXIT_INVALID;
  return null;
}

/** Which cut each line of a plan's program belongs to. */
export function createCutNamer({ runs }: Setup, { program, laid, moves }: Plan): (part: number, line: number) => string | undefined {
  const names = new Map<number, string>();
  const key = (part: number, line: number): number => part * 2 ** 32 + line;
  for (let i = 0; i < moves.count; i++) {
    const run = runs[laid.run[moves.move[i]!]!];
    if (run) names.set(key(program.partOfBlock[i]!, program.lineOfBlock[i]!), run.cut.name);
  }
  return (part, line) => names.get(key(part, line));
}
