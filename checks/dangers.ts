/*
 * Programs with one danger planted each, and as many without one, drawn at random and always the same: none missed, no false alarm.
 * What counts as a danger: common practice, no source.
 */
import { expect } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { readProgram } from '../src/core/program/interpreter';
import { DIALECTS } from '../src/core/program/registry';
import { toPartTexts } from '../src/core/proof/readBack';
import type { BlankOf } from '../src/core/job/blankSchema';
import type { Job } from '../src/core/job/schema';
import { createSetup, listToolsByHand } from '../src/core/pipeline/setup';
import { proveField } from '../src/core/removal/proveField';
import { carveJob, planOnly, type Planned } from '../tests/support';

function createDice(seed: number): () => number {
  let a = seed;
  return () => {
    a = (Math.imul(a, 1664525) + 1013904223) >>> 0;
    return a / 4294967296;
  };
}
const pick = <T>(dice: () => number, list: readonly T[]): T => list[Math.floor(dice() * list.length)]!;

function codesOf(planned: Pick<Planned, 'setup' | 'lettering' | 'plan'>, text: string): string[] {
  const { setup, lettering, plan } = planned;
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const reading = runSteps(readProgram(text, rules));
  const { dangers } = runSteps(proveField(setup, lettering, [reading], listToolsByHand(setup.runs, plan), 0.06));
  return dangers.map((d) => d.finding.code);
}

/** Lines, counted from 0, on which something holds. */
const linesWhere = (lines: readonly string[], holds: (line: string, k: number) => boolean): number[] =>
  lines.flatMap((line, k) => (holds(line, k) ? [k] : []));

/** The last word of a letter before a line. */
function lastWord(lines: readonly string[], before: number, letter: string): number {
  for (let k = before - 1; k >= 0; k--) {
    const found = new RegExp(`${letter}(-?[\\d.]+)`).exec(lines[k]!);
    if (found) return Number(found[1]);
  }
  return Infinity;
}
const lastZ = (lines: readonly string[], before: number): number => lastWord(lines, before, 'Z');
/** How far a line moves along and round, mm. */
const leap = (lines: readonly string[], at: number, radiusMm: number): number =>
  Math.hypot(
    lastWord(lines, at + 1, 'X') - lastWord(lines, at, 'X'),
    ((lastWord(lines, at + 1, 'A') - lastWord(lines, at, 'A')) * Math.PI * radiusMm) / 180,
  );

type Plant = (lines: string[], dice: () => number, radiusMm: number) => string[] | null;
const PLANTS: Record<string, Plant> = {
  // The tool is not lifted before it crosses to a stroke some way off: nearer by it might stay in what is cut already.
  'rapid-cuts': (lines, dice, radiusMm) => {
    const inWork = (l: string, k: number) => /^G0 Z/.test(l) && /^[XA]/.test(lines[k + 1] ?? '') && lastZ(lines, k) < radiusMm - 0.05;
    const all = linesWhere(lines, (l, k) => inWork(l, k) && leap(lines, k + 1, radiusMm) > 2);
    // Some have all their strokes side by side.
    if (all.length === 0) return null;
    const at = pick(dice, all);
    return [...lines.slice(0, at), `G0 ${lines[at + 1]}`, ...lines.slice(at + 2)];
  },
  'cuts-still': (lines) => lines.map((l) => l.replace(/ ?M3/, '')),
  'cuts-without-tool': (lines) => lines.map((l) => l.replace('T1 M6', 'T7 M6')),
  'dives-fast': (lines, dice, radiusMm) => {
    const at = pick(
      dice,
      linesWhere(lines, (l, k) => k > 20 && /^[XA][^Z]*F/.test(l)),
    );
    const z = lastZ(lines, at);
    // From where it is, or in one block from high over the work.
    const way = dice() < 0.5 ? ['G94'] : ['G94', `G0 Z${(radiusMm + 20).toFixed(3)}`];
    return [...lines.slice(0, at), ...way, `G1 Z${(z - 1).toFixed(3)} F3000`, `Z${z.toFixed(3)}`, 'G93 G1', ...lines.slice(at)];
  },
  'cuts-through': (lines, dice) => {
    const at = pick(
      dice,
      linesWhere(lines, (l, k) => k > 20 && /^[XA][^Z]*F/.test(l)),
    );
    const z = lastZ(lines, at);
    return [...lines.slice(0, at), 'G94', 'G1 Z-0.4 F100', `Z${z.toFixed(3)}`, 'G93 G1', ...lines.slice(at)];
  },
  'cuts-clear-end': (lines, dice) => {
    const at = pick(
      dice,
      linesWhere(lines, (l, k) => k > 20 && /^X-?[\d.]+/.test(l) && /F/.test(l)),
    );
    const x = lastWord(lines, at, 'X');
    return [...lines.slice(0, at), 'G94', `G1 X${(1.5 + 2 * dice()).toFixed(3)} F300`, `X${x.toFixed(4)}`, 'G93 G1', ...lines.slice(at)];
  },
  'asks-too-fast': (lines, dice) => {
    const at = pick(
      dice,
      linesWhere(lines, (l, k) => k > 20 && /^[XA][^Z]*A[^Z]*F/.test(l)),
    );
    const a = lastWord(lines, at, 'A');
    return [...lines.slice(0, at), `A${(a + 40).toFixed(3)} F${(300 + 300 * dice()).toFixed(1)}`, ...lines.slice(at)];
  },
  'winds-up': (lines, dice) => lines.map((l) => (l.startsWith('M5') ? `G0 A${(1440 + 3000 * dice()).toFixed(2)}\n${l}` : l)),
};

/** What a program is cut on, put wrongly: the text stays as it is. */
const SET_WRONG: Record<string, (job: Job, lines: readonly string[], dice: () => number, radiusMm: number) => Job> = {
  // The cutter sticks out less far than it goes in.
  'body-hits': (job, lines, dice, radiusMm) => {
    const deepestMm = radiusMm - Math.min(...linesWhere(lines, (l) => /Z/.test(l)).map((k) => lastZ(lines, k + 1)));
    return { ...job, tools: job.tools.map((t) => ({ ...t, stickOutMm: deepestMm * (0.2 + 0.6 * dice()) })) };
  },
  // The chuck holds more of the blank than was told.
  'chuck-hits': (job, lines, dice) => {
    const cuts = linesWhere(lines, (l, k) => k > 20 && /^X-?[\d.]+/.test(l) && /F/.test(l));
    const leastMm = Math.min(...cuts.map((k) => lastWord(lines, k + 1, 'X')));
    return { ...job, blank: { ...(job.blank as BlankOf<'cylinder'>), clearDatumMm: leastMm + 0.3 + 3 * dice() } };
  },
};

/** Plans so many programs at random, and as many with one danger each: none of the first may raise any, and each of the others its own. */
export async function checkDangers(jobs: number, seed: number): Promise<void> {
  const dice = createDice(seed);
  const missed: string[] = [],
    falseAlarms: string[] = [];
  const planted = new Map([...Object.keys(PLANTS), ...Object.keys(SET_WRONG)].map((code) => [code, 0]));
  for (let k = 0; k < jobs; k++) {
    const diameterMm = 16 + 44 * dice();
    const job = carveJob(pick(dice, ['HO', 'W&', 'Sg8', 'ÅX', 'MQ']), {
      words: { heightMm: 3 + 4 * dice(), at: { xMm: 25, turnDeg: 360 * dice() - 180 }, rotationDeg: 360 * dice() },
      tool: { includedDeg: pick(dice, [30, 60, 90]), tipMm: pick(dice, [0, 0.1]) },
      carve: { maxDepthMm: 0.3 + dice() },
      blank: { diameterMm, clearDatumMm: 4 },
    });
    const planned = await planOnly({ ...job, machine: { ...job.machine, toolChanger: true } });
    const text = toPartTexts(planned.plan.program)[0]!;
    const found = codesOf(planned, text);
    if (found.length > 0) falseAlarms.push(`${k}: ${found.join()}`);
    // One danger each, the kinds in turn; one that has no place in a program gives way to the next.
    const kinds = [...planted.keys()];
    for (let j = 0; j < kinds.length; j++) {
      const code = kinds[(k + j) % kinds.length]!;
      const own = text.split('\n');
      const lines = code in PLANTS ? PLANTS[code]!(own, dice, diameterMm / 2) : own;
      if (!lines) continue;
      planted.set(code, planted.get(code)! + 1);
      const set = SET_WRONG[code]?.(planned.setup.job, own, dice, diameterMm / 2);
      const seen = codesOf(set ? { ...planned, setup: createSetup(set) } : planned, lines.join('\n'));
      if (!seen.includes(code)) missed.push(`${k}: ${code} (${seen.join()})`);
      break;
    }
  }
  console.info(
    `${[...planted].map(([c, n]) => `${c} ${n}`).join(', ')}: ${missed.length} missed; ${jobs} good, ${falseAlarms.length} false alarms`,
  );
  expect([...planted.values()].reduce((a, b) => a + b)).toBe(jobs);
  for (const [code, count] of planted) expect(count, code).toBeGreaterThan(jobs / 20);
  expect(falseAlarms).toEqual([]);
  expect(missed).toEqual([]);
}
