import { beforeAll, describe, expect, it } from 'vitest';
import { createVProfile, createBallVProfile } from '../src/core/cut/profile';
import { createSurface } from '../src/core/surface/registry';
import { createTool } from '../src/core/crib/starterTools';
import { createCylinder } from '../src/core/surface/cylinder';
import { toPathLines } from '../src/core/export/report';
import { asWork, carveJob, getEngines, planJob, rect, ringsOf, type Planned, carveRings } from '../tests/support';
import { createSweep } from './sweep';

describe('V depth on flat stock', () => {
  // Source: elementary trigonometry, d = w / tan β; as tabled in engraving handbooks (common practice, no source).
  it.each([
    [90, 1.5, 1.5],
    [60, 2, 3.4641],
    [30, 0.5, 1.866],
    [120, 1, 0.5774],
  ])('%d° included, half-width %d mm: %d mm', (included, w, d) => {
    expect(createVProfile(included, 0).heightAt(w)).toBeCloseTo(d, 4);
  });

  it('a flat tip saves the depth of its own half-width', () => {
    expect(createVProfile(60, 0.2).heightAt(1)).toBeCloseTo(0.9 * Math.sqrt(3), 9);
  });

  it('a ball tip joins its cone without a step', () => {
    const p = createBallVProfile(60, 0.3);
    const join = 0.3 * (1 - Math.sin(Math.PI / 6));
    expect(p.halfWidthAt(join - 1e-9)).toBeCloseTo(p.halfWidthAt(join + 1e-9), 6);
    expect(p.halfWidthAt(0.05)).toBeCloseTo(Math.sqrt(2 * 0.3 * 0.05 - 0.05 ** 2), 9);
  });
});

/** Closed form for a stroke of half-width w (arc) along a cylinder, derived: drop of the rim, and the cone's height over the half chord. */
const trueDepth = (R: number, w: number, includedDeg: number) =>
  R * (1 - Math.cos(w / R)) + (R * Math.sin(w / R)) / Math.tan((includedDeg * Math.PI) / 360);

describe('V depth on a cylinder', () => {
  // Derived (docs/architecture.md, "True depth"); the figures are that formula's, worked out by hand.
  const table = [
    [5, 1.5, 90, 1.7009, 1.338],
    [10, 2, 60, 3.6404, 1.9069],
    [21, 1.5, 90, 1.5523, 1.451],
    [38.1, 2, 90, 2.0516, 1.9509],
  ] as const;

  it.each(table)('R %d, half-width %d, %d°: the planner goes to %d mm', async (R, w, included, depth) => {
    expect(trueDepth(R, w, included)).toBeCloseTo(depth, 4);
    // A straight bar along the axis, long against its width; the planner has no formula for it.
    const surface = asWork(createCylinder(2 * R, 100, 0, Math.PI));
    const tool = createTool('t', 1, 't', 'v', { includedDeg: included, diameterMm: 30, fluteLengthMm: 30 });
    const made = carveRings([ringsOf(rect(20, -w, 80, w))], 50, { tool, work: surface, engine: (await getEngines()).voronoi });
    expect(made.deepestMm).toBeCloseTo(depth, 4);
  });

  it.each(table)('R %d, half-width %d, %d°: the flat formula would cut narrower, %d against %d', (R, w, included, _depth, cutWidth) => {
    const flat = createVProfile(included, 0).heightAt(w);
    let lo = 0,
      hi: number = w;
    for (let k = 0; k < 60; k++) {
      const mid = (lo + hi) / 2;
      if (trueDepth(R, mid, included) < flat) lo = mid;
      else hi = mid;
    }
    expect(lo).toBeCloseTo(cutWidth, 4);
  });

  it('a stroke that runs round has no drop across: flat and true depth agree', async () => {
    const surface = asWork(createCylinder(16, 100, 0, Math.PI));
    const tool = createTool('t', 1, 't', 'v', { includedDeg: 90, diameterMm: 30, fluteLengthMm: 30 });
    const made = carveRings([ringsOf(rect(50 - 0.5, -9, 50 + 0.5, 9))], 50, { tool, work: surface, engine: (await getEngines()).voronoi });
    expect(made.deepestMm).toBeCloseTo(0.5, 6);
  });
});

/**
 * The edge on the metal against the outline, found by sweeping: the cone is set at close places along the exported tip
 * path, and rays along the surface's normals are cut with it. Shares no code with the planner: it reads `paths.ndjson`.
 */
describe('edge cut on the curved surface against the outline', () => {
  let planned: Planned;
  let job: ReturnType<typeof carveJob>;
  let result: { outside: number; uncut: number; uncut95: number; samples: number };
  beforeAll(async () => {
    job = carveJob('HABRSQ', { words: { heightMm: 6, letterSpacingMm: 0.2 }, blank: { diameterMm: 16, lengthMm: 60 } });
    planned = await planJob(job);
    const sweep = createSweep([...toPathLines(planned.setup, planned.plan)], 45);
    result = sweep.measureEdge(planned.lettering.artworks[0]!.regions, createSurface(job.blank), 0.05);
    console.info(
      'edge swept, µm:',
      JSON.stringify(result, (_, v) => (typeof v === 'number' && v < 1 ? +(1000 * v).toFixed(2) : v)),
    );
  }, 120_000);

  it('six bold letters of 6 mm at R = 8 with a 90° V: 5 µm at most, 2 µm outside at most', () => {
    expect(result.samples).toBeGreaterThan(2000);
    expect(result.outside).toBeLessThanOrEqual(0.002);
    expect(result.uncut).toBeLessThanOrEqual(0.005);
  });

  it('the sweep itself would notice flat depths: planned as if flat, the same letters miss the outline', async () => {
    // The same wording planned on a blank so large that it is flat, then put on the small one.
    const flatJob = { ...job, blank: { ...job.blank, diameterMm: 2000 } };
    const { plan, lettering, setup: large } = await planJob(flatJob);
    const small = createSurface(job.blank);
    const p = new Float64Array(6);
    const lines = [...toPathLines(large, plan)].map((line) => {
      const path = JSON.parse(line) as { tip: number[][]; axis: number[][]; kind: string; y?: number };
      const big = createSurface(flatJob.blank);
      path.tip.forEach((t, i) => {
        const at = big.toSheet(t[0]!, t[1]!, t[2]!);
        small.frameInto(at.x, at.y, p);
        path.tip[i] = [0, 1, 2].map((k) => p[k]! + at.heightMm * p[3 + k]!);
        path.axis[i] = [p[3]!, p[4]!, p[5]!];
      });
      return JSON.stringify(path);
    });
    const flat = createSweep(lines, 45).measureEdge(lettering.artworks[0]!.regions, small, 0.2);
    expect(flat.uncut).toBeGreaterThan(0.015);
  }, 60_000);

  it('the proof that the bench shows agrees with the sweep', () => {
    const proof = planned.proof.edge!;
    expect(Math.abs(proof.maxOutsideUm / 1000 - result.outside)).toBeLessThan(0.0015);
    expect(Math.abs(proof.maxUncutUm / 1000 - result.uncut)).toBeLessThan(0.0025);
  });
});
