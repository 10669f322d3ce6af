import { createZero } from '../job/zero';
import { runSteps } from '../base/steps';
import { asWork, carveJob, createDomeBlank, domeShapes } from '../../../tests/support';
import { describe, expect, it } from 'vitest';
import { createBlank, DEFAULT_MACHINE, TABLE_MACHINE } from '../job/defaults';
import type { Job } from '../job/schema';
import { layPaths, MOVE } from '../lay/laidPaths';
import { createSetup } from '../pipeline/setup';
import { createPoseSolver, poseAt } from './pose';
import { createCylinder } from '../surface/cylinder';
import { computeAxisMoves, computeTipLength } from './axisMoves';
import { createKinematics } from './registry';

const surface = asWork(createCylinder(40, 80, 0, Math.PI));
const kin = createKinematics({ machine: DEFAULT_MACHINE, blank: createBlank('cylinder'), zero: createZero() });
const heights = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };
const lay = (points: number[]) =>
  layPaths(
    surface,
    [{ run: 0, level: 0, strokes: [Float64Array.from(points)] }],
    [{ feedMmPerMin: 500, plungeMmPerMin: 100 }],
    heights,
    3000,
  );

describe('computeAxisMoves', () => {
  it('has rotary words that go on past whole turns without a jump', () => {
    const points: number[] = [];
    for (let y = -200; y <= 200; y += 10) points.push(10, y, 0.1);
    const moves = runSteps(computeAxisMoves(lay(points), surface, kin, 0.001));
    for (let i = 1; i < moves.count; i++) expect(Math.abs(moves.values[4 * i + 3]! - moves.values[4 * i - 1]!)).toBeLessThanOrEqual(180);
    // From the start, less than half a turn from where the rotary stood, on to the end: 400 mm of arc in one sense.
    expect(Math.abs(moves.values[3]!)).toBeLessThanOrEqual(180);
    expect(moves.values[4 * (moves.count - 2) + 3]! - moves.values[3]!).toBeCloseTo((400 / 20) * (180 / Math.PI), 9);
  });

  it('turns the short way through the air where the blank closes on itself, and as the sheet goes along a cut', () => {
    // Two strokes 243° apart on the sheet: 117° the other way.
    const y = (deg: number) => (deg * Math.PI * 20) / 180;
    const strokes = [
      [10, y(-120), 0.2, 10, y(-118), 0.2],
      [10, y(125), 0.2, 10, y(123), 0.2],
    ].map((s) => Float64Array.from(s));
    const laid = layPaths(surface, [{ run: 0, level: 0, strokes }], [{ feedMmPerMin: 500, plungeMmPerMin: 100 }], heights, 3000);
    const moves = runSteps(computeAxisMoves(laid, surface, kin, 0.001));
    const turns = Array.from({ length: moves.count }, (_, i) => moves.values[4 * i + 3]!);
    expect(Math.max(...turns) - Math.min(...turns)).toBeLessThan(122);
    expect(Math.abs(turns.at(-1)! - turns[0]!)).toBeCloseTo(117, 6);
    const cut = runSteps(computeAxisMoves(lay([10, y(-120), 0.2, 10, y(123), 0.2]), surface, kin, 0.001));
    expect(Math.abs(cut.values[4 * (cut.count - 1) + 3]! - cut.values[3]!)).toBeCloseTo(243, 6);
  });

  it('keeps the tip within the chord tolerance of its way, with the axes running linearly between blocks', () => {
    const laid = lay([5, -30, 0.1, 70, 40, 0.8, 8, 60, 0.2]);
    const moves = runSteps(computeAxisMoves(laid, surface, kin, 0.001));
    const at = new Float64Array(4),
      tip = new Float64Array(3),
      axis = new Float64Array(3),
      want = new Float64Array(3),
      frame = new Float64Array(6);
    for (let i = 1; i < moves.count; i++)
      for (const t of [0.25, 0.5, 0.75]) {
        for (let k = 0; k < 4; k++) at[k] = moves.values[4 * i - 4 + k]! + t * (moves.values[4 * i + k]! - moves.values[4 * i - 4 + k]!);
        const s = [0, 1, 2].map((k) => moves.sheet[3 * i - 3 + k]! + t * (moves.sheet[3 * i + k]! - moves.sheet[3 * i - 3 + k]!));
        kin.forward(at, tip, axis);
        poseAt(surface, s[0]!, s[1]!, s[2]!, 0, frame, want, axis);
        expect(Math.hypot(tip[0]! - want[0]!, tip[1]! - want[1]!, tip[2]! - want[2]!)).toBeLessThan(0.0011);
      }
  });

  it('asks a time of the true length over the feed', () => {
    const moves = runSteps(computeAxisMoves(lay([10, 0, 0, 10, 20, 0]), surface, kin, 0.001));
    let total = 0;
    for (let i = 0; i < moves.count; i++)
      if (Math.abs(moves.sheet[3 * i + 2]!) < 1e-12 && moves.sheet[3 * i + 1]! > 0) total += moves.feedTimeMin[i]!;
    // The docstring promises 1e-6 of the length.
    expect(Math.abs(total / (20 / 500) - 1)).toBeLessThan(1e-6);
  });
});

describe('computeTipLength', () => {
  it('is exact on a line and an arc, and 1e-6 on a spiral of 30°', () => {
    expect(computeTipLength(kin, Float64Array.from([0, 0, 20, 0]), Float64Array.from([3, 0, 24, 0]))).toBeCloseTo(5, 12);
    expect(computeTipLength(kin, Float64Array.from([0, 0, 20, 0]), Float64Array.from([0, 0, 20, 30]))).toBeCloseTo((20 * Math.PI) / 6, 6);
    // Little turns are measured by fewer chords: as exactly.
    for (const deg of [0.01, 1, 7.5, 7.6]) {
      const arc = computeTipLength(kin, Float64Array.from([0, 0, 20, 0]), Float64Array.from([0, 0, 20, deg]));
      expect(Math.abs(arc / ((20 * Math.PI * deg) / 180) - 1)).toBeLessThan(1e-6);
    }
    // Archimedes' spiral r = 20 + kθ: length by the closed form, k = (1/θ) per radian.
    const theta = Math.PI / 6,
      k = 1 / theta;
    const F = (r: number) => (r / 2) * Math.sqrt(r * r + k * k) + ((k * k) / 2) * Math.asinh(r / k);
    const exact = (F(21) - F(20)) / k;
    expect(Math.abs(computeTipLength(kin, Float64Array.from([0, 0, 20, 0]), Float64Array.from([0, 0, 21, 30])) / exact - 1)).toBeLessThan(
      1e-6,
    );
  });
});

describe('a way that goes by the pole of a tilting table', () => {
  it.each([0, 1e-7, 0.02, 0.3, 1.3])('%d mm beside it: the axes go on, and the tip stays on its way', (besideMm) => {
    const job = carveJob('I');
    const machine = { ...TABLE_MACHINE, layout: { ...TABLE_MACHINE.layout, turnAsideMm: 3 } };
    const zero = { ...job.zero, centreMm: { xMm: 4, yMm: -6, zMm: -60 } };
    const { work, kinematics } = createSetup({ ...job, machine, zero, blank: createDomeBlank() } as Job, domeShapes());
    // One long move past the top, as a cut.
    const sheet = Float64Array.of(-9, besideMm, 0.2, 9, besideMm, 0.2);
    const laid = {
      ...{ count: 2, sheet, liftMm: new Float64Array(2), tip: new Float64Array(6), axis: new Float64Array(6) },
      ...{ kind: Uint8Array.of(MOVE.start, MOVE.cut), run: new Uint16Array(2), level: new Uint16Array(2) },
      feedMmPerMin: Float64Array.of(0, 500),
    };
    const { count, values } = runSteps(computeAxisMoves(laid, work, kinematics, 0.001));
    const n = kinematics.axes.length;
    const [tip, axis] = [new Float64Array(3), new Float64Array(3)];
    const solver = createPoseSolver(work, kinematics);
    for (let i = 1; i < count; i++) {
      const [from, to] = [values.slice(n * (i - 1), n * i), values.slice(n * i, n * (i + 1))];
      // Regression: within one cut the table went over to lean the other way, and the tip through the work.
      const middle = from.map((v, k) => (v + to[k]!) / 2);
      kinematics.forward(middle, tip, axis);
      const { x, y } = work.toSheet(tip[0]!, tip[1]!, tip[2]!);
      expect(Math.abs(y - besideMm)).toBeLessThan(0.002);
      expect(solver.findGap([x, besideMm, 0.2], middle)).toBeLessThan(0.002);
    }
  });
});
