import type { Box, Rings } from '../../base/rings';
import type { Profile } from '../../cut/profile';
import { computeLean, type Work } from '../../machine/stance';

/** No tool is taken to lean by more, radians. */
export const MOST_LEAN_RAD = 1.4;
/** A print is not sought wider than so many times that of an upright tool. */
export const MOST_WIDENED = 12;
/** A contact so near to another is the same wall's, mm. */
export const SAME_WALL_MM = 0.01;
/** Where offsets in a plane are not those on the blank a cutter is asked for where it fits with so much to spare, mm. */
export const FIT_MM = 0.02;
/** A place and those about it. */
const AROUND = [
  [0, 0],
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;

/** A box grown by a distance on the surface; the sheet may be stretched. */
export function growBox(box: Box, byMm: number, work: Work): Box {
  const metric = new Float64Array(3);
  let stretch = 1;
  for (const x of [box.minX, (box.minX + box.maxX) / 2, box.maxX]) {
    for (const y of [box.minY, box.maxY]) {
      work.metricInto(x, y, metric);
      const [e, f, g] = metric as unknown as [number, number, number];
      const least = (e + g - Math.hypot(e - g, 2 * f)) / 2;
      stretch = Math.max(stretch, 1 / Math.sqrt(Math.max(1e-3, least)));
    }
  }
  const by = byMm * stretch * 1.1;
  return { minX: box.minX - by, minY: box.minY - by, maxX: box.maxX + by, maxY: box.maxY + by };
}

/** How much a tool leans at the most at a place and as far about it as its rim is wide: from there the rim goes deepest, radians. */
export function findLeanAround(work: Work, x: number, y: number, rimMm: number): number {
  let most = 0;
  for (const [dx, dy] of AROUND) most = Math.max(most, computeLean(work, x + dx * rimMm, y + dy * rimMm));
  return Math.min(MOST_LEAN_RAD, most);
}

/** A cutter at a depth: how wide it is at the surface under an upright tool, and at the most, mm. */
export interface Print {
  printMm: number;
  profile: Pick<Profile, 'heightAt' | 'halfWidthAt'>;
  radiusMm: number;
}

/** The print of a cutter at a depth, mm. */
export const createPrint = (profile: Profile, radiusMm: number, depthMm: number): Print => ({
  printMm: Math.min(radiusMm, profile.halfWidthAt(depthMm)),
  profile,
  radiusMm,
});

/** Steps by which a widened print is sought. */
const WIDEN_HALVINGS = 16;

/**
 * How far beside the tool a cutter reaches on a surface that it leans over by λ: uphill its half-width ℓ is that at the height
 * d + ℓ·tan λ, of a cone d/(cot β − tan λ); no farther than so many times. Halved: the profile is convex.
 */
export function widenLeaning({ printMm, profile, radiusMm }: Print, work: Work, x: number, y: number): number {
  if (work.alongNormal || printMm >= radiusMm) return printMm;
  const slope = Math.tan(Math.min(MOST_LEAN_RAD, computeLean(work, x, y)));
  const depthMm = profile.heightAt(printMm);
  const isCut = (l: number): boolean => profile.halfWidthAt(depthMm + l * slope) >= l;
  let [low, high] = [printMm, Math.min(radiusMm, MOST_WIDENED * printMm)];
  if (isCut(high)) return high;
  for (let k = 0; k < WIDEN_HALVINGS; k++) {
    const middle = (low + high) / 2;
    if (isCut(middle)) low = middle;
    else high = middle;
  }
  return high;
}

/** The print beside lines at its widest under a tool that leans, mm; at a few of their places. */
export function findWidest(print: Print, { xy }: Pick<Rings, 'xy'>, work: Work): number {
  if (work.alongNormal) return print.printMm;
  let most = print.printMm;
  const step = 2 * Math.max(1, Math.floor(xy.length / 2 / 50));
  for (let i = 0; i + 1 < xy.length; i += step) most = Math.max(most, widenLeaning(print, work, xy[i]!, xy[i + 1]!));
  return most;
}
