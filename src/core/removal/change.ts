import { shiftMotions } from './keys';
import type { DepthField, Load } from './field';
import type { Tile } from './tile';
import type { Track } from './removal';

/** Where two programs differ: motions before `from` are the same, and the last `behind`. */
export interface Same {
  from: number;
  behind: number;
}
export interface Change extends Same {
  oldCount: number;
  newCount: number;
}

/** Finds the longest beginning and end that two programs have in common, a motion less at each, since one begins where another ends. */
export function findSame(a: Track, b: Track): Same {
  const n = a.count > 0 ? a.values.length / a.rapid.length : 0;
  const toolA = a.tools.map((t) => JSON.stringify(t)),
    toolB = b.tools.map((t) => JSON.stringify(t));
  const isSame = (i: number, j: number): boolean => {
    if (a.rapid[i] !== b.rapid[j] || a.part[i] !== b.part[j] || toolA[a.tool[i]!] !== toolB[b.tool[j]!]) return false;
    for (let k = 0; k < n; k++) if (a.values[n * i + k] !== b.values[n * j + k]) return false;
    return true;
  };
  const most = Math.min(a.count, b.count);
  let from = 0;
  while (from < most && isSame(from, from)) from++;
  let behind = 0;
  while (behind < most - from && isSame(a.count - 1 - behind, b.count - 1 - behind)) behind++;
  return { from: Math.max(0, from - 1), behind: Math.max(0, behind - 1) };
}

/**
 * Clears the tiles that have to be cut anew: those that the motions which differ reach, before or now, and those that hang together with
 * them, so that no motion reaches both a tile that is cleared and one that is not. Numbers of motions in the others are put on.
 * @param reached Keys of the tiles that the new motions reach. @param needed Set to 1 for each motion that has to be swept.
 * @returns The tiles that were cleared. O(tiles · stretches + cells).
 */
export function clearChanged(field: DepthField, reached: ReadonlySet<number>, change: Change, needed: Uint8Array): Set<Tile> {
  const { from, behind, oldCount, newCount } = change;
  const shift = newCount - oldCount;
  const until = oldCount - behind;
  const { tiles } = field;
  const leader = Int32Array.from(tiles, (_, k) => k);
  const lead = (k: number): number => {
    let top = k;
    while (leader[top] !== top) top = leader[top] = leader[leader[top]!]!;
    return top;
  };
  // Stretches in order of their beginning: those that overlap have a motion in common, or nearly.
  const stretches = tiles.flatMap(({ spans }, k) =>
    Array.from({ length: spans.length / 2 }, (_, i) => ({ tile: k, from: spans[2 * i]!, to: spans[2 * i + 1]! })),
  );
  stretches.sort((a, b) => a.from - b.from);
  let end = -1,
    last = -1;
  for (const s of stretches) {
    if (s.from <= end) leader[lead(s.tile)] = lead(last);
    if (s.to > end) [end, last] = [s.to, s.tile];
  }
  const groups = new Set<number>();
  for (const [k, { key, spans }] of tiles.entries()) {
    let isReached = reached.has(key);
    for (let i = 0; i < spans.length && !isReached; i += 2) isReached = spans[i + 1]! >= from && spans[i]! < until;
    if (isReached) groups.add(lead(k));
  }
  needed.fill(1, from, newCount - behind);
  const cleared = new Set<Tile>();
  for (const [k, tile] of tiles.entries()) {
    tile.changed = false;
    if (!groups.has(lead(k))) {
      shiftMotions(tile.motion, until, shift);
      for (let i = 0; i < tile.spans.length; i++) if (tile.spans[i]! >= until) tile.spans[i]! += shift;
      continue;
    }
    cleared.add(tile);
    for (let i = 0; i < tile.spans.length; i += 2) {
      const [a, b] = [tile.spans[i]!, tile.spans[i + 1]!];
      for (let m = a; m <= b; m++) {
        if (m < from) needed[m] = 1;
        else if (m >= until) needed[m + shift] = 1;
      }
    }
    tile.spans.length = 0;
    tile.clear();
  }
  return cleared;
}

/** Takes the load of motions that are not swept anew from another run. */
export function followLoad(old: Load, load: Load, { from, behind, oldCount, newCount }: Change, needed: Uint8Array): void {
  const shift = newCount - oldCount;
  for (let i = 0; i < newCount; i++) {
    if (needed[i]) continue;
    const j = i < from ? i : i >= newCount - behind ? i - shift : -1;
    if (j < 0) continue;
    load.taken[i] = old.taken[j]!;
    load.most[i] = old.most[j]!;
    load.cell[i] = old.cell[j]!;
  }
}
