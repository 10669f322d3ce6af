import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { flattenCubic, flattenPath, flattenQuadratic, MAX_CHORDS } from './flatten';

const coordinate = fc.double({ min: -1000, max: 1000, noNaN: true });

/** Largest distance of the curve from its chords, by close sampling. */
function deviation(curve: (t: number) => [number, number], xy: number[]): number {
  let worst = 0;
  for (let k = 0; k <= 400; k++) {
    const [x, y] = curve(k / 400);
    let best = Infinity;
    for (let i = 0; i + 3 < xy.length; i += 2) {
      const dx = xy[i + 2]! - xy[i]!,
        dy = xy[i + 3]! - xy[i + 1]!;
      const l = dx * dx + dy * dy;
      const t = l > 0 ? Math.min(1, Math.max(0, ((x - xy[i]!) * dx + (y - xy[i + 1]!) * dy) / l)) : 0;
      best = Math.min(best, Math.hypot(x - xy[i]! - t * dx, y - xy[i + 1]! - t * dy));
    }
    worst = Math.max(worst, best);
  }
  return worst;
}

describe('flattening of Beziers', () => {
  it('has an end whatever the size (regression: one coordinate of 1e18 filled the memory)', () => {
    for (const far of [1e18, 1e300, Infinity, NaN])
      for (const tolerance of [0.5, 1e-303]) {
        const xy = [0, 0];
        flattenCubic(xy, [0, 0, far, 1, 2, -far, 3, 3], tolerance);
        flattenQuadratic(xy, [0, 0, far, 1, 2, 2], tolerance);
        expect(xy.length).toBeLessThanOrEqual(2 + 4 * MAX_CHORDS);
        expect(xy.slice(-2)).toEqual([2, 2]);
      }
  });

  it('keeps cubics within the tolerance', () => {
    fc.assert(
      fc.property(fc.tuple(...Array.from({ length: 8 }, () => coordinate)), fc.constantFrom(0.5, 2), (p, tol) => {
        const xy = [p[0]!, p[1]!];
        flattenCubic(xy, p, tol);
        const curve = (t: number): [number, number] => {
          const s = 1 - t,
            w = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
          return [w.reduce((sum, v, i) => sum + v * p[2 * i]!, 0), w.reduce((sum, v, i) => sum + v * p[2 * i + 1]!, 0)];
        };
        expect(deviation(curve, xy)).toBeLessThanOrEqual(tol * (1 + 1e-9));
      }),
      { seed: 2, numRuns: 60 },
    );
  });

  it('keeps quadratics within the tolerance', () => {
    fc.assert(
      fc.property(fc.tuple(...Array.from({ length: 6 }, () => coordinate)), (p) => {
        const xy = [p[0]!, p[1]!];
        flattenQuadratic(xy, p, 1);
        const curve = (t: number): [number, number] => {
          const s = 1 - t;
          return [s * s * p[0]! + 2 * s * t * p[2]! + t * t * p[4]!, s * s * p[1]! + 2 * s * t * p[3]! + t * t * p[5]!];
        };
        expect(deviation(curve, xy)).toBeLessThanOrEqual(1 + 1e-9);
      }),
      { seed: 2, numRuns: 60 },
    );
  });

  it('needs one chord for a straight curve', () => {
    const xy = [0, 0];
    flattenCubic(xy, [0, 0, 1, 0, 2, 0, 3, 0], 0.001);
    expect(xy).toEqual([0, 0, 3, 0]);
  });
});

describe('flattenPath', () => {
  it('closes outlines without repeating the first point, and leaves strokes open', () => {
    const square = [
      { type: 'M', values: [0, 0] },
      { type: 'L', values: [1, 0] },
      { type: 'L', values: [1, 1] },
      { type: 'L', values: [0, 0] },
      { type: 'Z', values: [] },
    ] as const;
    expect(flattenPath(square, 0.1, true)).toEqual([[0, 0, 1, 0, 1, 1]]);
    expect(flattenPath(square.slice(0, 3), 0.1, false)).toEqual([[0, 0, 1, 0, 1, 1]]);
  });
  it('drops repeated points, lone points and empty paths', () => {
    expect(flattenPath([], 0.1, true)).toEqual([]);
    expect(flattenPath([{ type: 'M', values: [3, 3] }], 0.1, false)).toEqual([]);
    expect(
      flattenPath(
        [
          { type: 'M', values: [0, 0] },
          { type: 'L', values: [0, 0] },
          { type: 'L', values: [2, 0] },
        ],
        0.1,
        false,
      ),
    ).toEqual([[0, 0, 2, 0]]);
  });
});
