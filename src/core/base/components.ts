import { computeBox, computeSignedArea, getRing, packRings, type Box, type Rings } from './rings';

interface Outer {
  ring: Float64Array;
  area: number;
  box: Box;
  holes: Float64Array[];
}

/**
 * Parts clean rings into connected pieces: each outer ring with the holes that lie in it and in no smaller one.
 * @returns One `Rings` a piece, the outer ring first. O(outers · holes) box tests, O(n) for those that fit.
 */
export function splitComponents(rings: Rings): Rings[] {
  const outers: Outer[] = [];
  const holes: Float64Array[] = [];
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    const area = computeSignedArea(ring);
    if (area > 0) outers.push({ ring, area, box: computeBox(ring), holes: [] });
    else if (area < 0) holes.push(ring);
  }
  for (const hole of holes) {
    const [x, y] = [hole[0]!, hole[1]!];
    let best: Outer | null = null;
    for (const outer of outers) {
      const { box } = outer;
      if (x < box.minX || x > box.maxX || y < box.minY || y > box.maxY || (best && outer.area >= best.area)) continue;
      if (contains(outer.ring, hole)) best = outer;
    }
    best?.holes.push(hole);
  }
  return outers.map(({ ring, holes: own }) => packRings([ring, ...own]));
}

/** Whether a hole lies in a ring, judged by the first of its vertices that is not on the ring itself. */
function contains(ring: Float64Array, hole: Float64Array): boolean {
  for (let h = 0; h < hole.length; h += 2) {
    const side = locate(ring, hole[h]!, hole[h + 1]!);
    if (side !== 0) return side > 0;
  }
  return true;
}

/** 1 inside, −1 outside, 0 on a vertex of the ring. */
function locate(ring: Float64Array, x: number, y: number): number {
  let inside = false;
  for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2) {
    const xi = ring[i]!,
      yi = ring[i + 1]!,
      xj = ring[j]!,
      yj = ring[j + 1]!;
    if (xi === x && yi === y) return 0;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside ? 1 : -1;
}
