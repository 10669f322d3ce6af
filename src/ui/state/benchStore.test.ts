import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { carveJob, wordsOf } from '../../../tests/support';
import { createBench, freeId, patchInscription, removeInscription } from './benchStore';

const text = (b: ReturnType<typeof createBench>) => wordsOf(b.document.getState().job).text;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe('createBench', () => {
  it('undoes typing as one step, and separate edits one by one', () => {
    const bench = createBench(carveJob(''));
    for (const t of ['G', 'GU', 'GUL', 'GULL']) bench.edit('words text', patchInscription('words', { text: t }));
    vi.advanceTimersByTime(2000);
    bench.edit('words text', patchInscription('words', { text: 'GULLS' }));
    const { undo, redo } = bench.document.temporal.getState();
    undo();
    expect(text(bench)).toBe('GULL');
    undo();
    expect(text(bench)).toBe('');
    redo();
    redo();
    expect(text(bench)).toBe('GULLS');
  });

  it('undoes a drag as one step however long the hand rests, and two drags as two', () => {
    const bench = createBench(carveJob('A'));
    const at = () => bench.document.getState().job.inscriptions[0]!.at.xMm;
    const start = at();
    const drag = (name: string, by: number) =>
      bench.edit(name, (j) => patchInscription('words', { at: { xMm: j.inscriptions[0]!.at.xMm + by, turnDeg: 0 } })(j));
    drag('move#1', 1);
    vi.advanceTimersByTime(5000);
    drag('move#1', 1);
    drag('move#2', 1);
    expect(at()).toBe(start + 3);
    bench.document.temporal.getState().undo();
    expect(at()).toBe(start + 2);
    bench.document.temporal.getState().undo();
    expect(at()).toBe(start);
  });

  it('refuses an edit that makes no valid job, and says why', () => {
    const bench = createBench(carveJob('A'));
    expect(bench.edit('blank', (j) => ({ ...j, blank: { ...j.blank, diameterMm: -1 } }))).toContain('between 0.5 and 2000');
    expect(bench.document.getState().job).toEqual(carveJob('A'));
    expect(bench.document.temporal.getState().pastStates).toHaveLength(0);
  });

  it('takes an inscription out of the cuts that name it', () => {
    const job = carveJob('A', { carve: { targets: ['words'] } });
    expect(removeInscription('words')(job).cuts[0]!.targets).toEqual([]);
  });

  it('finds a free id', () => expect(freeId([{ id: 'w1' }, { id: 'w3' }], 'w')).toBe('w2'));
});
