import type { Setup } from '../../core/pipeline/setup';
import { createMargin } from '../../core/proof/margin';
import type { PlanView } from '../../workers/planning.client';

/** Depth that the plan cuts at a sheet point, mm; 0 where nothing is cut. */
export type DepthProbe = (x: number, y: number) => number;

export function createDepthProbe({ runs, work }: Setup, plan: PlanView): DepthProbe {
  const margins = runs.filter((r) => plan.cuts[r.index]?.strokes).map((r) => createMargin(plan.laid, r.index, work, r.profile));
  return (x, y) => margins.reduce((deepest, margin) => Math.max(deepest, margin(x, y)), 0);
}
