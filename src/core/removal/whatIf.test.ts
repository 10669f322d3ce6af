import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, planJob, type Planned } from '../../../tests/support';
import { runSteps } from '../base/steps';
import { listToolsByHand } from '../pipeline/setup';
import { readProgram } from '../program/interpreter';
import { DIALECTS } from '../program/registry';
import { toPartTexts } from '../proof/readBack';
import { chooseCellMm, MEMORY_LIMIT_BYTES } from './cellSize';
import { proveField, type FieldProof } from './proveField';
import { createTrack } from './removal';
import { AS_PLANNED, type WhatIf } from './whatIf';

const HALF = Math.PI / 6;

describe('what if the machine is not as the job says (geometry of a V: a stroke is 2·e·tan β wider for a height e)', () => {
  let planned: Planned;
  const readings = () => {
    const { rules } = DIALECTS[planned.setup.job.machine.dialect];
    return toPartTexts(planned.plan.program).map((t) => runSteps(readProgram(t, rules)));
  };
  const proved = (whatIf: Partial<WhatIf>): FieldProof => {
    const { setup, lettering, plan } = planned;
    const options = { whatIf: { ...AS_PLANNED, ...whatIf } };
    return runSteps(proveField(setup, lettering, readings(), listToolsByHand(setup.runs, plan), 0.02, options));
  };
  const meanWider = (whatIf: Partial<WhatIf>): number => {
    const { letters } = proved(whatIf).truth;
    return letters.reduce((sum, l) => sum + l.cutMm - l.drawnMm, 0) / letters.length;
  };
  beforeAll(async () => {
    const words = { heightMm: 6, at: { xMm: 40, turnDeg: 0 } };
    planned = await planJob(carveJob('HIB', { words, tool: { includedDeg: 60, tipMm: 0 }, carve: { maxDepthMm: 3 } }));
  });

  it('a zero too low makes strokes wider, one too high narrower', () => {
    expect(meanWider({ zeroMm: -0.05 })).toBeCloseTo(2 * 0.05 * Math.tan(HALF), 2);
    // Corners lose more than their walls do: a shallower V does not run as far into them.
    const narrower = -meanWider({ zeroMm: 0.05 });
    expect(narrower).toBeGreaterThan(0.97 * 2 * 0.05 * Math.tan(HALF));
    expect(narrower).toBeLessThan(1.15 * 2 * 0.05 * Math.tan(HALF));
  });

  it('a blank out of round stands higher at turn 0 and is cut deeper there, and the other way opposite', async () => {
    expect(meanWider({ outOfRoundMm: 0.05 })).toBeCloseTo(2 * 0.05 * Math.tan(HALF), 2);
    const { job } = planned.setup;
    const other = job.inscriptions.map((i) => ({ ...i, at: { ...i.at, turnDeg: 179 } }));
    const before = planned;
    planned = await planJob({ ...job, inscriptions: other });
    expect(meanWider({ outOfRoundMm: 0.05 })).toBeCloseTo(-2 * 0.05 * Math.tan(HALF), 2);
    planned = before;
  });

  it('a tip that wears keeps its flanks: wide strokes keep their width, and only their middle is less deep', () => {
    const worn = proved({ wornMm: 0.2 });
    expect(Math.abs(meanWider({ wornMm: 0.2 }))).toBeLessThan(0.01);
    const deepest = (p: FieldProof) => Math.max(...p.removal.field.tiles.map((t) => t.depth.reduce((a, b) => Math.max(a, b), 0)));
    expect(deepest(proved({})) - deepest(worn)).toBeCloseTo(0.1 / Math.tan(HALF), 1);
  });

  it('cells are a twelfth of the narrowest stroke, and never finer than memory allows', () => {
    const { setup, plan } = planned;
    const choice = chooseCellMm(setup, createTrack(setup, readings(), listToolsByHand(setup.runs, plan)));
    expect(choice.narrowestMm).toBeGreaterThan(0.05);
    expect(choice.cellMm).toBeCloseTo(Math.max(choice.finestMm, choice.narrowestMm / 12), 9);
    expect(proved({}).removal.bytes).toBeLessThan(MEMORY_LIMIT_BYTES);
  });
});
