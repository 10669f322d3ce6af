/*
 * Every kind of skin on every layout: it is cut with the tool as the machine can stand it, and proved; or a finding says why it cannot.
 * Which machine can do what: common practice, no source.
 */
import { describe, expect, it } from 'vitest';
import { createBlank, FRESH_AXES, TABLE_MACHINE } from '../src/core/job/defaults';
import type { Blank, Job, Machine } from '../src/core/job/schema';
import { runSteps } from '../src/core/base/steps';
import { findReadBackFaults } from '../src/core/findings/proofFindings';
import { createSetup } from '../src/core/pipeline/setup';
import { computeReadBack } from '../src/core/proof/readBack';
import { withLayoutKind, withTable } from '../src/core/machine/layouts/edit';
import { carveJob, createDomeBlank, domeShapes, machineWith, planJob, tiltingMachine } from '../tests/support';

const turned = (points: readonly [number, number, number][]): Blank => ({
  ...(createBlank('turned') as Extract<Blank, { kind: 'turned' }>),
  profile: points.map(([xMm, diameterMm, bulge]) => ({ xMm, diameterMm, join: 'corner' as const, bulge })),
});
const BLANKS: Record<string, [blank: Blank, xMm: number]> = {
  cone: [{ ...(createBlank('cone') as Extract<Blank, { kind: 'cone' }>), datumDiameterMm: 60, farDiameterMm: 30, lengthMm: 50 }, 25],
  barrel: [
    turned([
      [0, 40, 0.12],
      [60, 40, 0],
    ]),
    31,
  ],
  'dome, turned': [
    turned([
      [0, 60, 0],
      [10, 60, 0.3],
      [34, 8, 0],
      [40, 8, 0],
    ]),
    24,
  ],
  'dome, free': [createDomeBlank(), 0],
};
const table = (letter: 'A' | 'B', turnAsideMm = 0): Machine => {
  const made = TABLE_MACHINE;
  return withTable(made, { tilt: { ...made.layout.tilt, letter }, turnAsideMm });
};
const MACHINES: Record<string, Machine> = {
  'plain table': withLayoutKind(machineWith({}), 'table', FRESH_AXES),
  'rotary along X': machineWith({}),
  'rotary along Y': machineWith({ sense: -1 }, 'X'),
  'tilting head': tiltingMachine({ pivotMm: 120 }),
  'table A/C': table('A'),
  'table B/C': table('B'),
  'table A/C, axes 12 mm apart': table('A', 12),
  'table B/C, axes −0.4 mm apart': table('B', -0.4),
  'table A/C, 7 mm apart, tool’s point kept': { ...table('A', 7), dialect: 'tool-point', feedMode: 'G94' },
  'tilting head, tool’s point kept': { ...tiltingMachine(), dialect: 'tool-point', feedMode: 'G94' },
};
const rows: string[] = [];

describe.each(Object.entries(BLANKS))('%s', (skin, [blank, xMm]) => {
  it.each(Object.entries(MACHINES))('%s', async (layout, machine) => {
    const base = carveJob('OK', { carve: { maxDepthMm: 0.5 }, words: { heightMm: 4, at: { xMm, turnDeg: 0 } } });
    const job: Job = { ...base, blank, machine, zero: { ...base.zero, centreMm: { xMm: 5, yMm: 3, zMm: -50 } } };
    const { findings, proof, plan } = await planJob(job, null, domeShapes());
    const lean = Number(/up to ([\d.]+)°/.exec(findings.find((f) => f.code === 'tool-leans')?.text ?? '')?.[1] ?? 0);
    rows.push(`${skin} | ${layout} | ${plan.timeS.toFixed(1)} s | edge ${proof.edge?.maxOutsideUm.toFixed(2) ?? '–'} µm | lean ${lean}°`);
    if (layout === 'plain table' && blank.kind !== 'free') {
      expect(findings.map((f) => f.code)).toContain('needs-rotary');
      return;
    }
    if (machine.layout.kind === 'rotary' && skin === 'dome, turned') {
      expect(findings.map((f) => f.code)).toContain('leans-too-far');
      return;
    }
    expect(findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    expect(proof.readBack.faults).toEqual([]);
    expect(proof.edge!.maxOutsideUm).toBeLessThan(2);
    // What can tilt far enough stands along the normal; what cannot says by how much it leans.
    const tilts = machine.layout.kind === 'rotary-tilting-head' || machine.layout.kind === 'table-table';
    if (tilts && blank.kind !== 'free') expect(lean).toBe(0);
    if (machine.layout.kind === 'rotary' && skin !== 'dome, free') expect(findings.some((f) => f.code === 'tool-leans')).toBe(true);
    if (machine.layout.kind === 'table-table') expect(lean).toBe(0);
  });
  it('is told in a table', () => void (rows.length > 0 && console.info(rows.splice(0).join('\n'))));
});

describe('a table whose sense is not what the machine was told', () => {
  it.each([
    ['tilt', { tilt: { ...TABLE_MACHINE.layout.tilt, sense: 1 as const, minDeg: -110, maxDeg: 30 } }],
    ['turn', { turn: { ...TABLE_MACHINE.layout.turn, sense: 1 as const } }],
  ])('%s: the program, read back on the machine as it is, is far off or a mirror image, and says so', async (_, real) => {
    const base = carveJob('OK', { carve: { maxDepthMm: 0.5 }, words: { heightMm: 4, at: { xMm: 31, turnDeg: 20 } } });
    const zero = { ...base.zero, centreMm: { xMm: 0, yMm: 0, zMm: -50 } };
    const job: Job = { ...base, blank: BLANKS.barrel![0], machine: TABLE_MACHINE, zero };
    const { plan } = await planJob(job);
    const there = createSetup({ ...job, machine: withTable(TABLE_MACHINE, real) });
    const codes = findReadBackFaults(there.job, runSteps(computeReadBack(there, plan))).map((f) => f.code);
    expect(codes.some((c) => c === 'deviation' || c === 'mirrored-program')).toBe(true);
    expect(findReadBackFaults(job, runSteps(computeReadBack(createSetup(job), plan)))).toEqual([]);
  });
});
