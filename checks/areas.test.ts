/*
 * What pockets clear, level by level, against a second geometry library (manifold-3d's cross-sections, Clipper2 in C++): the union of the
 * discs that the cutter sweeps, held against the outline and against its opening by the cutter (offset in, offset out): what fits.
 * Elementary geometry, no source.
 */
import Module from 'manifold-3d';
import { beforeAll, describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { getRing } from '../src/core/base/rings';
import { createTool } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import { createBlank } from '../src/core/job/defaults';
import type { Cut, Job } from '../src/core/job/schema';
import { readProgram } from '../src/core/program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../src/core/program/motions';
import { DIALECTS } from '../src/core/program/registry';
import { toPartTexts } from '../src/core/proof/readBack';
import { carveJob, planJob, type Planned } from '../tests/support';

const SEGMENTS = 128;
const AT_ONCE = 8;
/** A polygon of so many corners that lies in its circle may miss this share of the radius. */
const CHORD = 1 - Math.cos(Math.PI / SEGMENTS);

let solids: Awaited<ReturnType<typeof Module>>;
beforeAll(async () => {
  solids = await Module();
  solids.setup();
});
type Section = InstanceType<typeof solids.CrossSection>;

/** Ends of the moves at feed that stay at a depth, x y z of the tip, by depth in µm. */
function listLevels({ setup, plan }: Planned): Map<number, number[][]> {
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const { motions } = runSteps(readProgram(toPartTexts(plan.program)[0]!, rules));
  const index = setup.kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const levels = new Map<number, number[][]>();
  const tip = (i: number): Float64Array => {
    const out = new Float64Array(3);
    setup.kinematics.forward(
      index.map((k) => motions.end[AXIS_COUNT * i + k]!),
      out,
      new Float64Array(3),
    );
    return out;
  };
  for (let i = 1; i < motions.count; i++) {
    if (motions.rapid[i]) continue;
    const [a, b] = [tip(i - 1), tip(i)];
    if (Math.abs(a[2]! - b[2]!) > 1e-6 || a[2]! > -0.01) continue;
    const key = Math.round(-1000 * a[2]!);
    (levels.get(key) ?? (levels.set(key, []), levels.get(key)!)).push([a[0]!, a[1]!, b[0]!, b[1]!]);
  }
  return levels;
}

/** Everything that a disc goes over along straight moves. */
function sweepDiscs(moves: number[][], r: number): Section {
  const { CrossSection } = solids;
  const corners = (x: number, y: number): [number, number][] =>
    Array.from({ length: SEGMENTS }, (_, k) => {
      const t = (2 * Math.PI * k) / SEGMENTS;
      return [x + r * Math.cos(t), y + r * Math.sin(t)];
    });
  let parts = moves.map(([x0, y0, x1, y1]) => CrossSection.hull([[[...corners(x0!, y0!), ...corners(x1!, y1!)]]]));
  // A few at a time: what overlaps a thousandfold takes its time in one.
  while (parts.length > 1) {
    const batches = Array.from({ length: Math.ceil(parts.length / AT_ONCE) }, (_, k) => parts.slice(AT_ONCE * k, AT_ONCE * (k + 1)));
    parts = batches.map((own) => CrossSection.union(own));
  }
  return parts[0]!;
}

const outlineOf = ({ lettering }: Planned): Section => {
  const rings = lettering.artworks.map((a) => a.regions);
  const polygons = rings.flatMap((r) =>
    Array.from({ length: r.starts.length - 1 }, (_, k) => {
      const ring = getRing(r, k);
      return Array.from({ length: ring.length / 2 }, (_, i) => [ring[2 * i]!, ring[2 * i + 1]!] as [number, number]);
    }),
  );
  return new solids.CrossSection(polygons, 'Positive');
};

describe('a pocket’s discs against the outline and what fits into it', () => {
  const cases: [string, string, string, number, Partial<Cut>][] = [
    ['along walls', 'GAUGE', 'dejavu-sans-bold', 1, {}],
    ['along walls, conventional', 'R&Q8', 'zilla-slab-bold', 0.8, { direction: 'conventional' }],
    ['in rows', 'HBOS', 'dejavu-serif-bold', 0.8, { pattern: { by: 'rows', angleDeg: 20 } }],
    ['two levels', 'Sea', 'cinzel-bold', 0.6, { levels: { by: 'count', count: 2 } }],
  ];
  it.each(cases)('%s: %s', async (_, text, font, diameterMm, patch) => {
    const base = carveJob(text, { font, words: { heightMm: 14, at: { xMm: 40, turnDeg: 0 }, rotationDeg: 0 } });
    const mill = createTool('mill', 1, 'mill', 'flat', { diameterMm, fluteLengthMm: 5 });
    const cut = { ...createCut('pocket', 'c', 'mill'), depthMm: 0.5, ...patch } as Cut;
    const job: Job = { ...base, blank: { ...createBlank('plate'), lengthMm: 120 }, tools: [mill], cuts: [cut] };
    const planned = await planJob(job);
    const r = diameterMm / 2;
    const outline = outlineOf(planned);
    const fits = outline.offset(-r, 'Round', 2, SEGMENTS).offset(r, 'Round', 2, SEGMENTS);
    const levels = listLevels(planned);
    const count = 'levels' in patch ? 2 : 1;
    // Ways in by a ramp leave pieces at other depths: levels are where most of the way is.
    const deep = [...levels].sort((a, b) => b[1].length - a[1].length).slice(0, count);
    for (const [depthUm, moves] of deep) {
      const swept = sweepDiscs(moves, r);
      const missing = fits.subtract(swept).area() / fits.area();
      // Corners of the circles lie on them: what is beyond by more than 1 µm is beyond.
      const beyond = swept.subtract(outline.offset(0.001, 'Round', 2, SEGMENTS)).area();
      console.info(`${text} at ${depthUm} µm: ${(100 * missing).toFixed(3)} % missing, ${beyond.toFixed(6)} mm² beyond 1 µm`);
      expect(missing).toBeLessThan(0.005 + 2 * CHORD);
      expect(beyond).toBeLessThan(1e-5);
    }
    expect(Math.max(...deep.map(([d]) => d))).toBe(500);
  });
});
