import { describe, expect, it } from 'vitest';
import { carveJob, getLibrary, planJob, type Planned } from '../../../../tests/support';
import { runSteps } from '../../base/steps';
import { computeBox } from '../../base/rings';
import { createTool } from '../../crib/starterTools';
import { createArtwork, createBlank } from '../../job/defaults';
import type { Blank, Cut, Job } from '../../job/schema';
import { createLetterer } from '../../pipeline/lettering';
import { listToolsByHand } from '../../pipeline/setup';
import { readProgram } from '../../program/interpreter';
import { DIALECTS } from '../../program/registry';
import { toPartTexts } from '../../proof/readBack';
import { proveField } from '../../removal/proveField';
import { createCut } from './registry';

const TOOLS = [
  createTool('v', 1, '90° V', 'v', { diameterMm: 12, fluteLengthMm: 6, stickOutMm: 30 }),
  createTool('mill', 2, 'Mill 1', 'flat', { diameterMm: 1, fluteLengthMm: 12, shankMm: 3 }),
  createTool('drill', 3, 'Drill 2', 'drill', { diameterMm: 2, includedDeg: 118, fluteLengthMm: 24, stickOutMm: 30 }),
];
const plate = { ...createBlank('plate'), thicknessMm: 3 };

function jobOf(text: string, cut: Cut, blank: Blank = plate): Job {
  const base = carveJob(text, { words: { heightMm: 14, at: { xMm: 40, turnDeg: 0 }, rotationDeg: 0 } });
  return { ...base, blank, tools: TOOLS, cuts: [cut], machine: { ...base.machine, toolChanger: true } };
}
function prove({ setup, lettering, plan }: Planned, cellMm = 0.04) {
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const readings = toPartTexts(plan.program).map((t) => runSteps(readProgram(t, rules)));
  return runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan.laid), cellMm));
}
const codes = (planned: Planned): string[] => planned.findings.map((f) => f.code);

describe('raised lettering', () => {
  it('with slopes from its outline stands as a ridge of w / tan β over the floor (closed form)', async () => {
    const cut: Cut = { ...createCut('raised', 'c', 'v'), sides: 'ridge', depthMm: 2.2, clearing: [], marginMm: 1 };
    const planned = await planJob(jobOf('I', cut));
    const { removal } = prove(planned);
    const box = computeBox(planned.lettering.artworks[0]!.regions.xy);
    const half = (box.maxX - box.minX) / 2;
    const middle = removal.field.depthAt((box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2);
    expect(half).toBeLessThan(2.2);
    expect(Math.abs(middle - (2.2 - half))).toBeLessThan(0.03);
  });

  it('wants a V for sloped sides and an end mill for straight ones', async () => {
    const sloped = await planJob(jobOf('I', { ...createCut('raised', 'c', 'mill'), sides: 'flat-top' }));
    const straight = await planJob(jobOf('I', createCut('raised', 'c', 'v')));
    for (const planned of [sloped, straight]) expect(codes(planned)).toContain('wrong-cutter');
  });

  it('in a band goes all the way round and meets itself', async () => {
    const cut: Cut = { ...createCut('raised', 'c', 'mill'), field: 'band', depthMm: 0.4, marginMm: 1 };
    const planned = await planJob(jobOf('I', cut, { ...createBlank('cylinder'), diameterMm: 12, lengthMm: 80 }));
    const { removal, dangers } = prove(planned);
    expect(dangers.filter((d) => d.finding.severity === 'spoils')).toEqual([]);
    const box = computeBox(planned.lettering.artworks[0]!.regions.xy);
    const round = Math.PI * 12;
    // Away from the letter all is cleared, over the field's own seam too.
    for (let y = box.maxY + 1; y < box.minY + round - 1; y += 0.3) expect(removal.field.depthAt(box.minX, y)).toBeGreaterThan(0.3);
    expect(removal.field.depthAt((box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2)).toBe(0);
  });
});

describe('holes', () => {
  it('are drilled at the middles of shapes, one down in all its pecks before the next', async () => {
    const cut: Cut = { ...createCut('drill', 'c', 'drill'), depthMm: 2, levels: { by: 'step', stepMm: 0.7, even: true, finishMm: 0 } };
    const planned = await planJob(jobOf('II', cut));
    expect(planned.plan.cuts[0]).toMatchObject({ strokes: 6, maxDepthMm: 2 });
    const { laid } = planned.plan;
    const places = Array.from({ length: laid.count }, (_, i) => i)
      .filter((i) => laid.kind[i] === 3)
      .map((i) => laid.sheet[3 * i]!.toFixed(2));
    expect(new Set(places.slice(0, 3)).size).toBe(1);
    expect(new Set(places).size).toBe(2);
    expect(prove(planned).dangers).toEqual([]);
  });
});

describe('cutting out', () => {
  it('leaves tabs as thick and as long as asked, and the rest goes through', async () => {
    const tabs = { count: 3, spacingMm: null, lengthMm: 2, thicknessMm: 0.8, ramped: false, at: [] };
    const cut: Cut = { ...createCut('cut-out', 'c', 'mill'), depthMm: 3.2, tabs, leadRadiusMm: 0 };
    const planned = await planJob(jobOf('I', cut));
    expect(planned.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    const { removal } = prove(planned, 0.06);
    const box = computeBox(planned.lettering.artworks[0]!.regions.xy);
    // All round, half of the cutter's width outside: how much of the way is not through.
    let held = 0,
      shallowest = Infinity;
    const step = 0.02;
    const ask = (x: number, y: number): void => {
      const depth = removal.field.depthAt(x, y);
      if (depth < 3) held += step;
      shallowest = Math.min(shallowest, depth);
    };
    for (let x = box.minX; x < box.maxX; x += step) [box.minY - 0.5, box.maxY + 0.5].forEach((y) => ask(x, y));
    for (let y = box.minY; y < box.maxY; y += step) [box.minX - 0.5, box.maxX + 0.5].forEach((x) => ask(x, y));
    expect(shallowest).toBeCloseTo(3 - 0.8, 3);
    // What lies round a corner is not asked.
    expect(held).toBeGreaterThan(3 * 2 - 0.6);
    expect(held).toBeLessThan(3 * 2 + 0.3);
  });

  it('parts a tube at a place, without lettering', async () => {
    const tube = { ...createBlank('cylinder'), diameterMm: 20, boreMm: 17, lengthMm: 60 };
    const cut: Cut = { ...createCut('cut-out', 'c', 'mill'), along: { by: 'place', xMm: 50 }, depthMm: 1.7, tabs: null };
    const planned = await planJob({ ...jobOf('I', cut, tube), inscriptions: [] });
    expect(planned.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    const { removal } = prove(planned, 0.06);
    for (let y = -31; y < 31; y += 0.5) expect(removal.field.depthAt(50, y)).toBeGreaterThan(1.69);
  });
});

describe('what lies in what', () => {
  const box = (w: number, h: number) => [[-w, -h, w, -h, w, h, -w, h]];
  const plateJob = (w: number, h: number, kind: 'cut-out' | 'pocket'): Job => {
    const base = jobOf('HI', { ...createCut('v-carve', 'letters', 'v'), targets: ['words'], maxDepthMm: 0.4 });
    const edge = { ...createArtwork('edge', 'edge', 40, [{ name: 'edge', on: true, rings: box(w, h), chains: [] }]) };
    return {
      ...base,
      inscriptions: [...base.inscriptions, edge],
      cuts: [...base.cuts, { ...createCut(kind, 'c', 'mill'), targets: ['edge'] }],
    };
  };
  it('an edge that is cut out may hold lettering, not cross it; a pocket may not', async () => {
    const library = await getLibrary();
    const found = (job: Job) =>
      createLetterer(library, () => '')
        .compute(job)
        .findings.map((f) => f.code);
    expect(found(plateJob(25, 14, 'cut-out'))).not.toContain('overlaps');
    expect(found(plateJob(25, 3, 'cut-out'))).toContain('overlaps');
    expect(found(plateJob(25, 14, 'pocket'))).toContain('overlaps');
  });

  it('a hole on a blank where the drill leans is not found cut outside, beside a carve that is', async () => {
    const cone: Blank = { ...createBlank('cone'), datumDiameterMm: 24, farDiameterMm: 70, lengthMm: 60 } as Blank;
    const base = jobOf('I', { ...createCut('v-carve', 'letters', 'v'), targets: ['words'], maxDepthMm: 0.3 }, cone);
    const ring = Array.from({ length: 40 }, (_, k) => (2 * Math.PI * k) / 40).flatMap((t) => [Math.cos(t), Math.sin(t)]);
    const hole = { ...createArtwork('hole', 'hole', 20, [{ name: 'hole', on: true, rings: [ring], chains: [] }]) };
    const cut: Cut = { ...createCut('drill', 'c', 'drill'), targets: ['hole'], depthMm: 1 };
    const inscriptions = [base.inscriptions[0]!, { ...hole, at: { xMm: 20, turnDeg: 60 } }];
    const { dangers } = prove(await planJob({ ...base, inscriptions, cuts: [...base.cuts, cut], lay: { ...base.lay, kind: 'level' } }));
    expect(dangers.map((d) => d.finding.code)).not.toContain('cut-outside');
  });

  it('a band that is cleared all the way round is not found cut outside', async () => {
    const tube = { ...createBlank('cylinder'), diameterMm: 44, lengthMm: 60 };
    const cut: Cut = { ...createCut('raised', 'c', 'mill'), field: 'band', marginMm: 2, depthMm: 0.3 };
    const { dangers } = prove(await planJob(jobOf('H', cut, tube)), 0.08);
    expect(dangers.map((d) => d.finding.code)).not.toContain('cut-outside');
  });
});

describe('a cutter that is dragged', () => {
  it('runs with the spindle still, and nothing is found against that', async () => {
    const drag = createTool('drag', 4, 'Diamond', 'drag', { tipMm: 0.05, diameterMm: 3, fluteLengthMm: 1.5 });
    const cut: Cut = { ...createCut('outline', 'c', 'drag'), side: 'on', depthMm: 0.05 };
    const planned = await planJob({ ...jobOf('I', cut), tools: [drag] });
    const text = toPartTexts(planned.plan.program)[0]!;
    expect(text).not.toMatch(/M3\b/);
    expect(codes(planned)).not.toContain('spindle-wrong');
    expect(prove(planned).dangers.map((d) => d.finding.code)).not.toContain('cuts-still');
  });
});
