import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../../../tests/support';
import { runSteps } from '../base/steps';
import { createBlank, TABLE_MACHINE } from '../job/defaults';
import type { Job } from '../job/schema';
import { listToolsByHand } from '../pipeline/setup';
import { proveField } from './proveField';

/** What a job's program runs into, beside the blank. */
async function findHits(job: Job): Promise<string[]> {
  const { setup, lettering, plan, proof } = await planJob(job);
  const { dangers } = runSteps(proveField(setup, lettering, proof.readBack.readings, listToolsByHand(setup.runs, plan), 0.06));
  return dangers.filter((d) => d.finding.code === 'chuck-hits').map((d) => d.finding.text);
}

describe('what holds the blank', () => {
  const holder = { stickOutMm: 22, holderMm: 20, holderLengthMm: 28 };
  /** A cylinder standing on the table's face, lettered near its foot or higher up. */
  const standing = (xMm: number): Job => ({
    ...carveJob('HO', { tool: holder, words: { heightMm: 4, at: { xMm, turnDeg: 0 } } }),
    machine: { ...TABLE_MACHINE, layout: { ...TABLE_MACHINE.layout, turn: { ...TABLE_MACHINE.layout.turn, chuckMm: 0 } } },
    zero: { along: 'datum', across: 'middle', turnDeg: 0, centreMm: { xMm: 0, yMm: 0, zMm: 20 } },
  });
  it('a holder that reaches below the face of the table is found, by as much as its rim is lower than the tool', async () => {
    // The tool lies level, its holder 10 mm in radius: at 7.5 mm over the face (letters 4 mm high about it) it is some 4.5 mm too low.
    const texts = await findHits(standing(7.5));
    const mm = Math.max(...texts.map((text) => Number(/the holder .* comes ([\d.]+) mm into the table/i.exec(text)?.[1] ?? 0)));
    expect(mm).toBeGreaterThan(3.5);
    expect(mm).toBeLessThan(5.5);
    expect(await findHits(standing(40))).toEqual([]);
  });

  it('clamps at the ends of a plate are found where the tool comes to them, and not in between', async () => {
    const plate = (xMm: number, highMm: number): Job => ({
      ...carveJob('HO', { tool: holder, words: { heightMm: 6, at: { xMm, turnDeg: 0 }, rotationDeg: 0 } }),
      blank: { ...createBlank('plate') },
      machine: { ...carveJob('x').machine, clamps: { highMm, reachMm: 12 } },
    });
    const [text] = await findHits(plate(16, 30));
    expect(text).toMatch(/mm into the clamps/);
    expect(await findHits(plate(45, 30))).toEqual([]);
    expect(await findHits(plate(16, 0))).toEqual([]);
  });
});
