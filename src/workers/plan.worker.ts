import { toSetupSheet } from '../core/export/setupSheet';
import { writeOutlineRun } from '../core/pipeline/outlineRun';
import { createPlanner, type Plan, type Planner } from '../core/pipeline/plan';
import { createSetup } from '../core/pipeline/setup';
import { toPartText } from '../core/program/dialect';
import { toFileNames } from '../core/program/fileNames';
import { stampProven } from '../core/proof/stamp';
import { computeProof, type Proof } from '../core/proof/proof';
import { loadVoronoi } from './resources';
import { ensureShape, workerShapes } from './shapes';
import { OUTLINE_HEIGHT_MM, type PlanRequest, type PlanView, type Progress } from './protocol';
import { serve } from './serve';

let planner: Promise<Planner> | null = null;

serve<PlanRequest, PlanView, Progress>(async ({ job, lettering }, { drive }) => {
  planner ??= loadVoronoi().then(createPlanner);
  await ensureShape(job);
  const made = await planner;
  const start = performance.now();
  const setup = createSetup(job, workerShapes);
  const plan = await drive(made.plan(setup, lettering));
  const proof = await drive(computeProof(setup, lettering, plan));
  stampProven(setup, plan, proof);
  const names = toFileNames(job, plan.program);
  const sheet = plan.moves.count > 0 ? toSetupSheet(setup, plan, proof, names) : null;
  const outlineRun = writeOutlineRun(setup, lettering, OUTLINE_HEIGHT_MM);
  const answer = toView(plan, proof, { sheet, outlineRun, names }, performance.now() - start);
  const { laid, blocks, program } = answer;
  const buffers = [laid.kind, laid.run, laid.level, laid.sheet, laid.tip, laid.axis, laid.feedMmPerMin, blocks.sheet, blocks.move];
  const transfer = [...buffers, blocks.timesS, blocks.values, program.partOfBlock, program.lineOfBlock].map((a) => a.buffer as ArrayBuffer);
  return { answer, transfer };
});

function toView(
  plan: Plan,
  proof: Proof,
  { names, ...pages }: Pick<PlanView, 'sheet' | 'outlineRun'> & { names: string[] },
  computeMs: number,
): PlanView {
  const { cuts, laid, moves, timesS, timeS, stopTimeS, standingS, program } = plan;
  const { maxTipUm, maxAxisUm, maxTimeRatio } = proof.readBack;
  return {
    cuts,
    laid,
    blocks: { count: moves.count, sheet: moves.sheet, move: moves.move, timesS, values: moves.values, feedTimeMin: moves.feedTimeMin },
    timeS,
    stopTimeS,
    standingS,
    program: {
      parts: program.parts.map((part, k) => ({ name: names[k]!, text: toPartText(part), lines: part.lines.length })),
      partOfBlock: program.partOfBlock,
      lineOfBlock: program.lineOfBlock,
    },
    readBack: { maxTipUm, maxAxisUm, maxTimeRatio },
    edge: proof.edge,
    unproved: proof.unproved,
    leftOut: proof.leftOut,
    ...pages,
    findings: [...plan.findings, ...proof.findings],
    computeMs,
  };
}
