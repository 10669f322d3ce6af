import Flatbush from 'flatbush';
import { computeStrokeLength } from './stroke';

/** A leg that ends this near to another stroke, in place and depth, hangs on it, mm. */
const HANGS_MM = 0.001;

interface Leg {
  stroke: number;
  /** Whether the end that hangs is its last point. */
  byLast: boolean;
  /** Share of the way along the host's piece. */
  share: number;
}

/**
 * Short strokes that hang on others are run out and back from them instead of apart: a serif's leg costs its length once more, where a
 * lift, a crossing and a plunge cost more. The groove is the same.
 * @param strokes x, y, depth triples that may be run from either end; not mutated.
 * @param longestMm Legs no longer than this are run so.
 * @returns Strokes with their legs in them. O(n log n) in points.
 */
export function joinLegs(strokes: readonly Float64Array[], longestMm: number): Float64Array[] {
  const lengths = strokes.map(computeStrokeLength);
  const order = lengths.map((_, k) => k).filter((k) => lengths[k]! <= longestMm && strokes[k]!.length >= 6);
  if (order.length === 0 || strokes.length < 2) return [...strokes];
  order.sort((a, b) => lengths[a]! - lengths[b]!);
  const pieces = createPieces(strokes);
  // Who hangs on whom, by union, so that no ring of legs hangs on itself.
  const root = strokes.map((_, k) => k);
  const rootOf = (k: number): number => {
    while (root[k] !== k) k = root[k] = root[root[k]!]!;
    return k;
  };
  const legs = new Map<number, Map<number, Leg[]>>();
  const hung = new Set<number>();
  for (const k of order) {
    if (rootOf(k) !== k) continue;
    const s = strokes[k]!;
    for (const byLast of [false, true]) {
      const at = byLast ? s.length - 3 : 0;
      const host = pieces.find(s[at]!, s[at + 1]!, s[at + 2]!, (other) => rootOf(other) !== k);
      if (!host) continue;
      root[k] = rootOf(host.stroke);
      hung.add(k);
      let own = legs.get(host.stroke);
      if (!own) legs.set(host.stroke, (own = new Map()));
      own.set(host.piece, [...(own.get(host.piece) ?? []), { stroke: k, byLast, share: host.share }]);
      break;
    }
  }
  if (hung.size === 0) return [...strokes];
  const out: Float64Array[] = [];
  for (let k = 0; k < strokes.length; k++) {
    if (hung.has(k)) continue;
    const points: number[] = [];
    runInto(k, false, strokes, legs, points);
    out.push(Float64Array.from(points));
  }
  return out;
}

/** A stroke with its legs run out and back, from its first point or its last. */
function runInto(
  k: number,
  fromLast: boolean,
  strokes: readonly Float64Array[],
  legs: Map<number, Map<number, Leg[]>>,
  out: number[],
): void {
  const s = strokes[k]!;
  const n = s.length / 3;
  const own = legs.get(k);
  const add = (x: number, y: number, d: number): void => {
    const at = out.length;
    if (at && out[at - 3] === x && out[at - 2] === y && out[at - 1] === d) return;
    out.push(x, y, d);
  };
  for (let i = 0; i < n; i++) {
    const j = fromLast ? n - 1 - i : i;
    add(s[3 * j]!, s[3 * j + 1]!, s[3 * j + 2]!);
    if (i + 1 === n) break;
    const piece = fromLast ? j - 1 : j;
    const hanging = own?.get(piece);
    if (!hanging) continue;
    for (const leg of [...hanging].sort((a, b) => (fromLast ? b.share - a.share : a.share - b.share))) {
      const there: number[] = [];
      runInto(leg.stroke, leg.byLast, strokes, legs, there);
      for (let p = 0; p < there.length; p += 3) add(there[p]!, there[p + 1]!, there[p + 2]!);
      // Back the plain way, its own legs done.
      const l = strokes[leg.stroke]!;
      const m = l.length / 3;
      for (let p = 1; p < m; p++) {
        const q = leg.byLast ? p : m - 1 - p;
        add(l[3 * q]!, l[3 * q + 1]!, l[3 * q + 2]!);
      }
    }
  }
}

/** All pieces of strokes, to be asked which of them passes through a place at a depth. */
function createPieces(strokes: readonly Float64Array[]) {
  const owner: number[] = [],
    first: number[] = [];
  strokes.forEach((s, k) => {
    for (let i = 0; i + 3 < s.length; i += 3) {
      owner.push(k);
      first.push(i);
    }
  });
  const index = new Flatbush(Math.max(1, owner.length));
  owner.forEach((k, e) => {
    const s = strokes[k]!,
      i = first[e]!;
    index.add(Math.min(s[i]!, s[i + 3]!), Math.min(s[i + 1]!, s[i + 4]!), Math.max(s[i]!, s[i + 3]!), Math.max(s[i + 1]!, s[i + 4]!));
  });
  if (owner.length === 0) index.add(0, 0, 0, 0);
  index.finish();
  return {
    find(x: number, y: number, d: number, takes: (stroke: number) => boolean): { stroke: number; piece: number; share: number } | null {
      for (const e of index.search(x - HANGS_MM, y - HANGS_MM, x + HANGS_MM, y + HANGS_MM)) {
        const k = owner[e];
        if (k === undefined || !takes(k)) continue;
        const s = strokes[k]!,
          i = first[e]!;
        const [ux, uy] = [s[i + 3]! - s[i]!, s[i + 4]! - s[i + 1]!];
        const uu = ux * ux + uy * uy;
        const share = uu > 0 ? Math.max(0, Math.min(1, ((x - s[i]!) * ux + (y - s[i + 1]!) * uy) / uu)) : 0;
        const off = Math.hypot(s[i]! + share * ux - x, s[i + 1]! + share * uy - y, s[i + 2]! + share * (s[i + 5]! - s[i + 2]!) - d);
        if (off < HANGS_MM) return { stroke: k, piece: i / 3, share };
      }
      return null;
    },
  };
}
