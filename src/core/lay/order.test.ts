import { describe, expect, it } from 'vitest';
import { createRandom } from '../../../tests/support';
import type { Air } from './air';
import { orderStrokes } from './order';

const line = (x0: number, y0: number, x1: number, y1: number, d0 = 1, d1 = 1) => Float64Array.from([x0, y0, d0, x1, y1, d1]);

const HOP = 2,
  GAP = 0.5,
  PLUNGE = 4;
/** A sheet crossed by two axes, the second of which may turn, and by Z. */
const createFlatAir = (turn = 0): Air => ({
  axes: [
    { perS: 60, perS2: 400, turn: 0 },
    { perS: 90, perS2: 300, turn },
  ],
  z: { perS: 40, perS2: 400, turn: 0 },
  hopHeightMm: HOP,
  approachGapMm: GAP,
  plungeMmPerS: PLUNGE,
  placeInto(x, y, out) {
    out.set([x, y, 0]);
  },
});
const FLAT = createFlatAir();

/** From rest to rest by its speed over time: a triangle or a trapezoid. */
const rest = (way: number, v: number, a: number) => {
  const peak = Math.min(v, Math.sqrt(way * a));
  return peak === 0 ? 0 : (2 * peak) / a + (way - (peak * peak) / a) / peak;
};
/** Seconds between two strokes, worked out from the moves of the axes. */
const secondsBetween = (p: ArrayLike<number>, q: ArrayLike<number>, turn = 0): number => {
  if (p[0] === q[0] && p[1] === q[1] && p[2] === q[2]) return 0;
  let dy = Math.abs(p[1]! - q[1]!);
  if (turn) dy = Math.min(dy % turn, turn - (dy % turn));
  const across = Math.max(rest(Math.abs(p[0]! - q[0]!), 60, 400), rest(dy, 90, 300));
  return rest(HOP + p[2]!, 40, 400) + across + rest(HOP - GAP, 40, 400) + (GAP + q[2]!) / PLUNGE;
};
const air = (strokes: readonly Float64Array[], from: [number, number], turn = 0) => {
  let at: ArrayLike<number> = [...from, -HOP];
  let sum = 0;
  for (const s of strokes) {
    sum += secondsBetween(at, s, turn);
    at = s.slice(-3);
  }
  return sum;
};
const turned = (s: Float64Array) => Float64Array.from([s[3]!, s[4]!, s[5]!, s[0]!, s[1]!, s[2]!]);
const key = (s: Float64Array) => [...s].join();

describe('orderStrokes', () => {
  const random = createRandom(7);
  const strokes = Array.from({ length: 8 }, () =>
    line(random() * 50, random() * 50, random() * 50, random() * 50, 2 * random(), 2 * random()),
  );
  /** The quickest of all orders and ends, by trying them. */
  const findBest = (all: Float64Array[], turn = 0) => {
    let best = Infinity;
    const walk = (left: Float64Array[], at: ArrayLike<number>, sum: number) => {
      if (sum >= best) return;
      if (!left.length) best = sum;
      left.forEach((s, k) => {
        const others = left.filter((_, i) => i !== k);
        for (const way of [s, turned(s)]) walk(others, way.slice(-3), sum + secondsBetween(at, way, turn));
      });
    };
    walk(all, [0, 0, -HOP], 0);
    return best;
  };

  it('finds for eight strokes a way at most 5 % longer than the quickest of all orders and directions', () => {
    expect(air(orderStrokes(strokes, true, [0, 0], FLAT), [0, 0])).toBeLessThan(1.05 * findBest(strokes));
  });

  it('goes across the seam where a rotary may turn on', () => {
    const round = [10, 350, 20, 340, 5].map((y, k) => line(k, y, k + 3, y));
    const out = orderStrokes(round, true, [0, 0], createFlatAir(360));
    expect(air(out, [0, 0], 360)).toBeLessThan(1.001 * findBest(round, 360));
    expect(air(out, [0, 0], 360)).toBeLessThan(air(orderStrokes(round, true, [0, 0], FLAT), [0, 0], 360) - 0.1);
  });

  it('goes on where strokes meet, rather than lift', () => {
    // A tree of three strokes from one branching: two can be run as one.
    const tree = [line(0, 0, 5, 5, 0, 1), line(5, 5, 9, 1, 1, 0), line(5, 5, 5, 12, 1, 0)];
    const out = orderStrokes(tree, true, [0, 0], FLAT);
    const joins = out.slice(1).filter((s, k) => secondsBetween(out[k]!.slice(-3), s) === 0);
    expect(joins).toHaveLength(1);
  });

  it('goes in where it is shallow', () => {
    const taper = Array.from({ length: 6 }, (_, k) => line(4 * k, 0, 4 * k, 5, k % 2 ? 0.05 : 2.5, k % 2 ? 2.5 : 0.05));
    expect(orderStrokes(taper, true, [0, 0], FLAT).map((s) => s[2])).toEqual(Array(6).fill(0.05));
  });

  it('turns a whole run of strokes round where that saves the way back', () => {
    // From the left: quickest first would go 0, 1, 2 … and then far back to the one just left of the start.
    const row = [line(-1.5, 0, -1.4, 0), ...Array.from({ length: 6 }, (_, k) => line(1 + 3 * k, 0, 2 + 3 * k, 0))];
    expect(air(orderStrokes(row, true, [0, 0], FLAT), [0, 0])).toBeLessThan(1.000001 * findBest(row));
  });

  it('never turns a stroke round where that is forbidden, and loses none', () => {
    const out = orderStrokes(strokes, false, [0, 0], FLAT);
    expect(out.map(key).sort()).toEqual(strokes.map(key).sort());
  });

  it('keeps every stroke, whole, when it may turn them round', () => {
    const ends = (s: Float64Array) => [key(s), key(turned(s))].sort()[0];
    expect(orderStrokes(strokes, true, [0, 0], FLAT).map(ends).sort()).toEqual(strokes.map(ends).sort());
  });

  it('saves a good part of the time across against going on to the nearest', () => {
    const many = Array.from({ length: 300 }, () => line(random() * 80, random() * 80, random() * 80, random() * 80));
    const nearest: Float64Array[] = [];
    const left = [...many];
    let at: ArrayLike<number> = [0, 0, -HOP];
    while (left.length) {
      left.sort((a, b) => secondsBetween(at, a) - secondsBetween(at, b));
      nearest.push(left.shift()!);
      at = nearest.at(-1)!.slice(-3);
    }
    // What no order saves: up, down and in for each.
    const bare = 300 * (secondsBetween([0, 0, 1], [1e-9, 0, 1]) - rest(1e-9, 60, 400));
    const across = (list: Float64Array[]) => air(list, [0, 0]) - bare;
    expect(across(orderStrokes(many, false, [0, 0], FLAT))).toBeLessThan(0.97 * across(nearest));
    expect(across(orderStrokes(many, true, [0, 0], FLAT))).toBeLessThan(0.75 * across(nearest));
  });

  it('orders ten thousand strokes in seconds, each once, far better than as they came', () => {
    const many = Array.from({ length: 10_000 }, () => {
      const [x, y] = [random() * 300, random() * 300];
      return line(x, y, x + random(), y + random());
    });
    const begun = performance.now();
    const bare = 10_000 * (secondsBetween([0, 0, 1], [1e-9, 0, 1]) - rest(1e-9, 60, 400));
    for (const reversible of [true, false]) {
      const out = orderStrokes(many, reversible, [0, 0], FLAT);
      expect(new Set(out.map((s) => [key(s), key(turned(s))].sort()[0])).size).toBe(10_000);
      expect(air(out, [0, 0]) - bare).toBeLessThan(0.1 * (air(many, [0, 0]) - bare));
    }
    expect(performance.now() - begun).toBeLessThan(20_000);
  });

  it('puts strokes that differ in the twelfth digit in the same order', () => {
    const marks = Array.from({ length: 60 }, (_, k) =>
      line((k % 12) / 3, Math.floor(k / 12) / 7, (k % 12) / 3, Math.floor(k / 12) / 7 + 0.1),
    );
    const other = marks.map((s) => s.map((v) => v * (1 + 3e-15)));
    const order = (list: Float64Array[]) => orderStrokes(list, true, [0, 0], FLAT).map((s) => [...s].map((v) => v.toFixed(6)).join());
    expect(order(other)).toEqual(order(marks));
  });

  it('takes none, and one', () => {
    expect(orderStrokes([], true, [0, 0], FLAT)).toEqual([]);
    expect(orderStrokes([line(5, 0, 1, 0)], true, [0, 0], FLAT).map(key)).toEqual(['1,0,1,5,0,1']);
  });
});
