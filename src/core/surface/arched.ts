import { InvariantError } from '../base/invariant';
import { meetRoundQuadric } from './ray';
import { outsideBox, type Surface } from './surface';
import { TRUE_SHEET } from './trueSheet';

export interface ArchedSizes {
  side: 'convex' | 'concave';
  /** Radius of the lettered face, mm. */
  radiusMm: number;
  /** Width across, edge to edge in a straight line, mm; at most the diameter. */
  chordMm: number;
  lengthMm: number;
  thicknessMm: number;
  /** Where the blank frame lies: on the axis of the arc (it turns on the rotary), or on the crown or trough (it lies on the table). */
  origin: 'axis' | 'face';
}

/**
 * An arched plate, part of a cylinder lettered outside (convex) or inside (concave). Sheet y is the arc from its middle
 * line; an isometry. Convex: `S = (x, R sin t, R cos t)`, normal outward; concave: `S = (x, R sin t, −R cos t)`, normal
 * towards the axis; t = y/R. With the origin on the face both are moved so that the middle line lies at z = 0.
 * @throws InvariantError on sizes out of range.
 */
export function createArched({ side, radiusMm: R, chordMm, lengthMm, thicknessMm, origin }: ArchedSizes): Surface {
  if (!(R > 0) || !(chordMm > 0 && chordMm <= 2 * R) || !(lengthMm > 0) || !(thicknessMm > 0)) {
    throw new InvariantError('createArched', 'sizes out of range', [R, chordMm, lengthMm, thicknessMm]);
  }
  const up = side === 'convex' ? 1 : -1;
  const lift = origin === 'axis' ? 0 : -up * R;
  const roots = new Float64Array(2);
  const half = R * Math.asin(Math.min(1, chordMm / 2 / R));
  const domain = { minX: 0, maxX: lengthMm, minY: -half, maxY: half };
  return {
    domain,
    outline: null,
    periodMm: null,
    mmPerRad: R,
    round: true,
    hasRims: true,
    developable: true,
    radialNormal: side === 'convex' && origin === 'axis',
    wallName: 'thickness',
    ...TRUE_SHEET,
    flat: false,
    homogeneous: 'everywhere',
    topMm: origin === 'axis' ? R : up > 0 ? 0 : R - R * Math.cos(half / R),
    wallAt: () => (side === 'convex' ? Math.min(thicknessMm, R) : thicknessMm),
    radiusAt: () => R,
    outsideMm: (x, y) => outsideBox(domain, x, y),
    pointInto(x, y, out) {
      out[0] = x;
      out[1] = R * Math.sin(y / R);
      out[2] = up * R * Math.cos(y / R) + lift;
    },
    frameInto(x, y, out) {
      const s = Math.sin(y / R),
        c = Math.cos(y / R);
      out[0] = x;
      out[1] = R * s;
      out[2] = up * R * c + lift;
      out[3] = 0;
      out[4] = up * s;
      out[5] = c;
    },
    curvatureInto(_x, _y, out) {
      out[0] = up > 0 ? 1 / R : 0;
      out[1] = up > 0 ? 0 : -1 / R;
    },
    bendInto(_x, _y, out) {
      out[0] = 0;
      out[1] = 0;
      out[2] = 1 / R;
    },
    rayInto(o, d, out) {
      meetRoundQuadric([o[0]!, o[1]!, o[2]! - lift], d, R, 0, roots);
      for (const t of roots) {
        if (!Number.isFinite(t)) continue;
        const y = o[1]! + t * d[1]!,
          z = o[2]! - lift + t * d[2]!;
        const facing = (-up * (y * d[1]! + z * d[2]!)) / R;
        // The other half of the circle is not there.
        if (!(facing > 0) || up * z <= 0) continue;
        out[0] = o[0]! + t * d[0]!;
        out[1] = R * Math.atan2(y, up * z);
        return facing;
      }
      return 0;
    },
    toSheet: (px, py, pz) => ({ x: px, y: R * Math.atan2(py, up * (pz - lift)), heightMm: up * (Math.hypot(py, pz - lift) - R) }),
  };
}
