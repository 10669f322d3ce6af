import type { ShapeMesh } from './shapeMesh';
import { computeBounds } from './shapeMesh';

/**
 * The place on top of a shape's middle, and the direction up, in the file's own frame: where lettering would first be looked for.
 * O(triangles).
 */
export function findTopPick({ positions: p, triangles: t }: Pick<ShapeMesh, 'positions' | 'triangles'>): {
  pick: [number, number, number];
  normal: [number, number, number];
} {
  const { min, max } = computeBounds({ positions: p });
  const x = (min[0] + max[0]) / 2,
    y = (min[1] + max[1]) / 2;
  let z = -Infinity,
    nearest = Infinity;
  let pick: [number, number, number] = [x, y, max[2]];
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i]!,
      b = 3 * t[i + 1]!,
      c = 3 * t[i + 2]!;
    const ax = p[a]! - x,
      ay = p[a + 1]! - y,
      bx = p[b]! - x,
      by = p[b + 1]! - y,
      cx = p[c]! - x,
      cy = p[c + 1]! - y;
    const ab = ax * by - ay * bx,
      bc = bx * cy - by * cx,
      ca = cx * ay - cy * ax;
    const sum = ab + bc + ca;
    if (sum > 0 && ab >= 0 && bc >= 0 && ca >= 0) {
      const height = (bc * p[a + 2]! + ca * p[b + 2]! + ab * p[c + 2]!) / sum;
      if (height > z) {
        z = height;
        pick = [x, y, height];
      }
    }
    // A ring has nothing in its middle: then the highest corner, nearest to it.
    for (const v of [a, b, c]) {
      const away = Math.hypot(p[v]! - x, p[v + 1]! - y) + 10 * (max[2] - p[v + 2]!);
      if (z === -Infinity && away < nearest) {
        nearest = away;
        pick = [p[v]!, p[v + 1]!, p[v + 2]!];
      }
    }
  }
  return { pick, normal: [0, 0, 1] };
}
