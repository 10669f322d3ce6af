/*
 * The field against closed forms, against the analytic edge on the demo's jobs, and a program's times against a table worked by hand.
 */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { createBlank } from '../src/core/job/defaults';
import { parseJob } from '../src/core/job/parse';
import { listToolsByHand } from '../src/core/pipeline/setup';
import { readForeign } from '../src/core/program/foreign';
import { readProgram } from '../src/core/program/interpreter';
import { DIALECTS } from '../src/core/program/registry';
import { toPartTexts } from '../src/core/proof/readBack';
import { createConeShape, createMillShape, type CutterShape } from '../src/core/removal/cutterShape';
import { createCellGrid } from '../src/core/removal/cellGrid';
import { DepthField } from '../src/core/removal/field';
import { createPiece } from '../src/core/removal/piece';
import { proveField } from '../src/core/removal/proveField';
import { createTrack } from '../src/core/removal/removal';
import { Sweeper } from '../src/core/removal/sweep';
import { measureVolume } from '../src/core/removal/truth';
import { readShape } from '../src/core/shape/readShape';
import { createSurface } from '../src/core/surface/registry';
import type { Surface } from '../src/core/surface/surface';
import { carveJob, planJob } from '../tests/support';

type Pose = (s: number) => { tip: number[]; axis: number[] };

/** Sweeps ways in closed form, each in pieces. */
function cutWays(surface: Surface, shape: CutterShape, cellMm: number, ways: Pose[], pieces: number): DepthField {
  const field = new DepthField(createCellGrid(surface, cellMm), surface);
  const sweeper = new Sweeper(field, surface);
  sweeper.use(shape);
  for (const pose of ways) {
    for (let k = 0; k < pieces; k++) {
      const [a, m, b] = [k, k + 0.5, k + 1].map((i) => pose(i / pieces)) as [ReturnType<Pose>, ReturnType<Pose>, ReturnType<Pose>];
      const piece = createPiece();
      for (let j = 0; j < 3; j++) {
        piece.tip[j] = a.tip[j]!;
        piece.move[j] = b.tip[j]! - a.tip[j]!;
        piece.bow[j] = 2 * (a.tip[j]! + b.tip[j]!) - 4 * m.tip[j]!;
        piece.axis[j] = a.axis[j]!;
        piece.axisMove[j] = b.axis[j]! - a.axis[j]!;
        piece.axisBow[j] = 2 * (a.axis[j]! + b.axis[j]!) - 4 * m.axis[j]!;
      }
      sweeper.sweep(piece, k);
    }
    sweeper.breakOff();
  }
  return field;
}

const cylinder = (diameterMm: number) => createSurface({ ...createBlank('cylinder'), diameterMm, lengthMm: 24 } as never);
const onCylinder = (theta: number, r: number, x: number) => ({
  tip: [x, r * Math.sin(theta), r * Math.cos(theta)],
  axis: [0, Math.sin(theta), Math.cos(theta)],
});

describe('volumes of grooves, within 0.1 % (elementary geometry)', () => {
  it.each([30, 60, 90])('a V of %d° on a plate: d²·tan β a millimetre, and a cone for its two ends', (included) => {
    const tan = Math.tan((included * Math.PI) / 360);
    const d = 0.6,
      length = 12;
    const plate = createSurface({ ...createBlank('plate'), lengthMm: 24, widthMm: 10 } as never);
    const field = cutWays(plate, createConeShape(tan, 0, 3), 0.006, [(s) => ({ tip: [6 + length * s, 0.0017, -d], axis: [0, 0, 1] })], 8);
    const wanted = d * d * tan * length + (Math.PI * (d * tan) ** 2 * d) / 3;
    expect(Math.abs(measureVolume(field) / wanted - 1)).toBeLessThan(0.001);
  });

  it('a V all the way round a cylinder: its triangle’s middle goes round at R − d/3 (Pappus)', () => {
    const [R, d] = [10, 0.6];
    const tan = Math.tan(Math.PI / 6);
    const field = cutWays(cylinder(2 * R), createConeShape(tan, 0, 3), 0.01, [(s) => onCylinder(2 * Math.PI * s, R - d, 12.003)], 720);
    const wanted = 2 * Math.PI * (R - d / 3) * d * d * tan;
    expect(Math.abs(measureVolume(field) / wanted - 1)).toBeLessThan(0.001);
  });
});

describe('flats that an end mill leaves along a cylinder (elementary geometry)', () => {
  it.each([
    [10, 1, 0.1],
    [21, 1.5875, 0.12],
  ])('R %d, radius %d: between two of them, %d rad apart, stands a ridge of (R − d)/cos(φ/2)', (R, c, apart) => {
    const d = 0.4;
    const way =
      (theta: number): Pose =>
      (s) =>
        onCylinder(theta, R - d, 6 + 10 * s);
    const field = cutWays(cylinder(2 * R), createMillShape(c), 0.01, [way(-apart / 2), way(apart / 2)], 5);
    const ridge = R - (R - d) / Math.cos(apart / 2);
    expect(field.depthAt(11, 0)).toBeCloseTo(ridge, 4);
    // On the middle of each flat it is as deep as it was cut.
    expect(field.depthAt(11, (R * apart) / 2)).toBeCloseTo(d, 4);
  });
});

describe('the field and the analytic edge say the same of the demo’s jobs', () => {
  it.each(['rain-gauge', 'lamp-hood', 'net-float', 'slate-plate', 'compass-cover'])(
    '%s',
    async (file) => {
      const parsed = parseJob(JSON.parse(readFileSync(`resources/jobs/${file}.json`, 'utf8')));
      const cover = await readShape(new Uint8Array(readFileSync('resources/shapes/compass-cover.stl')), 'cover.stl', () =>
        Promise.reject(new Error('no STEP')),
      );
      if (!parsed.ok || !cover.ok) throw new Error(file);
      const { setup, lettering, plan, proof } = await planJob(parsed.value, null, { find: () => cover.value });
      const { rules } = DIALECTS[parsed.value.machine.dialect];
      const readings = toPartTexts(plan.program).map((t) => runSteps(readProgram(t, rules)));
      const { truth, dangers } = runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan)));
      const edge = truth.edge!,
        analytic = proof.edge!;
      const cellUm = 1000 * truth.cellMm;
      console.info(
        `${file}, cells of ${cellUm.toFixed(0)} µm: outside ${edge.maxOutsideUm.toFixed(1)} and ${analytic.maxOutsideUm.toFixed(2)}, 95 % left ${edge.uncut95Um.toFixed(2)} and ${analytic.uncut95Um.toFixed(2)}, at most left ${edge.maxUncutUm.toFixed(1)} and ${analytic.maxUncutUm.toFixed(1)} µm`,
      );
      expect(edge.maxOutsideUm).toBeLessThan(analytic.maxOutsideUm + 2.02 * truth.errorUm);
      expect(Math.abs(edge.uncut95Um - analytic.uncut95Um)).toBeLessThan(1);
      expect(edge.maxUncutUm).toBeLessThan(analytic.maxUncutUm + 3 * truth.errorUm);
      expect(truth.area!.unreachedMm2 / truth.area!.drawnMm2).toBeLessThan(0.002);
      expect(truth.letters.filter((l) => l.through || !(l.cutMm > 0))).toEqual([]);
      expect(dangers.map((d) => d.finding.code)).toEqual([]);
    },
    120_000,
  );
});

describe('a zero of Z taken too low by e: every stroke of a V is 2·e·tan β wider, and nothing is left (elementary geometry)', () => {
  it.each([
    ['rain-gauge', 60, 0.026],
    ['slate-plate', 90, 0.045],
  ] as const)('%s, %d°', async (file, included, cellMm) => {
    const parsed = parseJob(JSON.parse(readFileSync(`resources/jobs/${file}.json`, 'utf8')));
    if (!parsed.ok) throw new Error(file);
    const { setup, lettering, plan } = await planJob(parsed.value);
    const { rules } = DIALECTS[parsed.value.machine.dialect];
    const readings = toPartTexts(plan.program).map((t) => runSteps(readProgram(t, rules)));
    const widen = (zeroMm: number, cellMm: number) => {
      const whatIf = { zeroMm, outOfRoundMm: 0, wornMm: 0 };
      const { truth } = runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), cellMm, { whatIf }));
      // In small letters strokes run together, and get no wider than that.
      const large = truth.letters.filter((l) => l.drawnMm > 15 * cellMm);
      expect(large.length).toBeGreaterThan(5);
      return { truth, meanMm: large.reduce((sum, l) => sum + l.cutMm - l.drawnMm, 0) / large.length };
    };
    // One grid for all: what its cells are off is off in all.
    const as = widen(0, cellMm);
    for (const e of [0.05, 0.1]) {
      const low = widen(-e, cellMm);
      console.info(`${file}: ${(1000 * (low.meanMm - as.meanMm)).toFixed(1)} µm wider`);
      const wanted = 2 * e * Math.tan((included * Math.PI) / 360);
      expect(1000 * Math.abs(low.meanMm - as.meanMm - wanted)).toBeLessThan(as.truth.errorUm);
      // Said to be half a millimetre once, where strokes had run together.
      expect(low.truth.edge!.maxUncutUm).toBeLessThan(1);
    }
  });
});

describe('time against a table worked by hand: s/v + v/a from rest to rest, 2√(s/a) where it never comes to v', () => {
  // 5000 mm/min and 400 mm/s² for X, Y and Z, 7200 °/min and 1500 °/s² for A. Every way turns back, so all ends at rest.
  const ways: [string, string, number][] = [
    ['rapid of 100 mm', 'G0 X100', 100 / (5000 / 60) + 5000 / 60 / 400],
    ['rapid of 10 mm, never at full speed', 'G0 X90', 2 * Math.sqrt(10 / 400)],
    ['feed of 50 mm at 600 mm/min', 'G1 X140 F600', 50 / 10 + 10 / 400],
    ['feed of 0.1 mm at 600 mm/min, never at full speed', 'G1 X139.9 F600', 2 * Math.sqrt(0.1 / 400)],
    ['turn of 720° in rapid', 'G0 A720', 720 / 120 + 120 / 1500],
    ['turn back of 4°, never at full speed', 'G0 A716', 2 * Math.sqrt(4 / 1500)],
  ];
  it.each(ways.map((w, k) => [w[0], k] as const))('%s', async (_, k) => {
    const job = carveJob('I');
    // Corners are run out.
    const planned = await planJob({ ...job, machine: { ...job.machine, cornerToleranceMm: 0 } });
    const text = ['G21 G90 G94', 'G0 X0 Y0 Z60 A0', ...ways.map(([, line]) => line), 'M2'].join('\n');
    const { timesS } = createTrack(
      planned.setup,
      [runSteps(readForeign(text))],
      planned.setup.runs.map((r) => r.tool),
    );
    const at = timesS.length - ways.length + k;
    expect(timesS[at]! - timesS[at - 1]!).toBeCloseTo(ways[k]![2], 6);
  });
});
