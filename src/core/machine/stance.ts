import { getMount } from '../job/blankText';
import type { Blank, Machine } from '../job/schema';
import type { Surface } from '../surface/surface';

/**
 * A surface with the way the tool stands on it: what the machine can do of standing along the normal. Where it cannot, the
 * tool leans, and depths are measured along it.
 */
export interface Work extends Surface {
  /** Point of the surface `out[0..2]` and unit tool axis, from tip to spindle, `out[3..5]`. */
  poseInto(x: number, y: number, out: Float64Array): void;
}

/**
 * What a machine can turn for a blank: the blank about X (a rotary), and the tool in the plane of X and Z (a tilting head). The
 * tool takes the nearest axis to the normal that these allow: radial on a plain rotary, upright on a table.
 */
export function createWork(surface: Surface, machine: Machine, blank: Blank): Work {
  const turns = getMount(blank) === 'rotary';
  const { tilt } = machine;
  // A round blank on its own axis, without taper: the normal is radial already, to the last digit.
  if (turns && (surface.kind === 'cylinder' || surface.kind === 'arched')) return { ...surface, poseInto: surface.frameInto };
  const low = tilt ? (tilt.minDeg * Math.PI) / 180 : 0,
    high = tilt ? (tilt.maxDeg * Math.PI) / 180 : 0;
  return {
    ...surface,
    homogeneous: turns || surface.flat ? surface.homogeneous : 'nowhere',
    poseInto(x, y, out) {
      surface.frameInto(x, y, out);
      const nx = out[3]!;
      let ny = turns ? out[4]! : 0,
        nz = out[5]!;
      let round = Math.hypot(ny, nz);
      if (round < 1e-9) {
        // On a pole the turn is free: it keeps to the sheet's own.
        ny = turns ? Math.sin(y / surface.mmPerRad) : 0;
        nz = turns ? Math.cos(y / surface.mmPerRad) : 1;
        round = 1;
        out[3] = 0;
        out[4] = ny;
        out[5] = nz;
        if (!tilt) return;
        const b = Math.min(high, Math.max(low, Math.sign(nx) * (Math.PI / 2)));
        out[3] = Math.sin(b);
        out[4] = ny * Math.cos(b);
        out[5] = nz * Math.cos(b);
        return;
      }
      // Upright tools stay upright over an overhang as well; the lean tells.
      const upright = turns ? 1 : Math.sign(nz) || 1;
      const b = Math.min(high, Math.max(low, Math.atan2(nx, upright * round)));
      out[3] = Math.sin(b);
      out[4] = (Math.cos(b) * ny) / round;
      out[5] = turns ? (Math.cos(b) * nz) / round : Math.cos(b);
    },
  };
}

/** Angle between tool and normal at a sheet place, radians. */
export function computeLean(work: Work, x: number, y: number): number {
  const n = new Float64Array(6),
    a = new Float64Array(6);
  work.frameInto(x, y, n);
  work.poseInto(x, y, a);
  const cos = n[3]! * a[3]! + n[4]! * a[4]! + n[5]! * a[5]!;
  const sin = Math.hypot(n[4]! * a[5]! - n[5]! * a[4]!, n[5]! * a[3]! - n[3]! * a[5]!, n[3]! * a[4]! - n[4]! * a[3]!);
  return Math.atan2(sin, cos);
}
