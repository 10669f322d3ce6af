/** Middle and size of a solid, mm. */
export interface Box3 {
  middle: [number, number, number];
  size: [number, number, number];
}

/** @param p Corners, x y z in turn. */
export function computeBox3(p: Float64Array): Box3 {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, p[i]!);
    high[i % 3] = Math.max(high[i % 3]!, p[i]!);
  }
  if (p.length === 0) return { middle: [0, 0, 0], size: [50, 50, 50] };
  return {
    middle: low.map((v, k) => (v + high[k]!) / 2) as [number, number, number],
    size: low.map((v, k) => Math.max(0.1, high[k]! - v)) as [number, number, number],
  };
}
