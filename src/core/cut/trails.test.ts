import { describe, expect, it } from 'vitest';
import type { MedialAxis } from '../medial/medialAxis';
import { computeTrails } from './trails';
import type { TrueAxis } from './trueAxis';

/** An axis of straight edges between nodes. */
const axisOf = (nodes: [number, number][], edges: [number, number][]): [MedialAxis, TrueAxis] => {
  const m = {
    x: Float64Array.from(nodes, (n) => n[0]),
    y: Float64Array.from(nodes, (n) => n[1]),
    a: Int32Array.from(edges, (e) => e[0]),
    b: Int32Array.from(edges, (e) => e[1]),
  } as unknown as MedialAxis;
  const edgePoints = edges.map(([a, b]) => Float64Array.from([...nodes[a]!, 1, ...nodes[b]!, 1]));
  return [m, { edgePoints } as unknown as TrueAxis];
};
const ends = (trails: Float64Array[]) => trails.map((t) => [t[0], t[1], t.at(-3), t.at(-2)].map((v) => v!.toFixed(3)).join(' '));

describe('computeTrails', () => {
  it('begins at ends and goes on as straight as it can', () => {
    const [m, axis] = axisOf(
      [
        [0, 0],
        [1, 0],
        [2, 0.1],
        [1, 1],
      ],
      [
        [0, 1],
        [1, 3],
        [1, 2],
      ],
    );
    expect(ends(computeTrails(m, axis))).toEqual(['0.000 0.000 2.000 0.100', '1.000 1.000 1.000 0.000']);
  });

  it('chooses the same of two ways that turn alike, whatever the last digit says', () => {
    const fork = (off: number) =>
      axisOf(
        [
          [0, 0],
          [1, 0],
          [2, 1 + off],
          [2, -1],
        ],
        [
          [0, 1],
          [1, 2],
          [1, 3],
        ],
      );
    const seen = [-2e-15, 0, 2e-15].map((off) => ends(computeTrails(...fork(off))).join());
    expect(new Set(seen).size).toBe(1);
  });

  it('has every edge once, rings too', () => {
    const n = 12;
    const nodes = Array.from({ length: n }, (_, k): [number, number] => [Math.cos(k), Math.sin(k)]);
    const edges = Array.from({ length: n }, (_, k): [number, number] => [k, (k + 1) % n]);
    const trails = computeTrails(...axisOf(nodes, edges));
    expect(trails).toHaveLength(1);
    expect(trails[0]!.length / 3).toBe(n + 1);
  });
});
