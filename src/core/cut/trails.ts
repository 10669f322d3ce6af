import type { MedialAxis } from '../medial/medialAxis';
import type { TrueAxis } from './trueAxis';

/** Ways on whose cosines differ by no more than rounding are alike: the first is taken, on every computer the same. */
const ALIKE = 1e-9;

/**
 * Strings the edges of an axis into few long strokes: begins at ends and odd branchings, goes on as straight as it can.
 * Every edge is in exactly one stroke. O(edges).
 * @returns x, y, depth triples per stroke.
 */
export function computeTrails(m: MedialAxis, axis: TrueAxis): Float64Array[] {
  const incident: number[][] = Array.from({ length: m.x.length }, () => []);
  m.a.forEach((v, k) => {
    incident[v]!.push(k);
    incident[m.b[k]!]!.push(k);
  });
  const used = new Uint8Array(m.a.length);
  const other = (k: number, v: number) => (m.a[k] === v ? m.b[k]! : m.a[k]!);

  /** Direction in which edge k leaves node v. */
  const leaving = (k: number, v: number): [number, number] => {
    const p = axis.edgePoints[k]!;
    const n = p.length;
    const [dx, dy] = m.a[k] === v ? [p[3]! - p[0]!, p[4]! - p[1]!] : [p[n - 6]! - p[n - 3]!, p[n - 5]! - p[n - 2]!];
    const length = Math.hypot(dx, dy) || 1;
    return [dx / length, dy / length];
  };

  const walk = (start: number): Float64Array => {
    const points: number[] = [];
    let v = start;
    let arriving: [number, number] | null = null;
    for (;;) {
      let best = -1;
      let bestTurn = -Infinity;
      for (const k of incident[v]!) {
        if (used[k]) continue;
        const d = leaving(k, v);
        const turn: number = arriving ? d[0] * arriving[0] + d[1] * arriving[1] : 0;
        if (turn > bestTurn + ALIKE) {
          bestTurn = turn;
          best = k;
        }
      }
      if (best < 0) break;
      used[best] = 1;
      const p = axis.edgePoints[best]!;
      const n = p.length / 3;
      const forward = m.a[best] === v;
      for (let i = points.length ? 1 : 0; i < n; i++) {
        const q = 3 * (forward ? i : n - 1 - i);
        points.push(p[q]!, p[q + 1]!, p[q + 2]!);
      }
      v = other(best, v);
      const [dx, dy] = leaving(best, v);
      arriving = [-dx, -dy];
    }
    return Float64Array.from(points);
  };

  const trails: Float64Array[] = [];
  const begin = (v: number) => {
    while (incident[v]!.some((k) => !used[k])) trails.push(walk(v));
  };
  incident.forEach((edges, v) => {
    if (edges.length === 1) begin(v);
  });
  incident.forEach((edges, v) => {
    if (edges.length % 2 === 1) begin(v);
  });
  incident.forEach((_, v) => begin(v));
  return trails;
}
