/** How a cutter comes down to a level. */
export type Entry = { by: 'plunge' } | { by: 'ramp'; angleDeg: number } | { by: 'helix'; angleDeg: number; radiusMm: number };

/** More rounds than this down to a level, and the way is too short to come down on: the cutter plunges. */
const MAX_ROUNDS = 40;
/** A way shorter than this is none, mm. */
const SHORT_MM = 0.02;

/**
 * A stroke that comes down to its depth along itself: round and round its first closed ring, which in a small one is a helix, or to and
 * fro on its first piece; at γ from the level, a length L drops L·tan γ.
 * @param points x, y, depth triples, at their depth where they begin. @param fromMm Depth at which it begins, already cut.
 * @returns The stroke with its way down before it; as it was where the way is too short.
 */
export function enterStroke(points: Float64Array, fromMm: number, entry: Entry): Float64Array {
  const depth = points[2]!;
  const drop = depth - fromMm;
  if (entry.by === 'plunge' || !(drop > 0) || points.length < 6) return points;
  const way = (entry.by === 'helix' && findHelix(points, entry.radiusMm)) || findFirstWay(points);
  let length = 0;
  const at: number[] = [0];
  for (let i = 3; i < way.length; i += 3) at.push((length += Math.hypot(way[i]! - way[i - 3]!, way[i + 1]! - way[i - 2]!)));
  const rounds = Math.ceil(drop / Math.tan((entry.angleDeg * Math.PI) / 180) / length);
  if (length < SHORT_MM || rounds > MAX_ROUNDS) return points;
  const down: number[] = [];
  for (let r = 0; r < rounds; r++) {
    for (let i = 0; i < at.length; i++) {
      if (r > 0 && i === 0) continue;
      // Never deeper than the stroke itself is there: over a tab it stays over it.
      const deep = fromMm + (drop * (r + at[i]! / length)) / rounds;
      down.push(way[3 * i]!, way[3 * i + 1]!, Math.min(deep, way[3 * i + 2]!));
    }
  }
  const out = new Float64Array(down.length + points.length - 3);
  out.set(down);
  out.set(points.subarray(3), down.length);
  return out;
}

/** Corners of a helix' circle, radii that are tried, and the least that is worth it, mm. */
const HELIX_CORNERS = 48;
const HELIX_TRIES = 32;
const LEAST_HELIX_MM = 0.05;
/** What the circle's own corners stand out by, and rounding, as a share of its radius. */
const HELIX_SHARE = 0.999;

/**
 * A circle inside a stroke's first ring, at the inner side of where the stroke begins, as large as fits: what the ring encloses is the
 * cut's own. With the way to it and back. Null where the stroke begins with no ring or there is no room. O(tries · points of the ring).
 */
function findHelix(points: Float64Array, mostMm: number): Float64Array | null {
  const ring = findFirstWay(points);
  const n = ring.length / 3;
  if (n < 4 || ring[ring.length - 3] !== ring[0] || ring[ring.length - 2] !== ring[1]) return null;
  const [x, y, depth] = ring as unknown as [number, number, number];
  let area = 0;
  for (let i = 3; i < ring.length; i += 3) area += ring[i - 3]! * ring[i + 1]! - ring[i]! * ring[i - 2]!;
  const turn = area > 0 ? 1 : -1;
  const unit = (dx: number, dy: number): [number, number] => {
    const l = Math.hypot(dx, dy) || 1;
    return [dx / l, dy / l];
  };
  // Inward between the first piece and the last, as the ring turns there.
  const [ax, ay] = unit(ring[3]! - x, ring[4]! - y),
    [bx, by] = unit(x - ring[ring.length - 6]!, y - ring[ring.length - 5]!);
  const [tx, ty] = unit(ax + bx, ay + by);
  const [nx, ny] = [-turn * ty, turn * tx];
  let [radius, off] = [0, 0];
  for (let k = 1; k <= HELIX_TRIES; k++) {
    const own = (mostMm * k) / HELIX_TRIES;
    const room = Math.min(own, measureToRing(ring, x + own * nx, y + own * ny));
    if (room > radius) [radius, off] = [room, own];
  }
  radius *= HELIX_SHARE;
  if (radius < LEAST_HELIX_MM) return null;
  const [cx, cy] = [x + off * nx, y + off * ny];
  const out: number[] = [x, y, depth];
  for (let k = 0; k <= HELIX_CORNERS; k++) {
    const a = (turn * 2 * Math.PI * (k % HELIX_CORNERS)) / HELIX_CORNERS;
    // From −n about the middle, the way the ring goes.
    const [c, s] = [Math.cos(a), Math.sin(a)];
    out.push(cx + radius * (-nx * c + ny * s), cy + radius * (-nx * s - ny * c), depth);
  }
  out.push(x, y, depth);
  return Float64Array.from(out);
}

/** Distance from a place to a ring of x, y, depth triples, mm. */
function measureToRing(ring: Float64Array, x: number, y: number): number {
  let least = Infinity;
  for (let i = 3; i < ring.length; i += 3) {
    const [px, py, dx, dy] = [ring[i - 3]! - x, ring[i - 2]! - y, ring[i]! - ring[i - 3]!, ring[i + 1]! - ring[i - 2]!];
    const square = dx * dx + dy * dy;
    const t = square > 0 ? Math.min(1, Math.max(0, -(px * dx + py * dy) / square)) : 0;
    least = Math.min(least, Math.hypot(px + t * dx, py + t * dy));
  }
  return least;
}

/** What a stroke can come down along, ending where it began: its first ring, or its first piece to and fro. */
function findFirstWay(points: Float64Array): Float64Array {
  for (let i = 6; i < points.length; i += 3) {
    if (points[i] === points[0] && points[i + 1] === points[1]) return points.subarray(0, i + 3);
  }
  const [x, y, d] = points as unknown as [number, number, number];
  return Float64Array.of(x, y, d, points[3]!, points[4]!, points[5]!, x, y, d);
}
