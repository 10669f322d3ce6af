/**
 * The blank's skin as a map from the sheet to space, frames as in docs/architecture.md: blank frame right-handed, mm,
 * turning about X; sheet x along, y round, seen from outside. One implementation per kind of blank.
 *
 * The `...Into` functions write to `out` and allocate nothing: they run millions of times in a plan.
 */
export interface Surface {
  kind: string;
  /** The part of the sheet that is material. `y` spans one turn from seam to seam on a closed blank. */
  domain: { minX: number; maxX: number; minY: number; maxY: number };
  /** Length of one whole turn on the sheet, mm; null where the sheet does not close on itself. */
  periodMm: number | null;
  /** Sheet millimetres that stand for one radian of turn at the reference radius. */
  mmPerRad: number;
  /** Point of the surface under sheet (x, y): `out[0..2]`, mm. */
  pointInto(x: number, y: number, out: Float64Array): void;
  /** Point `out[0..2]` and unit outward normal `out[3..5]`. */
  frameInto(x: number, y: number, out: Float64Array): void;
  /** Normal curvatures along sheet x `out[0]` and along sheet y `out[1]`, 1/mm, positive where convex. */
  curvatureInto(x: number, y: number, out: Float64Array): void;
  /** Inverse of `pointInto` for a point on or near the surface: sheet x, y, and height above it, mm. */
  toSheet(px: number, py: number, pz: number): { x: number; y: number; heightMm: number };
  /** Greatest depth along the normal before the cutter meets the axis or breaks into the bore, mm. */
  wallMm: number;
  /** Whether the sheet goes on to the surface without any stretch. */
  isometric: boolean;
  /** Whether it looks the same from every place of the sheet, so that what fits at one place fits, moved, at all. */
  homogeneous: boolean;
}
