import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_MACHINE } from '../job/defaults';
import type { Machine } from '../job/schema';
import { createLinearRotaryKinematics } from './rotary';

const machines: Machine[] = ([1, -1] as const).flatMap((sense) =>
  (['X', 'Y'] as const).map((wrappedAxis) => ({ ...DEFAULT_MACHINE, sense, wrappedAxis })),
);

describe('createLinearRotaryKinematics', () => {
  it('forward undoes inverse to 1e-9 over random poses, with either sense and either axis wrapped', () => {
    for (const machine of machines) {
      fc.assert(
        fc.property(
          fc.double({ min: -80, max: 80, noNaN: true }),
          fc.double({ min: 0.5, max: 60, noNaN: true }),
          fc.double({ min: -30, max: 30, noNaN: true }),
          fc.double({ min: 0, max: 40, noNaN: true }),
          (x, r, theta, zero) => {
            const kin = createLinearRotaryKinematics(machine, true, zero);
            const axis = Float64Array.from([0, Math.sin(theta), Math.cos(theta)]);
            const tip = Float64Array.from([x, r * axis[1]!, r * axis[2]!]);
            const out = new Float64Array(4),
              backTip = new Float64Array(3),
              backAxis = new Float64Array(3);
            kin.inverse(tip, axis, theta, out);
            kin.forward(out, backTip, backAxis);
            for (let k = 0; k < 3; k++) {
              expect(Math.abs(backTip[k]! - tip[k]!)).toBeLessThan(1e-9);
              expect(Math.abs(backAxis[k]! - axis[k]!)).toBeLessThan(1e-9);
            }
            // The turn asked for, not one of its neighbours a turn away.
            expect(Math.abs((machine.sense * out[3]! * Math.PI) / 180 - theta)).toBeLessThan(1e-9);
          },
        ),
        { seed: 21 },
      );
    }
  });

  it('puts the blank along the free axis and leaves the wrapped one at 0', () => {
    const out = new Float64Array(4);
    createLinearRotaryKinematics({ ...DEFAULT_MACHINE, wrappedAxis: 'X' }, true, 20).inverse(
      Float64Array.from([12, 0, 19.8]),
      Float64Array.from([0, 0, 1]),
      0,
      out,
    );
    expect(out[0]).toBeCloseTo(0, 12);
    expect(out[1]).toBe(12);
    expect(out[2]).toBeCloseTo(-0.2, 12);
  });

  it('turns the blank right-handed about its axis for a plus word with sense +1: the +Y side comes up to the tool', () => {
    // Frames: docs/architecture.md. At θ = 90° the point lies on +Y; the blank has to turn by +90° to bring it to +Z.
    const out = new Float64Array(4);
    createLinearRotaryKinematics(DEFAULT_MACHINE, true, 0).inverse(Float64Array.from([0, 20, 0]), Float64Array.from([0, 1, 0]), 1.5, out);
    expect(out[3]).toBeCloseTo(90, 12);
    expect(out[2]).toBeCloseTo(20, 12);
  });
});
