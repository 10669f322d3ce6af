import { createZero } from '../job/zero';
import { describe, expect, it } from 'vitest';
import { tiltingMachine } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import { createKinematics } from './registry';
import { computeTimes, getAxisLimits } from './time';

const limits = { rapidPerS: [100, 100, 100, 120], accelerationPerS2: [400, 400, 400, 1500], cornerPerS: [8, 8, 8, 30] };

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
  it('gains speed over many short blocks as over one long one, where it never comes to run evenly', () => {
    // 3 mm from rest to rest at 400 mm/s²: a triangle of 2√(s/a).
    const values = Array.from({ length: 61 }, (_, k) => [k / 20, 0, 0, 0]).flat();
    expect(computeTimes(values, [0, ...Array<number>(60).fill(1e-6)], limits).at(-1)).toBeCloseTo(2 * Math.sqrt(3 / 400), 6);
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
  it('takes longest where every corner is run out, and less the more it may be rounded', () => {
    const zigzag = Array.from({ length: 41 }, (_, k) => [k, k % 2 ? 0.4 : 0, 0, 0]).flat();
    const wanted = [0, ...Array<number>(40).fill(0.11)];
    const by = (cornerMm: number) => {
      const { axes } = createKinematics({ machine: tiltingMachine(), blank: createBlank('cylinder'), zero: createZero() });
      return computeTimes(zigzag, wanted, { ...getAxisLimits(axes.slice(0, 4), cornerMm, 20) }).at(-1)!;
    };
    expect(by(0)).toBeGreaterThan(by(0.005));
    expect(by(0.005)).toBeGreaterThan(by(0.05));
    // Stopping at every corner is one trapezoid after another.
    const single = computeTimes(zigzag.slice(0, 8), [0, 0.11], { ...limits, cornerPerS: [0, 0, 0, 0] })[1]!;
    expect(computeTimes(zigzag, wanted, { ...limits, cornerPerS: [0, 0, 0, 0] }).at(-1)).toBeCloseTo(40 * single, 6);
  });
  it('never runs backwards, and takes none and no motion', () => {
    expect(computeTimes([], [], limits)).toHaveLength(0);
    expect([...computeTimes([0, 0, 0, 0, 0, 0, 0, 0], [0, 0], limits)]).toEqual([0, 0]);
  });
});

describe('getAxisLimits', () => {
  it('takes each axis by its own speed and acceleration, per second', () => {
    const { axes } = createKinematics({ machine: tiltingMachine(), blank: createBlank('cone'), zero: createZero() });
    const { cornerPerS, ...limits } = getAxisLimits(axes, 0.02, 20);
    expect(limits).toEqual({
      rapidPerS: [5000 / 60, 5000 / 60, 5000 / 60, 120, 60],
      accelerationPerS2: [400, 400, 400, 1500, 900],
    });
    // √(8 · a · δ); a rotary by the arc that δ is at 20 mm.
    expect(cornerPerS[0]).toBeCloseTo(8, 9);
    expect(cornerPerS[3]).toBeCloseTo(Math.sqrt(8 * 1500 * ((0.02 / 20) * (180 / Math.PI))), 9);
  });
});
