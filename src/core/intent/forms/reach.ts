import type { Box, Rings } from '../../base/rings';
import type { Profile } from '../../cut/profile';
import { computeLean, type Work } from '../../machine/stance';

/** No tool is taken to lean by more, radians. */
export const MOST_LEAN_RAD = 1.4;
/** A print is not sought wider than so many times that of an upright tool. */
export const MOST_WIDENED = 12;
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

/**
 * How far beside the tool a cutter reaches on a surface that it leans over: d/(cot β − tan λ) uphill, and no farther than so many times.
 */
export function widenLeaning(printMm: number, profile: Pick<Profile, 'cotBeta'>, work: Work, x: number, y: number): number {
  if (work.alongNormal) return printMm;
  const lean = Math.tan(Math.min(MOST_LEAN_RAD, computeLean(work, x, y)));
  const cot = Math.max(profile.cotBeta, 1e-3);
  return profile.cotBeta === 0 ? printMm : printMm * Math.min(MOST_WIDENED, cot / Math.max(1e-3, cot - lean));
}

/** By how much prints beside lines are widened at the most by a tool that leans; at a few of their places. */
export function findMostWidened({ xy }: Pick<Rings, 'xy'>, profile: Pick<Profile, 'cotBeta'>, work: Work): number {
  if (work.alongNormal) return 1;
  let most = 1;
  const step = 2 * Math.max(1, Math.floor(xy.length / 2 / 50));
  for (let i = 0; i + 1 < xy.length; i += step) most = Math.max(most, widenLeaning(1, profile, work, xy[i]!, xy[i + 1]!));
  return most;
}
