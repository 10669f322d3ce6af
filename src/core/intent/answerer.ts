import type { Box } from '../base/rings';
import type { Meaning } from './meaning';
import type { Outlines } from './outlines';

/** Depths of a place, mm along the normal: what must be gone at the least, and what may be gone at the most. */
export interface Depths {
  mustMm: number;
  mayMm: number;
}

/** A form of a meaning that can be asked. */
export interface Answerer {
  form: Meaning['form'];
  /** Part of the sheet that it says something of; beside it nothing must and nothing may be gone. */
  box: Box;
  /** Deepest that it ever allows, mm. */
  deepestMm: number;
  /**
   * Exact depths at a sheet place. @param slackMm By how far aside an edge may lie, mm.
   * @param foundMm Depth that was found there: ways to allow more are looked for only where it is more than is allowed at once.
   * O(segments near the place).
   */
  ask(x: number, y: number, slackMm: number, out: Depths, foundMm: number): void;
  /** Outlines it goes by; their inside is what it fills, for the forms that fill. */
  outlines: Outlines | null;
}
