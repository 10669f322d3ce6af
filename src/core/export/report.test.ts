import { describe, expect, it } from 'vitest';
import { carveJob, lineJob, planJob, textOf } from '../../../tests/support';
import { createCut } from '../cut/kinds/registry';
import { PATH_CHORD_MM, toPathLines, toReport } from './report';

interface Line {
  cut: string;
  level: number;
  kind: string;
  tip: number[][];
  axis: number[][];
  feedMmPerMin: number;
}

describe('toPathLines', () => {
  it('keeps straight lines between points on the blank (regression: chords ran 50 µm off)', async () => {
    const job = lineJob('H—', { depthMm: 0.2 });
    const { plan, setup } = await planJob(job);
    const lines = [...toPathLines(setup, plan)].map((l) => JSON.parse(l) as Line);
    const R = job.blank.diameterMm / 2;
    const cuts = lines.filter((l) => l.kind === 'cut');
    expect(cuts.length).toBeGreaterThan(2);
    for (const { tip } of cuts) {
      for (let i = 2; i < tip.length; i++) {
        const [a, b] = [tip[i - 1]!, tip[i]!];
        const middle = Math.hypot((a[1]! + b[1]!) / 2, (a[2]! + b[2]!) / 2);
        const ends = (Math.hypot(a[1]!, a[2]!) + Math.hypot(b[1]!, b[2]!)) / 2;
        expect(Math.abs(middle - ends)).toBeLessThan(1.05 * PATH_CHORD_MM);
      }
      expect(Math.hypot(tip[tip.length - 1]![1]!, tip[tip.length - 1]![2]!)).toBeCloseTo(R - 0.2, 9);
    }
  });

  it('joins up: every path begins where the one before it ended, hops stay outside, axes are unit normals', async () => {
    const job = lineJob('TI');
    const { plan, setup } = await planJob(job);
    const lines = [...toPathLines(setup, plan)].map((l) => JSON.parse(l) as Line);
    lines.slice(1).forEach((l, k) => expect(l.tip[0]).toEqual(lines[k]!.tip.at(-1)));
    for (const { tip, axis, kind, feedMmPerMin } of lines) {
      expect(feedMmPerMin > 0).toBe(kind === 'cut');
      axis.forEach((a) => expect(Math.hypot(...a)).toBeCloseTo(1, 12));
      if (kind === 'hop') tip.slice(1, -1).forEach((t) => expect(Math.hypot(t[1]!, t[2]!)).toBeGreaterThan(job.blank.diameterMm / 2));
    }
  });
});

describe('feeds of paths', () => {
  it('are those that the program has: a drill goes down, and never along a line', async () => {
    const job = lineJob('HI');
    const cut = {
      ...createCut('drill', 'holes', job.tools[0]!.id),
      at: 'starts' as const,
      depthMm: 0.4,
      feedMmPerMin: 90,
      plungeMmPerMin: 45,
    };
    const { plan, setup } = await planJob({ ...job, machine: { ...job.machine, feedMode: 'G94' }, cuts: [cut] });
    const feeds = [...toPathLines(setup, plan)].map((l) => JSON.parse(l) as Line & { plungeMmPerMin?: number });
    const own = new Set(feeds.filter((l) => l.kind === 'cut').map((l) => l.feedMmPerMin));
    const inProgram = new Set([...textOf(plan).matchAll(/G1[^\n]*F([\d.]+)/g)].map((m) => Number(m[1])));
    expect([...own]).toEqual([...inProgram]);
  });
});

describe('toReport', () => {
  it('gives the figures of the plan', async () => {
    const job = carveJob('GULL', { blank: { diameterMm: 42, lengthMm: 60 } });
    const { setup, lettering, plan, proof } = await planJob(job);
    const report = toReport(setup, lettering, plan, proof);
    expect(report.unrolledMm.x).toBe(60);
    expect(report.unrolledMm.y).toBeCloseTo(Math.PI * 42, 9);
    expect(report.letteringMm.turnDeg).toBeCloseTo((report.letteringMm.y * 360) / (Math.PI * 42), 9);
    expect(report.letteringMm.x).toBeGreaterThan(5.9);
    expect(report.edge!.maxOutsideUm).toBeLessThan(2);
    expect(report.cuts).toHaveLength(1);
    expect(report.cuts[0]).toMatchObject({ id: 'carve', kind: 'v-carve', tool: 'cutter' });
    expect(report.cuts[0]!.levelsMm).toEqual([report.cuts[0]!.maxDepthMm]);
    expect(report.readBack.maxTipUm).toBeLessThan(2);
    expect(report.blocks).toBe(plan.moves.count);
  });

  it('is zero, not infinite, without lettering', async () => {
    const job = carveJob('');
    const { setup, lettering, plan, proof } = await planJob(job);
    expect(toReport(setup, lettering, plan, proof).letteringMm).toEqual({ x: 0, y: 0, turnDeg: 0 });
  });
});
