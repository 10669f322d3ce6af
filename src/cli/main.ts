import { toLocalDay } from '../core/base/today';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Command } from 'commander';
import { toPathLines, toReport } from '../core/export/report';
import { toUnrolledSvg } from '../core/export/unrolledSvg';
import { FINDING_CODES } from '../core/findings/finding';
import { parseJobText, toJobJsonSchema } from '../core/job/parse';
import { createLetterer } from '../core/pipeline/lettering';
import { createPlanner } from '../core/pipeline/plan';
import { createSetup } from '../core/pipeline/setup';
import { runSteps } from '../core/base/steps';
import { toPartName, toPartText } from '../core/program/dialect';
import { computeProof } from '../core/proof/proof';
import { getResourcesDir, loadEngines } from '../server/resources/engines';
import { loadFileShapes } from '../server/resources/shapes';
import { createFileLibrary } from '../server/resources/fonts';

const EXIT_INVALID = 2;
const EXIT_SPOILS = 3;

/** Makes a folder and those above it, one by one: Node's own way spins for ever on a file system that takes none. */
async function makeFolder(folder: string): Promise<void> {
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

const program = new Command('hobel').description('Plans engraving jobs and writes their programs.');
const collect = (value: string, list: string[]): string[] => [...list, value];
const complain = (line: string): void => void process.stderr.write(`${line}\n`);

program
  .command('plan')
  .argument('<job>', 'job file')
  .requiredOption('--out <dir>', 'folder for program.nc, unrolled.svg and report.json')
  .option('--paths', 'also write paths.ndjson')
  .option('--accept <code>', 'go on in spite of a finding of this code; may be repeated', collect, [])
  .action(async (file: string, options: { out: string; paths?: boolean; accept: string[] }) => {
    let text: string;
    try {
      text = await readFile(file, 'utf8');
    } catch (error) {
      complain(`${file}: ${(error as Error).message}`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    const parsed = parseJobText(text);
    if (!parsed.ok) {
      for (const problem of parsed.error.problems) complain(`${problem.path}: ${problem.text}`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    const unknown = options.accept.filter((code) => !(FINDING_CODES as string[]).includes(code));
    if (unknown.length) {
      complain(`--accept: there is no finding ${unknown.join(', ')}; there is ${FINDING_CODES.join(', ')}`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    const job = parsed.value;
    const engines = await loadEngines();
    const baseDir = path.dirname(path.resolve(file));
    const shapes = await loadFileShapes(job, baseDir, complain);
    const lettering = createLetterer(createFileLibrary(engines, baseDir), () => toLocalDay(new Date()), shapes).compute(job);
    const setup = createSetup(job, shapes);
    const plan = runSteps(createPlanner(engines.voronoi).plan(setup, lettering));
    const proof = runSteps(computeProof(setup, lettering, plan));
    const report = toReport(setup, lettering, plan, proof);
    await makeFolder(path.resolve(options.out));
    const out = (name: string) => path.join(options.out, name);
    const spoiling = report.findings.filter((f) => f.severity === 'spoils' && !options.accept.includes(f.code));
    await writeFile(out('report.json'), `${JSON.stringify(report, null, 2)}\n`);
    await writeFile(out('unrolled.svg'), toUnrolledSvg(setup, lettering, plan));
    // A program that would spoil the piece is held back, and one from an earlier run must not pass for it.
    for (const part of plan.program.parts) {
      const name = out(toPartName(part, 'program'));
      if (spoiling.length) await rm(name, { force: true });
      else await writeFile(name, toPartText(part));
    }
    if (options.paths) {
      const stream = createWriteStream(out('paths.ndjson'));
      for (const line of toPathLines(setup, plan)) stream.write(`${line}\n`);
      await new Promise((resolve) => stream.end(resolve));
    }
    for (const finding of report.findings) complain(`${finding.severity} ${finding.code}: ${finding.text}. ${finding.remedy}.`);
    if (spoiling.length) {
      complain(
        `${spoiling.length} finding${spoiling.length > 1 ? 's' : ''} would spoil the piece, so program.nc was not written: mend the job, or pass --accept CODE`,
      );
      process.exitCode = EXIT_SPOILS;
    }
  });

program
  .command('schema')
  .description('print the JSON Schema of a job')
  .action(() => {
    process.stdout.write(`${JSON.stringify(toJobJsonSchema(), null, 2)}\n`);
  });

program
  .command('example')
  .argument('[name]', 'name of a demo job')
  .description('list the demo jobs, or print one')
  .action(async (name?: string) => {
    const dir = path.join(getResourcesDir(), 'jobs');
    const names = (await readdir(dir)).filter((f) => f.endsWith('.json')).map((f) => f.slice(0, -5));
    if (!name) process.stdout.write(`${names.join('\n')}\n`);
    else if (names.includes(name)) process.stdout.write(await readFile(path.join(dir, `${name}.json`), 'utf8'));
    else {
      complain(`no demo job "${name}": there is ${names.join(', ')}`);
      process.exitCode = EXIT_INVALID;
    }
  });

// A folder that cannot be written, a full disk: said in a line. Anything else is a defect and keeps its trace.
try {
  await program.parseAsync();
} catch (error) {
  const { code, message } = error as NodeJS.ErrnoException;
  if (!code) throw error;
  complain(message);
  process.exitCode = 1;
}
