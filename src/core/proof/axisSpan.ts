import type { ProgramReading } from '../program/interpreter';
import type { Axis, Kinematics } from '../machine/kinematics';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from '../program/motions';

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

/** From where to where an axis of the machine itself goes, mm or degrees. */
export interface OwnSpan {
  letter: string;
  kind: Axis['kind'];
  from: number;
  to: number;
  /** Lines of the program, from 0, at which it gets there first. */
  fromLine: number;
  toLine: number;
}

/**
 * How far the machine's own axes go in a program: as its words say, or, where the control keeps the tool's point, as it will work them out.
 * O(motions).
 */
export function measureOwnAxes(kinematics: Kinematics, readings: readonly ProgramReading[]): OwnSpan[] {
  const { axes, machine } = kinematics;
  const index = axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const spans = axes.map(({ letter, kind }) => ({ letter, kind, from: Infinity, to: -Infinity, fromLine: 0, toLine: 0 }));
  const words = new Float64Array(axes.length),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  for (const { motions, placedBy } of readings) {
    const known = Math.max(0, ...index.map((k) => placedBy[k]!));
    for (let m = 0; m < motions.count; m++) {
      for (let k = 0; k < index.length; k++) words[k] = motions.end[AXIS_COUNT * m + index[k]!]!;
      // A word counts from where it stands first; the axes behind a tip once all of it is known.
      if (machine && (m < known || motions.away[m] === AWAY.stays)) continue;
      if (machine) {
        kinematics.forward(words, tip, axis);
        machine.inverse(tip, axis, words.slice(), words);
      }
      for (let k = 0; k < index.length; k++) {
        if (!machine && (placedBy[index[k]!]! < 0 || m < placedBy[index[k]!]!)) continue;
        const span = spans[k]!;
        if (words[k]! < span.from) [span.from, span.fromLine] = [words[k]!, motions.line[m]!];
        if (words[k]! > span.to) [span.to, span.toLine] = [words[k]!, motions.line[m]!];
      }
    }
  }
  return spans.map((s) => (s.from <= s.to ? s : { ...s, from: 0, to: 0 }));
}
