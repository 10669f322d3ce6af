import { describe, expect, it } from 'vitest';
import { createRandom } from '../../../tests/support';
import { clipToLevel, computeStrokeLength, getDeepest, reverseStroke, shiftToLevel, simplifyStroke } from './stroke';

const groove = Float64Array.from([0, 0, 0, 4, 0, 1, 6, 0, 1, 10, 0, 0]);

describe('shiftToLevel', () => {
  it('raises the whole stroke, and runs what is then below the surface', () => {
    expect(shiftToLevel(groove, 0, 0.5).map((s) => [...s])).toEqual([[2, 0, 0, 4, 0, 0.5, 6, 0, 0.5, 8, 0, 0]]);
    expect(shiftToLevel(groove, 0, 0).map((s) => [...s])).toEqual([[...groove]]);
  });
  it('leaves out what lies above where it begins', () => {
    expect(shiftToLevel(groove, 0.25, 0.5).map((s) => [...s])).toEqual([[3, 0, 0.25, 4, 0, 0.5, 6, 0, 0.5, 7, 0, 0.25]]);
  });
});

describe('clipToLevel', () => {
  it('keeps the run-out on the first level and cuts at the level', () => {
    const [only, ...rest] = clipToLevel(groove, 0, 0.5);
    expect(rest).toEqual([]);
    expect([...only!]).toEqual([0, 0, 0, 2, 0, 0.5, 4, 0, 0.5, 6, 0, 0.5, 8, 0, 0.5, 10, 0, 0]);
  });

  it('cuts a deeper level only where it is deeper than the one above', () => {
    const [only] = clipToLevel(groove, 0.5, 1);
    expect([...only!]).toEqual([2, 0, 0.5, 4, 0, 1, 6, 0, 1, 8, 0, 0.5]);
  });

  it('parts a stroke that comes up in between, and finds nothing below its depth', () => {
    const wave = Float64Array.from([0, 0, 0.2, 1, 0, 1, 2, 0, 0.2, 3, 0, 1, 4, 0, 0.2]);
    expect(clipToLevel(wave, 0.5, 1)).toHaveLength(2);
    expect(clipToLevel(wave, 1, 2)).toEqual([]);
  });

  it('levels together cut exactly the whole groove: the deepest at each place is the stroke', () => {
    const random = createRandom(3);
    const pts: number[] = [];
    for (let i = 0; i < 40; i++) pts.push(i, 0, random());
    const stroke = Float64Array.from(pts);
    const parts = [0.25, 0.5, 0.75, 1].flatMap((z, k, all) => clipToLevel(stroke, k ? all[k - 1]! : 0, z));
    const depthAt = (p: Float64Array, x: number) => {
      for (let i = 3; i < p.length; i += 3) {
        if (x >= p[i - 3]! && x <= p[i]!) return p[i - 1]! + ((x - p[i - 3]!) / (p[i]! - p[i - 3]! || 1)) * (p[i + 2]! - p[i - 1]!);
      }
      return 0;
    };
    for (let x = 0; x < 39; x += 0.07) expect(Math.max(...parts.map((p) => depthAt(p, x)))).toBeCloseTo(depthAt(stroke, x), 9);
  });
});

describe('simplifyStroke', () => {
  it('drops what lies on the straight run and keeps what leaves it, in depth too', () => {
    expect([...simplifyStroke(Float64Array.from([0, 0, 0, 1, 0, 0.1, 2, 0, 0.2]), 1e-4)]).toEqual([0, 0, 0, 2, 0, 0.2]);
    expect(simplifyStroke(Float64Array.from([0, 0, 0, 1, 0, 0.2, 2, 0, 0.2]), 1e-4)).toHaveLength(9);
  });
  it('keeps a closed run apart from its own ends', () => {
    expect(simplifyStroke(Float64Array.from([0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 0, 1]), 1e-4)).toHaveLength(12);
  });
});

it('measures, deepens and turns round', () => {
  expect(computeStrokeLength([0, 0, 0, 3, 4, 0, 3, 4, 2])).toBe(7);
  expect(getDeepest(groove)).toBe(1);
  expect([...reverseStroke(Float64Array.from([1, 2, 3, 4, 5, 6]))]).toEqual([4, 5, 6, 1, 2, 3]);
});
