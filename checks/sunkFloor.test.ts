/**
 * Lettering carved in the floor of a pocket, by sweeping the cone along the exported path: the floor is made here, from the blank's
 * radius less the depth, and shares no code with the planner's. Common practice, no source.
 */
import { describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { createTool } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import type { Blank } from '../src/core/job/blankSchema';
import { createBlank } from '../src/core/job/defaults';
import type { Job, TextInscription } from '../src/core/job/schema';
import { listToolsByHand } from '../src/core/pipeline/setup';
import { readProgram } from '../src/core/program/interpreter';
import { DIALECTS } from '../src/core/program/registry';
import { toPartTexts } from '../src/core/proof/readBack';
import { proveField } from '../src/core/removal/proveField';
import { toPathLines } from '../src/core/export/report';
import { createProfileNodes } from '../src/core/surface/profileShapes';
import { createSurface } from '../src/core/surface/registry';
import type { Surface } from '../src/core/surface/surface';
import { carveJob, planJob } from '../tests/support';
import { createSweep } from './sweep';

const FLOOR_MM = 1.2;

/** A round blank turned down by the depth, in closed form: the same turn, the same place along, a smaller radius. */
function turnDown(surface: Surface, byMm: number): Surface {
  return {
    ...surface,
    pointInto(x, y, out) {
      surface.pointInto(x, y, out);
      const radius = Math.hypot(out[1]!, out[2]!);
      out[1]! *= 1 - byMm / radius;
      out[2]! *= 1 - byMm / radius;
    },
    toSheet(px, py, pz) {
      const at = surface.toSheet(px, py, pz);
      return { ...at, heightMm: at.heightMm + byMm };
    },
  };
}

const blanks: [string, Blank][] = [
  ['a cylinder', { ...createBlank('cylinder'), diameterMm: 16, lengthMm: 60 }],
  ['a cone under a plain rotary', { ...createBlank('cone'), datumDiameterMm: 24, farDiameterMm: 14, lengthMm: 60 }],
  ['a barrel under a plain rotary', { ...createBlank('turned'), profile: createProfileNodes('barrel', 22, 60) }],
];

describe('a carve in a sunk floor', () => {
  it.each(blanks)('on %s meets its outline on the floor: 5 µm at most, 2 µm outside at most', async (_, blank) => {
    const job = { ...carveJob('HAS', { words: { heightMm: 5 }, carve: { sunkMm: FLOOR_MM, maxDepthMm: 3 } }), blank };
    const { lettering, plan, setup, proof } = await planJob(job);
    const floor = turnDown(createSurface(blank), FLOOR_MM);
    const swept = createSweep([...toPathLines(setup, plan)], 45).measureEdge(lettering.artworks[0]!.regions, floor, 0.1);
    expect(swept.samples).toBeGreaterThan(500);
    expect(swept.outside).toBeLessThanOrEqual(0.002);
    expect(swept.uncut95).toBeLessThanOrEqual(0.005);
    // What the bench shows is the same.
    expect(Math.abs(proof.edge!.maxOutsideUm / 1000 - swept.outside)).toBeLessThan(0.0015);
    // Planned from the surface and let down, the letters would miss the outline on a floor that is narrower than it.
    const plain = await planJob({ ...job, cuts: job.cuts.map((c) => ({ ...c, sunkMm: 0 })) });
    const lowered = [...toPathLines(plain.setup, plain.plan)].map((line) => {
      const path = JSON.parse(line) as { tip: number[][]; axis: number[][] };
      return JSON.stringify({ ...path, tip: path.tip.map((t, i) => t.map((v, k) => v - FLOOR_MM * path.axis[i]![k]!)) });
    });
    expect(createSweep(lowered, 45).measureEdge(lettering.artworks[0]!.regions, floor, 0.2).outside).toBeGreaterThan(0.01);
  });

  it('is found in the cut piece where the pocket was cut before it, and is said to reach outside where it was not', async () => {
    const base = carveJob('HAS', { words: { heightMm: 2.5 }, carve: { sunkMm: 0.4, maxDepthMm: 3, targets: ['words'] } });
    const [words] = base.inscriptions as [TextInscription];
    const [carve] = base.cuts;
    const job: Job = {
      ...base,
      tools: [...base.tools, createTool('mill', 2, 'mill', 'flat', { diameterMm: 1, fluteLengthMm: 4 })],
      inscriptions: [words, { ...words, id: 'block', text: '\u2588\u2588', heightMm: 9 }],
      cuts: [{ ...createCut('pocket', 'pocket', 'mill'), depthMm: 0.4, targets: ['block'] }, carve!],
    };
    const prove = async (cuts: Job['cuts']) => {
      const { setup, lettering, plan } = await planJob({ ...job, cuts });
      const readings = toPartTexts(plan.program).map((part) => runSteps(readProgram(part, DIALECTS[job.machine.dialect].rules)));
      return runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), 0.02)).truth;
    };
    const sunk = await prove(job.cuts);
    const drawnOf = ({ letters }: typeof sunk) => letters.filter((l) => l.inscription === 'words').map((l) => [l.text, l.drawnMm, l.cutMm]);
    expect(drawnOf(sunk)).toHaveLength(3);
    for (const [, drawn, cut] of drawnOf(sunk) as [string, number, number][]) expect(Math.abs(cut - drawn)).toBeLessThan(0.02);
    expect(sunk.edge!.leastOutsideUm).toBeLessThan(5);
    const alone = await prove([carve!]);
    expect(alone.edge!.leastOutsideUm).toBeGreaterThan(200);
  });
});
