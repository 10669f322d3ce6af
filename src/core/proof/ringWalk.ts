import { getRing, type Rings } from '../base/rings';

/** Edges that turn by less than this at a vertex run on smoothly there, radians. */
const CORNER_RAD = 0.17;

/** A ring by arc length, with its corners. */
export interface RingWalk {
  lengthMm: number;
  /** Lengths at which it turns sharply. */
  corners: number[];
  /** Writes the place at a length along it to `out[0..1]`; past its end it comes round again. O(log vertices). */
  at(sMm: number, out: Float64Array): void;
}

/** The rings as walks. O(vertices). */
export const listWalks = (rings: Rings): RingWalk[] =>
  Array.from({ length: Math.max(0, rings.starts.length - 1) }, (_, k) => createWalk(getRing(rings, k)));

function createWalk(r: ArrayLike<number>): RingWalk {
  const n = r.length / 2;
  const ends = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    ends[i + 1] = ends[i]! + Math.hypot(r[2 * j]! - r[2 * i]!, r[2 * j + 1]! - r[2 * i + 1]!);
  }
  const lengthMm = ends[n]!;
  const corners: number[] = [];
  for (let i = 0; i < n; i++) {
    const h = (i + n - 1) % n,
      j = (i + 1) % n;
    const [ax, ay, bx, by] = [r[2 * i]! - r[2 * h]!, r[2 * i + 1]! - r[2 * h + 1]!, r[2 * j]! - r[2 * i]!, r[2 * j + 1]! - r[2 * i + 1]!];
    if (Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) > CORNER_RAD) corners.push(ends[i]!);
  }
  return {
    lengthMm,
    corners,
    at(sMm, out) {
      const s = lengthMm > 0 ? ((sMm % lengthMm) + lengthMm) % lengthMm : 0;
      let lo = 0,
        hi = n - 1;
      while (lo < hi) {
        const mid = (lo + hi + 1) >> 1;
        if (ends[mid]! <= s) lo = mid;
        else hi = mid - 1;
      }
      const j = (lo + 1) % n;
      const long = ends[lo + 1]! - ends[lo]!;
      const t = long > 0 ? (s - ends[lo]!) / long : 0;
      out[0] = r[2 * lo]! + t * (r[2 * j]! - r[2 * lo]!);
      out[1] = r[2 * lo + 1]! + t * (r[2 * j + 1]! - r[2 * lo + 1]!);
    },
  };
}
