/** Messages of one call to a worker. */
export interface CallMessage<Q> {
  id: number;
  request: Q;
}
export type AnswerMessage<A, P> =
  /** The worker's script has run and it listens: what is posted earlier would be lost. */
  | { kind: 'ready' }
  | { id: number; kind: 'progress'; progress: P }
  | { id: number; kind: 'answer'; answer: A }
  | { id: number; kind: 'failed'; text: string };

/** Why a call gave no answer. */
export class WorkerFailure extends Error {
  constructor(
    readonly kind: 'cancelled' | 'deadline' | 'crashed' | 'failed',
    message: string,
  ) {
    super(message);
    this.name = 'WorkerFailure';
  }
}

interface Pending<A, P> {
  send(): void;
  resolve(answer: A): void;
  reject(failure: WorkerFailure): void;
  onProgress?(progress: P): void;
  timer: ReturnType<typeof setTimeout>;
}

export interface WorkerCaller<Q, A, P> {
  /** Asks the worker. An abort, a deadline or a crash ends the worker at once and starts a new one. */
  call(request: Q, options: { signal?: AbortSignal; deadlineMs: number; onProgress?(progress: P): void }): Promise<A>;
  dispose(): void;
}

/**
 * A worker that computes without a break cannot hear a message, so it is stopped by ending it; the next call starts
 * afresh. Nothing ever waits for a dead worker: its end rejects all that is pending.
 */
export function createWorkerCaller<Q, A, P>(start: () => Worker): WorkerCaller<Q, A, P> {
  let worker: Worker | null = null;
  let ready = false;
  let nextId = 1;
  const pending = new Map<number, Pending<A, P>>();

  const endAll = (failure: WorkerFailure) => {
    worker?.terminate();
    worker = null;
    ready = false;
    for (const [id, call] of pending) {
      clearTimeout(call.timer);
      pending.delete(id);
      call.reject(failure);
    }
  };
  const spawn = (): Worker => {
    const made = start();
    made.onmessage = (event: MessageEvent<AnswerMessage<A, P>>) => {
      const message = event.data;
      if (message.kind === 'ready') {
        ready = true;
        for (const waiting of pending.values()) waiting.send();
        return;
      }
      const call = pending.get(message.id);
      if (!call) return;
      if (message.kind === 'progress') {
        call.onProgress?.(message.progress);
        return;
      }
      clearTimeout(call.timer);
      pending.delete(message.id);
      if (message.kind === 'answer') call.resolve(message.answer);
      else call.reject(new WorkerFailure('failed', message.text));
    };
    made.onerror = (event) => endAll(new WorkerFailure('crashed', event.message || 'the worker could not start'));
    made.onmessageerror = () => endAll(new WorkerFailure('crashed', 'a message could not be read'));
    return made;
  };
  return {
    call(request, { signal, deadlineMs, onProgress }) {
      if (signal?.aborted) return Promise.reject(new WorkerFailure('cancelled', 'cancelled'));
      worker ??= spawn();
      const id = nextId++;
      return new Promise<A>((resolve, reject) => {
        const timer = setTimeout(
          () => endAll(new WorkerFailure('deadline', `no answer within ${Math.round(deadlineMs / 1000)} s`)),
          deadlineMs,
        );
        const send = () => worker!.postMessage({ id, request } satisfies CallMessage<Q>);
        pending.set(id, { send, resolve, reject, onProgress, timer });
        signal?.addEventListener(
          'abort',
          () => {
            if (pending.has(id)) endAll(new WorkerFailure('cancelled', 'cancelled'));
          },
          { once: true },
        );
        if (ready) send();
      });
    },
    dispose: () => endAll(new WorkerFailure('cancelled', 'closed')),
  };
}
