import { describe, expect, it } from 'vitest';
import { carveJob, lineJob, planJob } from '../../../tests/support';
import { DEFAULT_MACHINE } from '../job/defaults';
import type { Machine } from '../job/schema';
import { isFeedMove } from '../lay/laidPaths';
import { readProgram } from './interpreter';
import { formatWord } from './rs274';

const linesWith = async (machine: Partial<Machine>) =>
  (await planJob(lineJob('OX', {}, { machine: { ...DEFAULT_MACHINE, ...machine } }))).plan;

describe('rs274', () => {
  it('writes F on every cutting block in G93, and the block lasts length over feed', async () => {
    const { program, moves, laid } = await linesWith({ feedMode: 'G93' });
    const { motions } = readProgram(program.lines.join('\n'));
    const byLine = new Map(motions.map((m) => [m.line, m]));
    let checked = 0;
    for (let i = 1; i < moves.count; i++) {
      const m = byLine.get(program.lineOfBlock[i]!);
      if (!m || !isFeedMove(laid.kind[moves.move[i]!]!) || program.lineOfBlock[i] === program.lineOfBlock[i - 1]) continue;
      expect(program.lines[m.line]).toMatch(/F[\d.]+$/);
      expect(m.timeMin / moves.feedTimeMin[i]! - 1).toBeCloseTo(0, 5);
      checked++;
    }
    expect(checked).toBeGreaterThan(20);
  });

  it('compensates the feed in G94 so that blocks last the same', async () => {
    const g93 = await linesWith({ feedMode: 'G93' });
    const g94 = await linesWith({ feedMode: 'G94' });
    const total = (plan: typeof g93) => readProgram(plan.program.lines.join('\n')).motions.reduce((sum, m) => sum + m.timeMin, 0);
    expect(total(g94)).toBeCloseTo(total(g93), 6);
    expect(g94.readBack.maxTimeRatio).toBeLessThan(1e-5);
    expect(g94.program.lines.join('\n')).not.toContain('G93');
  });

  it('brings Z up alone before anything else moves, and never feeds in the first motion', async () => {
    const { motions } = readProgram((await linesWith({})).program.lines.join('\n'));
    expect(motions[0]!.rapid).toBe(true);
    expect([...motions[0]!.end].map((v, k) => (k === 2 ? v > 0 : v === 0))).toEqual([true, true, true, true, true, true]);
  });

  it.each([
    ['A', 'Y', 'X'],
    ['B', 'X', 'Y'],
    ['A', 'X', 'Y'],
    ['C', 'Y', 'X'],
  ] as const)('turns %s, wraps %s, runs along %s', async (rotaryLetter, wrappedAxis, along) => {
    const { program, readBack } = await linesWith({ rotaryLetter, wrappedAxis });
    const { motions, faults } = readProgram(program.lines.join('\n'));
    expect(faults).toEqual([]);
    const k = 'XYZABC'.indexOf(along),
      r = 'XYZABC'.indexOf(rotaryLetter),
      w = 'XYZABC'.indexOf(wrappedAxis);
    expect(new Set(motions.map((m) => m.end[k])).size).toBeGreaterThan(5);
    expect(new Set(motions.map((m) => m.end[r])).size).toBeGreaterThan(5);
    expect(new Set(motions.map((m) => m.end[w]))).toEqual(new Set([0]));
    expect(readBack.maxTipUm).toBeLessThan(2);
  });

  it('changes tools with T M6 only where there is a changer, else stops', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const text = async (toolChanger: boolean) =>
      (await planJob({ ...job, machine: { ...job.machine, toolChanger } })).plan.program.lines.join('\n');
    const hand = await text(false);
    expect(hand).not.toContain('M6');
    expect(hand).toContain('M0');
    const changer = await text(true);
    expect(readProgram(changer).tools).toEqual([1, 2]);
    expect(changer).not.toContain('M0');
  });

  it('keeps comments plain, whatever the job is called', async () => {
    const { program } = (await planJob(lineJob('I', {}, { name: 'Ørsted (no. 2) ⚓\n; M30 %' }))).plan;
    expect(readProgram(program.lines.join('\n')).faults).toEqual([]);
    program.lines.forEach((l) => expect(l).toMatch(/^[\x20-\x7e]*$/));
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
