import type { AnswerMessage, CallMessage } from './call.client';

/** The worker's side of a call: answers, failures and progress all carry the call's id. */
export function serve<Q, A, P>(
  handler: (request: Q, onProgress: (progress: P) => void) => Promise<{ answer: A; transfer?: Transferable[] }>,
): void {
  const scope = self as unknown as {
    onmessage: ((e: MessageEvent<CallMessage<Q>>) => void) | null;
    postMessage(m: AnswerMessage<A, P>, t?: Transferable[]): void;
  };
  scope.onmessage = async ({ data: { id, request } }) => {
    try {
      const { answer, transfer } = await handler(request, (progress) => scope.postMessage({ id, kind: 'progress', progress }));
      scope.postMessage({ id, kind: 'answer', answer }, transfer ?? []);
    } catch (error) {
      scope.postMessage({ id, kind: 'failed', text: (error as Error).message });
    }
  };
  scope.postMessage({ kind: 'ready' });
}
