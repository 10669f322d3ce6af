import { AS_PLANNED } from '../../core/removal/whatIf';
import type { Job, Trial } from '../../core/job/schema';
import { createRemovalWorker, type LetteringView, type PlanView } from '../../workers/planning.client';
import type { ShownPiece } from './piece';
import type { Suggesting } from './useSuggest';

/** A trial as it would be cut, to be looked at beside the plan that it belongs to. */
export interface OtherPiece {
  name: string;
  of: PlanView;
  piece: ShownPiece;
}

const DEADLINE_MS = 300_000;

/**
 * Cuts a trial by its own program, as the job's own is cut.
 * @returns Null if it was given up or cuts nothing.
 */
export async function cutTrial(
  job: Job,
  lettering: LetteringView,
  of: PlanView,
  trial: Trial,
  ask: Suggesting['ask'],
): Promise<OtherPiece | null> {
  const program = (await ask({ kind: 'program', cuts: trial.cuts }))?.program;
  if (!program) return null;
  const worker = createRemovalWorker();
  try {
    const answer = await worker.call(
      {
        kind: 'run',
        job: { ...job, cuts: trial.cuts },
        lettering: { artworks: lettering.artworks, findings: [] },
        ...program,
        only: null,
        whatIf: AS_PLANNED,
        foreign: null,
        sketch: false,
      },
      { deadlineMs: DEADLINE_MS },
    );
    if (answer.kind !== 'run') return null;
    const { grid, figures, pictures } = answer;
    const slots = new Map(Array.from(pictures.keys, (key, slot) => [key, slot]));
    return { name: trial.name, of, piece: { grid, figures, slots, ...pictures, version: 1, changed: null } };
  } catch {
    return null;
  } finally {
    worker.dispose();
  }
}
