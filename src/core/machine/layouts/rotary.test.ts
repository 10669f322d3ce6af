import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { machineWith, tiltingMachine } from '../../../../tests/support';
import type { Machine } from '../../job/schema';
import type { Kinematics } from '../kinematics';
import type { Mount } from './layout';
import { describeTurn, type TurningMachine } from './edit';
import { getLayout } from './registry';

const kinematicsOf = (machine: Machine, zeroMm: number, mount: Mount = 'rotary'): Kinematics =>
  getLayout(machine.layout).kinematics(machine, machine.layout, { mount, zeroMm: [0, 0, zeroMm], turnDeg: 0, centreMm: null });

const machines: TurningMachine[] = ([1, -1] as const).flatMap((sense) =>
  (['X', 'Y'] as const).map((wrappedAxis) => machineWith({ sense }, wrappedAxis)),
);

describe('rotary', () => {
  it('forward undoes inverse to 1e-9 over random poses, with either sense and either axis wrapped', () => {
    for (const machine of machines) {
      fc.assert(
        fc.property(
          fc.double({ min: -80, max: 80, noNaN: true }),
          fc.double({ min: 0.5, max: 60, noNaN: true }),
          fc.double({ min: -30, max: 30, noNaN: true }),
          fc.double({ min: 0, max: 40, noNaN: true }),
          (x, r, theta, zero) => {
            const kin = kinematicsOf(machine, zero);
            const axis = Float64Array.from([0, Math.sin(theta), Math.cos(theta)]);
            const tip = Float64Array.from([x, r * axis[1]!, r * axis[2]!]);
            const out = new Float64Array(4),
              backTip = new Float64Array(3),
              backAxis = new Float64Array(3);
            const sense = machine.layout.rotary.sense;
            kin.inverse(tip, axis, [0, 0, 0, (sense * theta * 180) / Math.PI], out);
            kin.forward(out, backTip, backAxis);
            for (let k = 0; k < 3; k++) {
              expect(Math.abs(backTip[k]! - tip[k]!)).toBeLessThan(1e-9);
              expect(Math.abs(backAxis[k]! - axis[k]!)).toBeLessThan(1e-9);
            }
            // The turn asked for, not one of its neighbours a turn away.
            expect(Math.abs((sense * out[3]! * Math.PI) / 180 - theta)).toBeLessThan(1e-9);
          },
        ),
        { seed: 21 },
      );
    }
  });

  it('puts the blank along the free axis and leaves the wrapped one at 0', () => {
    const out = new Float64Array(4);
    kinematicsOf(machineWith({}, 'X'), 20).inverse(Float64Array.from([12, 0, 19.8]), Float64Array.from([0, 0, 1]), out, out);
    expect(out[0]).toBeCloseTo(0, 12);
    expect(out[1]).toBe(12);
    expect(out[2]).toBeCloseTo(-0.2, 12);
  });

  it('turns the blank right-handed about its axis for a plus word with sense +1: the +Y side comes up to the tool', () => {
    // Frames: docs/architecture.md. At θ = 90° the point lies on +Y; the blank has to turn by +90° to bring it to +Z.
    const out = new Float64Array(4);
    kinematicsOf(machineWith({}), 0).inverse(Float64Array.from([0, 20, 0]), Float64Array.from([0, 1, 0]), [0, 0, 0, 80], out);
    expect(out[3]).toBeCloseTo(90, 12);
    expect(out[2]).toBeCloseTo(20, 12);
  });
});

describe('rotaryTiltingHead', () => {
  const machines: TurningMachine[] = ([1, -1] as const).flatMap((sense) =>
    (['X', 'Y'] as const).flatMap((wrappedAxis) =>
      [0, 180].map((pivotMm) => {
        const machine = tiltingMachine({ sense, pivotMm });
        return { ...machine, layout: { ...machine.layout, wrappedAxis, rotary: { ...machine.layout.rotary, sense } } };
      }),
    ),
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
              const kin = kinematicsOf(machine, 12, turns ? 'rotary' : 'table');
              const t = turns ? theta : 0;
              const axis = Float64Array.from([Math.sin(b), Math.cos(b) * Math.sin(t), Math.cos(b) * Math.cos(t)]);
              const tip = Float64Array.from([x, y, z]);
              const out = new Float64Array(kin.axes.length),
                backTip = new Float64Array(3),
                backAxis = new Float64Array(3);
              kin.inverse(tip, axis, [0, 0, 0, (machine.layout.rotary.sense * t * 180) / Math.PI, 0], out);
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
    const kin = kinematicsOf(tiltingMachine(), 0);
    const out = new Float64Array(5);
    kin.inverse(Float64Array.from([50, 0, 0]), Float64Array.from([1, 0, 0]), [0, 0, 0, 431.5, 0], out);
    expect(out[3]).toBeCloseTo(431.5, 9);
    expect(out[4]).toBeCloseTo(90, 9);
  });
  it('has a blank along Y with its own y along −X: right-handed, so that lettering is not mirrored', () => {
    const out = new Float64Array(3);
    kinematicsOf(machineWith({}, 'X'), 0, 'table').inverse(Float64Array.from([10, 4, 2]), Float64Array.from([0, 0, 1]), out, out);
    expect([...out]).toEqual([-4, 10, 2]);
  });
  it('moves the pivot, not the tip, where the control does not: B 90° with 180 mm', () => {
    const out = new Float64Array(4);
    kinematicsOf(tiltingMachine({ pivotMm: 180 }), 0, 'table').inverse(
      Float64Array.from([10, 0, 5]),
      Float64Array.from([1, 0, 0]),
      out,
      out,
    );
    expect(out[0]).toBeCloseTo(190, 9);
    expect(out[2]).toBeCloseTo(5 - 180, 9);
    expect(out[3]).toBeCloseTo(90, 9);
  });
});

describe('what is said of the sense', () => {
  it.each(machines.map((m) => [m.layout.wrappedAxis, m.layout.rotary.sense, m] as const))(
    'wrapped %s, sense %d: the top goes where it is said to, by where the machine must stand to meet it',
    (wrapped, sense, machine) => {
      const kin = kinematicsOf(machine, 0);
      const tip = new Float64Array(3),
        axis = new Float64Array(3);
      const turn = (10 * Math.PI) / 180;
      const across = wrapped === 'Y' ? 1 : 0;
      // After +10° the point that was on top is either at one side or at the other, 20 mm from the axis.
      const sides = [1, -1].filter((side) => {
        const values = [0, 0, 20 * Math.cos(turn), 10];
        values[across] = side * 20 * Math.sin(turn);
        kin.forward(values, tip, axis);
        return Math.hypot(tip[1]!, tip[2]! - 20) < 1e-9;
      });
      expect(sides).toHaveLength(1);
      const word = describeTurn(wrapped, sense);
      // Y runs away from who stands before the machine, X to the right.
      const expected = across === 1 ? (sides[0]! > 0 ? 'away from you' : 'towards you') : sides[0]! > 0 ? 'to the right' : 'to the left';
      expect(word).toBe(expected);
    },
  );
});
