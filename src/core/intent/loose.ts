import type { Run, Setup } from '../pipeline/setup';
import type { DepthField } from '../removal/field';
import { TILE, TILE_CELLS } from '../removal/tile';
import { measureLength } from '../surface/length';
import { isInBox, type Intent } from './intent';
import type { Fault } from './verdict';

/** A smaller part is a chip, mm². */
const LEAST_MM2 = 0.5;
/** Nothing holds what is thinner than this, mm. */
const SKIN_MM = 0.005;
/** Where a tile is less deep than this share of the wall at its middle nothing goes through: walls do not change more within a tile. */
const SHALLOW = 0.7;
/** So many places beside a part tell which cut loosened it. */
const MOST_ASKED = 200;

/** Sets that are joined, each known by one of its members. */
class Joined {
  private readonly up: number[] = [];

  add(): number {
    return this.up.push(this.up.length) - 1;
  }

  find(a: number): number {
    while (this.up[a] !== a) a = this.up[a] = this.up[this.up[a]!]!;
    return a;
  }

  join(a: number, b: number): void {
    this.up[this.find(a)] = this.find(b);
  }
}

/** A part of the blank's wall that hangs together. */
interface Part {
  cells: number;
  x: number;
  y: number;
  /** Sheet places cut through right beside it, flat pairs. */
  beside: number[];
}

/**
 * Parts of a blank that nothing holds any more once all is cut: cells that are not cut through hang together over their sides, never over
 * a corner, and the largest part is the one that is held. A part is loosened by the cut that goes through beside it at most places; what
 * is cut free without tabs is meant to be. O(cells of tiles cut through + parts · places asked).
 */
export function findLooseParts({ work }: Pick<Setup, 'work'>, intent: Intent, field: DepthField): Fault[] {
  const parts = findParts(work, field);
  if (parts.length < 2) return [];
  const { cellX, cellY } = field.grid;
  const held = parts.reduce((a, b) => (b.cells > a.cells ? b : a));
  return parts.flatMap((part): Fault[] => {
    if (part === held) return [];
    const { x, y, cells } = part;
    const areaMm2 =
      cells * measureLength(work, x - cellX / 2, y, x + cellX / 2, y) * measureLength(work, x, y - cellY / 2, x, y + cellY / 2);
    if (areaMm2 < LEAST_MM2) return [];
    const by = findLoosener(work, intent, part);
    if (!by || (by.cut.kind === 'cut-out' && by.cut.tabs === null)) return [];
    const depthMm = work.wallAt(x, y);
    return [{ kind: 'loose', run: by, letter: '', at: [x, y], depthMm, wantedMm: depthMm, areaMm2, motion: -1 }];
  });
}

/** The cut that is to go through the wall at most of the places beside a part; null where none is: others say what is wrong there. */
function findLoosener(work: Setup['work'], { layers }: Intent, { beside }: Part): Run | null {
  const depths = { mustMm: 0, mayMm: 0 };
  const votes = new Map<Run, number>();
  const step = 2 * Math.ceil(beside.length / 2 / MOST_ASKED);
  for (let i = 0; i + 1 < beside.length; i += step) {
    const [x, y] = [beside[i]!, beside[i + 1]!];
    const wall = work.wallAt(x, y);
    for (const layer of layers) {
      if (!isInBox(layer, x, y, work.periodMm)) continue;
      layer.ask(x, y, 0, depths, wall);
      if (depths.mayMm > wall - SKIN_MM) votes.set(layer.run, (votes.get(layer.run) ?? 0) + 1);
    }
  }
  let most: Run | null = null;
  for (const [run, count] of votes) if (!most || count > votes.get(most)!) most = run;
  return most;
}

function findParts(work: Setup['work'], field: DepthField): Part[] {
  const { grid } = field;
  const { tilesAlong, tilesRound, columns, rows, closed } = grid;
  const through = new Map<number, Int32Array>();
  const joined = new Joined();
  for (const tile of field.tiles) {
    const c0 = (tile.key % tilesAlong) * TILE,
      r0 = Math.floor(tile.key / tilesAlong) * TILE;
    const deepest = tile.depth.reduce((a, b) => Math.max(a, b), 0);
    if (deepest < SHALLOW * work.wallAt(field.cellX(c0 + TILE / 2), field.cellY(r0 + TILE / 2))) continue;
    const ids = new Int32Array(TILE_CELLS).fill(-1);
    let any = false;
    for (let i = 0; i < TILE_CELLS; i++) {
      const [c, r] = [c0 + (i % TILE), r0 + Math.floor(i / TILE)];
      if (c >= columns || r >= rows) continue;
      if (tile.depth[i]! < work.wallAt(field.cellX(c), field.cellY(r)) - SKIN_MM) ids[i] = joined.add();
      else any = true;
    }
    if (any) through.set(tile.key, ids);
  }
  if (through.size === 0) return [];
  const whole = new Map<number, number>();
  for (let key = 0; key < tilesAlong * tilesRound; key++) if (!through.has(key)) whole.set(key, joined.add());
  const idAt = (c: number, r: number): number => {
    if (c < 0 || c >= columns || (!closed && (r < 0 || r >= rows))) return -1;
    const row = closed ? (r + rows) % rows : r;
    const key = Math.floor(c / TILE) + Math.floor(row / TILE) * tilesAlong;
    return through.get(key)?.[(row % TILE) * TILE + (c % TILE)] ?? whole.get(key)!;
  };
  const join = (a: number, b: number): void => {
    if (a >= 0 && b >= 0) joined.join(a, b);
  };
  for (const key of whole.keys()) {
    const [c, r] = [(key % tilesAlong) * TILE, Math.floor(key / tilesAlong) * TILE];
    // Its neighbours that are whole too; those that are not join it cell by cell.
    for (const [nc, nr] of [
      [c + TILE, r],
      [c, r + TILE],
    ] as const) {
      const id = idAt(nc, nr < rows || !closed ? nr : 0);
      const next = Math.floor(nc / TILE) + (Math.floor(nr / TILE) % tilesRound) * tilesAlong;
      if (id >= 0 && whole.has(next)) join(whole.get(key)!, id);
    }
  }
  for (const [key, ids] of through) {
    const c0 = (key % tilesAlong) * TILE,
      r0 = Math.floor(key / tilesAlong) * TILE;
    for (let i = 0; i < TILE_CELLS; i++) {
      if (ids[i]! < 0) continue;
      const [c, r] = [c0 + (i % TILE), r0 + Math.floor(i / TILE)];
      join(ids[i]!, idAt(c + 1, r));
      join(ids[i]!, idAt(c - 1, r));
      join(ids[i]!, idAt(c, r + 1));
      join(ids[i]!, idAt(c, r - 1));
    }
  }
  const parts = new Map<number, Part>();
  const count = (id: number, cells: number, c: number, r: number): void => {
    const root = joined.find(id);
    const part = parts.get(root);
    if (part) part.cells += cells;
    else parts.set(root, { cells, x: field.cellX(c), y: field.cellY(r), beside: [] });
  };
  for (const [key, ids] of through) {
    const c0 = (key % tilesAlong) * TILE,
      r0 = Math.floor(key / tilesAlong) * TILE;
    for (let i = 0; i < TILE_CELLS; i++) if (ids[i]! >= 0) count(ids[i]!, 1, c0 + (i % TILE), r0 + Math.floor(i / TILE));
  }
  for (const [key, id] of whole) {
    const [c, r] = [(key % tilesAlong) * TILE, Math.floor(key / tilesAlong) * TILE];
    count(id, Math.min(TILE, columns - c) * Math.min(TILE, rows - r), c, r);
  }
  if (parts.size > 1)
    for (const [key, ids] of through) {
      const c0 = (key % tilesAlong) * TILE,
        r0 = Math.floor(key / tilesAlong) * TILE;
      for (let i = 0; i < TILE_CELLS; i++) {
        const [c, r] = [c0 + (i % TILE), r0 + Math.floor(i / TILE)];
        if (ids[i]! >= 0 || c >= columns || r >= rows) continue;
        const own = new Set(
          [idAt(c + 1, r), idAt(c - 1, r), idAt(c, r + 1), idAt(c, r - 1)].filter((id) => id >= 0).map((id) => joined.find(id)),
        );
        for (const root of own) parts.get(root)?.beside.push(field.cellX(c), field.cellY(r));
      }
    }
  return [...parts.values()];
}
