import { describe, expect, it } from 'vitest';
import { MotionRecorder } from '../program/motions';
import { Grooves } from './grooves';

/** A machine without turning axes: the words are the tip's own. */
const PLAIN = {
  axes: ['X', 'Y', 'Z'].map(
    (letter) => ({ letter, kind: 'linear', min: -Infinity, max: Infinity, maxPerMin: 1000, accelerationPerS2: 1000 }) as const,
  ),
  forward: (values: ArrayLike<number>, tip: Float64Array, axis: Float64Array) => {
    tip.set([values[0]!, values[1]!, values[2]!]);
    axis.set([0, 0, 1]);
  },
};
const SLACK_MM = 0.003;
const motion = { line: 0, timeMin: 1, tool: 1, length: 0, spindleRpm: 1000, coolant: 0, away: 0, probes: false };

/** A groove from (0, 0) to (10, 0), from 1 to 2 mm deep, and a rapid back through it. */
function cut(): Grooves {
  const out = new MotionRecorder();
  out.add(Float64Array.of(0, 0, 5, 0, 0, 0), { ...motion, rapid: true });
  out.add(Float64Array.of(0, 0, -1, 0, 0, 0), { ...motion, rapid: false });
  out.add(Float64Array.of(10, 0, -2, 0, 0, 0), { ...motion, rapid: false });
  out.add(Float64Array.of(0, 8, -9, 0, 0, 0), { ...motion, rapid: true });
  return new Grooves(out.finish(), PLAIN, (m) => (m === 1 || m === 2 ? 'v' : null), SLACK_MM);
}

describe('what was cut before', () => {
  it('is reached where the tip was as deep, on its way and at its ends', () => {
    const grooves = cut();
    for (const x of [0, 2.5, 10]) {
      expect(grooves.reach([x, 0, -1 - x / 10 + 1e-9, 0, 0, 0], 'v')).toBe(true);
      expect(grooves.reach([x, 0, -1 - x / 10 - 0.01, 0, 0, 0], 'v')).toBe(false);
    }
    expect(grooves.reach([5, 0.01, -1, 0, 0, 0], 'v')).toBe(false);
    expect(grooves.reach([10.01, 0, -1, 0, 0, 0], 'v')).toBe(false);
  });

  it('is only what came before, at feed, with the same cutter', () => {
    const grooves = cut();
    expect(grooves.reach([5, 0, -1.4, 0, 0, 0], 'v', 3)).toBe(true);
    expect(grooves.reach([5, 0, -1.4, 0, 0, 0], 'v', 2)).toBe(false);
    expect(grooves.reach([5, 0, -1.4, 0, 0, 0], 'mill')).toBe(false);
    // Half-way along the rapid.
    expect(grooves.reach([5, 4, -3, 0, 0, 0], 'v')).toBe(false);
  });

  it('is nothing in a program that moves nothing', () => {
    expect(new Grooves(new MotionRecorder().finish(), PLAIN, () => 'v', SLACK_MM).reach([0, 0, 0, 0, 0, 0], 'v')).toBe(false);
  });
});
