import { getRotary } from '../machine/layouts/edit';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../../../tests/support';
import { migrateJob, migrateMachine, migrateTool } from './migrate';
import { parseJob } from './parse';
import { JOB_VERSION } from './schema';

/** A document as version 1 wrote it. */
const old = {
  format: 'hobel-job',
  version: 1,
  name: 'Old piece',
  notes: '',
  units: 'mm',
  material: 'brass',
  blank: { kind: 'cylinder', diameterMm: 40, lengthMm: 80, boreMm: 0, zero: 'axis', seamDeg: 180 },
  machine: {
    id: 'bench-rotary',
    name: 'Bench mill, rotary along X',
    rotaryLetter: 'A',
    wrappedAxis: 'Y',
    sense: 1,
    feedMode: 'G93',
    lengthDigits: 4,
    angleDigits: 4,
    maxFeedMmPerMin: 3000,
    rapidMmPerMin: 5000,
    maxTurnDegPerMin: 7200,
    accelerationMmPerS2: 400,
    turnAccelerationDegPerS2: 1500,
    maxSpindleRpm: 24000,
    chordToleranceMm: 0.001,
    toolChanger: false,
  },
  tools: carveJob('x').tools,
  inscriptions: [
    {
      id: 'words',
      name: '',
      text: 'OLD',
      font: { id: 'cinzel-bold' },
      heightMm: 6,
      heightOf: 'capitals',
      letterSpacingMm: 0,
      lineSpacingRatio: 1.3,
      justify: 'centre',
      kerning: true,
      ligatures: true,
      anchor: 'centre',
      at: { xMm: 40, turnDeg: 0 },
      rotationDeg: 90,
      mirrored: false,
    },
  ],
  cuts: carveJob('x').cuts,
  motion: carveJob('x').motion,
};

describe('migrateJob', () => {
  it('brings a document of version 1 up, words and all, and it plans', async () => {
    const parsed = parseJob(old);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    expect(parsed.value.version).toBe(JOB_VERSION);
    expect(parsed.value.inscriptions[0]).toMatchObject({ kind: 'text', text: 'OLD', fit: { to: 'none' }, onGuide: null, hidden: false });
    expect((await planJob(parsed.value)).plan.laid.count).toBeGreaterThan(50);
  });

  it('gives a machine of version 3 a layout, with what its axes could do', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-3.json', 'utf8')) as { machine: Record<string, unknown> };
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    expect(stored.machine).toMatchObject({ rotaryLetter: 'A', maxTurnDegPerMin: 7200, tilt: { letter: 'B', maxDeg: 95 } });
    expect(parsed.value.machine.layout).toEqual({
      kind: 'rotary-tilting-head',
      wrappedAxis: 'Y',
      rotary: { letter: 'A', sense: 1, maxDegPerMin: 7200, accelerationDegPerS2: 1500, chuckMm: 0, tailstockMm: 0, range: null },
      head: { letter: 'B', sense: 1, minDeg: -95, maxDeg: 95, pivotMm: 0, maxDegPerMin: 3600, accelerationDegPerS2: 900 },
    });
    const upright = parseJob({ ...stored, machine: { ...stored.machine, tilt: null } });
    expect(upright.ok && upright.value.machine.layout.kind).toBe('rotary');
    // What was wrong stays wrong, and is found where it now stands.
    const odd = parseJob({ ...stored, machine: { ...stored.machine, sense: 2 } });
    expect(!odd.ok && odd.error.problems.map((p) => p.path)).toContain('$.machine.layout.rotary.sense');
  });

  it('gives a machine of version 4 its corners and its times, in a job and by itself', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-4.json', 'utf8')) as {
      version: number;
      machine: { toolChanger: boolean };
    };
    expect(stored.version).toBe(4);
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    const times = { cornerToleranceMm: 0.005, spindleRunUpS: 3, toolChangeS: stored.machine.toolChanger ? 10 : 120 };
    expect(parsed.value.machine).toMatchObject(times);
    expect(migrateMachine(stored.machine)).toMatchObject(times);
    expect(migrateMachine(parsed.value.machine)).toBe(parsed.value.machine);
  });

  it('gives a tool of version 5 a shank as thick as its cutter, and a machine nothing known of its chuck', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-5.json', 'utf8')) as {
      version: number;
      tools: object[];
      machine: object;
    };
    expect(stored.version).toBe(5);
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    expect(parsed.value.tools[4]).toMatchObject({ diameterMm: 0.5, shankMm: 0.5, stickOutMm: 20, holderMm: 0, holderLengthMm: 0 });
    expect(getRotary(parsed.value.machine.layout)).toMatchObject({ chuckMm: 0, tailstockMm: 0 });
    expect(migrateTool(parsed.value.tools[0])).toBe(parsed.value.tools[0]);
    expect(migrateMachine(stored.machine)).toEqual(parsed.value.machine);
  });

  it('gives a carve of version 6 no cutters before its own, and its tools no speeds', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-6.json', 'utf8')) as { version: number };
    expect(stored.version).toBe(6);
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    expect(parsed.value.cuts.map((c) => [c.kind, 'clearing' in c ? c.clearing : null])).toEqual([
      ['v-carve', []],
      ['centre-line', null],
    ]);
    expect(parsed.value.tools[0]).toMatchObject({ cornerMm: 0, made: '', cuttingData: [] });
    expect(parsed.value.motion.byCutter).toBe(false);
  });

  it('gives cuts of version 7 their levels from the surface down, holes no stay, and a machine all of the crib', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-7.json', 'utf8')) as { version: number; cuts: object[] };
    expect(stored.version).toBe(7);
    const trials = [{ id: 't', name: 'Other', cuts: stored.cuts }];
    const parsed = parseJob({ ...stored, trials });
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    const { cuts, machine, trials: kept } = parsed.value;
    for (const cut of cuts) expect(cut).toMatchObject({ levelsBy: 'clip', beginMm: 0, hopHeightMm: null });
    expect(cuts.find((c) => c.kind === 'drill')).toMatchObject({ dwellS: 0 });
    expect(cuts.find((c) => c.kind === 'v-carve')).toMatchObject({ finishing: false });
    expect(kept[0]!.cuts).toEqual(cuts);
    expect(machine).toMatchObject({ drawer: null, arcMm: 0 });
  });

  it('writes the programs of a machine of version 8 in millimetres and one file, as they were', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-8.json', 'utf8')) as { version: number; machine: object };
    expect(stored.version).toBe(8);
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    expect(parsed.value.machine).toMatchObject({ ...stored.machine, programUnit: 'mm', files: 'one', travelMm: { X: 0, Y: 0, Z: 0 } });
  });

  it('lets carves of version 9 begin at the surface, in trials too', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-9.json', 'utf8')) as { version: number; cuts: object[] };
    expect(stored.version).toBe(9);
    const parsed = parseJob({ ...stored, trials: [{ id: 't', name: 'Other', cuts: stored.cuts }] });
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    const { cuts, trials } = parsed.value;
    expect(cuts.filter((c) => 'sunkMm' in c).map((c) => [c.kind, 'sunkMm' in c && c.sunkMm])).toEqual([['v-carve', 0]]);
    expect(cuts.filter((c) => c.kind === 'pocket')).toMatchObject([{ startsAt: [] }]);
    expect(trials[0]!.cuts).toEqual(cuts);
    const heights = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };
    expect(parsed.value.zero).toEqual({ along: 'datum', across: 'middle', turnDeg: 0, centreMm: null });
    expect(parsed.value.machine).toMatchObject({ mostLines: 0, coolant: 'none', ownBlocks: { start: '', change: null, end: '' }, heights });
  });

  it('takes a job of version 10 as it was: no limits of its rotary, no lead, and a blank that is round', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-10.json', 'utf8')) as { version: number; machine: object };
    expect(stored.version).toBe(10);
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    const { machine, motion, zero, measured } = parsed.value;
    expect(getRotary(machine.layout)?.range).toBeNull();
    expect(machine).toMatchObject({ fileName: '{job}{part}', longestLine: 0, clamps: { highMm: 0, reachMm: 0 } });
    expect(motion).toMatchObject({ leadDeg: 0, mostTiltDeg: null });
    expect([zero.centreMm, measured]).toEqual([null, null]);
  });

  it('keeps cuts of version 11 that filled shapes in shapes as one', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-11.json', 'utf8')) as { version: number };
    expect(stored.version).toBe(11);
    const parsed = parseJob(stored);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    const filling = [...parsed.value.cuts, ...parsed.value.trials.flatMap((t) => t.cuts)].filter((c) => 'nested' in c);
    expect(filling.length).toBeGreaterThan(0);
    expect(filling.every((c) => c.nested === 'one')).toBe(true);
  });

  it('keeps the shape of a turned blank whose smooth joins beside arcs did nothing', () => {
    const stored = JSON.parse(readFileSync('tests/fixtures/job-version-4.json', 'utf8')) as object;
    const node = (xMm: number, join: string, bulge = 0) => ({ xMm, diameterMm: 40, join, bulge });
    const profile = [
      node(0, 'corner'),
      node(10, 'smooth'),
      node(20, 'smooth', 0.3),
      node(40, 'smooth'),
      node(50, 'smooth'),
      node(60, 'corner'),
    ];
    const up = migrateJob({ ...stored, blank: { kind: 'turned', profile } }) as { blank: { profile: { join: string }[] } };
    expect(up.blank.profile.map((n) => n.join)).toEqual(['corner', 'smooth', 'corner', 'corner', 'smooth', 'corner']);
  });

  it('does not touch its input, nor a document of this version, nor what is no document', () => {
    const copy = structuredClone(old);
    migrateJob(old);
    expect(old).toEqual(copy);
    const now = carveJob('NOW');
    expect(migrateJob(now)).toBe(now);
    for (const odd of [null, 3, 'x', [], { version: 'one' }, { version: 0 }, { version: 99 }]) expect(migrateJob(odd)).toBe(odd);
  });

  it('mends nothing that was wrong in the old document', () => {
    const parsed = parseJob({ ...old, inscriptions: [{ ...old.inscriptions[0], heightMm: -1 }, 7] });
    expect(!parsed.ok && parsed.error.problems.map((p) => p.path)).toEqual(
      expect.arrayContaining(['$.inscriptions[0].heightMm', '$.inscriptions[1]']),
    );
    expect(parseJob({ ...old, inscriptions: 'none' }).ok).toBe(false);
  });
});
