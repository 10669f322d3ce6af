import { InvariantError } from '../base/invariant';
import { createMeridian } from './meridian';
import { createRevolved } from './revolved';
import type { Surface } from './surface';

export interface ConeSizes {
  /** Diameters at the datum end and at the far end, mm; one may be 0 (a whole cone). */
  datumDiameterMm: number;
  farDiameterMm: number;
  /** Along the axis, mm. */
  lengthMm: number;
}

/** The figures of a cone that a workshop reads off: all lengths mm. */
export interface ConeFigures {
  /** Half-angle between axis and generator, radians; positive where it widens towards the far end. */
  halfAngleRad: number;
  slantMm: number;
  /** From the apex along the generator to the datum rim and to the far rim; infinite on a cylinder. */
  apexToDatumMm: number;
  apexToFarMm: number;
  /** Full angle of the development. */
  sectorRad: number;
  /** Taper 1:k, diameter over length; infinite on a cylinder. */
  ratioK: number;
}

/** Source: elementary (docs/architecture.md, "Cone"). */
export function computeConeFigures({ datumDiameterMm: d0, farDiameterMm: d1, lengthMm }: ConeSizes): ConeFigures {
  const rise = (d1 - d0) / 2;
  const halfAngleRad = Math.atan2(rise, lengthMm);
  const sin = Math.abs(Math.sin(halfAngleRad));
  return {
    halfAngleRad,
    slantMm: Math.hypot(rise, lengthMm),
    apexToDatumMm: sin > 0 ? d0 / 2 / sin : Infinity,
    apexToFarMm: sin > 0 ? d1 / 2 / sin : Infinity,
    sectorRad: 2 * Math.PI * sin,
    ratioK: rise === 0 ? Infinity : lengthMm / Math.abs(d1 - d0),
  };
}

/**
 * A cone or frustum about X, sheet x the slant distance from the datum rim, y round at the mean radius. A cone of no taper
 * is the cylinder, to the last digit.
 * @throws InvariantError on sizes out of range.
 */
export function createCone({ datumDiameterMm, farDiameterMm, lengthMm }: ConeSizes, boreMm: number, seamRad: number): Surface {
  if (
    !(datumDiameterMm >= 0) ||
    !(farDiameterMm >= 0) ||
    !(datumDiameterMm + farDiameterMm > 0) ||
    !(lengthMm > 0) ||
    !(boreMm >= 0) ||
    !Number.isFinite(seamRad)
  ) {
    throw new InvariantError('createCone', 'sizes out of range', [datumDiameterMm, farDiameterMm, lengthMm, boreMm, seamRad]);
  }
  const made = createMeridian([
    { xMm: 0, diameterMm: datumDiameterMm, join: 'corner', bulge: 0 },
    { xMm: lengthMm, diameterMm: farDiameterMm, join: 'corner', bulge: 0 },
  ]);
  if (!made.ok) throw new InvariantError('createCone', made.error.kind);
  return createRevolved(made.value, { developable: true, boreMm, seamRad, refRadiusMm: (datumDiameterMm + farDiameterMm) / 4 });
}
