import type { Machine } from '../job/schema';
import type { Kinematics } from './kinematics';

const DEG = 180 / Math.PI;
const TURN = 2 * Math.PI;

/**
 * Three linear axes, with a rotary along the blank where the blank turns, and a head that tilts the tool in the plane of the
 * blank's axis and Z where the machine has one (geometry: docs/architecture.md, "Machines"). The rotary word is sense · θ in
 * degrees; the free linear axis runs along the blank; Z is measured from `zeroMm`. A head without tip control moves its
 * tilt axis: the linear words are those at which the tip would stand with the tool upright.
 * @param turns Whether the rotary turns the blank.
 * @param zeroMm Blank-frame height at which Z reads 0.
 */
export function createLinearRotaryKinematics(machine: Machine, turns: boolean, zeroMm: number): Kinematics {
  const along = machine.wrappedAxis === 'Y' ? 0 : 1;
  const across = 1 - along;
  // A blank along machine Y has its own y along machine −X, since both frames are right-handed and share Z.
  const side = along === 0 ? 1 : -1;
  const { sense, tilt } = machine;
  const turnIndex = turns ? 3 : -1;
  const tiltIndex = tilt ? (turns ? 4 : 3) : -1;
  const L = tilt?.pivotMm ?? 0;
  return {
    letters: ['X', 'Y', 'Z', ...(turns ? [machine.rotaryLetter] : []), ...(tilt ? [tilt.letter] : [])],
    rotary: [false, false, false, ...(turns ? [true] : []), ...(tilt ? [true] : [])],
    turnIndex,
    inverse(tip, axis, nearTurnRad, out) {
      const free = Math.hypot(axis[1]!, axis[2]!) < 1e-12;
      const turn = turns ? (free ? nearTurnRad : Math.atan2(axis[1]!, axis[2]!)) : 0;
      const near = turn + TURN * Math.round((nearTurnRad - turn) / TURN);
      const s = Math.sin(turn),
        c = Math.cos(turn);
      const b = tilt ? Math.atan2(axis[0]!, axis[1]! * s + axis[2]! * c) : 0;
      out[along] = tip[0]! + L * Math.sin(b);
      // A tip beside the axis: 0 for a radial tool on a round blank.
      out[across] = side * (tip[1]! * c - tip[2]! * s);
      out[2] = tip[1]! * s + tip[2]! * c - zeroMm + L * (Math.cos(b) - 1);
      if (turnIndex >= 0) out[turnIndex] = sense * near * DEG;
      if (tilt) out[tiltIndex] = tilt.sense * b * DEG;
    },
    forward(values, tip, axis) {
      const turn = turnIndex >= 0 ? (sense * values[turnIndex]!) / DEG : 0;
      const b = tilt ? (tilt.sense * values[tiltIndex]!) / DEG : 0;
      const z = values[2]! + zeroMm - L * (Math.cos(b) - 1);
      const y = side * values[across]!;
      const s = Math.sin(turn),
        c = Math.cos(turn);
      tip[0] = values[along]! - L * Math.sin(b);
      tip[1] = y * c + z * s;
      tip[2] = z * c - y * s;
      axis[0] = Math.sin(b);
      axis[1] = Math.cos(b) * s;
      axis[2] = Math.cos(b) * c;
    },
  };
}
