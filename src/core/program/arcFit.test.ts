import { describe, expect, it } from 'vitest';
import { fitArc } from './arcFit';

const onCircle = (n: number, stepRad: number, radius = 5): [number, number][] =>
  Array.from({ length: n }, (_, k) => [3 + radius * Math.cos(k * stepRad), -2 + radius * Math.sin(k * stepRad)]);
const fit = (points: [number, number][], toleranceMm = 5e-4) => fitArc((k) => points[k]!, 0, points.length - 1, toleranceMm);

describe('fitArc', () => {
  it('finds the circle that points lie on, either way round, and how far', () => {
    const points = onCircle(21, 0.02);
    const arc = fit(points)!;
    expect(arc.last).toBe(20);
    expect(arc.clockwise).toBe(false);
    expect(arc.centre[0]).toBeCloseTo(3, 9);
    expect(arc.centre[1]).toBeCloseTo(-2, 9);
    expect(fit([...points].reverse())!.clockwise).toBe(true);
  });

  it('ends where the way leaves it, to the very point', () => {
    const points = onCircle(30, 0.02);
    for (const last of [3, 4, 9, 17, 28]) {
      const way = points.slice(0, last + 1);
      const [x, y] = way[last]!;
      expect(fit([...way, [x + 1, y], [x + 2, y], [x + 3, y]])!.last).toBe(last);
    }
  });

  it('is none of what is straight, has a corner, or whose pieces stand off it', () => {
    expect(fit([0, 1, 2, 3, 4].map((x) => [x, 2 * x]))).toBeNull();
    expect(
      fit([
        [0, 0],
        [1, 0],
        [1, 1],
        [2, 1],
      ]),
    ).toBeNull();
    // Points on the circle, but pieces whose middles lie 25 µm inside it.
    expect(fit(onCircle(9, 0.2))).toBeNull();
    expect(fit(onCircle(9, 0.2), 0.03)!.last).toBe(8);
    expect(fit(onCircle(3, 0.02))).toBeNull();
  });

  it('turns by no more than five sixths of half a turn at once', () => {
    const arc = fit(onCircle(400, 0.02))!;
    expect(arc.last * 0.02).toBeLessThanOrEqual((5 / 6) * Math.PI + 1e-9);
    expect(arc.last * 0.02).toBeGreaterThan(2.5);
  });
});
