/**
 * Closed rings packed flat. Ring k has the vertices `starts[k] .. starts[k + 1] - 1`; vertex i is
 * `(xy[2i], xy[2i + 1])`, mm. Outer rings run counter-clockwise, holes clockwise, so the region is always on
 * the left; the first point is not repeated.
 */
export interface Rings {
  xy: Float64Array;
  starts: Uint32Array;
}

/** Open polylines packed like `Rings`; the last point does not join the first. */
export type Chains = Rings;

/** An axis-parallel box, mm. Empty when `minX > maxX`. */
export interface Box {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
}

export const emptyRings = (): Rings => ({ xy: new Float64Array(0), starts: new Uint32Array([0]) });

export const isEmptyRings = (rings: Rings): boolean => rings.xy.length === 0;

/** Packs arrays of `[x0, y0, x1, y1, …]` into one `Rings`. O(n). */
export function packRings(parts: readonly ArrayLike<number>[]): Rings {
  let total = 0;
  for (const part of parts) total += part.length;
  const xy = new Float64Array(total);
  const starts = new Uint32Array(parts.length + 1);
  let at = 0;
  parts.forEach((part, k) => {
    xy.set(part, at);
    at += part.length;
    starts[k + 1] = at / 2;
  });
  return { xy, starts };
}

/** The vertices of ring k as a view on the packed array; not a copy. */
export const getRing = (rings: Rings, k: number): Float64Array => rings.xy.subarray(2 * rings.starts[k]!, 2 * rings.starts[k + 1]!);

/** Whether a place lies inside rings, by the even–odd rule. O(n). */
export function isInsideRings({ xy, starts }: Rings, x: number, y: number): boolean {
  let inside = false;
  for (let k = 0; k + 1 < starts.length; k++) {
    const [from, to] = [starts[k]!, starts[k + 1]!];
    for (let i = from, j = to - 1; i < to; j = i++) {
      const [ax, ay, bx, by] = [xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!];
      if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
    }
  }
  return inside;
}

/** Puts several ring sets into one; nothing is merged geometrically. O(n). */
export function concatRings(sets: readonly Rings[]): Rings {
  const parts: Float64Array[] = [];
  for (const set of sets) {
    for (let k = 0; k + 1 < set.starts.length; k++) parts.push(getRing(set, k));
  }
  return packRings(parts);
}

/** Signed area of a packed ring, mm²; positive counter-clockwise. O(n). */
export function computeSignedArea(ring: ArrayLike<number>): number {
  let sum = 0;
  const n = ring.length / 2;
  for (let i = 0, j = n - 1; i < n; j = i++) {
    sum += ring[2 * j]! * ring[2 * i + 1]! - ring[2 * i]! * ring[2 * j + 1]!;
  }
  return sum / 2;
}

/** The box round flat xy coordinates; empty (`minX > maxX`) for none. O(n). */
export function computeBox(xy: ArrayLike<number>): Box {
  const box: Box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
  for (let i = 0; i + 1 < xy.length; i += 2) {
    const x = xy[i]!;
    const y = xy[i + 1]!;
    if (x < box.minX) box.minX = x;
    if (x > box.maxX) box.maxX = x;
    if (y < box.minY) box.minY = y;
    if (y > box.maxY) box.maxY = y;
  }
  return box;
}

export const isEmptyBox = (box: Box): boolean => box.minX > box.maxX;

/** The smallest box round both; an empty box leaves the other as it is. */
export const joinBoxes = (a: Box, b: Box): Box => ({
  minX: Math.min(a.minX, b.minX),
  minY: Math.min(a.minY, b.minY),
  maxX: Math.max(a.maxX, b.maxX),
  maxY: Math.max(a.maxY, b.maxY),
});

export const boxesOverlap = (a: Box, b: Box): boolean => a.minX <= b.maxX && b.minX <= a.maxX && a.minY <= b.maxY && b.minY <= a.maxY;

/** An affine map `x' = a·x + c·y + e, y' = b·x + d·y + f`. Its sign `a·d − b·c` is negative for a mirror. */
export interface Affine {
  a: number;
  b: number;
  c: number;
  d: number;
  e: number;
  f: number;
}

/** Maps rings; a mirror also reverses each ring, so that the region stays on the left. Returns new arrays. O(n). */
export function mapRings(rings: Rings, m: Affine): Rings {
  const xy = new Float64Array(rings.xy.length);
  const mirrored = m.a * m.d - m.b * m.c < 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const from = rings.starts[k]!;
    const to = rings.starts[k + 1]!;
    for (let i = from; i < to; i++) {
      const j = mirrored ? to - 1 - (i - from) : i;
      const x = rings.xy[2 * i]!;
      const y = rings.xy[2 * i + 1]!;
      xy[2 * j] = m.a * x + m.c * y + m.e;
      xy[2 * j + 1] = m.b * x + m.d * y + m.f;
    }
  }
  return { xy, starts: rings.starts.slice() };
}
