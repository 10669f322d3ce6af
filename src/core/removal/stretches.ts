import type { Tile } from './tile';

/** A stretch of a ray that begins no deeper than this below what is gone already hangs together with it, mm. */
const JOINED_MM = 1e-4;

/**
 * Takes the stretch from `inMm` to `outMm` of a cell's ray away. What hangs together with the surface is the depth; the rest is kept
 * until what stands above it goes.
 * @returns By how much the cell got deeper, mm.
 */
export function removeStretch(tile: Tile, cell: number, inMm: number, outMm: number, motion: number): number {
  const depth = tile.depth[cell]!;
  if (outMm <= depth) return 0;
  if (inMm > depth + JOINED_MM) {
    tile.under ??= new Map();
    const list = tile.under.get(cell);
    if (list) addStretch(list, inMm, outMm);
    else tile.under.set(cell, [inMm, outMm]);
    tile.changed = true;
    return 0;
  }
  let deep = outMm,
    gone = 0;
  const list = tile.under?.get(cell);
  if (list) {
    for (let again = true; again;) {
      again = false;
      for (let k = 0; k < list.length; k += 2) {
        if (list[k]! > deep + JOINED_MM) continue;
        deep = Math.max(deep, list[k + 1]!);
        // What was gone below the surface is not taken again.
        gone += list[k + 1]! - list[k]!;
        list.splice(k, 2);
        again = true;
        break;
      }
    }
    if (list.length === 0) tile.under!.delete(cell);
  }
  tile.depth[cell] = deep;
  tile.motion[cell] = motion + 1;
  tile.changed = true;
  return Math.max(0, deep - depth - gone);
}

/** Puts a stretch into a list of stretches, those that meet made one. */
function addStretch(list: number[], from: number, to: number): void {
  let [lo, hi] = [from, to];
  for (let k = list.length - 2; k >= 0; k -= 2) {
    if (list[k]! > hi || list[k + 1]! < lo) continue;
    lo = Math.min(lo, list[k]!);
    hi = Math.max(hi, list[k + 1]!);
    list.splice(k, 2);
  }
  list.push(lo, hi);
}
