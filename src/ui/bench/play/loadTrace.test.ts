import { describe, expect, it } from 'vitest';
import { findLoadPeaks, toLoadPath } from './loadTrace';

const trace = { timesS: Float64Array.from([0, 1, 2, 8, 9]), values: Float32Array.from([0, 40, 100, 2, 60]) };

describe('load along the program', () => {
  it('names the fullest and the longest empty place', () => {
    expect(findLoadPeaks(trace.timesS, trace.values)).toEqual({ fullest: { timeS: 2, value: 100 }, emptiest: { timeS: 2, seconds: 6 } });
    expect(findLoadPeaks([0, 5], [0, 0])).toBeNull();
  });

  it('draws the highest of every column', () => {
    const path = toLoadPath(
      trace.timesS,
      trace.values,
      (s) => 2 * s,
      (share) => 10 - 10 * share,
    );
    expect(path.startsWith('M0 10.0')).toBe(true);
    expect(path).toContain('L3 0.0');
    expect(path).toContain('L10 9.8');
    expect(path.endsWith('L18 10.0Z')).toBe(true);
  });
});
