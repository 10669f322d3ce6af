import { getRing, type Rings } from '../base/rings';

/** Largest distance between a bent line and its chords, mm. See docs/adr/0002. */
export const BEND_TOLERANCE_MM = 0.0006;

const MAX_BEND_SPLITS = 10;

/** Points as they come, in a buffer that grows and is used again. */
let buffer = new Float64Array(8192);
let used = 0;
function put(x: number, y: number): void {
  if (used + 2 > buffer.length) {
    const larger = new Float64Array(2 * buffer.length);
    larger.set(buffer);
    buffer = larger;
  }
  buffer[used++] = x;
  buffer[used++] = y;
}

/**
 * Maps every point of rings or chains, and puts in points where a straight piece would leave the bend by more than the
 * tolerance. O(points + splits).
 * @param straightMm Pieces shorter than this are known to stay straight enough, mm.
 */
export function bendRings(
  rings: Rings,
  dx: number,
  dy: number,
  closed: boolean,
  map: (u: number, v: number, out: Float64Array) => void,
  straightMm = 0,
): Rings {
  const p = new Float64Array(3);
  const straight = straightMm * straightMm;
  used = 0;
  const starts = new Uint32Array(rings.starts.length);
  const split = (u0: number, v0: number, ax: number, ay: number, u1: number, v1: number, bx: number, by: number, depth: number): void => {
    if ((u1 - u0) * (u1 - u0) + (v1 - v0) * (v1 - v0) <= straight) return;
    map((u0 + u1) / 2, (v0 + v1) / 2, p);
    const mx = p[0]!,
      my = p[1]!;
    const gx = (ax + bx) / 2 - mx,
      gy = (ay + by) / 2 - my;
    if (depth === 0 || gx * gx + gy * gy <= BEND_TOLERANCE_MM * BEND_TOLERANCE_MM) return;
    split(u0, v0, ax, ay, (u0 + u1) / 2, (v0 + v1) / 2, mx, my, depth - 1);
    put(mx, my);
    split((u0 + u1) / 2, (v0 + v1) / 2, mx, my, u1, v1, bx, by, depth - 1);
  };
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    const n = ring.length / 2;
    if (n > 0) {
      let u0 = ring[0]! + dx,
        v0 = ring[1]! + dy;
      map(u0, v0, p);
      const firstX = p[0]!,
        firstY = p[1]!;
      let ax = firstX,
        ay = firstY;
      for (let i = 0; i < n; i++) {
        put(ax, ay);
        if (i + 1 === n && !closed) break;
        const j = (i + 1) % n;
        const u1 = ring[2 * j]! + dx,
          v1 = ring[2 * j + 1]! + dy;
        let bx = firstX,
          by = firstY;
        if (j > 0) {
          map(u1, v1, p);
          bx = p[0]!;
          by = p[1]!;
        }
        split(u0, v0, ax, ay, u1, v1, bx, by, MAX_BEND_SPLITS);
        u0 = u1;
        v0 = v1;
        ax = bx;
        ay = by;
      }
    }
    starts[k + 1] = used / 2;
  }
  return { xy: buffer.slice(0, used), starts };
}
