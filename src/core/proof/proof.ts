import { reportSteps, type Steps } from '../base/steps';
import {
  findConduct,
  findEdgeFaults,
  findLeftOut,
  findReadBackFaults,
  findLengthFaults,
  findTravelFaults,
} from '../findings/proofFindings';
import type { Finding } from '../findings/finding';
import type { Lettering } from '../pipeline/lettering';
import type { Plan, PlanProgress } from '../pipeline/plan';
import type { Setup } from '../pipeline/setup';
import { findConductFaults } from './conduct';
import { computeEdges, type EdgeReport } from './edge';
import { computeReadBack, type ReadBack } from './readBack';

/** What is known of a plan from its program alone, and from its paths against the lettering. */
export interface Proof extends EdgeReport {
  readBack: ReadBack;
  findings: Finding[];
}

/**
 * Proves a plan: reads its program back, checks how the program behaves, and measures the edge that is cut. The one proof for the
 * page, the command line and the tests.
 */
export function* computeProof(
  setup: Setup,
  lettering: Lettering,
  plan: Pick<Plan, 'program' | 'laid' | 'moves'>,
): Steps<PlanProgress, Proof> {
  const readBack = yield* reportSteps(computeReadBack(setup, plan), (share) => ({ stage: 'reading back', share }) as const);
  const conduct = findConductFaults(setup, plan, readBack.readings);
  const edges = yield* computeEdges(setup, lettering, plan.laid);
  const findings = [
    ...findReadBackFaults(setup.job, readBack),
    ...findTravelFaults(setup, readBack),
    ...findLengthFaults(setup.job, plan.program),
    ...findConduct(setup.job, conduct),
    ...findEdgeFaults(edges.edge, setup.surface),
    ...findLeftOut(setup, edges.leftOut),
  ];
  return { readBack, ...edges, findings };
}
