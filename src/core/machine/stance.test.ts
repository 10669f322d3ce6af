import { describe, expect, it } from 'vitest';
import { domeShapes, tiltingMachine } from '../../../tests/support';
import { createBlank, DEFAULT_MACHINE, DEFAULT_MOTION } from '../job/defaults';
import { createZero } from '../job/zero';
import type { Blank, Machine } from '../job/schema';
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
