import type { Surface } from '../surface/surface';

/** Places of the skin that stand for the whole blank, along and across. */
const ALONG = 96;
const ACROSS = 48;

/** Points of a blank's skin, packed, and how far beyond them it may reach between two, mm. */
export interface Hull {
  points: Float64Array;
  slackMm: number;
}

/** Points all over a blank's skin. O(points). */
export function createHull(surface: Surface): Hull {
  const { domain, round } = surface;
  if (surface.points) return { points: surface.points, slackMm: surface.chordMm ?? 0 };
  const [dx, dy] = [(domain.maxX - domain.minX) / ALONG, (domain.maxY - domain.minY) / ACROSS];
  const points = new Float64Array(3 * (ALONG + 1) * (ACROSS + 1));
  const at = new Float64Array(3),
    curvature = new Float64Array(2);
  let k = 0,
    slackMm = 0;
  for (let i = 0; i <= ALONG; i++) {
    for (let j = 0; j <= ACROSS; j++) {
      const [x, y] = [domain.minX + i * dx, domain.minY + j * dy];
      surface.pointInto(x, y, at);
      points.set(at, k);
      k += 3;
      surface.curvatureInto(x, y, curvature);
      // The sagitta over one step; a round blank's own rims are at most so far out as its top.
      const step = Math.hypot(dx, round ? Math.min(dy, surface.topMm) : dy) / 2;
      const bend = Math.max(0, Math.min(curvature[0]!, 1 / Math.max(1, step)));
      slackMm = Math.max(slackMm, (bend * step * step) / 2);
    }
  }
  return { points, slackMm };
}

/** How far a blank reaches from a point at the most, mm: the radius in which it swings. */
export function computeSwing(surface: Surface, centre: readonly [number, number, number]): number {
  const { points, slackMm } = createHull(surface);
  let square = 0;
  for (let k = 0; k < points.length; k += 3) {
    const [dx, dy, dz] = [points[k]! - centre[0], points[k + 1]! - centre[1], points[k + 2]! - centre[2]];
    square = Math.max(square, dx * dx + dy * dy + dz * dz);
  }
  return Math.sqrt(square) + slackMm;
}

/** How far a blank reaches from a point in a direction, mm. */
export function computeReach({ points, slackMm }: Hull, centre: readonly [number, number, number], towards: ArrayLike<number>): number {
  const [ax, ay, az] = [towards[0]!, towards[1]!, towards[2]!];
  let most = -Infinity;
  for (let k = 0; k < points.length; k += 3) {
    const reach = (points[k]! - centre[0]) * ax + (points[k + 1]! - centre[1]) * ay + (points[k + 2]! - centre[2]) * az;
    if (reach > most) most = reach;
  }
  return most + slackMm;
}
