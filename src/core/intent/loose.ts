import type { Run, Setup } from '../pipeline/setup';
import { CELL_SIDES } from '../removal/cellGrid';
import type { DepthField } from '../removal/field';
import { TILE, TILE_CELLS, type Tile } from '../removal/tile';
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

/** What of a field is asked. */
type Cells = Pick<DepthField, 'grid' | 'cellX' | 'cellY'> & { tiles: readonly Pick<Tile, 'key' | 'depth'>[] };

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
export function findLooseParts({ work }: Pick<Setup, 'work'>, intent: Pick<Intent, 'layers' | 'tabs'>, field: Cells): Fault[] {
  const parts = new Wall(work, field).findParts();
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
    if (!by || (by.kind.frees && !intent.tabs.some((t) => t.run === by))) return [];
    const depthMm = work.wallAt(x, y);
    return [{ kind: 'loose', run: by, letter: '', at: [x, y], depthMm, wantedMm: depthMm, areaMm2, motion: -1 }];
  });
}

/** The cut that is to go through the wall at most of the places beside a part; null where none is: others say what is wrong there. */
function findLoosener(work: Setup['work'], { layers }: Pick<Intent, 'layers'>, { beside }: Part): Run | null {
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

/** The blank's wall, cell by cell: joined over the sides of what is not cut through. */
class Wall {
  /** Tiles in which something goes through: a set for each cell, −1 where it is gone. All other tiles are one set each. */
  private readonly cut = new Map<number, Int32Array>();
  private readonly whole = new Map<number, number>();
  private readonly joined = new Joined();

  constructor(
    private readonly work: Setup['work'],
    private readonly field: Cells,
  ) {
    for (const { key, depth } of field.tiles) this.addTile(key, depth);
  }

  /** Parts that hang together; none where nothing goes through. O(tiles + cells of tiles cut through). */
  findParts(): Part[] {
    const { cut, whole, joined, field } = this;
    const { tilesAlong, tilesRound } = field.grid;
    if (cut.size === 0) return [];
    for (let key = 0; key < tilesAlong * tilesRound; key++) if (!cut.has(key)) whole.set(key, joined.add());
    for (const [key, id] of whole) this.joinNext(key, id);
    this.visitCut((id, c, r) => {
      if (id >= 0) this.visitBeside(c, r, (other) => joined.join(id, other));
    });
    const parts = new Map<number, Part>();
    const count = (id: number, cells: number, c: number, r: number): void => {
      const part = parts.get(joined.find(id));
      if (part) part.cells += cells;
      else parts.set(joined.find(id), { cells, x: field.cellX(c), y: field.cellY(r), beside: [] });
    };
    this.visitCut((id, c, r) => {
      if (id >= 0) count(id, 1, c, r);
    });
    for (const [key, id] of whole) {
      const { c0, r0, columns, rows } = this.locate(key);
      count(id, columns * rows, c0, r0);
    }
    if (parts.size > 1)
      this.visitCut((id, c, r) => {
        if (id >= 0) return;
        const beside = new Set<number>();
        this.visitBeside(c, r, (other) => beside.add(joined.find(other)));
        for (const root of beside) parts.get(root)!.beside.push(field.cellX(c), field.cellY(r));
      });
    return [...parts.values()];
  }

  private addTile(key: number, depth: Float32Array): void {
    const { field, work } = this;
    const { c0, r0, columns, rows } = this.locate(key);
    const wallMm = work.wallAt(field.cellX(c0 + TILE / 2), field.cellY(r0 + TILE / 2));
    // How thick a free shape is nobody knows.
    if (!(wallMm > 0) || depth.reduce((a, b) => Math.max(a, b), 0) < SHALLOW * wallMm) return;
    const ids = new Int32Array(TILE_CELLS).fill(-1);
    let gone = 0;
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const i = r * TILE + c;
        if (depth[i]! < work.wallAt(field.cellX(c0 + c), field.cellY(r0 + r)) - SKIN_MM) ids[i] = this.joined.add();
        else gone++;
      }
    if (gone > 0) this.cut.set(key, ids);
  }

  /** First column and row of a tile, and how many of both lie on the sheet. */
  private locate(key: number): { c0: number; r0: number; columns: number; rows: number } {
    const { tilesAlong, columns, rows } = this.field.grid;
    const [c0, r0] = [(key % tilesAlong) * TILE, Math.floor(key / tilesAlong) * TILE];
    return { c0, r0, columns: Math.min(TILE, columns - c0), rows: Math.min(TILE, rows - r0) };
  }

  /** Visits the cells of tiles in which something goes through, with their sets. */
  private visitCut(visit: (id: number, column: number, row: number) => void): void {
    for (const [key, ids] of this.cut) {
      const { c0, r0, columns, rows } = this.locate(key);
      for (let r = 0; r < rows; r++) for (let c = 0; c < columns; c++) visit(ids[r * TILE + c]!, c0 + c, r0 + r);
    }
  }

  /** Joins a whole tile to those after it that are whole too; those that are not join it cell by cell. */
  private joinNext(key: number, id: number): void {
    const { tilesAlong, tilesRound, closed } = this.field.grid;
    const [along, round] = [key % tilesAlong, Math.floor(key / tilesAlong)];
    const next = [along + 1 < tilesAlong ? key + 1 : -1, round + 1 < tilesRound ? key + tilesAlong : closed ? along : -1];
    for (const other of next) if (this.whole.has(other)) this.joined.join(id, this.whole.get(other)!);
  }

  /** Visits the sets of the cells beside a cell that are not gone. */
  private visitBeside(column: number, row: number, visit: (id: number) => void): void {
    const { tilesAlong, columns, rows, closed } = this.field.grid;
    for (const [dc, dr] of CELL_SIDES) {
      const c = column + dc,
        r = closed ? (row + dr + rows) % rows : row + dr;
      if (c < 0 || c >= columns || r < 0 || r >= rows) continue;
      const key = Math.floor(c / TILE) + Math.floor(r / TILE) * tilesAlong;
      const id = this.cut.get(key)?.[(r % TILE) * TILE + (c % TILE)] ?? this.whole.get(key)!;
      if (id >= 0) visit(id);
    }
  }
}
