import { findEdgeFaults } from '../core/findings/cutFindings';
import { createPlanner, type Planner } from '../core/pipeline/plan';
import { computeEdgeProof } from '../core/proof/edge';
import { createSurface } from '../core/surface/registry';
import { loadVoronoi } from './resources';
import { ensureShape, workerShapes } from './shapes';
import type { PlanRequest, PlanView, Progress } from './protocol';
import { serve } from './serve';

/** Progress goes out at most this often, ms: more would cost more than it tells. */
const PROGRESS_EVERY_MS = 60;

let planner: Promise<Planner> | null = null;

serve<PlanRequest, PlanView, Progress>(async ({ job, lettering }, onProgress) => {
  planner ??= loadVoronoi().then((engine) => createPlanner(engine, workerShapes));
  await ensureShape(job);
  const made = await planner;
  const start = performance.now();
  let told = 0;
  const tell = (stage: Progress['stage'], share: number) => {
    const now = performance.now();
    if (now - told < PROGRESS_EVERY_MS) return;
    told = now;
    onProgress({ stage, share });
  };
  const plan = made.compute(job, lettering, tell);
  const surface = createSurface(job.blank, workerShapes);
  const edge = computeEdgeProof(job, lettering, plan, surface, (share) => tell('checking edges', share));
  const { laid, moves } = plan;
  const answer: PlanView = {
    cuts: plan.cuts,
    laid,
    blocks: { count: moves.count, sheet: moves.sheet, move: moves.move, timesS: plan.timesS, values: moves.values },
    timeS: plan.timeS,
    programText: `${plan.program.lines.join('\n')}\n`,
    lineOfBlock: plan.program.lineOfBlock,
    readBack: {
      maxTipUm: plan.readBack.maxTipUm,
      maxAxisUm: plan.readBack.maxAxisUm,
      maxTimeRatio: plan.readBack.maxTimeRatio,
      worstLine: plan.readBack.worstLine,
    },
    edge,
    findings: [...plan.findings, ...findEdgeFaults(edge, surface)],
    computeMs: performance.now() - start,
  };
  const transfer = [
    laid.kind,
    laid.cut,
    laid.level,
    laid.sheet,
    laid.tip,
    laid.axis,
    laid.feedMmPerMin,
    moves.sheet,
    moves.move,
    plan.timesS,
    moves.values,
    plan.program.lineOfBlock,
  ].map((a) => a.buffer as ArrayBuffer);
  return { answer, transfer };
});
