import { z } from 'zod';
import { describeBlank, getMount } from '../job/blankText';
import type { Tool } from '../job/toolSchema';
import { poseAt } from '../machine/pose';
import { describeTableTurn, describeTilt, describeTurn, getHead, getRotary, getTable } from '../machine/layouts/edit';
import { getLayout } from '../machine/layouts/registry';
import { drawMachine, getRestWords, toMachineSvg } from '../machine/drawing';
import { describeCentre, listZeroWords } from '../machine/zeroText';
import type { Plan } from '../pipeline/plan';
import { listToolsByHand, type Run, type Setup } from '../pipeline/setup';
import type { ProgramReading } from '../program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { DIALECTS } from '../program/registry';
import { measureAxis } from '../proof/axisSpan';
import type { Proof } from '../proof/proof';

const word = z.strictObject({ letter: z.string().max(2), value: z.number() });
const line = z.string().max(500);
const lines = z.array(line).max(40);

/**
 * What stands on the page that goes to the machine. Lengths mm, turns degrees, times s. Places of axes come from the program as it was
 * read back, in millimetres and degrees whatever unit it is written in.
 */
export const setupSheetSchema = z.strictObject({
  job: line,
  notes: z.string().max(4000),
  material: line,
  machine: line,
  dialect: line,
  unit: z.enum(['mm', 'in']),
  blank: line,
  zero: lines,
  /** The blank on the machine with its senses and its zero, SVG. */
  onMachine: z.string().startsWith('<svg').max(200_000),
  /** At which heights the tool waits, hops and begins to feed. */
  heights: line,
  files: z.array(z.strictObject({ name: line, lines: z.number() })).max(200),
  /** In the order in which they are put in. */
  tools: z
    .array(
      z.strictObject({ number: z.number(), name: line, stickOutMm: z.number(), rpm: z.number(), deepestMm: z.number(), timeS: z.number() }),
    )
    .max(200),
  /** What every axis reaches while cutting and in all; first and last place of the program. */
  axes: z
    .array(
      z.strictObject({
        letter: z.string().max(2),
        unit: z.enum(['mm', '°']),
        cuts: z.tuple([z.number(), z.number()]),
        moves: z.tuple([z.number(), z.number()]),
        first: z.number(),
        last: z.number(),
      }),
    )
    .max(6),
  /** Things to try by hand, and what must be seen or read. */
  checks: z.array(z.strictObject({ do: line, see: line, words: z.array(word).max(6) })).max(12),
  timeS: z.number(),
  standingS: z.number(),
  readBackUm: z.number(),
  edgeOutsideUm: z.number().nullable(),
});

export type SetupSheet = z.infer<typeof setupSheetSchema>;

/** How far a rotary is jogged to see which way it turns, degrees. */
const JOG_DEG = 10;

/** Gathers the page from a plan and its program as read back. O(motions). @param names Of the program's files. */
export function toSetupSheet(setup: Setup, plan: Plan, proof: Proof, names: readonly string[]): SetupSheet {
  const { job, kinematics } = setup;
  const { readings, maxTipUm } = proof.readBack;
  const layout = getLayout(job.machine.layout);
  const mount = getMount(job.blank);
  const mm = (v: number): string => String(Math.round(v * 1000) / 1000);
  const centre = describeCentre(job, mm);
  return {
    job: job.name,
    notes: job.notes,
    material: job.material,
    machine: job.machine.name,
    dialect: DIALECTS[job.machine.dialect].name,
    unit: job.machine.programUnit,
    blank: describeBlank(job.blank, mm, 'mm'),
    zero: [
      ...listZeroWords(job).map(({ letter, where }) => `${letter} is zero ${where}`),
      ...layout.describe(job.machine.layout, mount, mm),
      ...(centre === null ? [] : [centre]),
    ],
    onMachine: toMachineSvg(drawMachine(job.machine, getRestWords(job.machine, mount === 'table'), job)),
    heights: describeHeights(setup, mm),
    files: plan.program.parts.map((part, k) => ({ name: names[k]!, lines: part.lines.length })),
    tools: listTools(setup, plan, readings),
    axes: kinematics.axes.map(({ letter, kind }) => ({ letter, unit: kind === 'rotary' ? '°' : 'mm', ...measureAxis(readings, letter) })),
    checks: listChecks(setup, readings),
    timeS: plan.timeS,
    standingS: plan.standingS,
    readBackUm: maxTipUm,
    edgeOutsideUm: proof.edge?.maxOutsideUm ?? null,
  };
}

/**
 * Each stay of a cutter in the spindle at one speed, in running order: one that comes again stands again. The text
 * says which cutter and how fast, the plan how deep and how long.
 */
function listTools(setup: Setup, plan: Plan, readings: readonly ProgramReading[]): SetupSheet['tools'] {
  const { laid, moves, timesS } = plan;
  const stays: { run: Run; deepestMm: number; timeS: number }[] = [];
  for (let i = 0; i < moves.count; i++) {
    const run = setup.runs[laid.run[moves.move[i]!]!];
    if (!run) continue;
    let last = stays[stays.length - 1];
    if (last?.run.tool.id !== run.tool.id || last.run.spindleRpm !== run.spindleRpm) stays.push((last = { run, deepestMm: 0, timeS: 0 }));
    last.deepestMm = Math.max(last.deepestMm, plan.cuts[run.index]!.maxDepthMm);
    last.timeS += timesS[i]! - (i > 0 ? timesS[i - 1]! : 0);
  }
  return readStays(setup, plan, readings).map(({ tool: { number, name, stickOutMm }, rpm }, k) => {
    const { deepestMm, timeS } = stays[k] ?? { deepestMm: 0, timeS: 0 };
    return { number, name, stickOutMm, rpm, deepestMm, timeS };
  });
}

/** The cutters that feed and their speeds, by the text; without a changer it names none, and they are put in one after the other. */
function readStays(setup: Setup, plan: Plan, readings: readonly ProgramReading[]): { tool: Tool; rpm: number }[] {
  const byHand = setup.job.machine.toolChanger ? null : listToolsByHand(setup.runs, plan);
  const out: { tool: Tool; rpm: number }[] = [];
  let hand = 0;
  for (const { motions, stops } of readings) {
    const pauses = stops.filter((s) => s.kind === 'pause').map((s) => s.afterMotions);
    let pause = 0;
    for (let m = 0; m < motions.count; m++) {
      while (pause < pauses.length && pauses[pause]! <= m) [pause, hand] = [pause + 1, hand + 1];
      if (motions.rapid[m]) continue;
      const tool = byHand ? byHand[hand] : setup.runs.find((r) => r.tool.number === motions.tool[m])?.tool;
      const last = out[out.length - 1];
      if (tool && (last?.tool.id !== tool.id || last.rpm !== motions.spindleRpm[m])) out.push({ tool, rpm: motions.spindleRpm[m]! });
    }
    // Each file has its own cutter put in before.
    hand++;
  }
  return out;
}

/** Heights over the blank, with those of cuts that have their own. */
function describeHeights({ job }: Setup, mm: (v: number) => string): string {
  const { parkHeightMm, hopHeightMm, approachGapMm } = job.motion;
  const own = job.cuts.filter((c) => c.enabled && c.hopHeightMm !== null).map((c) => `${mm(c.hopHeightMm!)} mm in "${c.name}"`);
  const hops = [`${mm(hopHeightMm)} mm`, ...own].join(', ');
  return `Waits ${mm(parkHeightMm)} mm over the blank’s highest place, hops at ${hops}, comes down as a rapid to ${mm(approachGapMm)} mm.`;
}

/** What can be tried at the machine before anything is cut: senses, and where the surface is at the first place that is cut. */
function listChecks(setup: Setup, readings: readonly ProgramReading[]): SetupSheet['checks'] {
  const { job: own, kinematics } = setup;
  const rotary = getRotary(own.machine.layout);
  const out: SetupSheet['checks'] = [];
  if (rotary && getMount(own.blank) === 'rotary') {
    out.push({
      do: `Jog ${rotary.letter} by +${JOG_DEG}°`,
      see: `the top of the blank goes ${describeTurn(own.machine.layout.wrappedAxis, rotary.sense)}, seen with X to the right and Y away from you`,
      words: [{ letter: rotary.letter, value: JOG_DEG }],
    });
  }
  const head = getHead(own.machine.layout);
  if (head)
    out.push({
      do: `Jog ${head.letter} by +${JOG_DEG}°`,
      see: `the tool leans to the blank’s ${head.sense > 0 ? 'far' : 'datum'} end`,
      words: [{ letter: head.letter, value: JOG_DEG }],
    });
  const table = getTable(own.machine.layout);
  if (table) {
    const { tilt, turn } = table;
    out.push({ do: `Jog ${tilt.letter} by +${JOG_DEG}°`, see: describeTilt(tilt), words: [{ letter: tilt.letter, value: JOG_DEG }] });
    out.push({
      do: `Jog ${turn.letter} by +${JOG_DEG}°, the table level`,
      see: `seen from above, ${describeTableTurn(turn)}`,
      words: [{ letter: turn.letter, value: JOG_DEG }],
    });
  }
  const first = findFirstCut(readings);
  if (first) {
    const tip = new Float64Array(3),
      axis = new Float64Array(3),
      frame = new Float64Array(6),
      out6 = new Float64Array(kinematics.axes.length);
    const values = kinematics.axes.map((a) => first[AXIS_LETTERS.indexOf(a.letter)]!);
    kinematics.forward(values, tip, axis);
    const { x, y } = setup.surface.toSheet(tip[0]!, tip[1]!, tip[2]!);
    poseAt(setup.work, x, y, 0, 0, frame, tip, axis);
    kinematics.inverse(tip, axis, values, out6);
    const words = kinematics.axes.map((a, k) => ({ letter: a.letter, value: Math.round(out6[k]! * 1000) / 1000 || 0 }));
    out.push({
      do: 'With the first cutter in, spindle still, go to where it cuts first, Z last and slowly',
      see: 'the tip touches the surface',
      words,
    });
  }
  return out;
}

/** Where the axes stand at the first feed that follows a rapid: down in the first stroke. X Y Z A B C, mm and degrees. */
function findFirstCut(readings: readonly ProgramReading[]): Float64Array | null {
  for (const { motions } of readings) {
    for (let m = 1; m < motions.count; m++) {
      if (!motions.rapid[m] && motions.rapid[m - 1]) return motions.end.slice(AXIS_COUNT * m, AXIS_COUNT * (m + 1));
    }
  }
  return null;
}
