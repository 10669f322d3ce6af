import { describe, expect, it } from 'vitest';
import { computeBox3 } from './bounds';

describe('computeBox3', () => {
  it('is the middle and size of all corners; never of no size, and something to look at for nothing', () => {
    expect(computeBox3(Float64Array.from([0, -1, 5, 10, 3, 5]))).toEqual({ middle: [5, 1, 5], size: [10, 4, 0.1] });
    expect(computeBox3(new Float64Array(0))).toEqual({ middle: [0, 0, 0], size: [50, 50, 50] });
  });
});
