import { isEmptyBox, joinBoxes, type Box } from '../base/rings';
import type { Finding } from '../findings/finding';
import type { Job } from '../job/schema';
import type { Lettering } from '../pipeline/lettering';
import type { CutSummary, Plan } from '../pipeline/plan';
import { createSurface } from '../surface/registry';

/** The figures of a planned job, as `report.json` holds them. Lengths mm, turns degrees, times s. */
export interface Report {
  job: string;
  unrolledMm: { x: number; y: number };
  letteringMm: { x: number; y: number; turnDeg: number };
  cuts: CutSummary[];
  timeS: number;
  blocks: number;
  readBack: { maxTipUm: number; maxAxisUm: number; maxTimeRatio: number };
  findings: Finding[];
}

/** Box of all lettering on the sheet; empty (`minX > maxX`) if there is none. */
export const getLetteringBox = (lettering: Lettering): Box =>
  lettering.artworks.map((a) => a.box).filter((b) => !isEmptyBox(b))
    .reduce(joinBoxes, { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity });

/** Gathers the report of a plan. */
export function toReport(job: Job, lettering: Lettering, plan: Plan): Report {
  const surface = createSurface(job.blank);
  const box = getLetteringBox(lettering);
  const x = isEmptyBox(box) ? 0 : box.maxX - box.minX;
  const y = isEmptyBox(box) ? 0 : box.maxY - box.minY;
  return {
    job: job.name,
    unrolledMm: { x: surface.domain.maxX - surface.domain.minX, y: surface.domain.maxY - surface.domain.minY },
    letteringMm: { x, y, turnDeg: ((y / surface.mmPerRad) * 180) / Math.PI },
    cuts: plan.cuts,
    timeS: plan.timeS,
    blocks: plan.moves.count,
    readBack: { maxTipUm: plan.readBack.maxTipUm, maxAxisUm: plan.readBack.maxAxisUm, maxTimeRatio: plan.readBack.maxTimeRatio },
    findings: plan.findings,
  };
}

/** One laid block a line: cut id, level (from 0), kind, end of the tip and tool axis in the blank frame, feed in mm/min. */
export function* toPathLines(job: Job, plan: Plan): Generator<string> {
  const { laid } = plan;
  const enabled = job.cuts.filter((c) => c.enabled);
  let i = 0;
  while (i < laid.count) {
    const cutting = laid.feedMmPerMin[i]! > 0;
    const level = laid.level[i]!;
    const cut = laid.cut[i]!;
    const tips: number[][] = [];
    const axes: number[][] = [];
    const start = i;
    if (i > 0) {
      tips.push([...laid.tip.subarray(3 * i - 3, 3 * i)]);
      axes.push([...laid.axis.subarray(3 * i - 3, 3 * i)]);
    }
    while (i < laid.count && laid.feedMmPerMin[i]! > 0 === cutting && laid.level[i] === level && laid.cut[i] === cut) {
      tips.push([...laid.tip.subarray(3 * i, 3 * i + 3)]);
      axes.push([...laid.axis.subarray(3 * i, 3 * i + 3)]);
      i++;
    }
    yield JSON.stringify({
      cut: enabled[cut]!.id,
      level,
      kind: cutting ? 'cut' : 'hop',
      tip: tips,
      axis: axes,
      feedMmPerMin: laid.feedMmPerMin[Math.min(start + 1, i - 1)]!,
    });
  }
}
