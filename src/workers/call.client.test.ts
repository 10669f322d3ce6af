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
function setUp(graceMs = 0) {
  const workers: FakeWorker[] = [];
  const caller = createWorkerCaller<string, string, number>(() => {
    const w = new FakeWorker();
    workers.push(w);
    return w as unknown as Worker;
  }, graceMs);
  return { workers, caller };
}
const minute = { deadlineMs: 60_000 };
afterEach(() => void vi.useRealTimers());

describe('createWorkerCaller', () => {
  it('is started ahead once, and asked the same worker then', async () => {
    const { workers, caller } = setUp();
    caller.warm();
    caller.warm();
    workers[0]!.say({ kind: 'ready' });
    const answer = caller.call('q', minute);
    expect(workers).toHaveLength(1);
    workers[0]!.say({ id: workers[0]!.sent[0]!.id, kind: 'answer', answer: 'a' });
    expect(await answer).toBe('a');
  });

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

  it('ends a worker that cannot hear on abort, and has a new one do what else is wanted', async () => {
    const { workers, caller } = setUp();
    const controller = new AbortController();
    const call = caller.call('q', { ...minute, signal: controller.signal });
    const other = caller.call('other', minute);
    workers[0]!.say({ kind: 'ready' });
    controller.abort();
    await expect(call).rejects.toMatchObject({ kind: 'cancelled' });
    expect(workers[0]!.ended).toBe(true);
    workers[1]!.say({ kind: 'ready' });
    expect(workers[1]!.sent).toMatchObject([{ request: 'other' }]);
    workers[1]!.say({ id: workers[1]!.sent[0]!.id, kind: 'answer', answer: 'a' });
    expect(await other).toBe('a');
  });

  it('tells a worker that can hear to leave the call, and goes on with it', async () => {
    vi.useFakeTimers();
    const { workers, caller } = setUp(1000);
    const controller = new AbortController();
    const call = caller.call('q', { ...minute, signal: controller.signal });
    workers[0]!.say({ kind: 'ready' });
    controller.abort();
    await expect(call).rejects.toMatchObject({ kind: 'cancelled' });
    const next = caller.call('next', minute);
    expect(workers[0]!.sent).toMatchObject([{ request: 'q' }, { cancel: true }, { request: 'next' }]);
    workers[0]!.say({ id: workers[0]!.sent[0]!.id, kind: 'cancelled' });
    vi.advanceTimersByTime(5000);
    expect(workers[0]!.ended).toBe(false);
    workers[0]!.say({ id: workers[0]!.sent[2]!.id, kind: 'answer', answer: 'a' });
    expect(await next).toBe('a');
    expect(workers).toHaveLength(1);
  });

  it('ends a worker that does not leave the call in time, and asks a new one again', async () => {
    vi.useFakeTimers();
    const { workers, caller } = setUp(1000);
    const controller = new AbortController();
    const call = caller.call('q', { ...minute, signal: controller.signal });
    workers[0]!.say({ kind: 'ready' });
    controller.abort();
    await expect(call).rejects.toMatchObject({ kind: 'cancelled' });
    const next = caller.call('next', minute);
    vi.advanceTimersByTime(1001);
    expect(workers[0]!.ended).toBe(true);
    workers[1]!.say({ kind: 'ready' });
    expect(workers[1]!.sent).toMatchObject([{ request: 'next' }]);
    workers[1]!.say({ id: workers[1]!.sent[0]!.id, kind: 'answer', answer: 'a' });
    expect(await next).toBe('a');
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
