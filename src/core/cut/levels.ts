import { InvariantError } from '../base/invariant';
import type { Levels } from '../job/schema';

/** Rounding slack, as a share of a step, so that 0.6 in steps of 0.2 gives three levels and not four. */
const STEP_SLACK = 1e-9;

/**
 * Depths of the levels, ascending; the last is the total depth.
 * By steps s with a finishing step f: n = ⌈(D − f)/s⌉ roughing levels, even or fixed, then D. Common practice, no source.
 * @param totalMm Total depth D, mm; > 0. @param beginMm What is gone already: levels part what is below; none if that is nothing.
 */
export function computeLevels(totalMm: number, levels: Levels, beginMm = 0): number[] {
  if (!(totalMm > 0)) throw new InvariantError('computeLevels', 'depth is not positive', totalMm);
  if (beginMm > 0)
    return beginMm < totalMm
      ? [
          ...computeLevels(totalMm - beginMm, levels)
            .map((d) => beginMm + d)
            .slice(0, -1),
          totalMm,
        ]
      : [];
  if (levels.by === 'count') {
    return Array.from({ length: levels.count }, (_, k) => (k + 1 === levels.count ? totalMm : (totalMm * (k + 1)) / levels.count));
  }
  const finish = Math.min(levels.finishMm, totalMm);
  const rough = totalMm - finish;
  const n = Math.max(0, Math.ceil(rough / levels.stepMm - STEP_SLACK));
  const out = Array.from({ length: n }, (_, k) => (k + 1 === n ? rough : levels.even ? (rough * (k + 1)) / n : levels.stepMm * (k + 1)));
  if (finish > 0) out.push(totalMm);
  return out;
}
