import { computeBox } from '../src/core/base/rings';
import { computeLean } from '../src/core/machine/stance';
/*
 * Every kind of cut on every kind of blank, words drawn at random and always the same: what the program takes away, block by block, stays
 * within what the cut may take on every level, and leaves no more than the plan says. Elementary geometry, no source.
 */
import { describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { createTool } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import { createBlank } from '../src/core/job/defaults';
import type { Blank, Cut, Job, Stage } from '../src/core/job/schema';
import { listToolsByHand } from '../src/core/pipeline/setup';
import { readProgram } from '../src/core/program/interpreter';
import { DIALECTS } from '../src/core/program/registry';
import { toPartTexts } from '../src/core/proof/readBack';
import { proveField } from '../src/core/removal/proveField';
import { carveJob, planJob } from '../tests/support';

const stage = (toolId: string): Stage => ({
  ...{ toolId, levels: { by: 'step', stepMm: 0.3, even: true, finishMm: 0 }, feedMmPerMin: 400 },
  ...{ plungeMmPerMin: 100, spindleRpm: 18000, stepOverShare: 0.45 },
});
const TOOLS = [
  createTool('v', 1, '90° V', 'v', { diameterMm: 12, fluteLengthMm: 6, stickOutMm: 30 }),
  createTool('f2', 2, 'Mill 2', 'flat', { diameterMm: 2, fluteLengthMm: 8 }),
  createTool('f06', 3, 'Mill 0.6', 'flat', { diameterMm: 0.6, fluteLengthMm: 8, shankMm: 3 }),
  createTool('b1', 4, 'Ball 1', 'ball', { diameterMm: 1, fluteLengthMm: 8, shankMm: 3 }),
  createTool('n2', 5, 'Bull 2', 'bull', { diameterMm: 2, cornerMm: 0.4, fluteLengthMm: 8 }),
];

/** A cut's cutters. */
const usedBy = (cut: Cut) => TOOLS.filter((t) => t.id === cut.toolId || ('clearing' in cut && cut.clearing.some((c) => c.toolId === t.id)));

/** Cuts, with the depth that they ask for. */
const CUTS: Record<string, Cut> = {
  'pocket, two mills, down by a helix and staying down': {
    ...createCut('pocket', 'c', 'f06'),
    ...{ clearing: [stage('f2')], depthMm: 0.5, entry: { by: 'helix', angleDeg: 4, radiusMm: 1 }, keepDown: true },
  },
  'pocket in rows, finished along its walls, conventional': {
    ...createCut('pocket', 'c', 'f06'),
    ...{ pattern: { by: 'rows', angleDeg: 25 }, depthMm: 0.4, finishMm: 0.1, direction: 'conventional', entry: { by: 'plunge' } },
  },
  'pocket, ball': { ...createCut('pocket', 'c', 'b1'), depthMm: 0.5 },
  'pocket, bull nose': { ...createCut('pocket', 'c', 'n2'), depthMm: 0.5 },
  'outline outside, mill': { ...createCut('outline', 'c', 'f06'), side: 'outside', depthMm: 0.4 },
  'outline outside, sharp, V': { ...createCut('outline', 'c', 'v'), side: 'outside', depthMm: 0.3, corners: 'sharp' },
  'outline inside, mill': { ...createCut('outline', 'c', 'f06'), side: 'inside', depthMm: 0.4, startsAt: [{ xMm: 35, turnDeg: 0 }] },
  'outline inside, V': { ...createCut('outline', 'c', 'v'), side: 'inside', depthMm: 0.3 },
  'raised, straight': { ...createCut('raised', 'c', 'f06'), clearing: [stage('f2')], depthMm: 0.4, marginMm: 2 },
  'raised, sloped to a flat top': {
    ...createCut('raised', 'c', 'v'),
    clearing: [stage('f06')],
    sides: 'flat-top',
    depthMm: 0.4,
    field: 'offset',
    marginMm: 2,
  },
  'carve with floors by mills': {
    ...createCut('v-carve', 'c', 'v'),
    clearing: [stage('f06')],
    maxDepthMm: 0.5,
    finishing: true,
    levelsBy: 'shift',
  },
};
const BLANKS: Record<string, Blank> = {
  plate: createBlank('plate'),
  cylinder: { ...createBlank('cylinder'), diameterMm: 36, lengthMm: 90 },
  cone: createBlank('cone'),
  barrel: createBlank('turned'),
  trough: { ...createBlank('arched'), side: 'concave', radiusMm: 60 },
};

const dice = (() => {
  let a = 23;
  return () => (a = (Math.imul(a, 1664525) + 1013904223) >>> 0) / 4294967296;
})();
const pick = <T>(list: readonly T[]): T => list[Math.floor(dice() * list.length)]!;

describe('every kind of cut on every kind of blank', () => {
  const cases = Object.entries(CUTS).flatMap(([cut, c]) => Object.entries(BLANKS).map(([blank, b]) => [cut, blank, c, b] as const));
  it.each(cases)(
    '%s on a %s',
    async (name, on, cut, blank) => {
      const words = { heightMm: 8 + 3 * dice(), at: { xMm: 35, turnDeg: on === 'plate' || on === 'trough' ? 0 : 360 * dice() - 180 } };
      const text = pick(['HB', 'Ro', 'A8', 'SÅ', 'g&']);
      const base = carveJob(text, { words: { ...words, rotationDeg: 0 } });
      const job: Job = { ...base, blank, tools: TOOLS, cuts: [cut], machine: { ...base.machine, toolChanger: true } };
      const planned = await planJob(job);
      const spoiling = planned.findings.filter((f) => f.severity === 'spoils').map((f) => `${f.code} ${f.text}`);
      expect(spoiling).toEqual([]);
      const { setup, lettering, plan } = planned;
      const { rules } = DIALECTS[job.machine.dialect];
      const readings = toPartTexts(plan.program).map((t) => runSteps(readProgram(t, rules)));
      const { truth, dangers, removal } = runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), 0.06));
      const depthMm = 'depthMm' in cut ? cut.depthMm : 'maxDepthMm' in cut ? cut.maxDepthMm : 0;
      let deepest = 0;
      for (const { depth } of removal.field.tiles) for (const d of depth) deepest = Math.max(deepest, d);
      const { edge, area } = truth;
      console.info(
        `${name}, ${on}, "${text}": outside ${edge!.leastOutsideUm.toFixed(2)} µm for certain, deepest ${deepest.toFixed(4)} of ${depthMm}, ` +
          `left ${(area?.unreachedMm2 ?? 0).toFixed(2)} of ${(area?.drawnMm2 ?? 0).toFixed(1)} mm²`,
      );
      const said = plan.cuts[plan.cuts.length - 1]!.unreachedMm2 ?? 0;
      // A cutter that does not go into every stroke is said to by both.
      const leaves = area !== null && said > 0.07 * area.drawnMm2;
      const told = dangers.filter((d) => !(leaves && d.finding.code === 'left-inside'));
      expect(told.map((d) => `${d.finding.code} ${d.finding.text}`)).toEqual([]);
      // Cells whose middles are cut and lie outside are outside for certain.
      expect(edge!.leastOutsideUm).toBeLessThan(2);
      expect(deepest).toBeGreaterThan(0.9 * depthMm);
      // Along the normal as deep as asked in the middle of an end: deeper by its low rim alone, where it leans. A carve's mills are kept
      // up.
      const flatMm =
        cut.kind === 'v-carve' || (cut.kind === 'raised' && cut.sides !== 'straight')
          ? 0
          : Math.max(...usedBy(cut).map((t) => (t.kind === 'ball' ? 0 : t.diameterMm / 2)));
      const { domain } = setup.work;
      const own = computeBox(lettering.artworks[0]!.regions.xy);
      const leans = [own.minX - 4, own.maxX + 4].flatMap((x) =>
        [own.minY - 4, (own.minY + own.maxY) / 2, own.maxY + 4].map((y) =>
          computeLean(setup.work, Math.max(domain.minX, Math.min(domain.maxX, x)), y),
        ),
      );
      const rimMm = flatMm * Math.tan(Math.max(...leans));
      expect(deepest).toBeLessThan(depthMm * (on === 'cone' || on === 'barrel' ? 1.1 : 1) + rimMm + 0.002);
      if (!area) return;
      // What the plan says it leaves, and half a cell along the walls.
      expect(area.unreachedMm2).toBeLessThan(said + 0.02 * area.drawnMm2);
    },
    120_000,
  );
});
