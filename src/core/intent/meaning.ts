import type { Rings } from '../base/rings';
import type { Tool } from '../job/toolSchema';
import type { Profile } from '../cut/profile';

/**
 * What a cut means, worked out from its settings, the lettering and the surface alone, never from its passes: the finished piece is held
 * against it. Each form says, for a place of the sheet, how deep the material must be gone and how deep it may be.
 * All shapes lie on the sheet, mm; depths are mm along the surface's normal.
 */
export type Meaning = AreaMeaning | RoofMeaning | BandMeaning | HoleMeaning | MiddleMeaning | FlankMeaning;

/** A floor at one depth with walls straight up, as far as its cutters reach. */
export interface AreaMeaning {
  form: 'area';
  region: Rings;
  depthMm: number;
  /** Material left on the walls on purpose. */
  wallMm: number;
  /** Every cutter that goes over it, and how far off the walls it keeps; one that reaches a place is enough. */
  cutters: readonly { tool: Tool; wallMm: number }[];
}

/** The roof over an outline under a cutter's own angle, cut off at a depth: what a V-carve leaves. */
export interface RoofMeaning {
  form: 'roof';
  region: Rings;
  profile: Profile;
  limitMm: number;
  /** Depth of the floor that the outlines lie on. */
  sunkMm: number;
  /** A stroke no deeper than this is not cut: it is taken to be gone already. */
  beginMm: number;
  /** Half-width of the widest flat end that clears the floor before the cutter, 0 for none, mm. */
  millFlatMm: number;
}

/** The groove of a cutter that runs along lines, or beside closed shapes. */
export interface BandMeaning {
  form: 'band';
  lines: Rings;
  isClosed: boolean;
  side: 'on' | 'inside' | 'outside';
  depthMm: number;
  /** Depth that must be gone all along it: less than `depthMm` where tabs stand. */
  leastMm: number;
  wallMm: number;
  profile: Profile;
  /** Half-width of the cutter above its tip, mm. */
  radiusMm: number;
  /** How much farther from the shape the cutter may go: leads, loops and corners run out to a point. */
  spreadMm: number;
  /** Whether the way runs out to a point at corners, not about them. */
  isSharp: boolean;
}

/** Holes of a drill's own shape. */
export interface HoleMeaning {
  form: 'holes';
  places: readonly (readonly [number, number])[];
  depthMm: number;
  profile: Profile;
  radiusMm: number;
}

/** A groove along the middle of closed shapes. */
export interface MiddleMeaning {
  form: 'middle';
  region: Rings;
  depthMm: number;
  profile: Profile;
  radiusMm: number;
}

/** Slopes that rise from an outline on a floor to where two of them meet. */
export interface FlankMeaning {
  form: 'flank';
  region: Rings;
  depthMm: number;
  profile: Profile;
}

/** What a cut means: all of its forms, and what it leaves standing. */
export interface CutMeaning {
  forms: readonly Meaning[];
  /** What is to stay as high as the surface. */
  stands?: Rings;
  /** Tabs that are to hold a piece along closed ways. */
  tabs?: TabMeaning;
}

/** Tabs along ways outside of closed shapes, or once round a blank. */
export interface TabMeaning {
  /** Shapes that the ways go round; empty for one way round the blank at `xMm`. */
  shapes: Rings;
  xMm: number;
  radiusMm: number;
  depthMm: number;
  lengthMm: number;
  thicknessMm: number;
  /** How many stand along a way of a length, mm. */
  countFor(aroundMm: number): number;
  /** Places at which a person put some; a way that has none of them has them evenly apart. */
  at: readonly (readonly [number, number])[];
}
