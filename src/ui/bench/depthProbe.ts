import { createProfile } from '../../core/cut/profile';
import type { Job } from '../../core/job/schema';
import { createMargin } from '../../core/proof/edge';
import { createWork } from '../../core/machine/stance';
import type { Surface } from '../../core/surface/surface';
import type { PlanView } from '../../workers/planning.client';

/** Depth that the plan cuts at a sheet point, mm; 0 where nothing is cut. */
export type DepthProbe = (x: number, y: number) => number;

export function createDepthProbe(job: Job, plan: PlanView, surface: Surface): DepthProbe {
  const work = createWork(surface, job.machine, job.blank);
  const enabled = job.cuts.filter((c) => c.enabled);
  const margins = enabled.flatMap((cut, index) => {
    const tool = job.tools.find((t) => t.id === cut.toolId);
    return tool && plan.cuts[index]?.strokes ? [createMargin(plan.laid, index, work, createProfile(tool))] : [];
  });
  return (x, y) => margins.reduce((deepest, margin) => Math.max(deepest, margin(x, y)), 0);
}
