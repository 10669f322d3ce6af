import { describe, expect, it } from 'vitest';
import { rect, ringsOf } from '../../../tests/support';
import { keepDown } from './keepDown';

const line = (x0: number, y0: number, x1: number, y1: number, depth = 1): Float64Array => Float64Array.of(x0, y0, depth, x1, y1, depth);
const links = { ready: ringsOf(rect(-1, -1, 11, 11)), mostMm: 5 };

describe('keepDown', () => {
  it('stays down where the way lies in what is cleared', () => {
    const passes = [line(0, 0, 10, 0), line(10, 3, 0, 3), line(0, 6, 10, 6)];
    const joined = keepDown(passes, 1, links);
    expect(joined).toHaveLength(1);
    expect([...joined[0]!]).toEqual(passes.flatMap((p) => [...p]));
  });

  it('lifts out of it, over what stands in it, to another depth, and where the way is long', () => {
    expect(keepDown([line(0, 0, 10, 0), line(12, 0, 14, 0)], 1, links)).toHaveLength(2);
    // A wall that is left between the two: rings are not within each other.
    const parted = { ...links, ready: ringsOf(rect(-1, -1, 11, 1), rect(-1, 1.2, 11, 11)) };
    expect(keepDown([line(0, 0, 10, 0), line(10, 3, 0, 3)], 1, parted)).toHaveLength(2);
    expect(keepDown([line(0, 0, 10, 0), line(10, 3, 0, 3, 0.8)], 1, links)).toHaveLength(2);
    expect(keepDown([line(0, 0, 10, 0), line(4, 0, 0, 0)], 1, links)).toHaveLength(2);
  });
});
