import type {
  ProfileAnswer,
  ProfileRequest,
  ShapeAnswer,
  ShapeRequest,
  ImportAnswer,
  ImportRequest,
  LetteringRequest,
  LetteringView,
  PlanRequest,
  PlanView,
  Progress,
  RemovalAnswer,
  RemovalRequest,
  SuggestAnswer,
  SuggestRequest,
} from './protocol';
import { createWorkerCaller, type WorkerCaller } from './call.client';

export type {
  ImportAnswer,
  ImportRequest,
  InscriptionView,
  ProfileAnswer,
  ShapeAnswer,
  LetteringView,
  PlanView,
  LineSpan,
  LoadTrace,
  ProgramView,
  Progress,
  RemovalAnswer,
  RemovalFigures,
  VerdictView,
  SuggestAnswer,
  SuggestRequest,
  TakenFile,
  TilePictures,
  Way,
} from './protocol';
export { LINES_A_MARK, OUTLINE_HEIGHT_MM } from './protocol';
export { WorkerFailure } from './call.client';

/**
 * The two workers behind the bench: lettering answers at once; planning takes as long as it takes, can be stopped, and keeps what it
 * has carved by then.
 */
export interface PlanningWorkers {
  lettering: WorkerCaller<LetteringRequest, LetteringView, never>;
  plan: WorkerCaller<PlanRequest, PlanView, Progress>;
}

/** A plan that is no longer wanted is left between two steps; carving one large piece is the longest of them. */
const PLAN_GRACE_MS = 3000;

export const createPlanningWorkers = (): PlanningWorkers => ({
  lettering: createWorkerCaller(() => new Worker(new URL('./lettering.worker.ts', import.meta.url), { type: 'module' })),
  plan: createWorkerCaller(() => new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' }), PLAN_GRACE_MS),
});

/** The worker that computes what a program takes away. Progress is a share in [0, 1]. */
export const createRemovalWorker = (): WorkerCaller<RemovalRequest, RemovalAnswer, number> =>
  createWorkerCaller(() => new Worker(new URL('./removal.worker.ts', import.meta.url), { type: 'module' }), PLAN_GRACE_MS);

/** The worker that reads free shapes and indexes their patches. Progress is a share in [0, 1]. */
export const createShapeWorker = (): WorkerCaller<ShapeRequest, ShapeAnswer, number> =>
  createWorkerCaller(() => new Worker(new URL('./shape.worker.ts', import.meta.url), { type: 'module' }));

/** The worker that takes a profile from a drawing: the same that reads drawings. */
export const createProfileWorker = (): WorkerCaller<ProfileRequest, ProfileAnswer, number> =>
  createWorkerCaller(() => new Worker(new URL('./import.worker.ts', import.meta.url), { type: 'module' }));

/** The worker that knows how lettering is best cut. Progress is a share in [0, 1]. */
export const createSuggestWorker = (): WorkerCaller<SuggestRequest, SuggestAnswer, number> =>
  createWorkerCaller(() => new Worker(new URL('./suggest.worker.ts', import.meta.url), { type: 'module' }), PLAN_GRACE_MS);

/** The worker that reads drawings. Progress is a share in [0, 1]. */
export const createImportWorker = (): WorkerCaller<ImportRequest, ImportAnswer, number> =>
  createWorkerCaller(() => new Worker(new URL('./import.worker.ts', import.meta.url), { type: 'module' }));
