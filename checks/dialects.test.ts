import { readdirSync, readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { FRESH_AXES } from '../src/core/job/defaults';
import { getMount } from '../src/core/job/blankText';
import { parseJobText } from '../src/core/job/parse';
import type { Job, Machine } from '../src/core/job/schema';
import { withLayoutKind, withRotary, withWrappedAxis } from '../src/core/machine/layouts/edit';
import { getLayout } from '../src/core/machine/layouts/registry';
import { createLetterer } from '../src/core/pipeline/lettering';
import { createPlanner, type Planner } from '../src/core/pipeline/plan';
import { createSetup } from '../src/core/pipeline/setup';
import { readForeign } from '../src/core/program/foreign';
import type { ProgramReading } from '../src/core/program/interpreter';
import { AXIS_COUNT } from '../src/core/program/motions';
import { DIALECTS } from '../src/core/program/registry';
import { findConductFaults } from '../src/core/proof/conduct';
import { computeReadBack, toPartTexts } from '../src/core/proof/readBack';
import { loadFileShapes } from '../src/server/resources/shapes';
import { getEngines, getLibrary, planJob, planWith } from '../tests/support';

const jobs = readdirSync('resources/jobs').filter((f) => f.endsWith('.json'));
const readDemo = (file: string): Job => {
  const parsed = parseJobText(readFileSync(`resources/jobs/${file}`, 'utf8'));
  if (!parsed.ok) throw new Error(file);
  return parsed.value;
};
/** A demo job lettered: whatever the machine, that is the same. */
async function letterDemo(file: string) {
  const demo = readDemo(file);
  const shapes = await loadFileShapes(demo, 'resources/shapes', () => undefined);
  return { demo, shapes, lettering: createLetterer(await getLibrary(), () => '', shapes).compute(demo) };
}
const lettered = new Map<string, ReturnType<typeof letterDemo>>();
const getLettered = (file: string): ReturnType<typeof letterDemo> => lettered.get(file) ?? lettered.set(file, letterDemo(file)).get(file)!;

/** Every machine is put into these forms: the rotary along X and along Y, with either sense, a head that tilts, and no rotary at all. */
const LAYOUTS: Record<string, (m: Machine) => Machine> = {
  'rotary along X, +': (m) => ({ ...m, ...withWrappedAxis(m, 'Y') }),
  'rotary along Y, −': (m) => {
    const turned = { ...m, ...withWrappedAxis(m, 'X') };
    return { ...turned, ...withRotary(turned, { letter: 'C', sense: -1 }) };
  },
  'tilting head': (m) => withLayoutKind(m, 'rotary-tilting-head', FRESH_AXES),
  'tilting table A/C': (m) => onTable(m, 'A'),
  'tilting table B/C': (m) => onTable(m, 'B'),
  'plain table': (m) => withLayoutKind(m, 'table', FRESH_AXES),
};
/** A table whose axes meet well below the work, and not under its middle. */
function onTable(m: Machine, letter: 'A' | 'B'): Machine {
  const table = withLayoutKind(m, 'table-table', FRESH_AXES);
  return table.layout.kind === 'table-table' ? { ...table, layout: { ...table.layout, tilt: { ...table.layout.tilt, letter } } } : table;
}
const CENTRE = { xMm: 12, yMm: -7, zMm: -60 };
const POINT_LAYOUTS = ['tilting head', 'tilting table A/C', 'tilting table B/C'];
const FIRST = Object.keys(LAYOUTS)[0]!;
const rows: string[] = [];

/**
 * The words of a text as the standards name them, read by a pattern that shares nothing with writer or interpreter: letters that a dialect
 * may not use, and lines longer than it takes. Sources: NISTIR 6556 and ISO 6983-1 (from memory), common practice for short lines.
 */
const ALLOWED: Record<keyof typeof DIALECTS, { line: RegExp; longest: number }> = {
  rs274: { line: /^(%|\(.*\)|([A-Z][-+]?[\d.]+ ?)+)$/, longest: 256 },
  iso6983: { line: /^(%|N\d+( [A-Z]-?(\d+|\d*\.\d*))+)$/, longest: 256 },
  'tool-point': { line: /^(%|\(.*\)|([A-Z][-+]?[\d.]+ ?)+)$/, longest: 256 },
  'short-lines': { line: /^([GMTSXYZABCFIJP]-?(\d+|\d*\.\d*))+$/, longest: 70 },
};

/** Where each line of a program ends, and how long its feeds last, min. */
function toLineEnds({ motions }: Pick<ProgramReading, 'motions'>) {
  const ends = new Map<number, number[]>();
  let timeMin = 0;
  for (let m = 0; m < motions.count; m++) {
    ends.set(motions.line[m]!, [...motions.end.subarray(AXIS_COUNT * m, AXIS_COUNT * (m + 1))]);
    timeMin += motions.timeMin[m]!;
  }
  return { ends, timeMin };
}

/** The reader of programs from elsewhere takes a text as its own reader does: no fault, the same place after each line, the same time. */
function expectForeignReads(text: string, own: ProgramReading, name: string, keepsPoint?: string): void {
  const foreign = runSteps(readForeign(text, keepsPoint));
  expect(foreign.faults, name).toEqual([]);
  const [is, was] = [toLineEnds(foreign), toLineEnds(own)];
  expect(is.ends.size, name).toBe(was.ends.size);
  let worst = 0;
  for (const [line, at] of was.ends)
    for (let k = 0; k < AXIS_COUNT; k++) worst = Math.max(worst, Math.abs((is.ends.get(line)?.[k] ?? NaN) - at[k]!));
  expect(worst, name).toBeLessThan(1e-9);
  expect(Math.abs(is.timeMin / was.timeMin - 1), name).toBeLessThan(1e-6);
}

describe('every dialect, on every layout, for every demo job', () => {
  let planner: Planner;
  beforeAll(async () => {
    planner = createPlanner((await getEngines()).voronoi);
    return () => console.log(rows.join('\n'));
  });
  describe.each(jobs)('%s', (file) => {
    it.each(Object.keys(LAYOUTS))(
      '%s: reads back within the chord tolerance and the last digit, with the same times and no fault',
      async (layout) => {
        const { demo, shapes, lettering } = await getLettered(file);
        const machine: Machine = { ...LAYOUTS[layout]!(demo.machine), toolChanger: false, toolLengths: 'control' };
        const zero = { ...demo.zero, centreMm: CENTRE };
        const planned = planWith(planner, createSetup({ ...demo, machine, zero }, shapes), lettering);
        // What is lettered as it turns cannot be cut without a rotary, and that is said.
        const cannot = getMount(demo.blank) === 'rotary' && getLayout(machine.layout).turning(machine.layout) === null;
        expect(planned.findings.some((f) => f.code === 'needs-rotary')).toBe(cannot);
        if (cannot) return;
        for (const [id, dialect] of Object.entries(DIALECTS) as [keyof typeof DIALECTS, (typeof DIALECTS)['rs274']][]) {
          // Inches change the words of lengths alone: on one layout they are enough.
          for (const programUnit of layout === FIRST ? (['mm', 'in'] as const) : (['mm'] as const)) {
            const job: Job = { ...demo, zero, machine: { ...machine, dialect: id, programUnit } };
            if (dialect.cannot(job).length > 0) continue;
            const setup = createSetup(job, shapes);
            const { laid, moves } = planned;
            const program = runSteps(dialect.write({ job, kinematics: setup.kinematics, laid, moves, runs: setup.runs }, 'none'));
            const back = runSteps(computeReadBack(setup, { program, laid, moves }));
            rows.push(
              `${file} | ${layout} | ${id} | ${programUnit} | ${back.maxTipUm.toFixed(3)} µm (last digit ${back.lastDigitUm.toFixed(3)})`,
            );
            expect(back.faults).toEqual([]);
            expect(back.mirrored).toBe(false);
            expect(back.rapidInWork).toBeNull();
            // Straight axes keep to a bent way within the chord tolerance, 1 µm in the demo’s machines; arcs have a tolerance of their own.
            const arcsUm = 1000 * (moves.count > 0 && back.arcs > 0 ? machine.arcMm : 0);
            expect(back.maxTipUm).toBeLessThan(1000 * machine.chordToleranceMm + back.lastDigitUm + 1.05 * arcsUm);
            expect(back.maxTimeRatio).toBeLessThan(1e-4);
            // What is said in the one unit, on one layout, is said in the other.
            const told = programUnit === 'mm' && layout === FIRST;
            if (told) expect(findConductFaults(setup, { program, laid, moves }, back.readings)).toEqual([]);
            const { line, longest } = ALLOWED[id];
            for (const [part, text] of toPartTexts(program).entries()) {
              if (layout === FIRST) expectForeignReads(text, back.readings[part]!, `${id}, ${programUnit}`);
              for (const own of text.trimEnd().split('\n')) {
                if (!line.test(own) || own.length > longest) throw new Error(`${id}: ${own}`);
              }
            }
          }
        }
      },
    );
  });

  // Where the control keeps the tool's point the words are others, and so is the plan.
  it.each(jobs.flatMap((f) => POINT_LAYOUTS.map((layout) => [f, layout] as const)))(
    '%s, %s, the tool’s point kept: reads back as any, and conducts itself',
    async (file, layout) => {
      const { demo, shapes, lettering } = await getLettered(file);
      const made = LAYOUTS[layout]!(demo.machine);
      const machine: Machine = { ...made, dialect: 'tool-point', feedMode: 'G94', toolChanger: true, toolLengths: 'table' };
      const zero = { ...demo.zero, centreMm: CENTRE };
      // Inches change the words of lengths alone: for one job they are enough.
      for (const programUnit of file.startsWith('tiller-sleeve') ? (['mm', 'in'] as const) : (['mm'] as const)) {
        const setup = createSetup({ ...demo, zero, machine: { ...machine, programUnit } }, shapes);
        const planned = planWith(planner, setup, lettering);
        const back = runSteps(computeReadBack(setup, planned));
        rows.push(
          `${file} | ${layout} | tool-point | ${programUnit} | ${back.maxTipUm.toFixed(3)} µm (last digit ${back.lastDigitUm.toFixed(3)})`,
        );
        expect(back.faults).toEqual([]);
        expect(back.mirrored).toBe(false);
        expect(back.rapidInWork).toBeNull();
        expect(back.maxTipUm).toBeLessThan(1000 * machine.chordToleranceMm + back.lastDigitUm);
        expect(back.maxTimeRatio).toBeLessThan(1e-4);
        expect(findConductFaults(setup, planned, back.readings)).toEqual([]);
        for (const [part, text] of toPartTexts(planned.program).entries()) {
          expectForeignReads(text, back.readings[part]!, programUnit, DIALECTS['tool-point'].rules.keepsPoint);
          for (const own of text.trimEnd().split('\n')) if (!ALLOWED['tool-point'].line.test(own)) throw new Error(own);
        }
      }
    },
  );

  it.each(jobs)('%s, parted at so many lines, by cutter and by cut: each file conducts itself, and all read back as one', async (file) => {
    const { demo, shapes, lettering } = await getLettered(file);
    const whole = planWith(planner, createSetup(demo, shapes), lettering);
    const { laid, moves } = whole;
    const count = whole.program.parts.reduce((sum, p) => sum + p.lines.length, 0);
    const { maxTipUm } = runSteps(computeReadBack(createSetup(demo, shapes), whole));
    for (const split of ['none', 'tool', 'cut'] as const) {
      const machine: Machine = { ...demo.machine, mostLines: split === 'tool' ? 0 : Math.ceil(count / 5) };
      const setup = createSetup({ ...demo, machine }, shapes);
      const { kinematics, runs } = setup;
      const program = runSteps(DIALECTS[machine.dialect].write({ job: setup.job, kinematics, laid, moves, runs }, split));
      if (split !== 'tool') expect(program.parts.length).toBeGreaterThan(2);
      const back = runSteps(computeReadBack(setup, { program, laid, moves }));
      expect(back).toMatchObject({ faults: [], mirrored: false, rapidInWork: null });
      expect(back.maxTipUm).toBeCloseTo(maxTipUm, 1);
      expect(findConductFaults(setup, { program, laid, moves }, back.readings)).toEqual([]);
    }
  });

  it('notices a program that is read in the wrong unit', async () => {
    const demo = readDemo('rain-gauge.json');
    const { setup, plan } = await planJob({ ...demo, machine: { ...demo.machine, programUnit: 'in' } });
    const texts = toPartTexts(plan.program).map((t) => t.replace('G20', 'G21'));
    expect(texts[0]).toContain('G21');
    expect(runSteps(computeReadBack(setup, plan, texts)).maxTipUm).toBeGreaterThan(1000);
  });
});
