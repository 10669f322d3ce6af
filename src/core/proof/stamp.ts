import { hashJob, HASH_SHOWN } from '../job/jobHash';
import type { Plan } from '../pipeline/plan';
import type { Setup } from '../pipeline/setup';
import { stampProgram } from '../program/stamp';
import type { Proof } from './proof';

/** Says in the head of a program what it came to when it was read back. */
export const stampProven = ({ job }: Pick<Setup, 'job'>, plan: Pick<Plan, 'program' | 'timeS' | 'standingS'>, proof: Proof): void =>
  stampProgram(plan.program, {
    seconds: plan.timeS + plan.standingS,
    tipUm: proof.readBack.maxTipUm,
    edgeUm: proof.edge?.maxOutsideUm ?? null,
    hash: hashJob(job).slice(0, HASH_SHOWN),
  });
