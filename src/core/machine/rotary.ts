import type { Machine } from '../job/schema';
import type { Kinematics } from './kinematics';

const DEG = 180 / Math.PI;
const TURN = 2 * Math.PI;

/**
 * A rotary axis along the blank under a tool that stands radially at +Z (geometry: docs/architecture.md, "Machines").
 * The rotary word is sense · θ in degrees, the free linear axis runs along the blank, the wrapped one stays at 0, and
 * Z is the tip's distance from the axis less that of the zero.
 * @param zeroRadiusMm 0 where Z is zero on the axis, the blank's radius where it is zero on the surface.
 */
export function createRotaryKinematics(machine: Machine, zeroRadiusMm: number): Kinematics {
  const along = machine.wrappedAxis === 'Y' ? 0 : 1;
  const across = 1 - along;
  const { sense } = machine;
  return {
    letters: ['X', 'Y', 'Z', machine.rotaryLetter],
    rotary: [false, false, false, true],
    inverse(tip, axis, nearTurnRad, out) {
      const turn = Math.atan2(axis[1]!, axis[2]!);
      const near = turn + TURN * Math.round((nearTurnRad - turn) / TURN);
      out[along] = tip[0]!;
      // A tool beside the axis would show here; for a radial tool it is 0.
      out[across] = tip[1]! * Math.cos(turn) - tip[2]! * Math.sin(turn);
      out[2] = tip[1]! * Math.sin(turn) + tip[2]! * Math.cos(turn) - zeroRadiusMm;
      out[3] = sense * near * DEG;
    },
    forward(values, tip, axis) {
      const turn = (sense * values[3]!) / DEG;
      const z = values[2]! + zeroRadiusMm;
      const y = values[across]!;
      const s = Math.sin(turn);
      const c = Math.cos(turn);
      tip[0] = values[along]!;
      tip[1] = y * c + z * s;
      tip[2] = z * c - y * s;
      axis[0] = 0;
      axis[1] = s;
      axis[2] = c;
    },
  };
}
