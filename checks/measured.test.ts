/*
 * What a probe finds on an eccentric cylinder, against the closed form of its radius, and passes that follow it, run by the removal on a
 * blank that is really eccentric. The radius of a circle about a centre beside the axis: elementary.
 */
import { describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { TABLE_MACHINE } from '../src/core/job/defaults';
import type { Blank, Job } from '../src/core/job/schema';
import { createSetup, listToolsByHand, type Setup } from '../src/core/pipeline/setup';
import { describeMeasured, measureFigures } from '../src/core/probe/describe';
import { createMeasuredMap } from '../src/core/probe/measuredMap';
import { createMeasuredWork } from '../src/core/probe/measuredWork';
import { PROBE_DEFAULTS, writeProbeProgram, type ProbeSettings } from '../src/core/probe/probeProgram';
import { createKnown, isTouched, listPlaces } from '../src/core/probe/grid';
import { createMeasured, readProbeResults } from '../src/core/probe/results';
import { proveProbeProgram } from '../src/core/proof/probing';
import { proveField } from '../src/core/removal/proveField';
import { createBlank } from '../src/core/job/defaults';
import { STARTER_MACHINES } from '../src/core/job/starterMachines';
import { createSurface } from '../src/core/surface/registry';
import { fromTurnDeg, toTurnDeg } from '../src/core/surface/surface';
import { carveJob, createDomeBlank, domeShapes, lineJob, machineWith, planJob, tiltingMachine } from '../tests/support';

const DEG = Math.PI / 180;
const PLAIN_TABLE = STARTER_MACHINES.find((m) => m.layout.kind === 'table')!;
const OFF = { mm: 0.15, deg: 40, taper: 0.001 };

/** How far the eccentric, slightly conical cylinder stands out of the drawn one of radius r at a turn. */
function outside(r: number, x: number, turnDeg: number): number {
  const own = r + OFF.taper * x;
  const t = (turnDeg - OFF.deg) * DEG;
  return OFF.mm * Math.cos(t) + Math.sqrt(own * own - (OFF.mm * Math.sin(t)) ** 2) - r;
}

/** How far the metal stands out of the drawn blank at a place of the sheet, by a closed form. */
type Really = (setup: Setup, x: number, turnDeg: number) => number;
const eccentric: Really = (_, x, turnDeg) => outside(20, x, turnDeg);
/** A cone beside its axis: cut square to the axis it is a circle beside the rotary's. */
const eccentricCone: Really = ({ surface, job }, x, turnDeg) => {
  if (job.blank.kind !== 'cone') throw new Error(job.blank.kind);
  const { datumDiameterMm: d0, farDiameterMm: d1, lengthMm } = job.blank;
  const along = ((x - surface.domain.minX) / (surface.domain.maxX - surface.domain.minX)) * lengthMm;
  return outside((d0 + (along / lengthMm) * (d1 - d0)) / 2, along, turnDeg);
};
/** A board that bows between its clamps, and rises to one side. */
const bowed: Really = (_, x, across) => 0.25 * Math.sin((x / 120) * Math.PI) - 0.1 * (across / 30) ** 2 + 0.002 * across;

/** What a control would log of touching it: the words of each touch, in the program's unit. */
function touch(setup: Setup, settings = PROBE_DEFAULTS, unit = 1, really: Really = eccentric): string {
  const made = writeProbeProgram(setup, settings);
  if (!made.ok) throw new Error(made.error.kind);
  const { kinematics, ground, surface } = setup;
  const pose = new Float64Array(6),
    tip = new Float64Array(3),
    out = new Float64Array(kinematics.axes.length);
  return made.places
    .map(([x, turn]) => {
      ground.poseInto(x, fromTurnDeg(surface, turn), pose);
      const d = really(setup, x, turn);
      for (let k = 0; k < 3; k++) tip[k] = pose[k]! + d * pose[3 + k]!;
      kinematics.inverse(tip, pose.subarray(3), new Float64Array(out.length), out);
      return kinematics.axes.map((a, k) => `${a.letter}${(a.kind === 'linear' ? out[k]! / unit : out[k]!).toFixed(5)}`).join(' ');
    })
    .join('\n');
}

const base = (): Job => lineJob('HOBEL BAY', { depthMm: 0.3 }, { measured: null });

describe('a blank that is not round', () => {
  const setup = createSetup(base());
  const read = readProbeResults(touch(setup), setup, PROBE_DEFAULTS, 0);

  it('is mapped within a micrometre of the closed form, everywhere between the places', () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const map = createMeasuredMap(read.value, setup.surface);
    let worst = 0;
    for (let x = 3; x <= 77; x += 0.7) {
      for (let deg = -200; deg < 200; deg += 1.3)
        worst = Math.max(worst, Math.abs(map(x, deg * DEG * setup.surface.mmPerRad) - outside(20, x, deg)));
    }
    expect(worst).toBeLessThan(0.001);
  });

  it('has its run-out, its turn and its taper told to a micrometre and a hundredth of a degree, in words too', () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const figures = measureFigures(read.value, setup.surface);
    expect(figures.eccentric!.mm).toBeCloseTo(OFF.mm, 3);
    expect(figures.eccentric!.turnDeg).toBeCloseTo(OFF.deg, 1);
    expect(figures.taperMm).toBeCloseTo(OFF.taper * 74, 3);
    const words = describeMeasured(figures, setup.job.blank, (mm) => `${mm.toFixed(3)} mm`).map((w) => w.text);
    expect(words.join(' ')).toMatch(/runs out by 0\.300 mm .* towards turn 40°/);
    // The radius grows by the taper, the diameter by twice that: half of it over the middle at either end.
    expect(words.join(' ')).toContain(`${(OFF.taper * 74).toFixed(3)} mm thicker at the far end than in its middle, and as much thinner`);
  });

  it('is told the same from places that are not even all round', () => {
    const uneven = {
      ...PROBE_DEFAULTS,
      within: { minX: 10, maxX: 70, minY: -setup.surface.mmPerRad * 100 * DEG, maxY: setup.surface.mmPerRad * 100 * DEG },
    };
    const log = readProbeResults(touch(setup, uneven), setup, uneven, 0);
    if (!log.ok) throw new Error(log.error.lines.join());
    expect(Math.max(...log.value.turnDeg)).toBeLessThan(120);
    const figures = measureFigures(log.value, setup.surface);
    expect(figures.eccentric!.mm).toBeCloseTo(OFF.mm, 3);
    expect(figures.eccentric!.turnDeg).toBeCloseTo(OFF.deg, 1);
    expect(figures.meanMm).toBeCloseTo(OFF.taper * 40, 3);
    expect(figures.restMm).toBeLessThan(0.001);
  });

  it('whose axis is bowed is said to be, where and by how much, and its run-out at a place is that place’s own', () => {
    const xMm = [10, 25, 40, 55, 70],
      turnDeg = [-180, -90, 0, 90];
    const axisMm = [0.02, 0.05, 0.3, 0.12, 0.1];
    const mm = axisMm.map((off) => turnDeg.map((d) => off * Math.cos(d * DEG)));
    const { eccentric } = measureFigures({ xMm, turnDeg, mm }, setup.surface);
    expect(eccentric).toMatchObject({ bowXMm: 40 });
    expect(eccentric!.bowMm).toBeCloseTo(0.3 - 0.06, 9);
    expect(eccentric!.mm).toBeCloseTo(0.02, 9);
    expect(eccentric!.endMm).toBeCloseTo(0.1, 9);
    const words = describeMeasured(measureFigures({ xMm, turnDeg, mm }, setup.surface), setup.job.blank, (v) => `${v.toFixed(2)} mm`);
    expect(words.map((w) => w.text).join(' ')).toContain('bowed: 40.00 mm along it lies 0.24 mm beside the straight line');
  });

  it('is told to be clamped anew where it runs out far, and to be another size where it is', () => {
    const turnDeg = [-180, -90, 0, 90];
    const mm = [turnDeg.map((d) => 0.4 * Math.cos(d * DEG) + 0.1), turnDeg.map((d) => 0.4 * Math.cos(d * DEG) + 0.1)];
    const words = describeMeasured(
      measureFigures({ xMm: [10, 70], turnDeg, mm }, setup.surface),
      setup.job.blank,
      (v) => `${v.toFixed(2)} mm`,
    );
    expect(words[0]).toMatchObject({ urgent: true });
    expect(words[0]!.text).toContain('Clamp it anew');
    expect(words.map((w) => w.text).join(' ')).toContain('Its diameter is 40.20 mm, not 40.00 mm');
  });

  it.each<[string, Partial<Job>, Really, leanRad: number]>([
    ['cylinder', {}, eccentric, 0],
    ['cone under a radial tool', { blank: createBlank('cone') }, eccentricCone, Math.atan(10 / 70)],
    ['board on a table', { blank: createBlank('plate'), machine: PLAIN_TABLE }, bowed, 0],
  ])(
    'is cut as deep as asked where the passes follow it, by the removal on the real %s; and is not where they do not',
    async (_, patch, really, leanRad) => {
      const measureDepths = async (job: Job): Promise<[number, number]> => {
        const { setup: own, lettering, plan, proof } = await planJob(job);
        expect(proof.readBack.maxTipUm).toBeLessThan(1.5);
        // The blank as it really is, by the closed form, not by the map.
        const work = createMeasuredWork(own.ground, (x, y) => really(own, x, toTurnDeg(own.surface, y)), 0.4);
        const real: Setup = { ...own, work };
        const { removal } = runSteps(proveField(real, lettering, proof.readBack.readings, listToolsByHand(own.runs, plan), 0.01));
        let least = Infinity,
          most = 0;
        for (let i = 0; i < plan.moves.count; i++) {
          if (plan.moves.sheet[3 * i + 2]! < 0.2999) continue;
          // The deepest cell about the tip: the middle of none lies just under it.
          const beside = [-1, 0, 1].flatMap((a) => [-1, 0, 1].map((b) => [0.01 * a, 0.01 * b]));
          const [x, y] = [plan.moves.sheet[3 * i]!, plan.moves.sheet[3 * i + 1]!];
          const depth = Math.max(...beside.map(([a, b]) => removal.field.depthAt(x + a!, y + b!)));
          least = Math.min(least, depth);
          most = Math.max(most, depth);
        }
        return [least, most];
      };
      const job = { ...base(), ...patch } as Job;
      const drawn = createSetup(job);
      const log = readProbeResults(touch(drawn, PROBE_DEFAULTS, 1, really), drawn, PROBE_DEFAULTS, 0);
      if (!log.ok) throw new Error(log.error.lines.join());
      const [least, most] = await measureDepths({ ...job, measured: log.value });
      // The middle of the nearest cell lies beside the tip's way by no more than half a cell, where a cone of 60° is 9 µm less deep.
      expect(least).toBeGreaterThan(0.3 - 0.009);
      // The flat of the tip, 0.1 across, goes deeper on the side that it leans to.
      expect(most).toBeLessThan(0.3 + 0.002 + 0.05 * Math.tan(leanRad));
      const [shallow, deep] = await measureDepths(job);
      expect(deep - shallow).toBeGreaterThan(0.1);
    },
  );

  it.each([
    ['a cone under a radial tool', createBlank('cone')],
    ['a barrel under a radial tool', createBlank('turned')],
    ['a cylinder', createBlank('cylinder')],
  ] as const)('of %s has its own places on it, wherever they are', (_, blank) => {
    const { ground } = createSetup({ ...base(), blank });
    const off = (x: number, y: number): number => 0.3 * Math.cos(y / 20) + 0.004 * x;
    const really = createMeasuredWork(ground, off, 1);
    const pose = new Float64Array(6);
    let worst = 0;
    for (let x = 5; x <= 60; x += 5) {
      for (let y = -40; y <= 40; y += 4) {
        ground.poseInto(x, y, pose);
        const at = really.toSheet(...([0, 1, 2].map((k) => pose[k]! + off(x, y) * pose[3 + k]!) as [number, number, number]));
        worst = Math.max(worst, Math.abs(at.heightMm), Math.abs(at.x - x), Math.abs(at.y - y));
      }
    }
    expect(worst).toBeLessThan(1e-6);
  });

  it('keeps carved edges true where the passes follow it', async () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const { proof, findings } = await planJob({ ...carveJob('BUOY', { carve: { maxDepthMm: 1 } }), measured: read.value });
    expect(findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    // Planned on the drawn blank, the walls lean by the slope of the real one: micrometres.
    expect(proof.edge!.maxOutsideUm).toBeLessThan(4);
  });
});

describe('a disc that is touched', () => {
  const job = {
    ...base(),
    blank: createDomeBlank(),
    machine: TABLE_MACHINE,
    zero: { ...base().zero, centreMm: { xMm: 0, yMm: 0, zMm: -50 } },
  };
  const setup = createSetup(job, domeShapes());
  const grid = { along: 5, round: 7, within: null };
  const bow = (x: number, y: number): number => 0.2 - 2e-4 * (x * x + y * y);
  const { xMm, turnDeg } = listPlaces(job.blank, setup.surface, grid);
  const touched = xMm.flatMap((x) => turnDeg.filter((t) => isTouched(setup.surface, x, t)).map((t) => bow(x, t)));
  const measured = createMeasured(
    setup,
    grid,
    xMm.map((x) => turnDeg.map((t) => (isTouched(setup.surface, x, t) ? bow(x, t) : NaN))),
  );

  it('is told by what was touched alone, and has an edge where it has no corners', () => {
    expect(touched.length).toBeLessThan(35);
    const figures = measureFigures(measured, setup.surface);
    expect(figures.mostMm).toBeCloseTo(Math.max(...touched), 6);
    expect(figures.leastMm).toBeCloseTo(Math.min(...touched), 6);
    expect(figures.meanMm).toBeCloseTo(touched.reduce((a, b) => a + b) / touched.length, 6);
    const words = describeMeasured(figures, job.blank, (mm) => `${mm.toFixed(3)} mm`).map((w) => w.text);
    expect(words.join(' ')).toMatch(/Its middle stands 0\.\d+ mm higher than its edge/);
  });
});

describe('a blank that is touched under its lettering alone', () => {
  const setup = createSetup(base());
  const radius = setup.surface.mmPerRad;
  // About the bottom, over the place where turns begin anew.
  const within = { minX: 12, maxX: 50, minY: radius * 140 * DEG, maxY: radius * 215 * DEG };
  const settings = { ...PROBE_DEFAULTS, along: 3, round: 7, within };
  const read = readProbeResults(touch(setup, settings), setup, settings, 0);

  it('is mapped there within a micrometre of the closed form', () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const map = createMeasuredMap(read.value, setup.surface);
    let worst = 0;
    for (let x = within.minX; x <= within.maxX; x += 0.7)
      for (let y = within.minY; y <= within.maxY; y += 0.5) worst = Math.max(worst, Math.abs(map(x, y) - outside(20, x, y / radius / DEG)));
    expect(worst).toBeLessThan(0.001);
  });

  it('is not told how thick it is, nor where its axis is: an arc does not say', () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const figures = measureFigures(read.value, setup.surface);
    expect([figures.arc, figures.eccentric]).toEqual([true, null]);
    const words = describeMeasured(figures, setup.job.blank, (mm) => `${mm.toFixed(3)} mm`).map((w) => w.text);
    expect(words.join(' ')).toMatch(/Where it was touched it stands 0\.\d+ mm inside the drawn one: touch it all round/);
    expect(words.join(' ')).not.toMatch(/diameter|runs out/);
  });

  it('is said to be unknown past it, over the seam too', async () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const findings = async (turnDeg: number, blank = base().blank) => {
      const job = { ...base(), measured: read.value, blank };
      const inscriptions = job.inscriptions.map((i) => ({ ...i, text: 'IT', rotationDeg: 90, at: { xMm: 30, turnDeg } }));
      return (await planJob({ ...job, inscriptions } as Job)).findings.filter((f) => f.code === 'measured-short').map((f) => f.text);
    };
    expect(await findings(178)).toEqual([]);
    expect(await findings(-178)).toEqual([]);
    expect((await findings(100)).join()).toMatch(/goes \d+\.\d mm past where the blank was measured/);
  });

  it('is known between its places alone, whichever way they are counted', () => {
    if (!read.ok) throw new Error(read.error.lines.join());
    const known = createKnown(read.value, setup.surface);
    const turn = radius * DEG;
    expect([140, 180, 215, -180, -150].map((deg) => known(30, deg * turn))).toEqual([true, true, true, true, true]);
    expect([130, 0, -130].map((deg) => known(30, deg * turn))).toEqual([false, false, false]);
    expect([5, 11, 51, 60].map((x) => known(x, 180 * turn))).toEqual([false, true, true, false]);
    const ring = createKnown({ xMm: [40], turnDeg: [-180, -60, 60] }, setup.surface);
    expect([0, 100, 179].map((deg) => ring(1, deg * turn))).toEqual([true, true, true]);
    expect(ring(-1, 0)).toBe(false);
    const board = createKnown({ xMm: [10, 100], turnDeg: [-20, 20] }, createSurface(createBlank('plate')));
    expect([board(50, 0), board(50, 21), board(50, -21), board(9, 0)]).toEqual([true, false, false, false]);
  });

  it('has a log that is refused once the lettering stands elsewhere, with why', () => {
    const moved = { ...settings, within: { ...within, minX: 30, maxX: 70 } };
    const made = readProbeResults(touch(setup, settings), setup, moved, 0);
    expect(made.ok ? '' : made.error.lines[0]).toMatch(/at no place of a grid of 3 × 7 under the lettering as it is now/);
  });
});

describe('a probing program', () => {
  const machines = { rotary: machineWith({}), 'tilting head': tiltingMachine(), 'tilting table': TABLE_MACHINE };
  it.each(Object.entries(machines))('%s: touches every place once, spindle still, reads back, and maps what it finds', (_, machine) => {
    const zero = { ...base().zero, centreMm: { xMm: 0, yMm: 0, zMm: -50 } };
    const lengthMm = 80;
    for (const blank of [createBlank('cylinder'), createBlank('cone'), createBlank('plate')].map((b): Blank => ({ ...b, lengthMm }))) {
      const setup = createSetup({ ...base(), machine, zero, blank });
      const made = writeProbeProgram(setup, { ...PROBE_DEFAULTS, along: 3, round: 8 });
      if (!made.ok) throw new Error(made.error.kind);
      expect(made.places).toHaveLength(24);
      expect(proveProbeProgram(setup, made.text, made.places, PROBE_DEFAULTS)).toEqual({ touches: 24, faults: [], beyond: [] });
      expect(made.text.match(/G38\.2/g)!.length).toBeGreaterThan(20);
    }
  });

  it('of another Y, or of none, is not let out', () => {
    const setup = createSetup(base());
    const made = writeProbeProgram(setup, PROBE_DEFAULTS);
    if (!made.ok) throw new Error(made.error.kind);
    expect(made.text).toContain(' Y0. ');
    const faultsOf = (text: string): string[] => proveProbeProgram(setup, text, made.places, PROBE_DEFAULTS).faults;
    expect(faultsOf(made.text.replace(' Y0. ', ' Y2. '))[0]).toMatch(/misses its place by 2\.000 mm/);
    expect(faultsOf(made.text.replace(/ ?Y[-.\d]+/g, ''))[0]).toBe('no line says where Y is to stand');
  });

  it('that would leave the machine says so, and touches what is under the lettering alone', () => {
    const zero = { ...base().zero, centreMm: { xMm: 0, yMm: 0, zMm: -60 } };
    const setup = createSetup({ ...base(), machine: TABLE_MACHINE, zero, blank: { ...base().blank, lengthMm: 120 } as Blank });
    const prove = (settings: ProbeSettings) => {
      const made = writeProbeProgram(setup, settings);
      if (!made.ok) throw new Error(made.error.kind);
      return proveProbeProgram(setup, made.text, made.places, settings);
    };
    expect(prove(PROBE_DEFAULTS).beyond.map((f) => f.code)).toEqual(['travel-left']);
    const within = { minX: 20, maxX: 60, minY: -10, maxY: 10 };
    expect(prove({ ...PROBE_DEFAULTS, within })).toEqual({ touches: 60, faults: [], beyond: [] });
  });

  it('takes as long as its searches, and little more for the ways between', () => {
    const made = writeProbeProgram(createSetup(base()), { ...PROBE_DEFAULTS, within: { minX: 20, maxX: 60, minY: -10, maxY: 10 } });
    if (!made.ok) throw new Error(made.error.kind);
    // 60 times 4 mm at 60 mm/min.
    expect(made.timeS).toBeGreaterThan(60 * 4);
    expect(made.timeS).toBeLessThan(60 * 4 * 1.5);
  });

  it.each([
    [
      'a touch beside its place',
      (t: string) => t.replace(/(\nX)([\d.]+)/, (_, x: string, v: string) => `${x}${Number(v) + 0.02}`),
      /misses its place/,
    ],
    [
      'a touch that is too short',
      (t: string) => t.replace(/(G38\.2 .*Z)(-?[\d.]+)/, (_, g: string, z: string) => `${g}${Number(z) + 0.1}`),
      /misses its place by 0\.100/,
    ],
    ['a crossing that is low', (t: string) => t.replace('G0 Z25.\nX', 'G0 Z21.9\nX'), /between touches the probe comes within/],
    ['a touch that is left out', (t: string) => t.replace(/\n.*G38\.2.*/, ''), /it touches 59 places of 60/],
    ['a spindle that turns', (t: string) => t.replace(/\nG0 /, '\nS100 M3\nG0 '), /the spindle turns/],
  ])('with %s is found out', (_, spoil, wanted) => {
    const setup = createSetup(base());
    const made = writeProbeProgram(setup, PROBE_DEFAULTS);
    if (!made.ok) throw new Error(made.error.kind);
    const spoilt = spoil(made.text);
    expect(spoilt).not.toBe(made.text);
    expect(proveProbeProgram(setup, spoilt, made.places, PROBE_DEFAULTS).faults.join('\n')).toMatch(wanted);
    expect(proveProbeProgram(setup, made.text, made.places, PROBE_DEFAULTS).faults).toEqual([]);
  });

  it('of few digits is held to no more than they say', () => {
    const machine = { ...base().machine, lengthDigits: 2, angleDigits: 2 };
    const within = { minX: 11.237, maxX: 53.119, minY: -9.871, maxY: 13.333 };
    const setup = createSetup({ ...base(), machine, blank: createBlank('cone') });
    const made = writeProbeProgram(setup, { ...PROBE_DEFAULTS, along: 7, round: 7, within });
    if (!made.ok) throw new Error(made.error.kind);
    expect(proveProbeProgram(setup, made.text, made.places, PROBE_DEFAULTS).faults).toEqual([]);
  });

  it('is refused with the reason where the dialect has no word for it', () => {
    const job = base();
    const made = writeProbeProgram(createSetup({ ...job, machine: { ...job.machine, dialect: 'iso6983' } }), PROBE_DEFAULTS);
    expect(made).toMatchObject({
      ok: false,
      error: { kind: 'no-word', others: [expect.stringMatching('RS274'), expect.stringMatching('short')] },
    });
  });
});

describe('files of touches', () => {
  const setup = createSetup(base());
  const grid = { along: 2, round: 4, within: null };
  const good = touch(setup, { ...PROBE_DEFAULTS, ...grid });
  const refusal = (text: string, own = setup): string => {
    const made = readProbeResults(text, own, grid, 0);
    return made.ok ? 'taken' : made.error.lines.join(' | ');
  };
  it('are taken in any order, with columns named or not, and with remarks', () => {
    const lines = good.split('\n');
    const bare = lines.map((l) => l.replace(/[A-Z]/g, '').replace(/ /g, ' '));
    expect(refusal(lines.reverse().join('\n'))).toBe('taken');
    expect(refusal(`(probe log)\nX,Y,Z,A\n${bare.map((l) => l.split(' ').join(',')).join('\n')}`)).toBe('taken');
    expect(refusal(bare.join('\r\n'))).toBe('taken');
  });
  describe('with one that is false', () => {
    const own = { ...PROBE_DEFAULTS, along: 8, round: 10 };
    const lines = touch(setup, own).split('\n');
    const NUMBERS = /([XYZA])(\S+)/g;
    const spoil = (k: number, by: Partial<Record<string, number>>): string =>
      lines
        .map((l, i) => (i === k ? l.replace(NUMBERS, (_, a: string, v: string) => `${a}${(Number(v) + (by[a] ?? 0)).toFixed(5)}`) : l))
        .join('\n');
    const told = (text: string, accept: string[] = []) => readProbeResults(text, setup, own, 0, { searchMm: 2, accept });
    it('are refused by line and place, whatever it is off by, and taken once it is accepted by name', () => {
      expect(told(lines.join('\n')).ok).toBe(true);
      for (const k of [0, 7, 33, 79])
        for (const z of [-6, -2, -1.2, 0.6, 1.9, 9]) {
          const read = told(spoil(k, { Z: z }));
          if (read.ok) throw new Error(`a touch ${z} mm off at ${k} was taken`);
          // Along one line and back along the next.
          const round = Math.floor(k / 8);
          const name = `${round % 2 ? 8 - (k % 8) : (k % 8) + 1} along, ${round + 1} round`;
          expect(read.error.lines).toHaveLength(1);
          expect(read.error.lines[0]).toContain(name);
          if (Math.abs(z) > 2.2) expect(read.error).toMatchObject({ doubted: [], lines: [expect.stringContaining(`line ${k + 1}: `)] });
          // What the search can have found may be so; a touch at its very end may not.
          else if (z > -1.5) {
            expect(read.error.doubted).toEqual([name]);
            expect(told(spoil(k, { Z: z }), [name]).ok).toBe(true);
            expect(told(spoil(k, { Z: z }), ['1 along, 5 round']).ok).toBe(false);
          }
        }
    });
    it('are refused where a search ended without a touch, and where one was made beside its place', () => {
      const ended = (l: string): string => l.replace(/Z\S+/, `Z18.00000`);
      const read = told(lines.map((l, k) => (k === 12 ? ended(l) : l)).join('\n'));
      expect(read.ok ? '' : read.error.lines.join()).toMatch(/line 13: the search at 4 along, 2 round ended without a touch, 2 mm under/);
      const aside = told(lines.map((l) => l.replace(/Y(\S+)/, (_, y: string) => `Y${(Number(y) + 1.5).toFixed(5)}`)).join('\n'));
      expect(aside.ok ? '' : aside.error.lines[0]).toMatch(/line 1: the touch at 1 along, 1 round was made 1\.50 mm beside/);
    });
  });

  it('are refused with what is wrong: gaps, doubles, no numbers, another unit, another grid', () => {
    const lines = good.split('\n');
    expect(refusal(lines.slice(1).join('\n'))).toMatch(/1 of 8 places are missing: 1 along, 1 round/);
    expect(refusal([...lines, lines[3]!].join('\n'))).toMatch(/line 9: the place .* was touched before/);
    expect(refusal(lines.map((l, k) => (k === 2 ? l.replace(/Z\S+/, 'Zxx') : l)).join('\n'))).toMatch(/line 3: there is no number for Z/);
    expect(refusal('')).toMatch(/no touch in it/);
    expect(refusal(touch(setup, { ...PROBE_DEFAULTS, along: 3, round: 5 }))).toMatch(/at no place of a grid of 2 × 4/);
    const inches = createSetup({ ...base(), machine: { ...base().machine, programUnit: 'in' } });
    expect(refusal(good, inches)).toMatch(/another zero, another blank, or millimetres in the file|at no place/);
    expect(readProbeResults(touch(inches, { ...PROBE_DEFAULTS, ...grid }, 25.4), inches, grid, 0).ok).toBe(true);
  });
});
