/** How a cutter comes down to a level. */
export type Entry = { by: 'plunge' } | { by: 'ramp'; angleDeg: number };

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
  const way = findFirstWay(points);
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

/** What a stroke can come down along, ending where it began: its first ring, or its first piece to and fro. */
function findFirstWay(points: Float64Array): Float64Array {
  for (let i = 6; i < points.length; i += 3) {
    if (points[i] === points[0] && points[i + 1] === points[1]) return points.subarray(0, i + 3);
  }
  const [x, y, d] = points as unknown as [number, number, number];
  return Float64Array.of(x, y, d, points[3]!, points[4]!, points[5]!, x, y, d);
}
