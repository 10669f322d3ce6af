import type { Rings } from '../base/rings';

/**
 * The blank's skin as a map from the sheet to space, frames as in docs/architecture.md: blank frame right-handed, mm,
 * turning about X; sheet x along, y round (or across, where nothing turns), seen from outside. One implementation per kind
 * of blank. The sheet is a chart of the skin, not always a true one: `metricInto` says how it stretches.
 *
 * The `...Into` functions write to `out` and allocate nothing: they run millions of times in a plan.
 */
export interface Surface {
  /** Box of the part of the sheet that is material. `y` spans one turn from seam to seam on a closed blank. */
  domain: { minX: number; maxX: number; minY: number; maxY: number };
  /** Edge of the material where that is not the whole domain (a disc, a patch of a free shape); else null. */
  outline: Rings | null;
  /** Length of one whole turn on the sheet, mm; null where the sheet does not close on itself. */
  periodMm: number | null;
  /** Sheet millimetres that stand for one radian of turn. Where nothing turns, 180/π: one degree then stands for one mm. */
  mmPerRad: number;
  /** Whether sheet y goes round the axis of the rotary, and so is an angle. */
  round: boolean;
  /** Whether it has rims: lines of constant x at one distance from an end, which lettering can be wrapped or levelled along. */
  hasRims: boolean;
  /** Whether it can be laid flat without stretch, though not always on this sheet: no curvature both ways at one place. */
  developable: boolean;
  /** Whether its normal meets the axis of the rotary square, everywhere and to the last digit. */
  radialNormal: boolean;
  /** What lies under the surface, as findings on depth name it. */
  wallName: 'radius' | 'wall' | 'thickness';
  /** Point of the surface under sheet (x, y): `out[0..2]`, mm. Goes on smoothly past the edges of the domain. */
  pointInto(x: number, y: number, out: Float64Array): void;
  /** Point `out[0..2]` and unit outward normal `out[3..5]`. */
  frameInto(x: number, y: number, out: Float64Array): void;
  /** First fundamental form of the sheet: E, F, G = Px·Px, Px·Py, Py·Py. */
  metricInto(x: number, y: number, out: Float64Array): void;
  /** Principal curvatures, 1/mm, positive where convex: the more convex `out[0]`, the less convex `out[1]`. */
  curvatureInto(x: number, y: number, out: Float64Array): void;
  /** Bounds of |Pxx|, |Pxy|, |Pyy|, 1/mm: how much a line that is straight on the sheet bends. For drawing. */
  bendInto(x: number, y: number, out: Float64Array): void;
  /**
   * Exponential map: sheet place reached by walking straight on the surface from (x, y), `du` mm along the sheet's x
   * direction and `dv` mm square to it, to the left. Lengths and angles at the start are true.
   * @returns Whether the way stays on the surface; if not, `out` holds the best that can be said.
   */
  expInto(x: number, y: number, du: number, dv: number, out: Float64Array): boolean;
  /** The same walk, to be stopped at more than one place. Left out where `expInto` is a closed form and costs next to nothing. */
  walkFrom?(x: number, y: number, du: number, dv: number): Walk;
  /**
   * First place at which a ray meets the surface from outside, in closed form: sheet x and y to `out[0..1]`. Left out where there
   * is no closed form.
   * @param o Start, mm. @param d Unit direction.
   * @returns Cosine between −d and the normal there, or 0 if it misses.
   */
  rayInto?(o: ArrayLike<number>, d: ArrayLike<number>, out: Float64Array): number;
  /** Inverse of `pointInto` for a point on or near the surface: sheet x, y, and height above it, mm. */
  toSheet(px: number, py: number, pz: number): { x: number; y: number; heightMm: number };
  /** Distance from the axis of the rotary, mm: true mm per radian at that place. Where nothing turns, `mmPerRad`. */
  radiusAt(x: number, y: number): number;
  /** Greatest depth along the normal before the cutter meets the axis, breaks into the bore or goes through, mm. */
  wallAt(x: number, y: number): number;
  /** Highest place of the whole blank, clear zones too: from the axis where the rotary turns it, else over z = 0, mm. */
  topMm: number;
  /** Points of the whole shape, packed, mm; left out where the skin is all of it. */
  points?: Float64Array;
  /** How far a sheet place lies outside the material, mm; 0 inside. Round a closed blank all is inside. */
  outsideMm(x: number, y: number): number;
  /** Whether the sheet goes on to the surface without any stretch. */
  isometric: boolean;
  /** About how far its faces lie from the shape they stand for, mm; left out where the surface is exact and has no faces. */
  chordMm?: number;
  /** Sheet x of the edges that run round it, where a profile has a corner; left out where there is none. */
  edgesX?: readonly number[];
  /** Whether it has no curvature anywhere. */
  flat: boolean;
  /** Along what it is the same everywhere, so that a piece carved at one place can be moved to another. */
  homogeneous: 'everywhere' | 'round' | 'nowhere';
}

/** A walk straight on over a surface, taken up where it was left. */
export interface Walk {
  /**
   * Goes on until it has come `share` of its (du, dv); never back. Sheet place to `out[0..1]`.
   * @returns Whether the way stayed on the surface so far; if not, `out` holds the best that can be said.
   */
  toInto(share: number, out: Float64Array): boolean;
}

/** Degrees of turn (or mm across, where nothing turns) that a sheet y stands for. */
export const toTurnDeg = (surface: Pick<Surface, 'mmPerRad'>, y: number): number => (y / surface.mmPerRad) * (180 / Math.PI);
export const fromTurnDeg = (surface: Pick<Surface, 'mmPerRad'>, turnDeg: number): number => (turnDeg * Math.PI * surface.mmPerRad) / 180;

/** Sheet millimetres per radian of a blank that does not turn. */
export const FLAT_MM_PER_RAD = 180 / Math.PI;

/** How far (x, y) lies outside a box, mm; 0 inside. */
export function outsideBox(domain: Surface['domain'], x: number, y: number): number {
  const dx = Math.max(domain.minX - x, 0, x - domain.maxX);
  const dy = Math.max(domain.minY - y, 0, y - domain.maxY);
  return Math.hypot(dx, dy);
}
