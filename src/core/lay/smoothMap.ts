/** A map of a plane on to the sheet about some anchor: writes x, y and how squarely it meets the surface (1: along the normal). */
export interface PlaneMap {
  /** @returns Whether the place is on the surface; if not, `out` may hold anything. */
  map(u: number, v: number, out: Float64Array): boolean;
}

/** Nodes kept at the most; a line of writing needs some thousands. */
const MAX_NODES = 400_000;

/**
 * A dear, smooth map read off a grid by cubic convolution (Keys, 1981, from memory); nodes are worked out when first needed. Where a
 * node has no place, the map itself is asked. Error of order cell³.
 */
export function createSmoothMap(base: PlaneMap, cellMm: number): PlaneMap {
  const nodes = new Map<number, Float64Array | null>();
  const node = (i: number, j: number): Float64Array | null => {
    const key = (i + 32768) * 65536 + (j + 32768);
    let found = nodes.get(key);
    if (found === undefined) {
      const out = new Float64Array(3);
      found = base.map(i * cellMm, j * cellMm, out) ? out : null;
      if (nodes.size < MAX_NODES) nodes.set(key, found);
    }
    return found;
  };
  const wu = new Float64Array(4), wv = new Float64Array(4);
  const weights = (t: number, w: Float64Array): void => {
    const t2 = t * t, t3 = t2 * t;
    w[0] = (-t3 + 2 * t2 - t) / 2;
    w[1] = (3 * t3 - 5 * t2 + 2) / 2;
    w[2] = (-3 * t3 + 4 * t2 + t) / 2;
    w[3] = (t3 - t2) / 2;
  };
  return {
    map(u, v, out) {
      const i = Math.floor(u / cellMm), j = Math.floor(v / cellMm);
      weights(u / cellMm - i, wu);
      weights(v / cellMm - j, wv);
      let x = 0, y = 0, facing = 0;
      for (let a = 0; a < 4; a++) {
        for (let b = 0; b < 4; b++) {
          const n = node(i + a - 1, j + b - 1);
          if (!n) return base.map(u, v, out);
          const w = wu[a]! * wv[b]!;
          x += w * n[0]!;
          y += w * n[1]!;
          facing += w * n[2]!;
        }
      }
      out[0] = x;
      out[1] = y;
      out[2] = facing;
      return true;
    },
  };
}
