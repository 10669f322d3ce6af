import { describe, expect, it } from 'vitest';
import { MOVE } from '../../../core/lay/laidPaths';
import { findRunSpans, findStep, findStepEnds } from './playSteps';

// Two cuts; the first has two levels of a stroke each.
const kinds = [MOVE.start, MOVE.plunge, MOVE.cut, MOVE.retract, MOVE.plunge, MOVE.cut, MOVE.retract, MOVE.plunge, MOVE.cut, MOVE.park];
const plan = {
  blocks: { count: 10, move: Uint32Array.from(kinds.keys()), timesS: Float64Array.from([0, 1, 4, 5, 6, 9, 10, 11, 14, 15]) },
  laid: {
    kind: Uint8Array.from(kinds),
    run: Uint16Array.from([0, 0, 0, 0, 0, 0, 0, 1, 1, 1]),
    level: Uint16Array.from([0, 0, 0, 0, 1, 1, 1, 0, 0, 0]),
  },
  timeS: 15,
} as never;

describe('steps of the play', () => {
  it('ends strokes where the tool leaves the work, levels and cuts where the next begins', () => {
    expect(findStepEnds(plan, 'stroke')).toEqual([4, 9, 14, 15]);
    expect(findStepEnds(plan, 'level')).toEqual([5, 10, 15]);
    expect(findStepEnds(plan, 'cut')).toEqual([10, 15]);
    expect(findStepEnds(plan, 'block')).toEqual([1, 4, 5, 6, 9, 10, 11, 14, 15]);
  });

  it('steps on and back, and stays at the ends', () => {
    const ends = [4, 9, 15];
    expect([0, 4, 5, 15, 99].map((t) => findStep(ends, t, false))).toEqual([4, 9, 9, 15, 15]);
    expect([0, 4, 5, 9, 15].map((t) => findStep(ends, t, true))).toEqual([0, 0, 4, 4, 9]);
  });

  it('knows when each cut runs', () => {
    expect(findRunSpans(plan)).toEqual([
      { run: 0, fromS: 0, toS: 10 },
      { run: 1, fromS: 10, toS: 15 },
    ]);
  });
});
