import { describe, expect, it } from 'vitest';
import { tiltingMachine } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import { createKinematics } from './registry';
import { computeTimes, getAxisLimits } from './time';

const limits = { rapidPerS: [100, 100, 100, 120], accelerationPerS2: [400, 400, 400, 1500] };

describe('computeTimes', () => {
  it('takes a trapezoid for a long rapid: distance over speed, plus one ramp', () => {
    // s/v + v/a for a move from rest to rest. Elementary.
    expect(computeTimes([0, 0, 0, 0, 200, 0, 0, 0], [0, 0], limits)[1]).toBeCloseTo(200 / 100 + 100 / 400, 9);
  });
  it('takes a triangle for a short one: 2√(s/a)', () => {
    expect(computeTimes([0, 0, 0, 0, 4, 0, 0, 0], [0, 0], limits)[1]).toBeCloseTo(2 * Math.sqrt(4 / 400), 9);
  });
  it('obeys the slowest axis: a turn at the rotary limit', () => {
    const t = computeTimes([0, 0, 0, 0, 1, 0, 0, 360], [0, 0.1], limits)[1]!;
    expect(t).toBeGreaterThan(3);
    expect(t).toBeLessThan(3.2);
  });
  it('runs blocks on one line as if they were one', () => {
    const one = computeTimes([0, 0, 0, 0, 100, 0, 0, 0], [0, 5], limits)[1]!;
    const values = [0, 0, 0, 0],
      wanted = [0];
    for (let k = 1; k <= 50; k++) {
      values.push(2 * k, 0, 0, 0);
      wanted.push(0.1);
    }
    expect(computeTimes(values, wanted, limits).at(-1)).toBeCloseTo(one, 3);
  });
  it('takes no time for a block that goes nowhere, and goes on after it', () => {
    const still = computeTimes([0, 0, 0, 0, 20, 0, 0, 0, 20, 0, 0, 0, 40, 0, 0, 0], [0, 0.25, 0, 0.25], limits);
    const alone = computeTimes([0, 0, 0, 0, 20, 0, 0, 0], [0, 0.25], limits)[1]!;
    expect(still[1]).toBeCloseTo(alone, 9);
    expect(still[2]).toBe(still[1]);
    // It stops there, as a control does: the second half begins from rest.
    expect(still[3]).toBeCloseTo(2 * alone, 9);
  });
  it('slows down for a corner', () => {
    const straight = computeTimes([0, 0, 0, 0, 20, 0, 0, 0, 40, 0, 0, 0], [0, 0.25, 0.25], limits)[2]!;
    const bent = computeTimes([0, 0, 0, 0, 20, 0, 0, 0, 20, 20, 0, 0], [0, 0.25, 0.25], limits)[2]!;
    expect(bent).toBeGreaterThan(straight + 0.05);
  });
  it('never runs backwards, and takes none and no motion', () => {
    expect(computeTimes([], [], limits)).toHaveLength(0);
    expect([...computeTimes([0, 0, 0, 0, 0, 0, 0, 0], [0, 0], limits)]).toEqual([0, 0]);
  });
});

describe('getAxisLimits', () => {
  it('takes each axis by its own speed and acceleration, per second', () => {
    const { axes } = createKinematics(tiltingMachine(), createBlank('cone'));
    expect(getAxisLimits(axes)).toEqual({
      rapidPerS: [5000 / 60, 5000 / 60, 5000 / 60, 120, 60],
      accelerationPerS2: [400, 400, 400, 1500, 900],
    });
  });
});
