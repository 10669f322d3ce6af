import { describe, expect, it } from 'vitest';
import { carveJob, planJob, readNc, tiltingMachine, type Planned } from '../../../tests/support';
import { createTool } from '../crib/starterTools';
import { createCut } from '../cut/kinds/registry';
import type { Job, Machine } from '../job/schema';
import { MOVE } from '../lay/laidPaths';
import { listToolsByHand } from '../pipeline/setup';
import { proveBegin } from '../proof/begin';
import { findStrokeStart, writeFrom } from './beginHere';
import { runSteps } from '../base/steps';
import { DIALECTS } from './registry';
import { toPartText, type Program, type ProgramInput } from './dialect';

function jobOn(machine: Partial<Machine>): Job {
  const job = carveJob('BOW', { words: { heightMm: 8 } });
  return {
    ...job,
    machine: { ...job.machine, ...machine },
    tools: [...job.tools, createTool('fine', 7, 'Fine', 'v', { includedDeg: 60, diameterMm: 6, fluteLengthMm: 5 })],
    cuts: [...job.cuts, { ...createCut('v-carve', 'again', 'fine'), maxDepthMm: 5 }],
  };
}
const inputOf = ({ setup, plan }: Planned): ProgramInput => ({
  job: setup.job,
  kinematics: setup.kinematics,
  laid: plan.laid,
  moves: plan.moves,
  runs: setup.runs,
});

const POINT: Partial<Machine> = {
  ...tiltingMachine({ pivotMm: 120 }),
  dialect: 'tool-point',
  feedMode: 'G94',
  toolChanger: true,
  toolLengths: 'table',
};

describe('a program that begins here', () => {
  const tilting = { ...tiltingMachine({ pivotMm: 120 }), toolChanger: false, toolLengths: 'control' as const };
  it.each([
    ['G93, by hand', {}],
    ['G94, changer', { feedMode: 'G94', toolChanger: true, toolLengths: 'table' } as const],
    ['inches, a file for each cutter', { programUnit: 'in', files: 'per-cutter' } as const],
    ['short lines', { dialect: 'short-lines', coolant: 'flood' } as const],
    ['a tilting head without tip control', tilting],
    ['files of 400 lines', { mostLines: 400 }],
    ['files of 400 lines, one a cutter, the tool’s point kept', { ...POINT, mostLines: 400, files: 'per-cutter' } as const],
  ])('%s: goes up, across, down, and on as the whole one does, from any stroke', async (_name, machine) => {
    const planned = await planJob(jobOn(machine));
    const input = inputOf(planned);
    const { count } = input.moves;
    const starts = new Set([0.02, 0.3, 0.55, 0.8, 0.97].map((share) => findStrokeStart(input, Math.floor(share * count))));
    expect(starts.size).toBeGreaterThanOrEqual(4);
    for (const from of starts) {
      if (from === 0) continue;
      expect([MOVE.hop, MOVE.across]).toContain(input.laid.kind[input.moves.move[from]!]);
      const begun = writeFrom(input, planned.plan.program, from);
      expect(begun.parts).toHaveLength(1);
      expect(proveBegin(planned.setup, input, planned.plan.program, begun, from)).toEqual({ same: true, safe: true, faults: 0 });
    }
  });

  it('is seen to be wrong where a word is, or where it crosses low', async () => {
    const planned = await planJob(jobOn({}));
    const input = inputOf(planned);
    const from = findStrokeStart(input, Math.floor(0.5 * input.moves.count));
    const whole = planned.plan.program;
    const begun = writeFrom(input, whole, from);
    const spoil = (change: (line: string, k: number) => string) => ({
      ...begun,
      parts: begun.parts.map((p) => ({ ...p, lines: p.lines.map(change) })),
    });
    const first = begun.parts[0]!.lines.findIndex((l) => l.startsWith('G1') || l.includes(' G1 '));
    const low = spoil((l) => (l.startsWith('G0 Z') ? 'G0 Z21.' : l));
    expect(proveBegin(planned.setup, input, whole, low, from).safe).toBe(false);
    const wrong = spoil((l, k) => (k === first + 3 ? l.replace(/A(-?[\d.]+)/, 'A1.5') : l));
    expect(proveBegin(planned.setup, input, whole, wrong, from).same).toBe(false);
  });
});

describe('a program of more lines than a control takes', () => {
  it('is parted between strokes at park height, reads back as the whole, and names its cutter in every file', async () => {
    const whole = await planJob(jobOn({}));
    const parted = await planJob(jobOn({ mostLines: 400 }));
    const { parts } = parted.plan.program;
    expect(parts.length).toBeGreaterThan(2);
    for (const part of parts) expect(part.lines.length).toBeLessThanOrEqual(400);
    expect(parted.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    expect(parted.proof.readBack.maxTipUm).toBeLessThan(1.2);
    const feeds = (p: Planned) =>
      p.plan.program.parts.flatMap((part) =>
        readNc(toPartText(part))
          .motions.filter((m) => !m.rapid)
          .map((m) => m.end),
      );
    expect(feeds(parted)).toEqual(feeds(whole));
    for (const part of parts) {
      const { motions, stops } = readNc(toPartText(part));
      // Up first, and up at the end.
      const park = whole.plan.moves.values[2]!;
      expect(motions[0]!.end[2]).toBeCloseTo(park, 3);
      expect(motions[motions.length - 1]!.end[2]).toBeCloseTo(park, 3);
      expect(stops[stops.length - 1]!.kind).toBe('end');
    }
    const hand = listToolsByHand(parted.setup.runs, parted.plan).map((t) => t.id);
    // One more where both cutters stand in one file.
    expect([parts.length, parts.length + 1]).toContain(hand.length);
    expect(new Set(hand)).toEqual(new Set(['cutter', 'fine']));
  });
});

describe('a start block in a file that begins later', () => {
  it('names the cutter that the file begins with', async () => {
    const planned = await planJob(jobOn({ ownBlocks: { start: 'G54 (first T{number})', change: null, end: '' } }));
    const input = inputOf(planned);
    const from = findStrokeStart(input, input.moves.count - 10);
    const named = (program: Program) => program.parts.map((p) => p.lines.find((l) => l.startsWith('G54')));
    expect(named(planned.plan.program)).toEqual(['G54 (first T1)']);
    expect(named(writeFrom(input, planned.plan.program, from))).toEqual(['G54 (first T7)']);
    const parted = runSteps(DIALECTS.rs274.write(input, 'tool'));
    expect(named(parted)).toEqual(['G54 (first T1)', 'G54 (first T7)']);
    expect(named(writeFrom(input, parted, 0))).toEqual(['G54 (first T1)']);
  });
});

describe('a file for each cut', () => {
  it('parts cuts with one cutter at park height, keeps the cutters of a cut together, and is proved', async () => {
    const job = jobOn({ files: 'per-cut' });
    const same = {
      ...job,
      cuts: [job.cuts[0]!, { ...job.cuts[0]!, id: 'twice', levels: { by: 'count' as const, count: 2 } }, job.cuts[1]!],
    };
    const planned = await planJob(same);
    const { parts } = planned.plan.program;
    expect(parts.map((p) => p.suffix)).toEqual(['1-T1', '2-T1', '3-T7']);
    expect(planned.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    expect(planned.proof.readBack.maxTipUm).toBeLessThan(1.2);
    const park = planned.plan.moves.values[2]!;
    for (const part of parts) {
      const { motions } = readNc(toPartText(part));
      expect(motions[0]!.end[2]).toBeCloseTo(park, 3);
      expect(motions[motions.length - 1]!.end[2]).toBeCloseTo(park, 3);
    }
  });
});
