import { InvariantError } from '../base/invariant';
import { meetRoundQuadric } from './ray';
import type { Surface } from './surface';
import { TRUE_SHEET } from './trueSheet';

/**
 * A cylinder of radius R about the X axis: `S(x, y) = (x, R sin(y/R), R cos(y/R))`, an isometry.
 * @param diameterMm Outside diameter, mm; > 0.
 * @param lengthMm From the datum end at x = 0, mm; > 0.
 * @param boreMm Inside diameter, mm; 0 for solid stock, less than the diameter.
 * @param seamRad Angle of the seam; the sheet runs one turn down from it.
 * @throws InvariantError on sizes out of range.
 */
export function createCylinder(diameterMm: number, lengthMm: number, boreMm: number, seamRad: number): Surface {
  if (!(diameterMm > 0) || !(lengthMm > 0) || !(boreMm >= 0) || !(boreMm < diameterMm) || !Number.isFinite(seamRad)) {
    throw new InvariantError('createCylinder', 'sizes out of range', [diameterMm, lengthMm, boreMm, seamRad]);
  }
  const R = diameterMm / 2;
  const period = Math.PI * diameterMm;
  const roots = new Float64Array(2);
  return {
    domain: { minX: 0, maxX: lengthMm, minY: R * seamRad - period, maxY: R * seamRad },
    outline: null,
    periodMm: period,
    mmPerRad: R,
    round: true,
    hasRims: true,
    developable: true,
    radialNormal: true,
    wallName: boreMm > 0 ? 'wall' : 'radius',
    ...TRUE_SHEET,
    flat: false,
    homogeneous: 'everywhere',
    topMm: R,
    wallAt: () => R - boreMm / 2,
    radiusAt: () => R,
    outsideMm: (x) => Math.max(0, -x, x - lengthMm),
    pointInto(x, y, out) {
      const t = y / R;
      out[0] = x;
      out[1] = R * Math.sin(t);
      out[2] = R * Math.cos(t);
    },
    frameInto(x, y, out) {
      const t = y / R;
      const s = Math.sin(t);
      const c = Math.cos(t);
      out[0] = x;
      out[1] = R * s;
      out[2] = R * c;
      out[3] = 0;
      out[4] = s;
      out[5] = c;
    },
    curvatureInto(_x, _y, out) {
      out[0] = 1 / R;
      out[1] = 0;
    },
    bendInto(_x, _y, out) {
      out[0] = 0;
      out[1] = 0;
      out[2] = 1 / R;
    },
    rayInto(o, d, out) {
      meetRoundQuadric(o, d, R, 0, roots);
      const t = roots[0]!;
      if (!Number.isFinite(t)) return 0;
      const y = o[1]! + t * d[1]!,
        z = o[2]! + t * d[2]!;
      out[0] = o[0]! + t * d[0]!;
      out[1] = R * Math.atan2(y, z);
      return -(y * d[1]! + z * d[2]!) / R;
    },
    toSheet: (px, py, pz) => ({ x: px, y: R * Math.atan2(py, pz), heightMm: Math.hypot(py, pz) - R }),
  };
}
