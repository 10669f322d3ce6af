/** Messages of one call to a worker: what is asked, or that it is no longer wanted. */
export type CallMessage<Q> = { id: number; request: Q } | { id: number; cancel: true };
export type AnswerMessage<A, P> =
  /** The worker's script has run and it listens: what is posted earlier would be lost. */
  | { kind: 'ready' }
  | { id: number; kind: 'progress'; progress: P }
  | { id: number; kind: 'answer'; answer: A }
  | { id: number; kind: 'cancelled' }
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
  /** Asks the worker. An abort rejects at once; a deadline or a crash ends the worker, and a new one is started. */
  call(request: Q, options: { signal?: AbortSignal; deadlineMs: number; onProgress?(progress: P): void }): Promise<A>;
  /** Starts the worker ahead of its first call, so that this does not wait for its code. */
  warm(): void;
  dispose(): void;
}

/**
 * Calls a worker. One that hears messages between its steps is told when a call is no longer wanted and keeps what it has; one that
 * does not stop in time is ended, as is one that never hears messages. Nothing ever waits for a dead worker: its end rejects
 * all that is pending.
 * @param graceMs How long an aborted call may go on in the worker before the worker is ended; 0 for one that cannot hear.
 */
export function createWorkerCaller<Q, A, P>(start: () => Worker, graceMs = 0): WorkerCaller<Q, A, P> {
  let worker: Worker | null = null;
  let ready = false;
  let nextId = 1;
  const pending = new Map<number, Pending<A, P>>();
  /** Calls that were aborted and not yet left by the worker, with the timer that ends it. */
  const leaving = new Map<number, ReturnType<typeof setTimeout>>();

  const end = () => {
    worker?.terminate();
    worker = null;
    ready = false;
    for (const timer of leaving.values()) clearTimeout(timer);
    leaving.clear();
  };
  const endAll = (failure: WorkerFailure) => {
    end();
    for (const [id, call] of pending) {
      clearTimeout(call.timer);
      pending.delete(id);
      call.reject(failure);
    }
  };
  const hear = (message: AnswerMessage<A, P>) => {
    if (message.kind === 'ready') {
      ready = true;
      for (const waiting of pending.values()) waiting.send();
      return;
    }
    if (message.kind !== 'progress') {
      clearTimeout(leaving.get(message.id));
      leaving.delete(message.id);
    }
    const call = pending.get(message.id);
    if (!call || message.kind === 'cancelled') return;
    if (message.kind === 'progress') {
      call.onProgress?.(message.progress);
      return;
    }
    clearTimeout(call.timer);
    pending.delete(message.id);
    if (message.kind === 'answer') call.resolve(message.answer);
    else call.reject(new WorkerFailure('failed', message.text));
  };
  const spawn = (): Worker => {
    const made = start();
    made.onmessage = (event: MessageEvent<AnswerMessage<A, P>>) => hear(event.data);
    made.onerror = (event) => endAll(new WorkerFailure('crashed', event.message || 'the worker could not start'));
    made.onmessageerror = () => endAll(new WorkerFailure('crashed', 'a message could not be read'));
    return made;
  };
  /** The worker did not leave an aborted call: a new one takes over what is still wanted. */
  const restart = () => {
    end();
    if (pending.size > 0) worker = spawn();
  };
  const abort = (id: number) => {
    const call = pending.get(id);
    if (!call) return;
    clearTimeout(call.timer);
    pending.delete(id);
    call.reject(new WorkerFailure('cancelled', 'cancelled'));
    if (!ready) return;
    if (graceMs === 0) return restart();
    worker!.postMessage({ id, cancel: true } satisfies CallMessage<Q>);
    leaving.set(id, setTimeout(restart, graceMs));
  };
  return {
    call(request, { signal, deadlineMs, onProgress }) {
      if (signal?.aborted) return Promise.reject(new WorkerFailure('cancelled', 'cancelled'));
      worker ??= spawn();
      const id = nextId++;
      return new Promise<A>((resolve, reject) => {
        const late = new WorkerFailure('deadline', `no answer within ${Math.round(deadlineMs / 1000)} s`);
        const timer = setTimeout(() => endAll(late), deadlineMs);
        const send = () => worker!.postMessage({ id, request } satisfies CallMessage<Q>);
        pending.set(id, { send, resolve, reject, onProgress, timer });
        signal?.addEventListener('abort', () => abort(id), { once: true });
        if (ready) send();
      });
    },
    warm: () => void (worker ??= spawn()),
    dispose: () => endAll(new WorkerFailure('cancelled', 'closed')),
  };
}
