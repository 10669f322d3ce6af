import { describe, expect, it } from 'vitest';
import type { PlanView } from '../../workers/planning.client';
import { findAtTime } from '../../core/machine/time';
import { computeToolPlace } from './playhead';

const blocks = {
  count: 3,
  sheet: Float64Array.from([0, 0, -2, 0, 0, 1, 10, 4, 1]),
  move: Uint32Array.from([0, 1, 2]),
  timesS: Float64Array.from([0, 2, 6]),
  values: new Float64Array(12),
};
const plan = { blocks } as unknown as PlanView;

it('findAtTime: the first block that ends at or after the time', () => {
  expect([-1, 0, 0.1, 2, 2.1, 6, 99].map((t) => findAtTime(blocks.timesS, t))).toEqual([0, 0, 1, 1, 2, 2, 2]);
});

describe('computeToolPlace', () => {
  it('runs evenly along a block', () => expect(computeToolPlace(plan, 4)).toEqual({ x: 5, y: 2, depth: 1, block: 2 }));
  it('stays at the ends', () => {
    expect(computeToolPlace(plan, -5)).toMatchObject({ x: 0, depth: -2 });
    expect(computeToolPlace(plan, 50)).toMatchObject({ x: 10, y: 4 });
  });
  it('is nowhere without blocks', () => expect(computeToolPlace({ blocks: { ...blocks, count: 0 } } as unknown as PlanView, 1)).toBeNull());
});
