import { describe, expect, it } from 'vitest';
import { findLoadPeaks, toLoadPath } from './loadTrace';

const trace = { timesS: Float64Array.from([0, 1, 2, 8, 9]), mm3PerMin: Float32Array.from([0, 40, 100, 2, 60]) };

describe('load along the program', () => {
  it('names the fullest and the longest empty place', () => {
    expect(findLoadPeaks(trace)).toEqual({ fullest: { timeS: 2, mm3PerMin: 100 }, emptiest: { timeS: 2, seconds: 6 } });
    expect(findLoadPeaks({ timesS: Float64Array.from([0, 5]), mm3PerMin: new Float32Array(2) })).toBeNull();
  });

  it('draws the highest of every column', () => {
    const path = toLoadPath(
      trace,
      (s) => 2 * s,
      (share) => 10 - 10 * share,
    );
    expect(path.startsWith('M0 10.0')).toBe(true);
    expect(path).toContain('L3 0.0');
    expect(path).toContain('L10 9.8');
    expect(path.endsWith('L18 10.0Z')).toBe(true);
  });
});
