import { describe, expect, it } from 'vitest';
import { carveJob, planJob, type Planned } from '../../../tests/support';
import { runSteps } from '../base/steps';
import { createInscription } from '../job/defaults';
import type { Job } from '../job/schema';
import { listToolsByHand } from '../pipeline/setup';
import { readProgram } from '../program/interpreter';
import { DIALECTS } from '../program/registry';
import { toPartTexts } from '../proof/readBack';
import { findSame } from './change';
import { createTrack, Removal, type Track } from './removal';

const CELL_MM = 0.04;

function trackOf({ setup, plan }: Planned): Track {
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const readings = toPartTexts(plan.program).map((t) => runSteps(readProgram(t, rules)));
  return createTrack(setup, readings, listToolsByHand(setup.runs, plan));
}

/** Three words along a cylinder, the first always the same. */
function jobOf(middle: string, xMm = 40, last = 'KEG'): Job {
  const job = carveJob('HOB', { words: { heightMm: 4, at: { xMm: 16, turnDeg: 0 } }, tool: { includedDeg: 60, tipMm: 0.1 } });
  const [first] = job.inscriptions;
  const at = (id: string, text: string, x: number) => ({
    ...createInscription(id, text, { id: 'cinzel-bold' } as never, x),
    ...(first as object),
    id,
    text,
    at: { xMm: x, turnDeg: 0 },
  });
  return { ...job, inscriptions: [first!, at('two', middle, xMm), at('three', last, 64)] } as Job;
}

/** Everything that a field and its history say. */
function stateOf(removal: Removal) {
  const tiles = new Map<number, { depth: number[]; motion: number[] }>();
  for (const { key, depth, motion } of removal.field.tiles) {
    if (depth.some((d) => d > 0)) tiles.set(key, { depth: Array.from(depth), motion: Array.from(motion) });
  }
  return tiles;
}

function expectSame(a: Removal, b: Removal): void {
  const [now, wanted] = [stateOf(a), stateOf(b)];
  expect([...now.keys()].sort()).toEqual([...wanted.keys()].sort());
  for (const [key, tile] of wanted) expect(now.get(key)).toEqual(tile);
}

describe('a program that is partly another one', () => {
  it('leaves what it would leave from the start, at every moment, and takes as much in every block; most of it is not swept again', async () => {
    const [was, is] = await Promise.all([planJob(jobOf('MAST')), planJob(jobOf('MAST', 40, 'KIT'))]);
    const [before, after] = [trackOf(was), trackOf(is)];
    const old = new Removal(was.setup, before, CELL_MM);
    runSteps(old.run());
    const whole = new Removal(is.setup, after, CELL_MM);
    runSteps(whole.run());
    expect(old.isNear(after)).toBe(true);
    // It may stand anywhere when the next program comes.
    old.goTo(before.timesS[Math.floor(before.count / 3)]!);
    const next = new Removal(is.setup, after, CELL_MM, undefined, old.field);
    runSteps(next.runAfter(old));
    expectSame(next, whole);
    for (let i = 0; i < after.count; i++) {
      expect(next.load.taken[i]).toBeCloseTo(whole.load.taken[i]!, 3);
      expect(next.load.most[i]).toBeCloseTo(whole.load.most[i]!, 5);
    }
    expect(next.cells).toBeLessThan(0.7 * whole.cells);
    for (const share of [0.1, 0.35, 0.5, 0.62, 0.8, 1]) {
      const s = share * after.timesS[after.count - 1]!;
      next.goTo(s);
      whole.goTo(s);
      expectSame(next, whole);
    }
  });

  it('goes on from one to the next and back, word by word', async () => {
    let last: Removal | null = null;
    for (const [middle, xMm] of [
      ['MAST', 40],
      ['MAS', 40],
      ['', 40],
      ['MAST', 40],
      ['MAST', 30],
    ] as const) {
      const planned = await planJob(jobOf(middle, xMm));
      const track = trackOf(planned);
      const whole = new Removal(planned.setup, track, CELL_MM);
      runSteps(whole.run());
      const next: Removal = new Removal(planned.setup, track, CELL_MM, undefined, last?.field);
      runSteps(last ? next.runAfter(last) : next.run());
      expectSame(next, whole);
      last = next;
    }
  });

  it('takes no more memory however often it goes on', async () => {
    const planned = await planJob(jobOf('MAST'));
    const track = trackOf(planned);
    let last = new Removal(planned.setup, track, CELL_MM);
    runSteps(last.run());
    const taken = () => last.field.kernel.taken;
    const before = taken();
    for (let k = 0; k < 5; k++) {
      const next: Removal = new Removal(planned.setup, track, CELL_MM, undefined, last.field);
      runSteps(next.runAfter(last));
      last = next;
    }
    expect(taken()).toBe(before);
  });

  it('finds what two programs have in common, a motion less at each end', async () => {
    const track = trackOf(await planJob(jobOf('MAST')));
    expect(findSame(track, track)).toEqual({ from: track.count - 1, behind: 0 });
    const turned = { ...track, values: track.values.map((v, i) => (i === 4 * 100 ? v + 1 : v)) };
    expect(findSame(track, turned)).toEqual({ from: 99, behind: track.count - 102 });
  });
});
