import type { BlankOf } from '../job/blankSchema';

type Cone = BlankOf<'cone'>;
const DEG = 180 / Math.PI;

/** How much a cone widens from the datum end to the far end; negative where it narrows. All say the same taper. */
export interface Taper {
  /** Angle between axis and generator, degrees. */
  halfAngleDeg: number;
  /** Angle between opposite generators, degrees. */
  taperDeg: number;
  /** Length over difference of diameters, the k of 1:k; infinite without taper. */
  ratioK: number;
}

export function getTaper({
  datumDiameterMm,
  farDiameterMm,
  lengthMm,
}: Pick<Cone, 'datumDiameterMm' | 'farDiameterMm' | 'lengthMm'>): Taper {
  const difference = farDiameterMm - datumDiameterMm;
  const half = Math.atan2(difference / 2, lengthMm) * DEG;
  return { halfAngleDeg: half, taperDeg: 2 * half, ratioK: difference === 0 ? Infinity : lengthMm / difference };
}

/** The far diameter that a half-angle gives, mm. */
const farFrom = (datumDiameterMm: number, lengthMm: number, halfAngleDeg: number): number =>
  datumDiameterMm + 2 * lengthMm * Math.tan(halfAngleDeg / DEG);

/** A cone whose taper is set by its half-angle, the datum diameter and the length kept. */
export const withHalfAngle = (cone: Cone, halfAngleDeg: number): Cone => ({
  ...cone,
  farDiameterMm: farFrom(cone.datumDiameterMm, cone.lengthMm, halfAngleDeg),
});

/** A cone whose taper is set as 1:k; k negative where it narrows towards the far end. */
export const withRatio = (cone: Cone, k: number): Cone => ({ ...cone, farDiameterMm: cone.datumDiameterMm + cone.lengthMm / k });

/**
 * A change of the datum diameter or the length. Where the taper is what was given it is kept and the far diameter follows; where
 * both diameters were given, they are.
 */
export function withSizes(cone: Cone, patch: Partial<Pick<Cone, 'datumDiameterMm' | 'lengthMm'>>): Cone {
  const next = { ...cone, ...patch };
  if (cone.given === 'diameters') return next;
  return { ...next, farDiameterMm: farFrom(next.datumDiameterMm, next.lengthMm, getTaper(cone).halfAngleDeg) };
}

/** Length at which a taper comes to a point, from the datum end, mm; null where it never does in that direction. */
export function findApexMm(cone: Pick<Cone, 'datumDiameterMm' | 'farDiameterMm' | 'lengthMm'>): number | null {
  const difference = cone.datumDiameterMm - cone.farDiameterMm;
  return difference > 0 ? (cone.lengthMm * cone.datumDiameterMm) / difference : null;
}
