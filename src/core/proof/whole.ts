import { reportSteps, type Steps } from '../base/steps';
import type { Finding } from '../findings/finding';
import type { Lettering } from '../pipeline/lettering';
import type { Plan, PlanProgress } from '../pipeline/plan';
import { listToolsByHand, type Setup } from '../pipeline/setup';
import { joinFindings } from '../removal/dangers';
import { proveField, type FieldProof } from '../removal/proveField';
import { computeProof, type Proof } from './proof';

/** Everything that is known of a plan: its program read back, and the piece that it cuts held against the piece that was meant. */
export interface WholeProof {
  proof: Proof;
  /** Null where the program moves nothing. */
  field: FieldProof | null;
  /** All findings of lettering, plan, program and piece. What spoils stops every way out. */
  findings: Finding[];
}

/** The one judgement of a plan before its program leaves: by the command line as by the page. */
export function* proveWhole(
  setup: Setup,
  lettering: Lettering,
  plan: Pick<Plan, 'program' | 'laid' | 'moves' | 'findings'>,
): Steps<PlanProgress, WholeProof> {
  const proof = yield* computeProof(setup, lettering, plan);
  const findings = [...plan.findings, ...proof.findings];
  if (plan.moves.count === 0) return { proof, field: null, findings };
  const hand = listToolsByHand(setup.runs, plan);
  const field = yield* reportSteps(
    proveField(setup, lettering, proof.readBack.readings, hand),
    (share) => ({ stage: 'cutting the piece', share }) as const,
  );
  return { proof, field, findings: joinFindings(findings, field.dangers) };
}
