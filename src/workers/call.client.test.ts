import { afterEach, describe, expect, it, vi } from 'vitest';
import { createWorkerCaller, type CallMessage } from './call.client';

/** A worker in name: what it is sent can be answered, or not, as a test wants. */
class FakeWorker {
  onmessage: ((e: { data: unknown }) => void) | null = null;
  onerror: ((e: { message: string }) => void) | null = null;
  onmessageerror: (() => void) | null = null;
  sent: CallMessage<string>[] = [];
  ended = false;
  postMessage(m: CallMessage<string>) {
    this.sent.push(m);
  }
  terminate() {
    this.ended = true;
  }
  say(data: unknown) {
    this.onmessage!({ data });
  }
}
function setUp() {
  const workers: FakeWorker[] = [];
  const caller = createWorkerCaller<string, string, number>(() => {
    const w = new FakeWorker();
    workers.push(w);
    return w as unknown as Worker;
  });
  return { workers, caller };
}
const minute = { deadlineMs: 60_000 };
afterEach(() => void vi.useRealTimers());

describe('createWorkerCaller', () => {
  it('waits with its messages until the worker listens (regression: they were lost)', async () => {
    const { workers, caller } = setUp();
    const answer = caller.call('q', minute);
    expect(workers[0]!.sent).toEqual([]);
    workers[0]!.say({ kind: 'ready' });
    workers[0]!.say({ id: workers[0]!.sent[0]!.id, kind: 'answer', answer: 'a' });
    expect(await answer).toBe('a');
  });

  it('matches answers and progress to their calls', async () => {
    const { workers, caller } = setUp();
    const heard: number[] = [];
    const one = caller.call('1', minute),
      two = caller.call('2', { ...minute, onProgress: (p) => void heard.push(p) });
    workers[0]!.say({ kind: 'ready' });
    const [a, b] = workers[0]!.sent;
    workers[0]!.say({ id: b!.id, kind: 'progress', progress: 0.5 });
    workers[0]!.say({ id: b!.id, kind: 'answer', answer: 'second' });
    workers[0]!.say({ id: a!.id, kind: 'answer', answer: 'first' });
    expect([await one, await two, heard]).toEqual(['first', 'second', [0.5]]);
  });

  it('ends the worker on abort, and starts a new one for the next call', async () => {
    const { workers, caller } = setUp();
    const controller = new AbortController();
    const call = caller.call('q', { ...minute, signal: controller.signal });
    controller.abort();
    await expect(call).rejects.toMatchObject({ kind: 'cancelled' });
    expect(workers[0]!.ended).toBe(true);
    void caller.call('again', minute).catch(() => undefined);
    expect(workers).toHaveLength(2);
    caller.dispose();
  });

  it('never hangs: a crash rejects all that is pending', async () => {
    const { workers, caller } = setUp();
    const calls = [caller.call('1', minute), caller.call('2', minute)];
    workers[0]!.onerror!({ message: 'boom' });
    for (const call of calls) await expect(call).rejects.toMatchObject({ kind: 'crashed', message: 'boom' });
  });

  it('gives up at the deadline', async () => {
    vi.useFakeTimers();
    const { caller } = setUp();
    const call = caller.call('q', { deadlineMs: 1000 });
    const failed = expect(call).rejects.toMatchObject({ kind: 'deadline' });
    vi.advanceTimersByTime(1001);
    await failed;
  });

  it('passes on what failed in the worker, and refuses an aborted call at once', async () => {
    const { workers, caller } = setUp();
    const call = caller.call('q', minute);
    workers[0]!.say({ kind: 'ready' });
    workers[0]!.say({ id: workers[0]!.sent[0]!.id, kind: 'failed', text: 'no font' });
    await expect(call).rejects.toMatchObject({ kind: 'failed', message: 'no font' });
    await expect(caller.call('q', { ...minute, signal: AbortSignal.abort() })).rejects.toMatchObject({ kind: 'cancelled' });
    caller.dispose();
  });
});
