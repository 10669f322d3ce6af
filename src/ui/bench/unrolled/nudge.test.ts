import { describe, expect, it, vi } from 'vitest';
import { carveJob } from '../../../../tests/support';
import { createSurface } from '../../../core/surface/registry';
import { createBench } from '../../state/benchStore';
import { nudge, toNudge } from './nudge';

const plain = { shift: false, alt: false };

describe('toNudge', () => {
  it.each([
    ['ArrowLeft', plain, [-0.1, 0]],
    ['ArrowRight', { shift: true, alt: false }, [1, 0]],
    ['ArrowUp', { shift: false, alt: true }, [0, 0.01]],
    ['ArrowDown', plain, [0, -0.1]],
    ['a', plain, null],
  ] as const)('%s with %j moves by %j', (key, modifiers, move) => expect(toNudge(key, modifiers)).toEqual(move));
});

describe('nudge', () => {
  const key = (name: string) => ({ key: name, shiftKey: false, altKey: false, preventDefault: vi.fn() });
  it('moves what is selected round by the same arc at any diameter, and leaves other keys alone', () => {
    const job = carveJob('I');
    const bench = createBench(job);
    const surface = createSurface(job.blank);
    const up = key('ArrowUp');
    nudge(up as unknown as React.KeyboardEvent, bench, surface, false);
    expect(bench.document.getState().job.inscriptions[0]!.at).toEqual({ xMm: 40, turnDeg: 0.286479 });
    expect(up.preventDefault).toHaveBeenCalledOnce();
    const other = key('x');
    nudge(other as unknown as React.KeyboardEvent, bench, surface, false);
    expect(other.preventDefault).not.toHaveBeenCalled();
    bench.view.setState({ selection: [] });
    nudge(key('ArrowUp') as unknown as React.KeyboardEvent, bench, surface, false);
    expect(bench.document.getState().job.inscriptions[0]!.at.turnDeg).toBe(0.286479);
  });
});
