import type { Surface } from '../surface/surface';

/** How the blank on the simulated machine differs from the drawn one. */
export interface RealBlank {
  /** How far the axis of a round blank, or the middle of one that lies, stands out, mm, and at which turn. */
  offMm: number;
  towardsDeg: number;
  /** By how much it is larger at the far end, or rises towards it, mm. */
  taperMm: number;
}

/** Parts of a probing move that are tried, and how closely its trip is found. */
const PROBE_STEPS = 200;
const PROBE_HALVINGS = 30;

/** How far the real blank stands out of the drawn one at a place of the sheet, mm. */
export function findOutside({ offMm, towardsDeg, taperMm }: RealBlank, surface: Surface, x: number, y: number): number {
  const { domain, periodMm, mmPerRad } = surface;
  const along = (x - domain.minX) / Math.max(1e-9, domain.maxX - domain.minX);
  const turn = y / mmPerRad - (towardsDeg * Math.PI) / 180;
  // A blank that lies is higher in its middle.
  const across = (y - domain.minY) / Math.max(1e-9, domain.maxY - domain.minY);
  const bow = 16 * along * (1 - along) * across * (1 - across);
  return taperMm * along + offMm * (periodMm === null ? bow : Math.cos(turn));
}

/** Whether a point, blank frame, lies in the real blank. */
export function isInside(real: RealBlank, surface: Surface, point: ArrayLike<number>): boolean {
  const at = surface.toSheet(point[0]!, point[1]!, point[2]!);
  return at.heightMm <= findOutside(real, surface, at.x, at.y);
}

/** The share of a move at which a probe trips; null where it does not. @param trips Whether it does at a share. O(steps). */
export function findTrip(trips: (share: number) => boolean): number | null {
  let clear = 0,
    inside = -1;
  for (let k = 1; k <= PROBE_STEPS && inside < 0; k++) {
    if (trips(k / PROBE_STEPS)) inside = k / PROBE_STEPS;
    else clear = k / PROBE_STEPS;
  }
  if (inside < 0) return null;
  for (let k = 0; k < PROBE_HALVINGS; k++) {
    const half = (clear + inside) / 2;
    if (trips(half)) inside = half;
    else clear = half;
  }
  return inside;
}
