/** The three planes of arcs: axes across and up, and the one square to them, as seen from its positive end. */
export const PLANES = { G17: [0, 1, 2], G18: [2, 0, 1], G19: [1, 2, 0] } as const;
export type PlaneCode = keyof typeof PLANES;

export interface Arc {
  /** Centre in the plane, mm. */
  centre: [number, number];
  radiusMm: number;
  /** Angle of its start, and how far it turns, radians; positive counter-clockwise. */
  startRad: number;
  sweepRad: number;
}

/**
 * By how much a centre may be nearer to the one end than to the other, mm: 0.002 mm in a program in millimetres, 0.0002 in in one in inches
 * (NISTIR 6556, 3.5.3.2, from memory).
 */
export const getRadiusSlackMm = (unitMm: number): number => (unitMm === 1 ? RADIUS_SLACK_MM : 0.0002 * unitMm);
const RADIUS_SLACK_MM = 0.002;
const SAME_MM = 1e-9;

/**
 * An arc by its centre.
 * @param from Start in the plane. @param to End. @param centre Centre. @param clockwise G2. @param slackMm How exact it has to be.
 * @returns The arc, or in words what is wrong.
 */
export function arcByCentre(
  from: readonly number[],
  to: readonly number[],
  centre: readonly number[],
  clockwise: boolean,
  slackMm = RADIUS_SLACK_MM,
): Arc | string {
  const r0 = Math.hypot(from[0]! - centre[0]!, from[1]! - centre[1]!),
    r1 = Math.hypot(to[0]! - centre[0]!, to[1]! - centre[1]!);
  if (!(r0 > SAME_MM)) return 'the arc has no radius';
  if (Math.abs(r0 - r1) > slackMm) {
    return `the arc's ends lie ${r0.toFixed(4)} and ${r1.toFixed(4)} mm from its centre`;
  }
  const startRad = Math.atan2(from[1]! - centre[1]!, from[0]! - centre[0]!);
  let sweepRad = Math.atan2(to[1]! - centre[1]!, to[0]! - centre[0]!) - startRad;
  // From a place to itself is a whole turn.
  const same = Math.hypot(to[0]! - from[0]!, to[1]! - from[1]!) < SAME_MM;
  if (clockwise) while (sweepRad >= -1e-12) sweepRad -= 2 * Math.PI;
  else while (sweepRad <= 1e-12) sweepRad += 2 * Math.PI;
  if (same) sweepRad = clockwise ? -2 * Math.PI : 2 * Math.PI;
  return { centre: [centre[0]!, centre[1]!], radiusMm: r0, startRad, sweepRad };
}

/** An arc by its radius: up to half a turn where it is positive, more where it is negative. */
export function arcByRadius(
  from: readonly number[],
  to: readonly number[],
  radius: number,
  clockwise: boolean,
  slackMm = RADIUS_SLACK_MM,
): Arc | string {
  const [dx, dy] = [to[0]! - from[0]!, to[1]! - from[1]!];
  const chord = Math.hypot(dx, dy);
  if (chord < SAME_MM) return 'an arc by its radius cannot end where it begins';
  const half = chord / 2;
  const r = Math.abs(radius);
  if (r < half - slackMm) return `its radius of ${r} mm does not reach over ${chord.toFixed(4)} mm`;
  const rise = Math.sqrt(Math.max(0, r * r - half * half));
  // The centre lies to the right of the way for a short clockwise arc.
  const side = (clockwise ? -1 : 1) * (radius > 0 ? 1 : -1);
  const centre = [(from[0]! + to[0]!) / 2 - (side * rise * dy) / chord, (from[1]! + to[1]!) / 2 + (side * rise * dx) / chord];
  return arcByCentre(from, to, centre, clockwise, slackMm);
}

/** Chords that keep within an error, mm; through the middle of it they could be fewer, but their ends then lie off the arc. */
export const countChords = ({ radiusMm, sweepRad }: Arc, toleranceMm: number): number => {
  const share = Math.min(1, toleranceMm / Math.max(radiusMm, toleranceMm));
  return Math.min(MAX_CHORDS, Math.max(1, Math.ceil(Math.abs(sweepRad) / (2 * Math.acos(1 - share)))));
};
const MAX_CHORDS = 20_000;
