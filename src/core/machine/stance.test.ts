import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createDomeBlank, domeShapes } from '../../../tests/support';
import { createBlank, DEFAULT_MACHINE, TILTING_MACHINE } from '../job/defaults';
import type { Blank, Machine } from '../job/schema';
import { createSurface } from '../surface/registry';
import { createKinematics, getZeroMm } from './registry';
import { createLinearRotaryKinematics } from './rotary';
import { computeLean, createWork } from './stance';

const tilted = (patch: Partial<NonNullable<Machine['tilt']>> = {}): Machine => ({
  ...TILTING_MACHINE,
  tilt: { ...TILTING_MACHINE.tilt!, ...patch },
});
const workOf = (blank: Blank, machine: Machine) => createWork(createSurface(blank, domeShapes()), machine, blank);
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
});

describe('kinematics with a tilting head', () => {
  const machines: Machine[] = ([1, -1] as const).flatMap((sense) =>
    (['X', 'Y'] as const).flatMap((wrappedAxis) => [0, 180].map((pivotMm) => ({ ...tilted({ sense, pivotMm }), sense, wrappedAxis }))),
  );
  it('forward undoes inverse to 1e-9 over random poses: either sense, either axis, with or without tip control, turning or lying', () => {
    for (const machine of machines) {
      for (const turns of [true, false]) {
        fc.assert(
          fc.property(
            fc.double({ min: -80, max: 80, noNaN: true }),
            fc.double({ min: -30, max: 30, noNaN: true }),
            fc.double({ min: -60, max: 60, noNaN: true }),
            fc.double({ min: -9, max: 9, noNaN: true }),
            fc.double({ min: -1.5, max: 1.5, noNaN: true }),
            (x, y, z, theta, b) => {
              const kin = createLinearRotaryKinematics(machine, turns, 12);
              const t = turns ? theta : 0;
              const axis = Float64Array.from([Math.sin(b), Math.cos(b) * Math.sin(t), Math.cos(b) * Math.cos(t)]);
              const tip = Float64Array.from([x, y, z]);
              const out = new Float64Array(kin.letters.length),
                backTip = new Float64Array(3),
                backAxis = new Float64Array(3);
              kin.inverse(tip, axis, t, out);
              kin.forward(out, backTip, backAxis);
              for (let k = 0; k < 3; k++) {
                expect(Math.abs(backTip[k]! - tip[k]!)).toBeLessThan(1e-9);
                expect(Math.abs(backAxis[k]! - axis[k]!)).toBeLessThan(1e-9);
              }
            },
          ),
          { seed: 44, numRuns: 40 },
        );
      }
    }
  });
  it('keeps the last turn on the pole, where it is free', () => {
    const kin = createLinearRotaryKinematics(tilted(), true, 0);
    const out = new Float64Array(5);
    kin.inverse(Float64Array.from([50, 0, 0]), Float64Array.from([1, 0, 0]), 1.25, out);
    expect(out[3]).toBeCloseTo((1.25 * 180) / Math.PI, 9);
    expect(out[4]).toBeCloseTo(90, 9);
  });
  it('has a blank along Y with its own y along −X: right-handed, so that lettering is not mirrored', () => {
    const out = new Float64Array(3);
    createLinearRotaryKinematics({ ...DEFAULT_MACHINE, wrappedAxis: 'X' }, false, 0).inverse(
      Float64Array.from([10, 4, 2]),
      Float64Array.from([0, 0, 1]),
      0,
      out,
    );
    expect([...out]).toEqual([-4, 10, 2]);
  });
  it('moves the pivot, not the tip, where the control does not: B 90° with 180 mm', () => {
    const out = new Float64Array(4);
    createLinearRotaryKinematics(tilted({ pivotMm: 180 }), false, 0).inverse(
      Float64Array.from([10, 0, 5]),
      Float64Array.from([1, 0, 0]),
      0,
      out,
    );
    expect(out[0]).toBeCloseTo(190, 9);
    expect(out[2]).toBeCloseTo(5 - 180, 9);
    expect(out[3]).toBeCloseTo(90, 9);
  });
  it('has only the letters that move', () => {
    expect(createKinematics(DEFAULT_MACHINE, createBlank('plate')).letters).toEqual(['X', 'Y', 'Z']);
    expect(createKinematics(tilted(), createBlank('plate')).letters).toEqual(['X', 'Y', 'Z', 'B']);
    expect(createKinematics(tilted(), cone).letters).toEqual(['X', 'Y', 'Z', 'A', 'B']);
  });
});

describe('getZeroMm', () => {
  it('is on the axis, the largest diameter, the face or the table', () => {
    expect(getZeroMm({ ...createBlank('cone'), zero: 'surface' })).toBe(30);
    expect(getZeroMm({ ...createBlank('turned'), zero: 'surface' })).toBeCloseTo(25, 6);
    expect(getZeroMm({ ...createBlank('plate'), zero: 'table' })).toBe(-5);
    expect(getZeroMm({ ...createBlank('arched'), side: 'concave', zero: 'table' })).toBe(-4);
    expect(getZeroMm({ ...createBlank('arched'), zero: 'table' })).toBeCloseTo(56 * Math.cos(Math.asin(0.5)) - 60, 9);
    expect(getZeroMm({ ...createDomeBlank(), mount: 'rotary', axisBelowMm: 33 })).toBe(33);
    expect(getZeroMm({ ...createDomeBlank(), mount: 'rotary', axisBelowMm: 33, zero: 'axis' })).toBe(0);
  });
});
