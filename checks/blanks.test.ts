import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { parseJob } from '../src/core/job/parse';
import { computeEdgeProof } from '../src/core/proof/edge';
import { readShape } from '../src/core/shape/readShape';
import { createBlank } from '../src/core/job/defaults';
import type { Blank, Job, Machine, TextInscription } from '../src/core/job/schema';
import { createProfileNodes } from '../src/core/surface/meridian';
import { toPathLines } from '../src/core/export/report';
import { carveJob, createDomeBlank, domeShapes, planJob } from '../tests/support';
import { createSweep } from './sweep';

/**
 * The edge on the metal against the outline on every kind of blank, found by sweeping: the cutter's cone is set at close places
 * along the exported tip path, and the surface is probed across the outline. Shares no code with the planner but the surface's
 * own map from sheet to space. Bounds are those of the aim: 5 µm at most, never more than 2 µm outside.
 */
const TILT: Machine['tilt'] = { letter: 'B', sense: 1, minDeg: -100, maxDeg: 100, pivotMm: 0, maxDegPerMin: 3600, accelerationDegPerS2: 900 };

interface Case {
  name: string;
  blank: Blank;
  words?: Partial<TextInscription>;
  lay?: Partial<Job['lay']>;
  tilt?: boolean;
  includedDeg?: number;
  /** Depth limit, so that wide strokes get a floor. */
  maxDepthMm?: number;
}

const round = { boreMm: 0, zero: 'axis' as const, seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 };
const cases: Case[] = [
  { name: 'cone, tool radial, half-angle 29°, letters whole on a level line', blank: { ...createBlank('cone'), datumDiameterMm: 14, farDiameterMm: 14 + 2 * 30 * Math.tan((29 * Math.PI) / 180), lengthMm: 30 }, words: { at: { xMm: 16, turnDeg: 10 } }, lay: { kind: 'level' } },
  { name: 'cone, tool along the normal, wrapped', blank: { ...createBlank('cone'), datumDiameterMm: 14, farDiameterMm: 40, lengthMm: 30 }, words: { at: { xMm: 16, turnDeg: 10 } }, tilt: true },
  { name: 'cone, tool radial, a 60° V limited to 0.6 mm: walls and floor', blank: { ...createBlank('cone'), datumDiameterMm: 44, farDiameterMm: 110, lengthMm: 58 }, words: { at: { xMm: 40, turnDeg: 10 } }, lay: { kind: 'level' }, includedDeg: 60, maxDepthMm: 0.6 },
  { name: 'cylinder, limited to 0.5 mm: walls and floor', blank: { ...createBlank('cylinder'), diameterMm: 20, lengthMm: 60 }, words: { at: { xMm: 30, turnDeg: 0 } }, maxDepthMm: 0.5 },
  { name: 'waist (saddle), tool radial, limited to 0.5 mm: walls and floor', blank: { kind: 'turned', profile: createProfileNodes('waist', 40, 50), ...round }, words: { at: { xMm: 16, turnDeg: 0 } }, lay: { kind: 'level' }, maxDepthMm: 0.5 },
  { name: 'barrel (convex both ways), tool radial', blank: { kind: 'turned', profile: createProfileNodes('barrel', 20, 40), ...round }, words: { at: { xMm: 12, turnDeg: 0 } }, lay: { kind: 'level' } },
  { name: 'waist (saddle), tool along the normal', blank: { kind: 'turned', profile: createProfileNodes('waist', 30, 40), ...round }, words: { at: { xMm: 20, turnDeg: 0 } }, lay: { kind: 'level' }, tilt: true },
  { name: 'waist (saddle), tool radial, bent letters', blank: { kind: 'turned', profile: createProfileNodes('waist', 30, 40), ...round }, words: { at: { xMm: 14, turnDeg: 0 } }, lay: { kind: 'level', letters: 'bent' } },
  { name: 'trough (concave), tool upright', blank: { ...createBlank('arched'), side: 'concave', radiusMm: 40, chordMm: 60, lengthMm: 60, thicknessMm: 8 }, words: { at: { xMm: 30, turnDeg: 4 } } },
  { name: 'ball, tool along the normal, draped', blank: { kind: 'turned', profile: createProfileNodes('ball', 30, 30), ...round }, words: { at: { xMm: 22, turnDeg: 0 }, rotationDeg: 60 }, lay: { kind: 'drape' }, tilt: true },
  { name: 'cylinder, projected at up to 50°', blank: { ...createBlank('cylinder'), diameterMm: 36, lengthMm: 60 }, words: { at: { xMm: 30, turnDeg: 18 }, heightMm: 5 }, lay: { kind: 'project', from: 'direction' } },
  { name: 'inclined plate, tool upright', blank: { ...createBlank('plate'), inclineDeg: 25, inclineTowards: 'y' }, words: { at: { xMm: 40, turnDeg: 0 }, rotationDeg: 30 } },
  { name: 'free shape (dome as a mesh), tool upright, draped', blank: createDomeBlank(), words: { at: { xMm: 3, turnDeg: 5 }, rotationDeg: 0 }, lay: { kind: 'drape' } },
];

describe('edge cut on every kind of blank against the outline, swept', () => {
  it.each(cases)('$name', async ({ blank, words, lay, tilt, includedDeg = 90, maxDepthMm = 5 }) => {
    const base = carveJob('HRSQ', { words: { heightMm: 6, letterSpacingMm: 0.2, ...words }, tool: { includedDeg }, carve: { maxDepthMm } });
    const job: Job = { ...base, blank, lay: { ...base.lay, ...lay }, machine: { ...base.machine, tilt: tilt ? TILT : null } };
    const { plan, lettering, surface } = await planJob(job, null, domeShapes());
    const sweep = createSweep([...toPathLines(job, plan, surface)], includedDeg / 2);
    const result = sweep.measureEdge(lettering.artworks[0]!.regions, surface, 0.12);
    const proof = computeEdgeProof(job, lettering, plan, surface, () => undefined)!;
    console.info(JSON.stringify({ ...result, proofOut: proof.maxOutsideUm / 1000, proofLeft: proof.maxUncutUm / 1000, back: plan.readBack.maxTipUm / 1000 }, (_, v) => (typeof v === 'number' && v < 1 ? +(1000 * v).toFixed(2) : v)),
      plan.findings.map((f) => f.code).join());
    expect(result.samples).toBeGreaterThan(500);
    expect(result.outside).toBeLessThanOrEqual(0.002);
    expect(result.uncut).toBeLessThanOrEqual(0.005);
    // The proof on the bench must not say better than what is swept.
    expect(Math.abs(proof.maxOutsideUm / 1000 - result.outside)).toBeLessThan(0.0015);
    expect(Math.abs(proof.maxUncutUm / 1000 - result.uncut)).toBeLessThan(0.003);
  }, 120_000);
});

/** The demo's own jobs, with serifs, hairlines, flat tips and depth limits: what the proof says of each. */
describe('the demo jobs', () => {
  it.each(['rain-gauge', 'lamp-hood', 'net-float', 'slate-plate', 'compass-cover'])('%s: never more than 2 µm outside', async (file) => {
    const parsed = parseJob(JSON.parse(readFileSync(`resources/jobs/${file}.json`, 'utf8')));
    const cover = await readShape(new Uint8Array(readFileSync('resources/shapes/compass-cover.stl')), 'cover.stl', () => Promise.reject(new Error('no STEP')));
    if (!parsed.ok || !cover.ok) throw new Error(file);
    for (const sharp of [false, true]) {
      const job = { ...parsed.value, tools: parsed.value.tools.map((t) => ({ ...t, tipMm: sharp ? 0 : t.tipMm })) };
      const { plan, lettering, surface } = await planJob(job, null, { find: () => cover.value });
      const proof = computeEdgeProof(job, lettering, plan, surface, () => undefined)!;
      console.info(`${file}${sharp ? ', sharp' : ''}: outside ${proof.maxOutsideUm.toFixed(2)} µm, 95 % left within ${proof.uncut95Um.toFixed(2)}, read back ${plan.readBack.maxTipUm.toFixed(2)}`);
      expect(proof.maxOutsideUm).toBeLessThan(2);
      expect(proof.uncut95Um).toBeLessThan(2);
      expect(proof.maxUncutUm).toBeLessThan(25);
      expect(plan.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    }
  }, 120_000);

  // Serifs whose ends are narrower than the tip: discs of its size, fitted into the outline by search, stay 0.28 mm away from
  // the farthest of them. The proof once took paths that do not reach there for the nearest, and said 0.58 mm.
  it('lamp-hood with a tip of 0.1 mm: what is left is what the tip does not fit into', async () => {
    const parsed = parseJob(JSON.parse(readFileSync('resources/jobs/lamp-hood.json', 'utf8')));
    if (!parsed.ok) throw new Error('lamp-hood');
    const job = { ...parsed.value, tools: parsed.value.tools.map((t) => ({ ...t, includedDeg: 60, tipMm: 0.1 })) };
    const { plan, lettering, surface } = await planJob(job);
    const proof = computeEdgeProof(job, lettering, plan, surface, () => undefined)!;
    expect(proof.maxUncutUm).toBeGreaterThan(150);
    expect(proof.maxUncutUm).toBeLessThan(300);
  }, 120_000);
});
