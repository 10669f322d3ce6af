import type { Change } from './change';
import { TILE_CELLS, type Tile } from './tile';
import type { DepthField } from './field';

/** A moment from which the field can be brought to a later one: depths of the tiles that changed since the key before. */
interface Key {
  /** Number of motions that are done. */
  motions: number;
  tiles: Map<Tile, KeptTile>;
}

interface KeptTile {
  depth: Float32Array;
  motion: Uint32Array;
  under: Map<number, number[]> | null;
}

const KEY_COUNT = 50;
/** As a tile is where nothing was cut. */
const WHOLE = 'whole';

/** How a field was at moments of a program, for going back to them. */
export class Keys {
  private list: Key[] = [{ motions: 0, tiles: new Map() }];
  /** What each tile was kept or put back as and still is: unless it changed since, it need not be put back as that again. */
  private readonly same = new Map<Tile, KeptTile | typeof WHOLE>();

  constructor(private readonly field: DepthField) {}

  /** Whether there is a key for so many motions already, which is to be completed. */
  isDue(motions: number): boolean {
    return this.motionsOf(this.findBefore(motions)) === motions;
  }

  /** Keeps the tiles that changed since this was last asked. */
  keep(motions: number): void {
    let at = this.findBefore(motions);
    if (this.list[at]!.motions < motions) this.list.splice(++at, 0, { motions, tiles: new Map() });
    const { tiles } = this.list[at]!;
    for (const tile of this.field.tiles) {
      if (!tile.changed) continue;
      tile.changed = false;
      const kept = { depth: tile.depth.slice(), motion: tile.motion.slice(), under: copyUnder(tile.under) };
      tiles.set(tile, kept);
      this.same.set(tile, kept);
    }
  }

  /** Where there are many, puts every second key into the one after it. @returns Whether it did. */
  thin(): boolean {
    if (this.list.length <= KEY_COUNT) return false;
    for (let k = 1; k + 1 < this.list.length; k++) {
      const next = this.list[k + 1]!;
      for (const [tile, kept] of this.list[k]!.tiles) if (!next.tiles.has(tile)) next.tiles.set(tile, kept);
      this.list.splice(k, 1);
    }
    return true;
  }

  /** The last key that is not after so many motions. O(log keys). */
  findBefore(motions: number): number {
    let lo = 0,
      hi = this.list.length - 1;
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (this.list[mid]!.motions <= motions) lo = mid;
      else hi = mid - 1;
    }
    return lo;
  }

  motionsOf = (key: number): number => this.list[key]!.motions;

  /** Forgets what tiles that changed were kept as. To be called before their marks are taken off. */
  forgetChanged(): void {
    for (const tile of this.field.tiles) if (tile.changed) this.same.delete(tile);
  }

  /** Puts the field back to a key; tiles that become others by it are added to `changed`. */
  restore(key: number, changed: Set<Tile>): void {
    const seen = new Set<Tile>();
    for (let k = key; k >= 0; k--) {
      for (const [tile, kept] of this.list[k]!.tiles) {
        if (seen.has(tile)) continue;
        seen.add(tile);
        if (this.same.get(tile) === kept) continue;
        this.same.set(tile, kept);
        tile.depth.set(kept.depth);
        tile.motion.set(kept.motion);
        tile.under = copyUnder(kept.under);
        changed.add(tile);
      }
    }
    for (const tile of this.field.tiles) {
      if (seen.has(tile) || this.same.get(tile) === WHOLE) continue;
      this.same.set(tile, WHOLE);
      tile.clear();
      changed.add(tile);
    }
  }

  /** These keys for a program that differs between two motions, without the tiles that are cut anew. */
  follow({ from, behind, oldCount, newCount }: Change, fresh: ReadonlySet<Tile>): Keys {
    const shift = newCount - oldCount;
    const next = new Keys(this.field);
    for (const { motions, tiles } of this.list) {
      const at = motions <= from ? motions : motions >= oldCount - behind ? motions + shift : from;
      let key = next.list[next.list.length - 1]!;
      if (key.motions < at) next.list.push((key = { motions: at, tiles: new Map() }));
      for (const [tile, kept] of tiles) {
        if (fresh.has(tile)) continue;
        shiftMotions(kept.motion, oldCount - behind, shift);
        key.tiles.set(tile, kept);
      }
    }
    return next;
  }

  get bytes(): number {
    let kept = 0;
    for (const { tiles } of this.list) kept += tiles.size;
    return kept * TILE_CELLS * 8;
  }
}

/** Numbers of motions, each plus one, from some motion on, put on by so many. */
export function shiftMotions(motion: Uint32Array, from: number, shift: number): void {
  if (shift !== 0) for (let i = 0; i < motion.length; i++) if (motion[i]! > from) motion[i]! += shift;
}

const copyUnder = (under: Map<number, number[]> | null): Map<number, number[]> | null =>
  under && new Map([...under].map(([cell, list]) => [cell, [...list]]));
