import { InvariantError } from '../base/invariant';
import { packRings } from '../base/rings';
import { FLAT_MM_PER_RAD, outsideBox, type Surface } from './surface';
import { TRUE_SHEET } from './trueSheet';

/** Corners of the polygon that stands for a disc's edge. */
const DISC_CORNERS = 180;

export interface PlateSizes {
  shape: 'rectangle' | 'disc';
  /** Along x and across; a disc has its diameter both ways. */
  lengthMm: number;
  widthMm: number;
  thicknessMm: number;
  /** Inclination of the face: it rises towards +x or towards +y, radians. */
  inclineRad: number;
  inclineTowards: 'x' | 'y';
}

/**
 * A plate: x from its datum edge along, y across from its middle line, face at z = 0 on the datum's middle; an inclined one
 * is turned about the line x = 0, or y = 0, so that it rises towards +x or +y. An isometry.
 * @throws InvariantError on sizes out of range.
 */
export function createPlate({ shape, lengthMm, widthMm, thicknessMm, inclineRad, inclineTowards }: PlateSizes): Surface {
  if (!(lengthMm > 0) || !(widthMm > 0) || !(thicknessMm > 0) || !(Math.abs(inclineRad) < Math.PI / 2)) {
    throw new InvariantError('createPlate', 'sizes out of range', [lengthMm, widthMm, thicknessMm, inclineRad]);
  }
  const s = Math.sin(inclineRad),
    c = Math.cos(inclineRad);
  const alongX = inclineTowards === 'x';
  const normal = alongX ? [-s, 0, c] : [0, -s, c];
  const disc = shape === 'disc';
  const R = lengthMm / 2;
  const domain = { minX: 0, maxX: lengthMm, minY: disc ? -R : -widthMm / 2, maxY: disc ? R : widthMm / 2 };
  const place = (x: number, y: number, out: Float64Array): void => {
    out[0] = alongX ? x * c : x;
    out[1] = alongX ? y : y * c;
    out[2] = (alongX ? x : y) * s;
  };
  return {
    domain,
    outline: disc
      ? packRings([
          Array.from({ length: DISC_CORNERS }, (_, k) => (2 * Math.PI * k) / DISC_CORNERS).flatMap((t) => [
            R + R * Math.cos(t),
            R * Math.sin(t),
          ]),
        ])
      : null,
    periodMm: null,
    mmPerRad: FLAT_MM_PER_RAD,
    round: false,
    hasRims: true,
    developable: true,
    radialNormal: false,
    wallName: 'thickness',
    ...TRUE_SHEET,
    flat: true,
    homogeneous: 'everywhere',
    topMm: Math.max(0, s * (alongX ? domain.maxX : domain.maxY), s * (alongX ? domain.minX : domain.minY)),
    wallAt: () => thicknessMm,
    radiusAt: () => FLAT_MM_PER_RAD,
    outsideMm: disc ? (x, y) => Math.max(0, Math.hypot(x - R, y) - R) : (x, y) => outsideBox(domain, x, y),
    pointInto: place,
    frameInto(x, y, out) {
      place(x, y, out);
      out[3] = normal[0]!;
      out[4] = normal[1]!;
      out[5] = normal[2]!;
    },
    curvatureInto: (_x, _y, out) => void out.fill(0, 0, 2),
    bendInto: (_x, _y, out) => void out.fill(0, 0, 3),
    rayInto(o, d, out) {
      const facing = -(d[0]! * normal[0]! + d[1]! * normal[1]! + d[2]! * normal[2]!);
      if (!(facing > 0)) return 0;
      const t = (o[0]! * normal[0]! + o[1]! * normal[1]! + o[2]! * normal[2]!) / facing;
      const x = o[0]! + t * d[0]!,
        y = o[1]! + t * d[1]!,
        z = o[2]! + t * d[2]!;
      out[0] = alongX ? x * c + z * s : x;
      out[1] = alongX ? y : y * c + z * s;
      return facing;
    },
    toSheet: (px, py, pz) => ({
      x: alongX ? px * c + pz * s : px,
      y: alongX ? py : py * c + pz * s,
      heightMm: px * normal[0]! + py * normal[1]! + pz * normal[2]!,
    }),
  };
}
