/**
 * Pieces held against what was meant. Each of the mixtures here once left in silence and spoilt, or was refused and sound; and programs
 * of a known job that were changed from outside. Expectations follow from the drawings alone (elementary, no source).
 */
import { describe, expect, it } from 'vitest';
import { computeArea } from '../src/core/base/boolean';
import { runSteps } from '../src/core/base/steps';
import { createTool } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import { createArtwork, createBlank } from '../src/core/job/defaults';
import type { Blank, Cut, Inscription, Job, TextInscription } from '../src/core/job/schema';
import type { Tool } from '../src/core/job/schema';
import { listToolsByHand } from '../src/core/pipeline/setup';
import { readForeign } from '../src/core/program/foreign';
import { toPartTexts } from '../src/core/proof/readBack';
import { proveWhole } from '../src/core/proof/whole';
import { proveField } from '../src/core/removal/proveField';
import { carveJob, planOnly } from '../tests/support';

const TOOLS = [
  createTool('mill', 1, 'Mill 1', 'flat', { diameterMm: 1, fluteLengthMm: 12, stickOutMm: 30 }),
  createTool('wide', 2, 'Mill 3', 'flat', { diameterMm: 3, fluteLengthMm: 12, stickOutMm: 30 }),
  createTool('v', 3, '90° V', 'v', { diameterMm: 12, fluteLengthMm: 8, stickOutMm: 30 }),
  createTool('drill', 4, 'Drill 1.5', 'drill', { diameterMm: 1.5, includedDeg: 118, fluteLengthMm: 20, stickOutMm: 40 }),
];
const plate: Blank = { ...createBlank('plate'), lengthMm: 80, widthMm: 50, thicknessMm: 3 } as Blank;
const box = (w: number, h: number): number[] => [-w, -h, w, -h, w, h, -w, h];
const artwork = (id: string, rings: number[][], xMm = 40): Inscription => ({
  ...createArtwork(id, id, xMm, [{ name: id, on: true, rings, chains: [] }]),
  at: { xMm, turnDeg: 0 },
});

/** A job of cuts on a blank, with words and drawings. */
function jobOf(
  blank: Blank,
  cuts: readonly Cut[],
  drawings: readonly Inscription[] = [],
  words: Partial<TextInscription> | null = {},
): Job {
  const base = carveJob('AO', { words: { heightMm: 9, at: { xMm: 40, turnDeg: 0 }, rotationDeg: 0, ...words } });
  const used = new Set(cuts.flatMap((c) => [c.toolId, ...('clearing' in c ? c.clearing.map((s) => s.toolId) : [])]));
  return {
    ...base,
    ...{ blank, cuts: [...cuts], tools: TOOLS.filter((t) => used.has(t.id)) },
    inscriptions: [...(words ? base.inscriptions : []), ...drawings],
    machine: { ...base.machine, toolChanger: true },
  } as Job;
}

const resize = (tools: readonly Tool[], id: string, diameterMm: number): Tool[] =>
  tools.map((t) => (t.id === id ? { ...t, diameterMm, shankMm: diameterMm } : t));

async function judge(job: Job) {
  const planned = await planOnly(job);
  const whole = runSteps(proveWhole(planned.setup, planned.lettering, planned.plan));
  const spoils = whole.findings.filter((f) => f.severity === 'spoils').map((f) => f.code);
  return { ...planned, ...whole, spoils, codes: whole.findings.map((f) => f.code) };
}

/** Judges a changed text of a job's program. */
async function judgeText(job: Job, change: (text: string) => string) {
  const { setup, lettering, plan } = await planOnly(job);
  const text = change(toPartTexts(plan.program)[0]!);
  const readings = [runSteps(readForeign(text))];
  const { dangers } = runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan)));
  return dangers.filter((d) => d.finding.severity === 'spoils').map((d) => d.finding);
}

describe('mixtures', () => {
  it('an outline outside on a cone goes round as it does on a cylinder', async () => {
    const cut: Cut = { ...createCut('outline', 'c', 'mill'), side: 'outside', depthMm: 0.3 };
    const on = async (blank: Blank) => judge(jobOf(blank, [cut], [], { rotationDeg: 90 }));
    const cone = await on({ ...createBlank('cone'), datumDiameterMm: 30, farDiameterMm: 44, lengthMm: 80 } as Blank);
    const rod = await on({ ...createBlank('cylinder'), diameterMm: 37, lengthMm: 80 } as Blank);
    expect(cone.plan.cuts[0]!.strokes).toBe(rod.plan.cuts[0]!.strokes);
    expect(cone.plan.cuts[0]!.cutLengthMm).toBeCloseTo(rod.plan.cuts[0]!.cutLengthMm, -0.5);
    expect(cone.spoils).toEqual([]);
  });

  it('a carve in a floor that is not there, not as deep, or cut after it, spoils before anything is planned', async () => {
    const carve: Cut = { ...createCut('v-carve', 'carve', 'v'), targets: ['words'], sunkMm: 0.4, maxDepthMm: 0.5 };
    const floor = (depthMm: number): Cut => ({ ...createCut('pocket', 'floor', 'wide'), targets: ['field'], depthMm });
    const field = artwork('field', [box(20, 10)]);
    const ask = async (cuts: Cut[]) => (await judge(jobOf(plate, cuts, [field]))).spoils.includes('floor-missing');
    expect(await ask([carve])).toBe(true);
    expect(await ask([floor(0.25), carve])).toBe(true);
    expect(await ask([carve, floor(0.4)])).toBe(true);
    expect((await judge(jobOf(plate, [floor(0.4), carve], [field]))).spoils).toEqual([]);
  });

  it('letters that no cutter goes into are missing, and a piece is not as meant without them', async () => {
    const pocket: Cut = { ...createCut('pocket', 'p', 'mill'), depthMm: 0.4 };
    const job = jobOf(plate, [pocket]);
    const words = job.inscriptions[0] as TextInscription;
    const small = (heightMm: number): Inscription => ({ ...words, id: 'small', text: 'LI', heightMm, at: { xMm: 40, turnDeg: -15 } });
    const both = (heightMm: number) => judge({ ...job, inscriptions: [words, small(heightMm)] });
    expect((await both(9)).spoils).toEqual([]);
    const { findings } = await both(3);
    const missing = findings.filter((f) => f.severity === 'spoils');
    expect(missing.map((f) => f.code)).toEqual(['letters-missing']);
    expect(missing[0]!.text.toLowerCase()).toContain('nothing comes of 2 letters that "pocket" is to cut: "l", "i"');
  });

  it('what is cut round right through comes loose, but for what tabs hold and what is to be cut free', async () => {
    const square = artwork('square', [box(8, 5)]);
    const out = (patch: Partial<Cut>): Cut => ({ ...createCut('cut-out', 'c', 'mill'), depthMm: 3.1, ...patch }) as Cut;
    const on = async (cut: Cut) => (await judge(jobOf(plate, [cut], [square], null))).spoils;
    const tabs = { count: 3, spacingMm: null, lengthMm: 2, thicknessMm: 0.6, ramped: false, at: [] };
    expect(await on(out({ tabs } as Partial<Cut>))).toEqual([]);
    expect(await on(out({ tabs: null } as Partial<Cut>))).toEqual([]);
    expect(await on({ ...createCut('outline', 'o', 'mill'), side: 'on', depthMm: 3.1 })).toContain('part-loose');
    expect(await on({ ...createCut('outline', 'o', 'mill'), side: 'on', depthMm: 2.9 })).toEqual([]);
    // A hole right through parts nothing.
    expect(await on({ ...createCut('drill', 'd', 'drill'), depthMm: 3.6, through: true })).toEqual([]);
  });

  it('words in a border that one pocket takes stand, and are asked about; as one they go', async () => {
    const pocket: Cut = { ...createCut('pocket', 'p', 'mill'), depthMm: 0.5 };
    const border = artwork('border', [box(22, 10)]);
    const stands = await judge(jobOf(plate, [pocket], [border], { at: { xMm: 40, turnDeg: 0 } }));
    expect(stands.spoils).toEqual([]);
    expect(stands.codes).toContain('shapes-in-shapes');
    const { regions } = stands.lettering.artworks[0]!;
    const one = await judge(jobOf(plate, [{ ...pocket, nested: 'one' } as Cut], [border]));
    // All of the letters' own area: what stands in the one is gone in the other.
    const more = one.field!.truth.volumeMm3 - stands.field!.truth.volumeMm3;
    expect(more).toBeGreaterThan(0.9 * 0.5 * computeArea(regions));
  });

  it('a cut-out at a place of a tube, with tabs and levels, is no rapid through the work', async () => {
    const tube = { ...createBlank('cylinder'), diameterMm: 20, boreMm: 17, lengthMm: 60 } as Blank;
    const tabs = { count: 3, spacingMm: null, lengthMm: 2, thicknessMm: 0.4, ramped: false, at: [] };
    const levels = { by: 'count', count: 3 } as const;
    const cut: Cut = { ...createCut('cut-out', 'c', 'mill'), along: { by: 'place', xMm: 50 }, depthMm: 1.7, tabs, levels };
    const { spoils, codes } = await judge(jobOf(tube, [cut], [], null));
    expect(spoils).toEqual([]);
    // Off a tab that is not ramped it sinks no faster than it plunges.
    expect(codes).not.toContain('dives-fast');
  });

  it('holes in a hollow are drilled', async () => {
    const trough = { ...createBlank('arched'), side: 'concave', radiusMm: 65, chordMm: 60, lengthMm: 80, thicknessMm: 8 } as Blank;
    const hole = Array.from({ length: 24 }, (_, k) => (2 * Math.PI * k) / 24).flatMap((t) => [Math.cos(t), Math.sin(t)]);
    const cut: Cut = { ...createCut('drill', 'c', 'drill'), depthMm: 1.65 };
    const { spoils, plan } = await judge(jobOf(trough, [cut], [artwork('hole', [hole])], null));
    expect(spoils).toEqual([]);
    expect(plan.cuts[0]!.strokes).toBeGreaterThan(0);
  });

  it('texts that overlap in one carve have no edge inside each other', async () => {
    const cut: Cut = { ...createCut('v-carve', 'c', 'v'), maxDepthMm: 0.6 };
    const job = jobOf(plate, [cut]);
    const other = { ...job.inscriptions[0]!, id: 'other', at: { xMm: 43, turnDeg: 1 } } as Inscription;
    const { spoils } = await judge({ ...job, inscriptions: [...job.inscriptions, other] });
    expect(spoils).toEqual([]);
  });

  it('a band of flat tops is as deep where it ends as anywhere: a mill before a blunt cutter stops short of no seam', async () => {
    const rod = { ...createBlank('cylinder'), diameterMm: 33, lengthMm: 80 } as Blank;
    const cut = {
      ...createCut('raised', 'r', 'v'),
      sides: 'flat-top',
      field: 'band',
      depthMm: 0.7,
      marginMm: 2,
      clearing: [stage('mill')],
    } as Cut;
    const job = jobOf(rod, [cut], [], { heightMm: 5 });
    const blunt = (t: Tool): Tool => (t.id === 'v' ? { ...t, kind: 'half-round', tipMm: 0.4 } : { ...t, diameterMm: 0.3, shankMm: 0.3 });
    expect((await judge({ ...job, tools: job.tools.map(blunt) })).spoils).toEqual([]);
  });

  it('a carve with a mill before it leaves no ridge in the middle of a stroke, in a hollow and on a slope', async () => {
    const hollow = { ...createBlank('arched'), side: 'concave', radiusMm: 94, chordMm: 70, lengthMm: 80, thicknessMm: 12 } as Blank;
    for (const blank of [hollow, { ...plate, inclineDeg: 11 } as Blank]) {
      const cut = { ...createCut('v-carve', 'c', 'v'), maxDepthMm: 0.64, clearing: [stage('mill')] } as Cut;
      const job = jobOf(blank, [cut], [], { text: 'Q', heightMm: 16, at: { xMm: 40, turnDeg: 8 } });
      const { spoils, field } = await judge({ ...job, tools: resize(job.tools, 'mill', 1.53) });
      expect(spoils).toEqual([]);
      // 0.57 mm of 0.64 stood there.
      const deepest = field!.removal.field.tiles.flatMap((t) => Array.from(t.depth)).reduce((a, b) => Math.max(a, b), 0);
      expect(deepest).toBeGreaterThan(0.6);
    }
  });

  it('a floor under a mill that leans is as deep in its middle as asked, and both ends of its rim are said', async () => {
    const [leanDeg, wideMm, depthMm] = [10.3, 3.23, 1.8];
    const cut: Cut = { ...createCut('pocket', 'c', 'wide'), depthMm };
    const slope = { ...plate, thicknessMm: 6, inclineDeg: leanDeg } as Blank;
    const job = jobOf(slope, [cut], [artwork('box', [box(14, 9)])], null);
    const { spoils, field, findings } = await judge({ ...job, tools: resize(job.tools, 'wide', wideMm) });
    expect(spoils).toEqual([]);
    const rim = (wideMm / 2) * Math.tan((leanDeg * Math.PI) / 180);
    const said = findings.find((f) => f.code === 'floor-leans')!.text;
    for (const mm of [depthMm - rim, depthMm + rim]) expect(said).toContain(mm.toFixed(3));
    for (let x = 28; x <= 52; x += 0.37) {
      for (let y = -6; y <= 6; y += 0.37) {
        const depth = field!.removal.field.depthAt(x, y);
        expect(depth).toBeGreaterThan(depthMm - rim - 0.03);
        expect(depth).toBeLessThan(depthMm + rim + 0.01);
      }
    }
  });

  it('a ball after a flat mill reaches all that it fits into, and no strip stands between the two', async () => {
    const ball = createTool('ball', 5, 'Ball', 'ball', { diameterMm: 0.93, fluteLengthMm: 12, stickOutMm: 30 });
    const cut = { ...createCut('pocket', 'c', 'ball'), depthMm: 0.5, clearing: [stage('mill')] } as Cut;
    const job = jobOf(plate, [cut], [], { text: 'O', heightMm: 10 });
    const { spoils, codes } = await judge({ ...job, tools: [...resize(job.tools, 'mill', 1.36), ball] });
    expect(spoils).toEqual([]);
    expect(codes).not.toContain('tip-too-wide');
  });

  it('a lead stands at a closed way alone: ways that letters break off beside each other go through none', async () => {
    const cut: Cut = { ...createCut('cut-out', 'c', 'mill'), depthMm: 3.2, tabs: null, leadRadiusMm: 0.5, leadMm: 0.5 };
    const { spoils } = await judge(
      jobOf(plate, [cut], [], { text: 'WA', heightMm: 14, font: { id: 'zilla-slab-bold' }, letterSpacingMm: -0.6 }),
    );
    expect(spoils).toEqual([]);
  });
});

describe('programs of a known job that were changed', () => {
  const pocket: Cut = { ...createCut('pocket', 'p', 'mill'), depthMm: 0.5, clearing: [stage('wide')] };
  const hole = Array.from({ length: 24 }, (_, k) => (2 * Math.PI * k) / 24).flatMap((t) => [Math.cos(t), Math.sin(t)]);
  const lower = (by: number) => (text: string) => text.replace(/Z-([\d.]+)/g, (_, z: string) => `Z-${(Number(z) + by).toFixed(4)}`);

  it('a floor 0.3 mm too deep, with its line', async () => {
    const [found] = await judgeText(jobOf(plate, [pocket]), lower(0.3));
    expect(found).toMatchObject({ code: 'too-deep' });
    expect(found!.where.line).toBeGreaterThan(1);
  });

  it('a hole 3 mm too deep, with its line', async () => {
    const job = jobOf(
      { ...plate, thicknessMm: 9 } as Blank,
      [{ ...createCut('drill', 'd', 'drill'), depthMm: 2 }],
      [artwork('hole', [hole])],
      null,
    );
    const found = await judgeText(job, lower(3));
    expect(found.map((f) => f.code)).toContain('too-deep');
    expect(found.find((f) => f.code === 'too-deep')!.where.line).toBeGreaterThan(1);
  });

  it('tabs that are gone', async () => {
    const tabs = { count: 3, spacingMm: null, lengthMm: 3, thicknessMm: 0.8, ramped: true, at: [] };
    const job = jobOf(
      plate,
      [{ ...createCut('cut-out', 'c', 'mill'), depthMm: 3.2, tabs, leadRadiusMm: 0 }],
      [artwork('oval', [box(14, 9)])],
      null,
    );
    const flat = (text: string) => text.replace(/Z-2\.\d+/g, 'Z-3.2');
    expect((await judgeText(job, flat)).map((f) => f.code)).toContain('tabs-missing');
    expect(await judgeText(job, (t) => t)).toEqual([]);
  });

  it('a second cutter that is never called, and a text in inches', async () => {
    const job = jobOf(plate, [pocket]);
    const first = await judgeText(job, (t) => t.slice(0, t.indexOf('T1 M6')) + t.slice(t.indexOf('\nM5', t.indexOf('T1 M6') + 20)));
    expect(first.map((f) => f.code)).toContain('left-standing');
    expect((await judgeText(job, (t) => t.replace('G21', 'G20'))).length).toBeGreaterThan(0);
    expect(await judgeText(job, (t) => t)).toEqual([]);
  });
});

function stage(toolId: string) {
  return {
    toolId,
    levels: { by: 'count' as const, count: 1 },
    feedMmPerMin: 400,
    plungeMmPerMin: 120,
    spindleRpm: 12000,
    stepOverShare: 0.4,
  };
}
