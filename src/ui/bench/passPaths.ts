import { roundTo } from '../../core/base/round';
import { interpolateRgbBasis } from 'd3-interpolate';
import { MOVE } from '../../core/lay/laidPaths';
import type { PlanView } from '../../workers/planning.client';

/** Depths are drawn in so many bands of colour, one path each. */
export const DEPTH_BANDS = 14;

/** From pale verdigris on the surface to deep ink at the deepest. */
export const colourOfDepth: (share: number) => string = interpolateRgbBasis(['#4db79f', '#23897a', '#1d5f7a', '#2c2a5a', '#3a1230']);

const round = (v: number): number => roundTo(v, 3);

/** Path data of all cutting moves by band of depth, sheet mm. O(moves). */
export function toPassPaths(plan: PlanView): { band: number; data: string }[] {
  const { laid } = plan;
  const deepest = Math.max(1e-9, ...plan.cuts.map((c) => c.maxDepthMm));
  const parts: string[][] = Array.from({ length: DEPTH_BANDS }, () => []);
  let lastBand = -1;
  const s = laid.sheet;
  for (let i = 1; i < laid.count; i++) {
    if (laid.kind[i] !== MOVE.cut) {
      lastBand = -1;
      continue;
    }
    const depth = (s[3 * i - 1]! + s[3 * i + 2]!) / 2;
    const band = Math.min(DEPTH_BANDS - 1, Math.max(0, Math.floor((depth / deepest) * DEPTH_BANDS)));
    if (band !== lastBand) parts[band]!.push(`M${round(s[3 * i - 3]!)} ${round(s[3 * i - 2]!)}`);
    parts[band]!.push(`L${round(s[3 * i]!)} ${round(s[3 * i + 1]!)}`);
    lastBand = band;
  }
  return parts.flatMap((p, band) => (p.length ? [{ band, data: p.join('') }] : []));
}
