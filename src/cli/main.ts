import { toLocalDay } from '../core/base/today';
import { createWriteStream } from 'node:fs';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Command, Option } from 'commander';
import { getLetteringBox, toPathLines, toReport } from '../core/export/report';
import { toUnrolledSvg } from '../core/export/unrolledSvg';
import { toDepthMap } from '../core/export/depthMap';
import { toDepthPng } from '../core/export/depthPng';
import { createPatchSolid, createPlug, toStl } from '../core/export/patchSolid';
import { toReliefPng } from '../core/export/reliefPicture';
import { carveBlank } from '../core/export/wholeSolid';
import { createSolid } from '../core/surface/solid';
import { toProofReport } from '../core/export/proofReport';
import { FINDING_CODES, hasSpoiling } from '../core/findings/finding';
import { getZeroPlace } from '../core/job/zero';
import { toPaperWrap } from '../core/export/paperWrap';
import { toSetupDrawing } from '../core/export/setupDrawing';
import { toSetupSheet } from '../core/export/setupSheet';
import { toJobJsonSchema } from '../core/job/parse';
import { createLetterer } from '../core/pipeline/lettering';
import { createPlanner } from '../core/pipeline/plan';
import { createSetup, listToolsByHand } from '../core/pipeline/setup';
import { runSteps } from '../core/base/steps';
import { getSplit, toPartName, toPartText, type ProgramInput, type ProgramSplit } from '../core/program/dialect';
import { readForeign } from '../core/program/foreign';
import { readCrib } from '../core/crib/exchange';
import { STARTER_TOOLS } from '../core/crib/starterTools';
import { measureLettering, mergeTools, suggestCuts, takeBest, withoutOutlines, withSuggestion } from '../core/suggest/suggest';
import { readProgram } from '../core/program/interpreter';
import { DIALECTS } from '../core/program/registry';
import { computeProof } from '../core/proof/proof';
import { stampProven } from '../core/proof/stamp';
import { proveWhole } from '../core/proof/whole';
import { toPartTexts } from '../core/proof/readBack';
import { proveField, type FieldProof } from '../core/removal/proveField';
import { getResourcesDir, loadEngines } from '../server/resources/engines';
import { loadSolidKit } from '../server/resources/solids';
import { loadFileShapes } from '../server/resources/shapes';
import { hashJob } from '../core/job/jobHash';
import { DEFAULT_RUNNER_PORT } from '../core/runner/protocol';
import { startRunner } from './runner';
import { chooseTrial, createCutNamer, makeFolder, planFile, readJob } from './jobFiles';
import { probeBlank, type ProbeOptions } from './probing';
import { PROBE_DEFAULTS } from '../core/probe/probeProgram';
import { beginAt, complain, EXIT_INVALID, readMachine, readWith, toBegunStem, writeDryRuns } from './posting';
import { renderPaperWrap, renderSetupSheet } from '../server/resources/setupPdf';
import { createFileLibrary } from '../server/resources/fonts';

const EXIT_SPOILS = 3;
/** How far the skin of a solid may lie off the cells it is made of, mm. */
const STL_TOLERANCE_MM = 0.02;
/** Faults of a program said one by one. */
const MAX_FAULTS_SAID = 20;

const program = new Command('hobel').description('Plans engraving jobs and writes their programs.');
const collect = (value: string, list: string[]): string[] => [...list, value];

/** Cells of the piece's picture on the set-up sheet, and its longest side. */
const [SHEET_CELL_MM, SHEET_PICTURE_PX] = [0.12, 700];

program
  .command('plan')
  .argument('<job>', 'job file')
  .requiredOption('--out <dir>', 'folder for program.nc, unrolled.svg and report.json')
  .option('--paths', 'also write paths.ndjson')
  .option('--trial <id>', 'plan a trial of the job in place of its cuts')
  .option('--accept <code>', 'go on in spite of a finding of this code; may be repeated', collect, [])
  .action(async (file: string, options: { out: string; paths?: boolean; trial?: string; accept: string[] }) => {
    const read = await readJob(file);
    const job = read && chooseTrial(read, options.trial);
    if (!job) return;
    const unknown = options.accept.filter((code) => !(FINDING_CODES as string[]).includes(code));
    if (unknown.length) {
      complain(`--accept: there is no finding ${unknown.join(', ')}; there is ${FINDING_CODES.join(', ')}`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    const { setup, lettering, plan } = await planFile(job, file);
    const { proof, findings } = runSteps(proveWhole(setup, lettering, plan));
    stampProven(setup, plan, proof);
    const report = toReport(setup, lettering, plan, proof, findings);
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
  .command('suggest')
  .description('plan sets of cuts for the lettering of a job from the starter crib and its own cutters')
  .argument('<job>', 'job file')
  .requiredOption('--out <dir>', 'folder for suggest.json and job.json')
  .option('--crib <file>', 'cutters to choose from, CSV or JSON, in place of the starter crib')
  .action(async (file: string, options: { out: string; crib?: string }) => {
    const job = await readJob(file);
    if (!job) return;
    const crib = options.crib ? readCrib(await readFile(options.crib, 'utf8')) : { tools: STARTER_TOOLS, refused: [] };
    for (const line of crib.refused) complain(`${options.crib}: ${line}`);
    if (crib.tools.length === 0) {
      process.exitCode = EXIT_INVALID;
      return;
    }
    const engines = await loadEngines();
    const baseDir = path.dirname(path.resolve(file));
    const shapes = await loadFileShapes(job, baseDir, complain);
    const lettering = createLetterer(createFileLibrary(engines, baseDir), () => toLocalDay(new Date()), shapes).compute(job);
    const { surface } = createSetup(job, shapes);
    const cutters = mergeTools(job.tools, crib.tools);
    const strokes = measureLettering(withoutOutlines(job, lettering), engines.voronoi);
    const steps = suggestCuts(job, lettering, surface, cutters, strokes, createPlanner(engines.voronoi), () => performance.now());
    const found = runSteps(steps);
    const best = takeBest(found, strokes.areaMm2, job);
    await makeFolder(path.resolve(options.out));
    const out = (name: string) => path.join(options.out, name);
    const list = found.map(({ name, cuts, timeS, lines, unreachedMm2, maxOutsideUm, uncut95Um, best: unbeaten, why }) => ({
      ...{ name, cuts, timeS, lines, unreachedMm2, maxOutsideUm, uncut95Um, best: unbeaten, why },
    }));
    await writeFile(out('suggest.json'), `${JSON.stringify(list, null, 2)}\n`);
    if (best) await writeFile(out('job.json'), `${JSON.stringify(withSuggestion(job, best), null, 2)}\n`);
    else await rm(out('job.json'), { force: true });
    for (const s of found) complain(`${s === best ? '*' : ' '} ${(s.timeS / 60).toFixed(1)} min, ${s.lines} lines: ${s.name}`);
    if (!best) complain('no cutter goes into the lettering of this job: there is nothing to suggest');
  });

program
  .command('prove')
  .description('run a program on the blank and measure what it leaves')
  .argument('<job>', 'job file')
  .requiredOption('--out <dir>', 'folder for proof.json and depth.png')
  .option('--cell <mm>', 'size of the cells, mm; chosen by itself if left out')
  .option('--stl', 'also write piece.stl, the engraved blank as a closed solid, and patch.stl, its lettered patch')
  .option('--png', 'also write piece.png, the cut sheet as shaded relief')
  .option('--program <file>', 'program to run instead of the one that the job is planned to')
  .action(async (file: string, options: { out: string; cell?: string; program?: string; stl?: boolean; png?: boolean }) => {
    const job = await readJob(file);
    if (!job) return;
    const cellMm = options.cell === undefined ? null : Number(options.cell);
    if (cellMm !== null && !(cellMm > 0 && cellMm <= 5)) {
      complain(`--cell ${options.cell}: give the size of a cell in mm, more than 0 and at most 5`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    const start = performance.now();
    const { setup, lettering, plan } = await planFile(job, file);
    const { rules } = DIALECTS[job.machine.dialect];
    // Hobel's own text is read by the rules it is written by; one from elsewhere may hold more, and is said where it is not followed.
    const foreign = options.program === undefined ? null : runSteps(readForeign(await readFile(options.program, 'utf8'), rules.keepsPoint));
    for (const note of foreign?.notes ?? []) complain(note);
    const readings = foreign ? [foreign] : toPartTexts(plan.program).map((text) => runSteps(readProgram(text, rules)));
    const faults = readings.flatMap((r) => r.faults);
    for (const fault of faults.slice(0, MAX_FAULTS_SAID)) complain(`line ${fault.line + 1}: ${fault.text}`);
    if (readings.every((r) => r.motions.count === 0)) {
      complain('the program moves nothing, so there is nothing to prove');
      process.exitCode = EXIT_INVALID;
      return;
    }
    let proof: FieldProof;
    try {
      proof = runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), cellMm));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      complain(`--cell: ${error.message}`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    await makeFolder(path.resolve(options.out));
    const map = toDepthMap(proof.removal.field);
    await writeFile(
      path.join(options.out, 'proof.json'),
      `${JSON.stringify(toProofReport(proof, map, performance.now() - start, options.program === undefined ? createCutNamer(setup, plan) : undefined), null, 2)}\n`,
    );
    if (map) await writeFile(path.join(options.out, 'depth.png'), toDepthPng(map));
    if (map && options.png) await writeFile(path.join(options.out, 'piece.png'), toReliefPng(map));
    if (options.stl) {
      const solid = createPatchSolid(proof.removal.field, setup.work, STL_TOLERANCE_MM);
      if (solid) await writeFile(path.join(options.out, 'patch.stl'), toStl(solid));
      const stock = createSolid(job.blank, STL_TOLERANCE_MM, await loadFileShapes(job, path.dirname(file), complain));
      try {
        const whole = carveBlank(await loadSolidKit(), stock, createPlug(proof.removal.field, setup.surface, STL_TOLERANCE_MM));
        await writeFile(path.join(options.out, 'piece.stl'), toStl(whole, 'engraved blank, mm'));
      } catch (error) {
        if (!(error instanceof RangeError)) throw error;
        complain(`piece.stl: ${error.message}`);
      }
    }
    for (const { finding } of proof.dangers) complain(`${finding.severity} ${finding.code}: ${finding.text}. ${finding.remedy}.`);
    if (faults.length > 0 || hasSpoiling(proof.dangers.map((d) => d.finding))) process.exitCode = EXIT_SPOILS;
  });

program
  .command('sheet')
  .description('write the page that goes to the machine: zero, cutters, checks to make by hand, where the program goes')
  .argument('<job>', 'job file')
  .requiredOption('--out <file>', 'PDF to write')
  .option('--stem <name>', 'name of the program’s files, without extension', 'program')
  .action(async (file: string, options: { out: string; stem: string }) => {
    const job = await readJob(file);
    if (!job) return;
    const { setup, lettering, plan } = await planFile(job, file);
    if (plan.moves.count === 0) {
      complain('the program moves nothing, so there is nothing to set up');
      process.exitCode = EXIT_INVALID;
      return;
    }
    const sheet = toSetupSheet(
      setup,
      plan,
      runSteps(computeProof(setup, lettering, plan)),
      plan.program.parts.map((part) => toPartName(part, options.stem)),
    );
    const drawing = toSetupDrawing(setup.surface, lettering.artworks);
    await makeFolder(path.dirname(path.resolve(options.out)));
    const readings = toPartTexts(plan.program).map((text) => runSteps(readProgram(text, DIALECTS[job.machine.dialect].rules)));
    const { removal } = runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), SHEET_CELL_MM));
    const map = toDepthMap(removal.field);
    const picture = map && `data:image/png;base64,${Buffer.from(toReliefPng(map, SHEET_PICTURE_PX)).toString('base64')}`;
    await writeFile(options.out, await renderSetupSheet(sheet, drawing, toLocalDay(new Date()), hashJob(job), picture));
  });

program
  .command('wrap')
  .description('write a paper in true size to be held round the blank before anything is cut')
  .argument('<job>', 'job file')
  .requiredOption('--out <file>', 'PDF to write')
  .action(async (file: string, options: { out: string }) => {
    const job = await readJob(file);
    if (!job) return;
    const { setup, lettering } = await planFile(job, file);
    const made = toPaperWrap(setup.surface, lettering.artworks, job.name, getZeroPlace(job.blank, job.zero).turnDeg);
    if (!made.ok) {
      complain(
        made.error.kind === 'notFlat' ? 'the skin of this blank cannot be laid flat' : 'the paper would be longer than a PDF can say',
      );
      process.exitCode = EXIT_INVALID;
      return;
    }
    await makeFolder(path.dirname(path.resolve(options.out)));
    await writeFile(options.out, await renderPaperWrap(made.value, job.name));
  });

program
  .command('probe')
  .description('write a program that touches the blank at a grid of places, or take what it found into a job')
  .argument('<job>', 'job file')
  .requiredOption('--grid <NxM>', 'places along and round, as 5x12')
  .requiredOption('--out <file>', 'program to write (.nc), or with --touches the job with what was found (.json)')
  .option('--under-lettering', 'touch it under the lettering as it is now, not all of it')
  .option('--touches <file>', 'log of the probe: one line a touch, X Y Z and what turns')
  .option('--ball <mm>', 'diameter of the probe’s ball', String(PROBE_DEFAULTS.ballMm))
  .option('--search <mm>', 'how far over and under the drawn surface it is sought', String(PROBE_DEFAULTS.searchMm))
  .option('--accept-touch <place>', 'a place that is right though it stands out, as "3 along, 5 round"; may be repeated', collect, [])
  .action(async (file: string, options: ProbeOptions) => {
    const job = await readJob(file);
    if (!job) return;
    const baseDir = path.dirname(path.resolve(file));
    const shapes = await loadFileShapes(job, baseDir, complain);
    const drawn = { ...job, measured: null };
    const letter = async () =>
      createLetterer(createFileLibrary(await loadEngines(), baseDir), () => toLocalDay(new Date()), shapes).compute(drawn);
    await probeBlank(createSetup(drawn, shapes), options.underLettering ? getLetteringBox(await letter()) : null, options);
  });

program
  .command('post')
  .description('write the programs of a job for a machine and a dialect, one file or one a cutter, if nothing would spoil the piece')
  .argument('<job>', 'job file')
  .requiredOption('--out <dir>', 'folder for the programs')
  .option('--machine <id>', 'machine to write for: one that ships, by its id, or a file of JSON; the job’s own if left out')
  .option('--dialect <id>', `how the control is spoken to: ${Object.keys(DIALECTS).join(', ')}; the machine’s own if left out`)
  .addOption(new Option('--unit <unit>', 'unit of the programs; the machine’s own if left out').choices(['mm', 'in']))
  .addOption(
    new Option('--split <how>', 'one file, or one a cutter or a cut; as the machine has it if left out').choices(['none', 'tool', 'cut']),
  )
  .option(
    '--from <line>',
    'the rest of the program, or of its file, from the stroke on that stands on a line: 120, or 2:120 in its second file',
  )
  .option('--dry <mm>', 'also write dry runs: the same, lifted by so much, with the spindle still')
  .action(
    async (
      file: string,
      options: { out: string; machine?: string; dialect?: string; unit?: 'mm' | 'in'; split?: ProgramSplit; dry?: string; from?: string },
    ) => {
      const read = await readJob(file);
      const machine = read && (options.machine === undefined ? read.machine : await readMachine(options.machine));
      if (!read || !machine) return;
      const job = readWith(read, {
        ...machine,
        dialect: options.dialect ?? machine.dialect,
        programUnit: options.unit ?? machine.programUnit,
      });
      if (!job) return;
      const { setup, lettering, plan } = await planFile(job, file);
      const { laid, moves } = plan;
      const input: ProgramInput = { job, kinematics: setup.kinematics, laid, moves, runs: setup.runs, isStamped: true };
      const split = options.split ?? getSplit(job.machine);
      const written = runSteps(DIALECTS[job.machine.dialect].write(input, split));
      const { proof, findings } = runSteps(proveWhole(setup, lettering, { ...plan, program: written }));
      stampProven(setup, { ...plan, program: written }, proof);
      for (const f of findings) complain(`${f.severity} ${f.code}: ${f.text}. ${f.remedy}.`);
      await makeFolder(path.resolve(options.out));
      const begun = options.from === undefined ? written : beginAt(setup, { laid, moves }, written, options.from);
      if (!begun) return;
      for (const part of begun.parts) {
        const name = path.join(options.out, toPartName(part, options.from === undefined ? 'program' : toBegunStem(options.from)));
        if (hasSpoiling(findings)) await rm(name, { force: true });
        else await writeFile(name, toPartText(part));
      }
      if (options.dry !== undefined) await writeDryRuns(setup, written, Number(options.dry), options.out);
      if (!hasSpoiling(findings)) return;
      complain('a finding would spoil the piece, so no program was written: mend the job, or choose another machine or dialect');
      process.exitCode = EXIT_SPOILS;
    },
  );

program
  .command('runner')
  .description('run the simulated machine: it listens on loopback until it is stopped')
  .option('--port <n>', 'port to listen on', String(DEFAULT_RUNNER_PORT))
  .option('--off <mm>', 'how far its blank runs out, or bows where it lies', '0.08')
  .option('--towards <deg>', 'turn at which it stands out', '60')
  .option('--taper <mm>', 'by how much it is larger at the far end', '0.02')
  .option('--attached', 'end when the standard input does')
  .action(async (options: { port: string; off: string; towards: string; taper: string; attached?: boolean }) => {
    const [port, offMm, towardsDeg, taperMm] = [options.port, options.off, options.towards, options.taper].map(Number) as [
      number,
      number,
      number,
      number,
    ];
    if (!Number.isInteger(port) || port < 0 || port > 65535 || ![offMm, towardsDeg, taperMm].every(Number.isFinite)) {
      complain('give a port from 0 to 65535, and numbers for --off, --towards and --taper');
      process.exitCode = EXIT_INVALID;
      return;
    }
    try {
      const { port: own } = await startRunner(port, { offMm, towardsDeg, taperMm });
      if (options.attached) process.stdin.resume().once('end', () => process.exit(0));
      process.stdout.write(`the simulated machine listens on 127.0.0.1:${own}\n`);
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      complain(code === 'EADDRINUSE' ? `--port ${port}: the port is taken; pass another, or stop what listens there` : message);
      process.exitCode = EXIT_INVALID;
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
