import { describe, expect, it } from 'vitest';
import { createRandom } from '../../../tests/support';
import { orderStrokes } from './order';

const line = (x0: number, y0: number, x1: number, y1: number) => Float64Array.from([x0, y0, 1, x1, y1, 1]);
const travel = (strokes: readonly Float64Array[], from: [number, number]) =>
  strokes.reduce<[number, number, number]>(
    ([sum, x, y], s) => [sum + Math.hypot(s[0]! - x, s[1]! - y), s.at(-3)!, s.at(-2)!],
    [0, ...from],
  )[0];
const key = (s: Float64Array) => [...s].join();

describe('orderStrokes', () => {
  const random = createRandom(7);
  const strokes = Array.from({ length: 8 }, () => line(random() * 50, random() * 50, random() * 50, random() * 50));

  it('finds for eight strokes a way at most 5 % longer than the best of all orders and directions', () => {
    let best = Infinity;
    const walk = (left: Float64Array[], x: number, y: number, sum: number) => {
      if (sum >= best) return;
      if (!left.length) best = sum;
      left.forEach((s, k) => {
        const rest = left.filter((_, i) => i !== k);
        walk(rest, s[3]!, s[4]!, sum + Math.hypot(s[0]! - x, s[1]! - y));
        walk(rest, s[0]!, s[1]!, sum + Math.hypot(s[3]! - x, s[4]! - y));
      });
    };
    walk(strokes, 0, 0, 0);
    expect(travel(orderStrokes(strokes, true, [0, 0]), [0, 0])).toBeLessThan(1.05 * best);
  });

  it('turns a whole run of strokes round where that saves the way back', () => {
    // From the left: nearest first would go 0, 1, 2 … and then far back to the one just left of the start.
    const row = [line(-1.5, 0, -1.4, 0), ...Array.from({ length: 6 }, (_, k) => line(1 + 3 * k, 0, 2 + 3 * k, 0))];
    const out = orderStrokes(row, true, [0, 0]);
    expect(travel(out, [0, 0])).toBeCloseTo(1.4 + 2.5 + 5 * 2, 9);
  });

  it('never turns a stroke round where that is forbidden, and loses none', () => {
    const out = orderStrokes(strokes, false, [0, 0]);
    expect(out.map(key).sort()).toEqual(strokes.map(key).sort());
  });

  it('keeps every stroke, whole, when it may turn them round', () => {
    const ends = (s: Float64Array) => [[s[0], s[1]].join(), [s.at(-3), s.at(-2)].join()].sort().join('|');
    expect(orderStrokes(strokes, true, [0, 0]).map(ends).sort()).toEqual(strokes.map(ends).sort());
  });

  it('is shorter than nearest neighbour alone on many strokes', () => {
    const many = Array.from({ length: 300 }, () => line(random() * 80, random() * 80, random() * 80, random() * 80));
    const nearest: Float64Array[] = [];
    const left = [...many];
    let [x, y] = [0, 0];
    while (left.length) {
      left.sort((a, b) => Math.hypot(a[0]! - x, a[1]! - y) - Math.hypot(b[0]! - x, b[1]! - y));
      const s = left.shift()!;
      nearest.push(s);
      [x, y] = [s[3]!, s[4]!];
    }
    expect(travel(orderStrokes(many, false, [0, 0]), [0, 0])).toBeLessThan(0.95 * travel(nearest, [0, 0]));
    expect(travel(orderStrokes(many, true, [0, 0]), [0, 0])).toBeLessThan(0.85 * travel(nearest, [0, 0]));
  });

  it('orders ten thousand strokes in seconds, each once, far better than as they came', () => {
    const many = Array.from({ length: 10_000 }, () => {
      const [x, y] = [random() * 300, random() * 300];
      return line(x, y, x + random(), y + random());
    });
    const begun = performance.now();
    for (const reversible of [true, false]) {
      const out = orderStrokes(many, reversible, [0, 0]);
      expect(new Set(out.map((s) => [key(s), [s[3], s[4], 1, s[0], s[1], 1].join()].sort()[0])).size).toBe(10_000);
      expect(travel(out, [0, 0])).toBeLessThan(0.05 * travel(many, [0, 0]));
    }
    expect(performance.now() - begun).toBeLessThan(20_000);
  });

  it('takes none, and one', () => {
    expect(orderStrokes([], true, [0, 0])).toEqual([]);
    expect(orderStrokes([line(5, 0, 1, 0)], true, [0, 0]).map(key)).toEqual(['1,0,1,5,0,1']);
  });
});
