import type { ProgramReading } from '../program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';

/** What an axis does in a program, mm or degrees: least and most while cutting and in all, and where it stands first and last. */
export interface AxisSpan {
  cuts: [number, number];
  moves: [number, number];
  first: number;
  last: number;
}

/** Measures an axis from where the program places it first. One that is never placed stands at 0. O(motions). */
export function measureAxis(readings: readonly ProgramReading[], letter: string): AxisSpan {
  const k = AXIS_LETTERS.indexOf(letter);
  const cuts: [number, number] = [Infinity, -Infinity],
    moves: [number, number] = [Infinity, -Infinity];
  const widen = (own: [number, number], v: number): void => {
    own[0] = Math.min(own[0], v);
    own[1] = Math.max(own[1], v);
  };
  let first = NaN,
    last = 0;
  for (const { motions, placedBy } of readings) {
    if (placedBy[k]! < 0) continue;
    for (let m = placedBy[k]!; m < motions.count; m++) {
      const v = motions.end[AXIS_COUNT * m + k]!;
      if (Number.isNaN(first)) first = v;
      last = v;
      widen(moves, v);
      if (!motions.rapid[m]) widen(cuts, v);
    }
  }
  const whole = (own: [number, number]): [number, number] => (own[0] <= own[1] ? own : [0, 0]);
  return { cuts: whole(cuts), moves: whole(moves), first: Number.isNaN(first) ? 0 : first, last };
}
