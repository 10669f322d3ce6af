import type { Steps } from '../core/base/steps';
import type { AnswerMessage, CallMessage } from './call.client';

/** What a handler can do besides computing its answer. */
export interface CallTools<P> {
  onProgress(progress: P): void;
  /**
   * Runs a computation in slices, between which the worker hears whether the call is still wanted; reports how far it is.
   * Rejects with `Cancelled` if it is not.
   */
  drive<T>(steps: Steps<P, T>): Promise<T>;
}

/** The call that is computed is no longer wanted. */
class Cancelled extends Error {}

/** Computing goes on this long before messages are heard, ms: long enough to cost nothing, short enough to stop at once. */
const SLICE_MS = 20;
/** Progress goes out at most this often, ms. */
const PROGRESS_EVERY_MS = 60;

/** The worker's side of a call: answers, failures and progress all carry the call's id. */
export function serve<Q, A, P>(handler: (request: Q, tools: CallTools<P>) => Promise<{ answer: A; transfer?: Transferable[] }>): void {
  const scope = self as unknown as {
    onmessage: ((e: MessageEvent<CallMessage<Q>>) => void) | null;
    postMessage(m: AnswerMessage<A, P>, t?: Transferable[]): void;
  };
  const cancelled = new Set<number>();
  const toolsOf = (id: number): CallTools<P> => {
    const onProgress = (progress: P): void => scope.postMessage({ id, kind: 'progress', progress });
    return { onProgress, drive: (steps) => driveInSlices(steps, () => cancelled.has(id), onProgress) };
  };
  scope.onmessage = async ({ data: message }) => {
    const { id } = message;
    if ('cancel' in message) return void cancelled.add(id);
    try {
      const { answer, transfer } = await handler(message.request, toolsOf(id));
      scope.postMessage({ id, kind: 'answer', answer }, transfer ?? []);
    } catch (error) {
      scope.postMessage(error instanceof Cancelled ? { id, kind: 'cancelled' } : { id, kind: 'failed', text: (error as Error).message });
    }
    cancelled.delete(id);
  };
  scope.postMessage({ kind: 'ready' });
}

async function driveInSlices<P, T>(steps: Steps<P, T>, isCancelled: () => boolean, onProgress: (progress: P) => void): Promise<T> {
  let sliceFrom = performance.now();
  let reportedAt = 0;
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    const now = performance.now();
    if (now - reportedAt >= PROGRESS_EVERY_MS) {
      reportedAt = now;
      onProgress(step.value);
    }
    if (now - sliceFrom < SLICE_MS) continue;
    await hearMessages();
    if (isCancelled()) throw new Cancelled();
    sliceFrom = performance.now();
  }
}

const channel = new MessageChannel();

/** Lets messages that wait be handled. A timer would be held back to 4 ms. */
const hearMessages = (): Promise<void> =>
  new Promise((resolve) => {
    channel.port1.onmessage = () => resolve();
    channel.port2.postMessage(null);
  });
