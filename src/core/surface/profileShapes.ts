import type { MeridianNode } from './meridian';

/** Ready shapes to start a turned profile from. All are true arcs but the waist, a spline. */
export const PROFILE_SHAPES = ['barrel', 'waist', 'dome', 'ball'] as const;
export type ProfileShape = (typeof PROFILE_SHAPES)[number];

/** Nodes of a ready shape of a given greatest diameter and length, mm. A ball has the length of its diameter less its two necks. */
export function createProfileNodes(shape: ProfileShape, diameterMm: number, lengthMm: number): MeridianNode[] {
  const corner = (xMm: number, d: number, bulge = 0): MeridianNode => ({ xMm, diameterMm: d, join: 'corner', bulge });
  const smooth = (xMm: number, d: number): MeridianNode => ({ xMm, diameterMm: d, join: 'smooth', bulge: 0 });
  /** Bulge of the arc that rises by a height over a chord: 2h / c. */
  const bulgeOf = (rise: number, chord: number): number => (2 * rise) / chord;
  switch (shape) {
    case 'barrel':
      return [corner(0, 0.72 * diameterMm, bulgeOf(0.14 * diameterMm, lengthMm)), corner(lengthMm, 0.72 * diameterMm)];
    case 'waist':
      return [corner(0, diameterMm), smooth(lengthMm / 2, 0.7 * diameterMm), corner(lengthMm, diameterMm)];
    case 'dome': {
      // A cap on a cylindrical foot: a quarter round where there is room, else a flatter one.
      const rise = Math.min(diameterMm / 2, 0.6 * lengthMm);
      const radius = (diameterMm * diameterMm) / 8 / rise + rise / 2;
      const sweep = Math.acos(1 - rise / radius);
      return [corner(0, diameterMm), corner(lengthMm - rise, diameterMm, Math.tan(sweep / 4)), corner(lengthMm, 0)];
    }
    case 'ball': {
      const neck = 0.3 * diameterMm;
      const reach = Math.sqrt((diameterMm / 2) ** 2 - (neck / 2) ** 2);
      return [corner(0, neck, bulgeOf(diameterMm / 2 - neck / 2, 2 * reach)), corner(2 * reach, neck)];
    }
  }
}
