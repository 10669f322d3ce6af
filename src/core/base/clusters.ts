import Flatbush from 'flatbush';
import { isEmptyBox, type Box } from './rings';

/** Groups of boxes that meet, directly or by way of others; empty boxes are left out. O(n log n + meetings). */
export function findClusters(boxes: readonly Box[]): number[][] {
  const inked = boxes.map((_, i) => i).filter((i) => !isEmptyBox(boxes[i]!));
  if (inked.length === 0) return [];
  const index = new Flatbush(inked.length);
  for (const i of inked) index.add(boxes[i]!.minX, boxes[i]!.minY, boxes[i]!.maxX, boxes[i]!.maxY);
  index.finish();
  const seen = new Uint8Array(inked.length);
  const out: number[][] = [];
  for (let s = 0; s < inked.length; s++) {
    if (seen[s]) continue;
    seen[s] = 1;
    const cluster: number[] = [];
    const open = [s];
    for (let k = open.pop(); k !== undefined; k = open.pop()) {
      cluster.push(inked[k]!);
      const b = boxes[inked[k]!]!;
      for (const near of index.search(b.minX, b.minY, b.maxX, b.maxY)) {
        if (seen[near]) continue;
        seen[near] = 1;
        open.push(near);
      }
    }
    out.push(cluster);
  }
  return out;
}
