import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, getEngines, lineJob, planJob, ringsOf, type Planned } from '../../../tests/support';
import { runSteps } from '../base/steps';
import { STARTER_TOOLS } from '../crib/starterTools';
import { CUT_KINDS, type CutKindId } from '../cut/kinds/registry';
import { parseJob } from '../job/parse';
import { jobSchema } from '../job/schema';
import type { VoronoiEngine } from '../medial/voronoi';
import { createPlanner } from '../pipeline/plan';
import { groupByCutter } from '../pipeline/setup';
import { levelsFor, listCarvings, roundUp } from './candidates';
import { createSensible, listFits } from './sensible';
import { floorArea, lengthOver, measureStrokes } from './strokes';
import { createChoice, measureLettering, mergeTools, suggestCuts, takeBest, withoutOutlines, withSuggestion } from './suggest';

let engine: VoronoiEngine;
/** Two words of 30 mm capitals on a maple post, as a shop would be asked for. */
let post: Planned;
beforeAll(async () => {
  engine = (await getEngines()).voronoi;
  const base = carveJob('QUAY LIGHT', {
    words: { heightMm: 30, at: { xMm: 140, turnDeg: 0 }, rotationDeg: 0 },
    blank: { diameterMm: 70, lengthMm: 280 },
  });
  post = await planJob({ ...base, material: 'maple', cuts: [], tools: [] });
}, 60_000);

describe('how wide strokes are', () => {
  it('a bar is as wide as it is, all along', () => {
    const strokes = measureStrokes([ringsOf([0, 0, 20, 0, 20, 2, 0, 2])], engine);
    expect(strokes.widestMm).toBeCloseTo(2, 3);
    expect(strokes.totalMm).toBeCloseTo(18, 2);
    expect(strokes.areaMm2).toBeCloseTo(40, 3);
    expect(lengthOver(strokes, 1.99)).toBeCloseTo(18, 2);
    expect(floorArea(strokes, 0.5)).toBeCloseTo(18 * 1.5, 1);
  });
});

describe('what Hobel puts in by itself', () => {
  it('carves a post with 30 mm capitals in a few minutes and under 12,000 lines, within 20 µm (was 89 minutes, 113,238 lines)', async () => {
    const { job } = post.setup;
    const strokes = measureLettering(post.lettering, engine);
    const made = createSensible('v-carve', 'c', strokes, STARTER_TOOLS, createChoice(job, post.lettering, post.surface))!;
    const planned = await planJob({ ...job, cuts: [made.cut], tools: mergeTools([], made.tools) });
    const minutes = (planned.plan.timeS + planned.plan.standingS) / 60;
    expect(minutes).toBeLessThan(8);
    expect(planned.plan.program.parts.reduce((sum, p) => sum + p.lines.length, 0)).toBeLessThan(12_000);
    expect(planned.proof.edge!.maxOutsideUm).toBeLessThan(2);
    expect(planned.proof.edge!.maxUncutUm).toBeLessThan(20);
    expect(planned.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
  }, 60_000);

  it.each(Object.keys(CUT_KINDS) as CutKindId[])('a new %s is sound and says why it is as it is', (kind) => {
    const { job } = post.setup;
    const strokes = measureLettering(post.lettering, engine);
    const made = createSensible(kind, 'c', strokes, STARTER_TOOLS, createChoice(job, post.lettering, post.surface))!;
    const parsed = jobSchema.safeParse({ ...job, cuts: [made.cut], tools: made.tools });
    expect(parsed.error?.issues ?? []).toEqual([]);
    expect(made.why).toMatch(/speeds/);
    expect(createSensible(kind, 'c', strokes, [], createChoice(job, post.lettering, post.surface))).toBeNull();
  });

  it('takes no tip that most strokes do not let in, and goes through no wall', () => {
    const { job } = post.setup;
    const strokes = measureLettering(post.lettering, engine);
    const choice = { ...createChoice(job, post.lettering, post.surface), wallMm: 2 };
    for (const { cut } of listCarvings('c', strokes, STARTER_TOOLS, choice)) expect(cut.maxDepthMm).toBeLessThanOrEqual(1);
    const blunt = STARTER_TOOLS.map((t) => ({ ...t, tipMm: 6 }));
    expect(listCarvings('c', strokes, blunt, choice)).toEqual([]);
  });

  it('rounds as a person types', () => {
    expect([0.4312, 1.02, 4.77, 12.2].map(roundUp)).toEqual([0.44, 1.1, 4.8, 13]);
    expect(levelsFor(0.4, 0.5)).toEqual({ by: 'count', count: 1 });
  });
});

describe('suggestCuts', () => {
  it('plans a handful, marks those that no other beats, and takes the quickest that leaves next to nothing', () => {
    const { job } = post.setup;
    let now = 0;
    // A clock that runs out after three sets.
    const found = runSteps(
      suggestCuts(
        job,
        post.lettering,
        post.surface,
        STARTER_TOOLS,
        measureLettering(withoutOutlines(job, post.lettering), engine),
        createPlanner(engine),
        () => (now += 3000),
      ),
    );
    expect(found.length).toBeGreaterThanOrEqual(2);
    for (const s of found) {
      const beaten = found.some((o) => o.timeS < s.timeS && o.unreachedMm2 <= s.unreachedMm2);
      expect(s.best).toBe(!beaten);
    }
    const best = takeBest(found, measureLettering(post.lettering, engine).areaMm2, job)!;
    expect(best.timeS).toBe(Math.min(...found.filter((s) => s.unreachedMm2 < 50).map((s) => s.timeS)));
    expect(jobSchema.safeParse(withSuggestion(job, best)).success).toBe(true);
  }, 60_000);

  it('pockets closed lettering as well, and takes what the job has already', async () => {
    const small = await planJob({ ...carveJob('BOW', { words: { heightMm: 8 } }), cuts: [] });
    const { job } = small.setup;
    let ticks = 0;
    const found = runSteps(
      suggestCuts(
        job,
        small.lettering,
        small.surface,
        STARTER_TOOLS,
        measureLettering(withoutOutlines(job, small.lettering), engine),
        createPlanner(engine),
        () => (ticks += 1),
      ),
    );
    const pockets = found.filter((s) => s.kind === 'pocket');
    expect(pockets).toHaveLength(2);
    // A finer mill leaves less of the corners; neither has an edge that is measured along its path.
    expect(new Set(pockets.map((s) => s.unreachedMm2)).size).toBe(2);
    for (const p of pockets) expect(p).toMatchObject({ maxOutsideUm: null, uncut95Um: null });
    for (const p of pockets) expect(p.unreachedMm2).toBeGreaterThan(0);
    const { areaMm2 } = measureLettering(small.lettering, engine);
    expect(takeBest(found, areaMm2, job)!.kind).toBe('v-carve');
    expect(takeBest(found, areaMm2, { cuts: pockets[0]!.cuts })!.kind).toBe('pocket');
  }, 60_000);

  it('leaves alone what is only gone round, and keeps the cuts that are not of areas', async () => {
    const plate = parseJob(JSON.parse(readFileSync('resources/jobs/berth-plate.json', 'utf8')));
    if (!plate.ok) throw new Error('the demo job does not open');
    const job = plate.value;
    const { lettering, surface } = await planJob(job);
    const edge = job.cuts.find((c) => c.kind === 'cut-out')!;
    let now = 0;
    const found = runSteps(
      suggestCuts(
        job,
        lettering,
        surface,
        STARTER_TOOLS,
        measureLettering(withoutOutlines(job, lettering), engine),
        createPlanner(engine),
        () => (now += 3000),
      ),
    );
    for (const s of found) {
      expect(s.cuts[0]!.targets).not.toContain(edge.targets[0]);
      expect(s.cuts.slice(1).map((c) => c.kind)).toEqual(['drill', 'cut-out']);
    }
    const engraved = await planJob(lineJob('LINES'));
    const lines = runSteps(
      suggestCuts(
        engraved.setup.job,
        engraved.lettering,
        engraved.surface,
        STARTER_TOOLS,
        measureLettering(withoutOutlines(engraved.setup.job, engraved.lettering), engine),
        createPlanner(engine),
        () => 0,
      ),
    );
    expect(lines.length).toBeGreaterThanOrEqual(3);
    for (const s of lines)
      expect([s.kind, s.unreachedMm2, jobSchema.safeParse(withSuggestion(engraved.setup.job, s)).success]).toEqual([
        'centre-line',
        0,
        true,
      ]);
  }, 60_000);

  it('says of each cutter which strokes it can do', () => {
    const strokes = measureStrokes([ringsOf([0, 0, 20, 0, 20, 2, 0, 2])], engine);
    const fits = new Map(listFits(strokes, STARTER_TOOLS).map((f) => [f.tool.id, f]));
    expect(fits.get('flat3')!.share).toBe(0);
    expect(fits.get('flat1')!.share).toBeCloseTo(1, 6);
    expect(fits.get('v90')!.widestMm).toBeCloseTo(6, 9);
    expect(fits.get('v90')!.depthMm).toBeCloseTo(1, 3);
    expect(fits.get('drill2')).toBeUndefined();
  });
});

describe('running cuts cutter by cutter', () => {
  const run = (cutIndex: number, stage: number, id: string) => ({ cutIndex, stage, tool: { id } as never, kind: {} });
  it('goes on with the cutter in the spindle while each cut’s own order allows', () => {
    const order = groupByCutter([run(0, 0, 'a'), run(0, 1, 'b'), run(1, 0, 'a'), run(1, 1, 'c'), run(2, 0, 'b')]);
    expect(order.map((r) => `${r.cutIndex}${(r.tool as { id: string }).id}`)).toEqual(['0a', '1a', '0b', '2b', '1c']);
    // A cut whose second cutter is in the spindle waits for its first.
    expect(groupByCutter([run(0, 0, 'b'), run(1, 0, 'a'), run(1, 1, 'b')]).map((r) => r.cutIndex)).toEqual([0, 1, 1]);
    // What cuts the piece free comes last, though its cutter be in the spindle.
    const free = { ...run(2, 0, 'a'), kind: { frees: true } };
    expect(groupByCutter([run(0, 0, 'a'), run(0, 1, 'b'), run(1, 0, 'c'), free]).map((r) => r.cutIndex)).toEqual([0, 0, 1, 2]);
  });
});
