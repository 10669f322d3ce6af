import { runSteps } from '../base/steps';
import { describe, expect, it } from 'vitest';
import { carveJob, lineJob, machineWith, planJob, proveWith, readNc, textOf } from '../../../tests/support';
import { DEFAULT_MACHINE } from '../job/defaults';
import type { Machine } from '../job/schema';
import { isFeedMove } from '../lay/laidPaths';
import { rs274 } from './rs274';
import { formatFeed, formatWord } from './words';

const plannedWith = (machine: Partial<Machine>) => planJob(lineJob('OX', {}, { machine: { ...DEFAULT_MACHINE, ...machine } }));

describe('rs274', () => {
  it('writes F on every cutting block in G93, and the block lasts length over feed', async () => {
    const { plan } = await plannedWith({ feedMode: 'G93' });
    const { program, moves, laid } = plan;
    const { motions } = readNc(textOf(plan));
    const byLine = new Map(motions.map((m) => [m.line, m]));
    let checked = 0;
    for (let i = 1; i < moves.count; i++) {
      const m = byLine.get(program.lineOfBlock[i]!);
      if (!m || !isFeedMove(laid.kind[moves.move[i]!]!) || program.lineOfBlock[i] === program.lineOfBlock[i - 1]) continue;
      expect(program.parts[0]!.lines[m.line]).toMatch(/F[\d.]+$/);
      expect(m.timeMin / moves.feedTimeMin[i]! - 1).toBeCloseTo(0, 5);
      checked++;
    }
    expect(checked).toBeGreaterThan(20);
  });

  it('compensates the feed in G94 so that blocks last the same', async () => {
    const g93 = await plannedWith({ feedMode: 'G93' });
    const g94 = await plannedWith({ feedMode: 'G94' });
    const total = ({ plan }: typeof g93) => readNc(textOf(plan)).motions.reduce((sum, m) => sum + m.timeMin, 0);
    expect(total(g94)).toBeCloseTo(total(g93), 6);
    expect(g94.proof.readBack.maxTimeRatio).toBeLessThan(1e-5);
    expect(textOf(g94.plan)).not.toContain('G93');
  });

  it('brings Z up alone before anything else moves, and never feeds in the first motion', async () => {
    const { motions } = readNc(textOf((await plannedWith({})).plan));
    expect(motions[0]!.rapid).toBe(true);
    expect([...motions[0]!.end].map((v, k) => (k === 2 ? v > 0 : v === 0))).toEqual([true, true, true, true, true, true]);
  });

  it.each([
    ['A', 'Y', 'X'],
    ['B', 'X', 'Y'],
    ['A', 'X', 'Y'],
    ['C', 'Y', 'X'],
  ] as const)('turns %s, wraps %s, runs along %s', async (letter, wrappedAxis, along) => {
    const { plan, proof } = await plannedWith(machineWith({ letter }, wrappedAxis));
    const { motions, faults } = readNc(textOf(plan));
    expect(faults).toEqual([]);
    const k = 'XYZABC'.indexOf(along),
      r = 'XYZABC'.indexOf(letter),
      w = 'XYZABC'.indexOf(wrappedAxis);
    expect(new Set(motions.map((m) => m.end[k])).size).toBeGreaterThan(5);
    expect(new Set(motions.map((m) => m.end[r])).size).toBeGreaterThan(5);
    expect(new Set(motions.map((m) => m.end[w]))).toEqual(new Set([0]));
    expect(proof.readBack.maxTipUm).toBeLessThan(2);
  });

  it('changes tools with T M6 only where there is a changer, else stops', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const text = async (toolChanger: boolean) => textOf((await planJob({ ...job, machine: { ...job.machine, toolChanger } })).plan);
    const hand = await text(false);
    expect(hand).not.toContain('M6');
    expect(hand).toContain('M0');
    const changer = await text(true);
    expect(readNc(changer).stops.map((s) => `${s.kind} ${s.tool}`)).toEqual(['change 1', 'change 2', 'end 2']);
    expect(changer).not.toContain('M0');
  });

  it('writes one file for each cutter where asked to: each starts from nothing, ends by itself, and is proved', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const { setup, lettering, plan } = await planJob(job);
    const { kinematics, runs } = setup;
    const program = runSteps(rs274.write({ job, kinematics, laid: plan.laid, moves: plan.moves, runs }, 'tool'));
    expect(program.parts.map((part) => part.suffix)).toEqual(['T1', 'T2']);
    for (const part of program.parts) {
      const { motions, stops, faults } = readNc(part.lines.join('\n'));
      expect(faults).toEqual([]);
      expect(stops.map((s) => s.kind)).toEqual(['end']);
      expect([...motions[0]!.end].map((v, k) => (k === 2 ? v > 40 : v === 0))).toEqual([true, true, true, true, true, true]);
    }
    const proof = proveWith(setup, lettering, { ...plan, program });
    expect(proof.findings).toEqual([]);
    expect(proof.readBack.maxTipUm).toBeLessThan(2);
  });

  it('leaves the control as it is usually found: units a minute, spindle off, program ended', async () => {
    const { plan } = await plannedWith({ feedMode: 'G93' });
    expect(plan.program.parts.map((p) => p.suffix)).toEqual(['']);
    expect(plan.program.parts[0]!.lines.slice(-4)).toEqual(['G94', 'M5', 'M2', '%']);
    expect(textOf((await plannedWith({ feedMode: 'G94' })).plan)).toMatch(/Z45\.\nM5\nM2\n%$/);
  });

  it('keeps comments plain, whatever the job is called', async () => {
    const { plan } = await planJob(lineJob('I', {}, { name: 'Ørsted (no. 2) ⚓\n; M30 %' }));
    expect(readNc(textOf(plan)).faults).toEqual([]);
    plan.program.parts[0]!.lines.forEach((l) => expect(l).toMatch(/^[\x20-\x7e]*$/));
  });
});

describe('formatWord', () => {
  it.each([
    [1.5, 4, '1.5'],
    [2, 3, '2.'],
    [-0.00001, 4, '0.'],
    [0.12344999, 4, '0.1234'],
    [-3.1, 2, '-3.1'],
  ])('%d with %d digits is %s', (v, d, text) => expect(formatWord(v, d)).toBe(text));
});

describe('formatFeed', () => {
  it.each([
    [14253626.4, '14253626.'],
    [53921.351, '53921.35'],
    [0.0012345678, '0.001234568'],
    [1e-9, '0.000000001'],
  ])('keeps seven digits that count: %d is %s', (v, text) => expect(formatFeed(v)).toBe(text));
});
