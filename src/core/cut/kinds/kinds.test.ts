import { describe, expect, it } from 'vitest';
import { carveJob, getLibrary, planJob, type Planned } from '../../../../tests/support';
import { runSteps } from '../../base/steps';
import { computeBox } from '../../base/rings';
import { createTool } from '../../crib/starterTools';
import { createArtwork, createBlank } from '../../job/defaults';
import type { Blank, Cut, Job } from '../../job/schema';
import { createLetterer } from '../../pipeline/lettering';
import { MOVE } from '../../lay/laidPaths';
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
  createTool('wide', 4, 'Mill 3', 'flat', { diameterMm: 3, fluteLengthMm: 12 }),
];
const plate = { ...createBlank('plate'), thicknessMm: 3 };

function jobOf(text: string, cut: Cut, blank: Blank = plate): Job {
  const base = carveJob(text, { words: { heightMm: 14, at: { xMm: 40, turnDeg: 0 }, rotationDeg: 0 } });
  return { ...base, blank, tools: TOOLS, cuts: [cut], machine: { ...base.machine, toolChanger: true } };
}
function prove({ setup, lettering, plan }: Planned, cellMm = 0.04) {
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const readings = toPartTexts(plan.program).map((t) => runSteps(readProgram(t, rules)));
  return runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), cellMm));
}
const codes = (planned: Planned): string[] => planned.findings.map((f) => f.code);

describe('a carve in a sunk floor', () => {
  it('begins its levels at the floor, and asks of its cutter what it cuts below it alone', async () => {
    const carve: Cut = { ...createCut('v-carve', 'c', 'v'), maxDepthMm: 5, levels: { by: 'count', count: 2 } };
    const plain = await planJob(jobOf('I', carve));
    // Deeper than the flutes of the cutter in all, and no deeper than they are below the floor.
    const thick = { ...plate, thicknessMm: 20 };
    const sunk = await planJob(jobOf('I', { ...carve, sunkMm: 5.5 }, thick));
    const [own] = plain.plan.cuts;
    expect(own!.maxDepthMm).toBeGreaterThan(0.6);
    const below = sunk.plan.cuts[0]!.levelsMm.map((mm) => mm - 5.5);
    for (const [k, mm] of own!.levelsMm.entries()) expect(below[k]).toBeCloseTo(mm, 4);
    expect(codes(sunk)).not.toContain('flute-too-short');
    expect(codes(sunk)).not.toContain('cutter-too-narrow');
    const { laid } = sunk.plan;
    for (let i = 0; i < laid.count; i++) if (laid.kind[i] === MOVE.cut) expect(laid.sheet[3 * i + 2]).toBeGreaterThanOrEqual(5.5 - 1e-9);
    // Let down into what is not there it breaks through, and that is said.
    expect(codes(await planJob(jobOf('I', { ...carve, sunkMm: 2.8 })))).toContain('breaks-through');
  });
});

describe('a pocket', () => {
  it('begins its last pass along the walls where it is told, and runs the whole of it', async () => {
    const cut: Cut = { ...createCut('pocket', 'c', 'mill'), toolId: 'mill', finishMm: 0.1, depthMm: 0.4 };
    const planned = await planJob(jobOf('I', cut));
    const box = computeBox(planned.lettering.artworks[0]!.regions.xy);
    const at = { xMm: box.minX, turnDeg: (box.minY + box.maxY) / 2 };
    const begun = await planJob(jobOf('I', { ...cut, startsAt: [at] }));
    const [way] = begun.plan.cuts[0]!.ways;
    expect(Math.abs(way!.points[1]! - at.turnDeg)).toBeLessThan(0.01);
    expect(way!.points[0]! - box.minX).toBeCloseTo(0.5, 2);
    expect(begun.plan.cuts[0]!.cutLengthMm).toBeCloseTo(planned.plan.cuts[0]!.cutLengthMm, 3);
    // Without a last pass there is nothing to begin.
    expect((await planJob(jobOf('I', { ...cut, finishMm: 0 }))).plan.cuts[0]!.ways).toEqual([]);
  });
});

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

describe('a stay at the end of each peck', () => {
  it('stands in the program, is read back, and counts as time of the plan and of the piece', async () => {
    const levels = { by: 'step' as const, stepMm: 0.7, even: true, finishMm: 0 };
    const cut: Cut = { ...createCut('drill', 'c', 'drill'), depthMm: 2, levels };
    const [without, with_] = [await planJob(jobOf('II', cut)), await planJob(jobOf('II', { ...cut, dwellS: 0.5 }))];
    const text = toPartTexts(with_.plan.program).join('');
    expect(text.match(/^G4 P0\.5$/gm)).toHaveLength(6);
    expect(with_.plan.timeS - without.plan.timeS).toBeCloseTo(3, 9);
    const { removal, dangers } = prove(with_);
    expect(dangers).toEqual([]);
    const { timesS, count } = removal.track;
    expect(timesS[count - 1]! - prove(without).removal.track.timesS[count - 1]!).toBeCloseTo(3, 9);
    // What the plan shows at a time and what the piece is cut by then are of one clock.
    expect(Math.abs(timesS[count - 1]! - with_.plan.timeS)).toBeLessThan(0.5);
  });
});

describe('the middle of outline letters', () => {
  it('of a bar is the bar less half its width at either end, at its depth, on a plate and round a rod (closed form)', async () => {
    for (const blank of [plate, { ...createBlank('cylinder'), diameterMm: 30, lengthMm: 80 }]) {
      const cut: Cut = { ...createCut('centre-line', 'c', 'v'), of: 'middle', depthMm: 0.2 };
      const planned = await planJob(jobOf('I', cut, blank));
      const box = computeBox(planned.lettering.artworks[0]!.regions.xy);
      const [wide, high] = [box.maxX - box.minX, box.maxY - box.minY];
      expect(planned.plan.cuts[0]!.strokes).toBe(1);
      expect(planned.plan.cuts[0]!.cutLengthMm).toBeCloseTo(Math.max(wide, high) - Math.min(wide, high), 2);
      const { removal, dangers } = prove(planned);
      expect(dangers.filter((d) => d.finding.severity !== 'notes')).toEqual([]);
      // Under a sharp 90° V a cell's middle lies up to half a cell aside, and stands that much higher.
      const depth = removal.field.depthAt((box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2);
      expect(0.2 - depth).toBeLessThan(0.0201);
      expect(0.2 - depth).toBeGreaterThan(-1e-6);
    }
  });

  it('of an O is one way round and of an X four legs to the middle, with nothing run into corners', async () => {
    const cut: Cut = { ...createCut('centre-line', 'c', 'v'), of: 'middle', depthMm: 0.2 };
    expect((await planJob(jobOf('O', cut))).plan.cuts[0]!.strokes).toBe(1);
    const cross = await planJob(jobOf('X', cut));
    expect(cross.plan.cuts[0]!.strokes).toBeLessThanOrEqual(3);
    // Of outline lettering alone: a stroke font has no middle.
    const lines: Job = jobOf('X', cut);
    const text = { ...lines.inscriptions[0]!, font: { id: 'hershey-sans' } } as Job['inscriptions'][number];
    expect(codes(await planJob({ ...lines, inscriptions: [text] }))).toContain('nothing-to-cut');
  });
});

describe('what a cut says of its levels', () => {
  const carve: Cut = { ...createCut('v-carve', 'c', 'v'), maxDepthMm: 5, levels: { by: 'count', count: 2 } };
  const feeds = ({ plan: { laid } }: Planned) => Array.from({ length: laid.count }, (_, i) => i).filter((i) => laid.kind[i] === MOVE.cut);

  it('begun below what is gone, they part what is left; the piece is the same, and no rapid goes into what is not known', async () => {
    const whole = await planJob(jobOf('I', carve));
    const again = await planJob(jobOf('I', { ...carve, beginMm: 0.6 }));
    const deepest = whole.plan.cuts[0]!.maxDepthMm;
    expect(again.plan.cuts[0]!.levelsMm).toEqual([0.6 + (deepest - 0.6) / 2, deepest]);
    for (const i of feeds(again)) expect(again.plan.laid.sheet[3 * i + 2]).toBeGreaterThanOrEqual(0.6 - 1e-9);
    const [a, b] = [prove(whole), prove(again)];
    expect(b.dangers.filter((d) => d.finding.severity === 'spoils')).toEqual([]);
    const box = computeBox(whole.lettering.artworks[0]!.regions.xy);
    const [x, y] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    expect(b.removal.field.depthAt(x, y)).toBeCloseTo(a.removal.field.depthAt(x, y), 4);
  });

  it('raised as a whole they end at the same piece, and no step takes more than one', async () => {
    const raised = await planJob(jobOf('X', { ...carve, levelsBy: 'shift' }));
    const cut = await planJob(jobOf('X', carve));
    const [a, b] = [prove(raised), prove(cut)];
    expect(a.dangers.filter((d) => d.finding.severity === 'spoils')).toEqual([]);
    let apart = 0;
    for (const tile of b.removal.field.tiles) {
      const other = a.removal.field.tiles.find((t) => t.key === tile.key)!;
      tile.depth.forEach((d, k) => (apart = Math.max(apart, Math.abs(d - other.depth[k]!))));
    }
    expect(apart).toBeLessThan(0.002);
  });

  it('run once more at full depth, the last strokes take nothing', async () => {
    const planned = await planJob(jobOf('I', { ...carve, finishing: true }));
    expect(planned.plan.cuts[0]!.strokes).toBeGreaterThan((await planJob(jobOf('I', carve))).plan.cuts[0]!.strokes);
    const { removal, dangers } = prove(planned);
    expect(dangers.filter((d) => d.finding.severity === 'spoils')).toEqual([]);
    const { load, track } = removal;
    const last = Array.from({ length: track.count }, (_, i) => i).filter((i) => !track.rapid[i]);
    expect(load.most[last[last.length - 2]!]).toBeLessThan(0.001);
  });

  it('crosses at its own height, which conduct holds it to, and is told where that clashes', async () => {
    const lineOf = (hopHeightMm: number | null): Job => jobOf('II', { ...carve, hopHeightMm });
    const [low, usual] = [await planJob(lineOf(0.8)), await planJob(lineOf(null))];
    const highest = ({ plan: { laid } }: Planned) =>
      Math.max(
        ...Array.from({ length: laid.count }, (_, i) => i)
          .filter((i) => laid.kind[i] === MOVE.retract)
          .map((i) => -laid.sheet[3 * i + 2]! + laid.liftMm[i]!),
      );
    expect(highest(low)).toBeCloseTo(0.8, 9);
    expect(highest(usual)).toBeCloseTo(2, 9);
    expect(low.plan.timeS).toBeLessThan(usual.plan.timeS);
    expect(low.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    const clash = (await planJob(lineOf(0.2))).findings.find((f) => f.code === 'heights-crossed');
    expect(clash).toMatchObject({ where: { id: 'c' } });
  });
});

describe('a way down by a helix', () => {
  it('stays within the walls, an O’s inner one too (a ring goes round what is to stay as well)', async () => {
    for (const blank of [plate, { ...createBlank('cylinder'), diameterMm: 30, lengthMm: 80 }]) {
      const cut: Cut = { ...createCut('pocket', 'c', 'mill'), depthMm: 0.4, entry: { by: 'helix', angleDeg: 4, radiusMm: 3 } };
      const job = jobOf('OB', cut, blank);
      const wide = { ...job, inscriptions: [{ ...job.inscriptions[0]!, heightMm: 24 } as Job['inscriptions'][number]] };
      const [helix, ramp] = [await planJob(wide), await planJob({ ...wide, cuts: [{ ...cut, entry: { by: 'ramp', angleDeg: 4 } }] })];
      expect(toPartTexts(helix.plan.program)).not.toEqual(toPartTexts(ramp.plan.program));
      const [a, b] = [prove(helix), prove(ramp)];
      expect(a.dangers.filter((d) => d.finding.severity !== 'notes')).toEqual([]);
      expect(a.truth.edge!.maxOutsideUm).toBeLessThanOrEqual(b.truth.edge!.maxOutsideUm + 0.5);
      for (const tile of a.removal.field.tiles) {
        const other = b.removal.field.tiles.find((t) => t.key === tile.key);
        tile.depth.forEach((d, k) => d - (other?.depth[k] ?? 0) > 0.002 && expect([tile.key, k, d]).toEqual([]));
      }
    }
  }, 60_000);
});

describe('staying down between passes', () => {
  it('saves lifts and time, and the piece is the same: nothing outside, no step too great', async () => {
    for (const blank of [plate, { ...createBlank('cylinder'), diameterMm: 30, lengthMm: 80 }]) {
      const pace = { feedMmPerMin: 400, plungeMmPerMin: 150, spindleRpm: 12000, levels: { by: 'count', count: 1 } } as const;
      const before = { toolId: 'wide', ...pace, stepOverShare: 0.4 };
      const cut: Cut = { ...createCut('pocket', 'c', 'mill'), depthMm: 0.4, clearing: [before] };
      const big = (c: Cut): Job => {
        const job = jobOf('EH', c, blank);
        return { ...job, inscriptions: [{ ...job.inscriptions[0]!, heightMm: 24 } as Job['inscriptions'][number]] };
      };
      const [lifts, stays] = [await planJob(big(cut)), await planJob(big({ ...cut, keepDown: true }))];
      expect(stays.plan.cuts[1]!.strokes).toBeLessThanOrEqual(lifts.plan.cuts[1]!.strokes - (blank === plate ? 2 : 0));
      expect(stays.plan.timeS).toBeLessThanOrEqual(lifts.plan.timeS - (blank === plate ? 2 : 0));
      const [a, b] = [prove(stays, 0.08), prove(lifts, 0.08)];
      expect(a.dangers.filter((d) => d.finding.severity === 'spoils')).toEqual([]);
      expect(codes(stays)).toEqual(codes(lifts));
      let apart = 0;
      for (const tile of b.removal.field.tiles) {
        const other = a.removal.field.tiles.find((t) => t.key === tile.key)!;
        tile.depth.forEach((d, k) => (apart = Math.max(apart, Math.abs(d - other.depth[k]!))));
      }
      expect(apart).toBeLessThan(0.002);
    }
  }, 60_000);
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
    expect(dangers.map((d) => d.finding.code)).not.toContain('too-deep');
  });

  it('a band that is cleared all the way round is not found cut outside', async () => {
    const tube = { ...createBlank('cylinder'), diameterMm: 44, lengthMm: 60 };
    const cut: Cut = { ...createCut('raised', 'c', 'mill'), field: 'band', marginMm: 2, depthMm: 0.3 };
    const { dangers } = prove(await planJob(jobOf('H', cut, tube)), 0.08);
    expect(dangers.map((d) => d.finding.code)).not.toContain('too-deep');
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
