import { describe, expect, it } from 'vitest';
import { createDomeBlank, domeShapes, tiltingMachine } from '../../../tests/support';
import { createBlank, DEFAULT_MACHINE, DEFAULT_MOTION, TABLE_MACHINE } from '../job/defaults';
import { createZero } from '../job/zero';
import type { Blank, Job, Machine } from '../job/schema';
import { withTable } from './layouts/edit';
import { createSurface } from '../surface/registry';
import { getStance } from './registry';
import { computeLean, createWork } from './stance';

const tilted = tiltingMachine;
const workOf = (blank: Blank, machine: Machine) =>
  createWork(createSurface(blank, domeShapes()), getStance({ machine: machine, blank: blank, zero: createZero(), motion: DEFAULT_MOTION }));
const cone: Blank = {
  ...createBlank('cone'),
  datumDiameterMm: 20,
  farDiameterMm: 20 + 2 * 40 * Math.tan((29 * Math.PI) / 180),
  lengthMm: 40,
};
const lean = (blank: Blank, machine: Machine, x = 20, y = 0) => (computeLean(workOf(blank, machine), x, y) * 180) / Math.PI;

describe('createWork', () => {
  it('stands radially on a plain rotary: the lean on a cone is its half-angle', () =>
    expect(lean(cone, DEFAULT_MACHINE)).toBeCloseTo(29, 9));
  it('stands along the normal where the head tilts far enough, and as near as it can where not', () => {
    expect(lean(cone, tilted())).toBeLessThan(1e-6);
    expect(lean(cone, tilted({ minDeg: -20, maxDeg: 20 }))).toBeCloseTo(9, 9);
  });
  it('stands upright on the table, and with a head along the blank only', () => {
    const slope: Blank = { ...createBlank('plate'), inclineDeg: 25, inclineTowards: 'x' };
    expect(lean(slope, DEFAULT_MACHINE)).toBeCloseTo(25, 9);
    expect(lean(slope, tilted())).toBeLessThan(1e-6);
    expect(lean({ ...slope, inclineTowards: 'y' }, tilted())).toBeCloseTo(25, 9);
    const arch = createBlank('arched');
    expect(lean(arch, DEFAULT_MACHINE, 20, (60 * Math.PI) / 12)).toBeCloseTo(15, 9);
    expect(lean({ ...arch, mount: 'rotary', zero: 'axis' }, DEFAULT_MACHINE, 20, 15)).toBe(0);
  });
  it('stands along the normal on a table that tilts, whatever way a free shape faces, and a radial tool on what stands on it', () => {
    for (const at of [
      [0, 0],
      [9, 5],
      [-12, 7],
    ] as const)
      expect(lean(createDomeBlank(), TABLE_MACHINE, ...at)).toBeLessThan(1e-6);
    expect(lean(cone, TABLE_MACHINE)).toBeLessThan(9.01);
    expect(lean(createBlank('cylinder'), TABLE_MACHINE)).toBe(0);
    // A table that tilts to 60° brings a cylinder's side no nearer than that.
    const short = withTable(TABLE_MACHINE, { tilt: { ...TABLE_MACHINE.layout.tilt, minDeg: -60, maxDeg: 60 } });
    expect(lean(createBlank('cylinder'), short)).toBeCloseTo(30, 9);
  });
  it('leans by a typed lead where something tilts, and is tilted no farther than a typed limit', () => {
    const leads = (blank: Blank, machine: Machine, motion: Partial<Job['motion']>, x: number, y = 0) => {
      const stance = getStance({ machine, blank, zero: createZero(), motion: { ...DEFAULT_MOTION, ...motion } });
      const work = createWork(createSurface(blank, domeShapes()), stance);
      const f = new Float64Array(6);
      work.poseInto(x, y, f);
      return { lean: (computeLean(work, x, y) * 180) / Math.PI, upright: (Math.acos(f[5]!) * 180) / Math.PI, x: f[3]! };
    };
    expect(leads(createBlank('cylinder'), tilted(), { leadDeg: 12 }, 20)).toMatchObject({ lean: expect.closeTo(12, 9) as number });
    expect(leads(createBlank('cylinder'), DEFAULT_MACHINE, { leadDeg: 12 }, 20).lean).toBe(0);
    const dome = leads(createDomeBlank(), TABLE_MACHINE, { leadDeg: 8 }, 0);
    expect(dome.lean).toBeCloseTo(8, 6);
    expect(dome.x).toBeGreaterThan(0);
    // On the dome's flank the normal stands 20° from upright and more.
    const steep = leads(createDomeBlank(), TABLE_MACHINE, { mostTiltDeg: 10 }, 16, 6);
    expect(steep.upright).toBeCloseTo(10, 9);
    expect(steep.lean).toBeGreaterThan(10);
    expect(leads(cone, tilted(), { mostTiltDeg: 20 }, 20).lean).toBeCloseTo(9, 9);
  });
  it('has a unit axis everywhere, on poles too', () => {
    const pole: Blank = {
      ...createBlank('turned'),
      profile: [
        { xMm: 0, diameterMm: 30, join: 'corner', bulge: Math.tan(Math.PI / 8) },
        { xMm: 15, diameterMm: 0, join: 'corner', bulge: 0 },
      ],
    };
    for (const machine of [DEFAULT_MACHINE, tilted()]) {
      const work = workOf(pole, machine);
      const f = new Float64Array(6);
      for (const x of [0, 10, work.domain.maxX - 1e-12, work.domain.maxX]) {
        work.poseInto(x, 3, f);
        expect(Math.hypot(f[3]!, f[4]!, f[5]!)).toBeCloseTo(1, 9);
      }
    }
  });
  it('says whether the tool stands along the normal everywhere, to the last digit', () => {
    const turned: Blank = { ...createBlank('arched'), mount: 'rotary', zero: 'axis' };
    const inclined: Blank = { ...createBlank('plate'), inclineDeg: 10 };
    expect([createBlank('cylinder'), turned, createBlank('plate')].map((b) => workOf(b, DEFAULT_MACHINE).alongNormal)).toEqual([
      true,
      true,
      true,
    ]);
    expect([cone, createBlank('arched'), inclined].map((b) => workOf(b, DEFAULT_MACHINE).alongNormal)).toEqual([false, false, false]);
  });
});
