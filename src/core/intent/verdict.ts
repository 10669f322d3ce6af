import { getRing, type Rings } from '../base/rings';
import type { Steps } from '../base/steps';
import type { Lettering } from '../pipeline/lettering';
import type { Run, Setup } from '../pipeline/setup';
import { CELL_SIDES } from '../removal/cellGrid';
import type { DepthField } from '../removal/field';
import { TILE, TILE_CELLS } from '../removal/tile';
import { findLetter } from '../removal/regions';
import { createPrint, findWidest } from './forms/reach';
import { createIntent, createMeant, type Intent, type Layer } from './intent';
import { findLooseParts } from './loose';
import { fillMask, nearTiles } from './masks';
import { findMissingLetters } from './missing';
import { findTabFaults } from './tabs';

/** A place where the piece is not what was meant. */
export interface Fault {
  kind: 'too-deep' | 'left' | 'stands' | 'tab' | 'missing' | 'loose';
  /** The cut that says what it should be, and what of the lettering lies there. */
  run: Run;
  letter: string;
  /** Sheet place of the worst, mm. */
  at: [number, number];
  /** Depth that is gone there, and that should be: at the most where it is too deep, at the least where something is left, mm. */
  depthMm: number;
  wantedMm: number;
  /** Area of the faulty place, mm². */
  areaMm2: number;
  /** Motion that cut it, −1 where nothing did. */
  motion: number;
}

/** Places that were found not to be as meant: a map with a sign. */
export interface FaultMap {
  /** Sheet x and y in turn, mm: middles of cells. */
  xy: Float32Array;
  /** By how much each is too deep; below 0 by how much is left, mm. */
  offMm: Float32Array;
}

/** The piece held against what was meant. */
export interface Verdict {
  /** Worst first. */
  faults: Fault[];
  /** Places that were asked exactly, and cells that were held against bounds. */
  asked: number;
  cells: number;
  /** An edge may lie so far aside, and a depth be so far off, mm, before anything is said. */
  slackMm: number;
  map: FaultMap;
}

/** An edge may lie so far aside and a floor be so far off before it is a fault, mm; the machine's own tolerances come on top. */
const EDGE_SLACK_MM = 0.012;
const DEPTH_SLACK_MM = 0.012;
/** Less than this is not cut, mm. */
const CUT_MM = 1e-4;
/** Places asked exactly in all, at the most, where nothing is suspect. */
const MOST_SAMPLES = 16_000;
/** Suspects that are asked exactly, one in so many cells each way, where there are very many. */
const MOST_SUSPECTS = 30_000;
/** Cells that are asked round faulty ones, at the most: beyond it each stands for those that it was drawn from. */
const MOST_SPREAD = 12_000;
/** Faulty cells nearer to each other than this are one place, mm. */
const ONE_PLACE_MM = 0.4;
/** Less area than this is no fault, mm²: a corner that a cutter all but reaches, or the end of a stroke. */
const LEAST_AREA_MM2 = { 'too-deep': 0.006, stands: 0.006, left: 0.012, tab: 0, missing: 0, loose: 0 } as const;
const MOST_FAULTS = 12;
/** Once so many cells are faulty, one in so many each way is asked. */
const MANY_FAULTY = 3000;
const FAULTY_EVERY = 5;
const CELLS_A_STEP = 200_000;

interface Suspect {
  x: number;
  y: number;
  column: number;
  row: number;
  depthMm: number;
  motion: number;
  areaMm2: number;
  /** Cells that it was drawn from. */
  drawnFrom: number;
  fault: Pick<Fault, 'kind' | 'wantedMm'> & { layer: Layer | null; run: Run };
}

/**
 * Holds a field against what the job means. Every cell is a true sample of the piece; most are settled by bounds, the rest and a lattice of
 * samples are asked exactly. Yields the share done. O(cells + asked · segments near).
 */
export function* judgeField(setup: Setup, lettering: Lettering, field: DepthField): Steps<number, Verdict> {
  const { machine } = setup.job;
  const ownMm = machine.chordToleranceMm + machine.mergeMm + (machine.programUnit === 'in' ? 0.002 : 0);
  const slackMm = EDGE_SLACK_MM + ownMm,
    depthSlackMm = DEPTH_SLACK_MM + ownMm;
  const intent = createIntent(setup, lettering);
  const judge = new Judge(setup, intent, field, slackMm, depthSlackMm);
  yield* judge.run();
  const { faults, faulty } = gather(setup, judge.suspects);
  const whole = [...findTabFaults(setup, intent, field), ...findMissingLetters(intent, field), ...findLooseParts(setup, intent, field)];
  return { faults: [...faults.slice(0, MOST_FAULTS), ...whole], asked: judge.asked, cells: judge.cells, slackMm, map: toMap(faulty) };
}

const toMap = (suspects: readonly Suspect[]): FaultMap => ({
  xy: Float32Array.from(suspects.flatMap(({ x, y }) => [x, y])),
  offMm: Float32Array.from(suspects, ({ depthMm, fault }) => depthMm - fault.wantedMm),
});

/** Where a layer says anything, tile by tile. */
interface Known {
  layer: Layer;
  /** Cells inside its shapes. */
  inside: Map<number, Uint8Array>;
  /** Tiles near its lines. */
  near: Set<number>;
}

/** A layer that says something in a tile. */
interface Active {
  layer: Layer;
  /** Cells inside its shapes. */
  mask: Uint8Array | null;
  isNear: boolean;
}

class Judge {
  readonly suspects: Suspect[] = [];
  asked = 0;
  cells = 0;
  private readonly known: Known[];
  private readonly standing: Map<number, Uint8Array>[];
  private readonly meant = createMeant();
  /** One cell in so many each way is asked as a sample, and of suspects. */
  private readonly sampleEvery: number;
  private readonly suspectEvery: number;
  /** Cells that were asked. */
  private readonly seen = new Set<number>();

  constructor(
    private readonly setup: Setup,
    private readonly intent: Intent,
    private readonly field: DepthField,
    private readonly slackMm: number,
    private readonly depthSlackMm: number,
  ) {
    const { grid } = field;
    this.known = intent.layers.map((layer) => {
      const shapes = shapesOf(layer);
      const inside = shapes ? fillMask(shapes, grid) : new Map<number, Uint8Array>();
      const lines = linesOf(layer, setup.work);
      const near = lines ? nearTiles(lines.xy, lines.reachMm, grid, setup.work) : new Set<number>();
      return { layer, inside, near };
    });
    this.standing = intent.standing.map((s) => fillMask(s.rings, grid));
    let total = 0;
    for (const k of this.known) total += TILE_CELLS * Math.max(k.inside.size, k.near.size);
    this.sampleEvery = Math.max(1, Math.ceil(Math.sqrt(total / MOST_SAMPLES)));
    this.suspectEvery = Math.max(1, Math.ceil(Math.sqrt((0.05 * total) / MOST_SUSPECTS)));
  }

  *run(): Steps<number, void> {
    const { field, known } = this;
    const keys = new Set<number>(field.tiles.map((t) => t.key));
    for (const k of known) {
      for (const key of k.inside.keys()) keys.add(key);
      for (const key of k.near) keys.add(key);
    }
    let since = 0,
      done = 0;
    for (const key of keys) {
      this.judgeTile(key);
      done++;
      since += TILE_CELLS;
      if (since < CELLS_A_STEP) continue;
      since = 0;
      yield done / keys.size;
    }
    this.spread();
  }

  /**
   * Asks the cells round those that are faulty, and on while they are: one sample tells that something is wrong, not how large it is. Where
   * there are too many, each stands for all the cells that it was drawn from.
   */
  private spread(): void {
    const { field, suspects } = this;
    const { grid } = field;
    const drawn = suspects.length;
    for (let i = 0, spent = 0; i < suspects.length; i++) {
      const { column, row } = suspects[i]!;
      if (spent > MOST_SPREAD) {
        if (i < drawn) suspects[i]!.areaMm2 *= suspects[i]!.drawnFrom;
        continue;
      }
      for (const [dc, dr] of CELL_SIDES) {
        const c = column + dc,
          r = grid.closed ? (row + dr + grid.rows) % grid.rows : row + dr;
        if (c < 0 || c >= grid.columns || r < 0 || r >= grid.rows || this.seen.has(r * grid.columns + c)) continue;
        spent++;
        const tile = field.find(Math.floor(c / TILE), Math.floor(r / TILE));
        const at = (r % TILE) * TILE + (c % TILE);
        this.ask(c, r, tile ? tile.depth[at]! : 0, tile ? tile.motion[at]! - 1 : -1, 1);
      }
    }
  }

  private judgeTile(key: number): void {
    const { field, known, standing } = this;
    const { grid } = field;
    const tile = field.find(key % grid.tilesAlong, Math.floor(key / grid.tilesAlong));
    const c0 = (key % grid.tilesAlong) * TILE,
      r0 = Math.floor(key / grid.tilesAlong) * TILE;
    const active = known.flatMap(({ layer, inside, near }) => {
      const mask = inside.get(key) ?? null;
      const isNear = near.has(key);
      return mask || isNear ? [{ layer, mask, isNear }] : [];
    });
    const stands = standing.map((s) => s.get(key));
    const columns = Math.min(TILE, grid.columns - c0),
      rows = Math.min(TILE, grid.rows - r0);
    this.cells += columns * rows;
    for (let r = 0; r < rows; r++) {
      for (let c = 0; c < columns; c++) {
        const i = r * TILE + c;
        const depth = tile ? tile.depth[i]! : 0;
        const drawnFrom = depth > CUT_MM && stands.some((s) => s?.[i]) ? 1 : this.settle(active, i, c0 + c, r0 + r, depth);
        if (drawnFrom === 0) continue;
        // Of a piece that is wrong all over a part is enough.
        const every = this.suspects.length < MANY_FAULTY ? 1 : FAULTY_EVERY;
        if ((c0 + c) % every === 0 && (r0 + r) % every === 0)
          this.ask(c0 + c, r0 + r, depth, tile ? tile.motion[i]! - 1 : -1, Math.max(drawnFrom, every ** 2));
      }
    }
  }

  /**
   * Whether a cell must be asked exactly: a sample, or not within the bounds that its layers have at once. Tells for how many cells it is
   * asked, 0 for a cell that is settled.
   */
  private settle(active: readonly Active[], i: number, column: number, row: number, depth: number): number {
    const onLattice = column % this.sampleEvery === 0 && row % this.sampleEvery === 0;
    let must = 0,
      may = 0,
      isSample = false;
    for (const { layer, mask, isNear } of active) {
      const isIn = mask !== null && mask[i] === 1;
      const { form } = layer;
      if (form === 'area') {
        if (!isIn) continue;
        may = Math.max(may, layer.deepestMm);
        must = Math.max(must, layer.deepestMm - this.depthSlackMm);
        continue;
      }
      if (form === 'band' && layer.meaning.form === 'band') {
        const { side } = layer.meaning;
        if (!isNear || (side === 'outside' && isIn) || (side === 'inside' && !isIn)) continue;
      } else if (form !== 'holes' && form !== 'middle' && !isIn) continue;
      may = Math.max(may, layer.deepestMm);
      isSample ||= onLattice;
      if (form === 'roof' && !(depth > CUT_MM)) must = Math.max(must, 2 * CUT_MM + this.depthSlackMm);
    }
    if (depth > may + (may > 0 ? this.depthSlackMm : CUT_MM)) return 1;
    if (isSample) return this.sampleEvery ** 2;
    if (!(depth < must - this.depthSlackMm)) return 0;
    return column % this.suspectEvery === 0 && row % this.suspectEvery === 0 ? this.suspectEvery ** 2 : 0;
  }

  private ask(column: number, row: number, depth: number, motion: number, drawnFrom: number): void {
    const { field, meant } = this;
    this.seen.add(row * field.grid.columns + column);
    const x = field.cellX(column),
      y = field.cellY(row);
    if (this.setup.surface.outsideMm(x, y) > 0) return;
    this.asked++;
    this.intent.ask(x, y, this.slackMm, meant, depth);
    const add = (kind: Fault['kind'], wantedMm: number, layer: Layer | null, run: Run): void => {
      const area = field.grid.cellX * field.grid.cellY;
      this.suspects.push({ x, y, column, row, depthMm: depth, motion, areaMm2: area, drawnFrom, fault: { kind, wantedMm, layer, run } });
    };
    if (depth > meant.mayMm + (meant.mayMm > 0 ? this.depthSlackMm : CUT_MM + 0.004)) {
      if (meant.stands) add('stands', meant.mayMm, null, meant.stands.run);
      else {
        const layer = meant.allows ?? this.findNearest(x, y);
        add('too-deep', meant.mayMm, layer, layer?.run ?? this.setup.runs[this.setup.runs.length - 1]!);
      }
    } else if (meant.asks && depth < meant.mustMm - this.depthSlackMm) add('left', meant.mustMm, meant.asks, meant.asks.run);
  }

  /** The layer whose shapes are nearest to a place that no layer allows. */
  private findNearest(x: number, y: number): Layer | null {
    let best: Layer | null = null,
      least = Infinity;
    for (const { layer } of this.known) {
      const near = layer.outlines?.findNearest(x, y, 2);
      if (near && near.lateralMm < least) [best, least] = [layer, near.lateralMm];
    }
    return best ?? this.known[0]?.layer ?? null;
  }
}

/** Closed shapes whose inside matters to a layer. */
function shapesOf({ meaning }: Layer): Rings | null {
  switch (meaning.form) {
    case 'holes':
      return null;
    case 'band':
      return meaning.isClosed ? meaning.lines : null;
    default:
      return meaning.region;
  }
}

/** Lines beside which a layer cuts, and how far. */
function linesOf({ meaning }: Layer, work: Setup['work']): { xy: Float64Array[]; reachMm: number } | null {
  if (meaning.form === 'holes') return { xy: meaning.places.map((p) => Float64Array.of(...p, ...p)), reachMm: 1.5 * meaning.radiusMm };
  if (meaning.form !== 'band' && meaning.form !== 'middle') return null;
  const lines = meaning.form === 'band' ? meaning.lines : meaning.region;
  const rings = Array.from({ length: lines.starts.length - 1 }, (_, k) => getRing(lines, k));
  const xy = meaning.form === 'middle' || meaning.isClosed ? rings.map((r) => Float64Array.from([...r, r[0]!, r[1]!])) : rings;
  const print = findWidest(createPrint(meaning.profile, meaning.radiusMm, meaning.depthMm), lines, work);
  const isBeside = meaning.form === 'band' && meaning.side !== 'on';
  return { xy, reachMm: isBeside ? meaning.wallMm + 2 * print + meaning.spreadMm : print };
}

/** Faulty cells of one kind and cut that lie together are one fault, told at its worst place. */
function gather({ work }: Setup, suspects: readonly Suspect[]): { faults: Fault[]; faulty: Suspect[] } {
  const left = new Set(suspects.map((_, i) => i));
  const cells = new Map<string, number[]>();
  const keyOf = (s: Suspect, dx = 0, dy = 0): string =>
    `${s.fault.kind} ${s.fault.run.cutIndex} ${Math.floor(s.x / ONE_PLACE_MM) + dx} ${Math.floor(s.y / ONE_PLACE_MM) + dy}`;
  suspects.forEach((s, i) => cells.set(keyOf(s), [...(cells.get(keyOf(s)) ?? []), i]));
  const metric = new Float64Array(3);
  const faults: Fault[] = [];
  const faulty: Suspect[] = [];
  for (const first of left) {
    left.delete(first);
    const open = [first];
    const own: number[] = [];
    for (let i = open.pop(); i !== undefined; i = open.pop()) {
      own.push(i);
      const s = suspects[i]!;
      for (let dx = -1; dx <= 1; dx++)
        for (let dy = -1; dy <= 1; dy++) for (const j of cells.get(keyOf(s, dx, dy)) ?? []) if (left.delete(j)) open.push(j);
    }
    const off = (s: Suspect): number => Math.abs(s.depthMm - s.fault.wantedMm);
    const worst = own.map((i) => suspects[i]!).reduce((a, b) => (off(b) > off(a) ? b : a));
    work.metricInto(worst.x, worst.y, metric);
    const stretch = Math.sqrt(Math.max(0, metric[0]! * metric[2]! - metric[1]! * metric[1]!));
    const areaMm2 = stretch * own.reduce((sum, i) => sum + suspects[i]!.areaMm2, 0);
    const { layer, run, kind, wantedMm } = worst.fault;
    // What is too little to be told of is not shown either.
    if (areaMm2 < LEAST_AREA_MM2[kind]) continue;
    for (const i of own) faulty.push(suspects[i]!);
    const arts = layer?.arts ?? [];
    const letter = arts.map((art) => art.letters[findLetter(art, worst.x, worst.y)]?.char).find((c) => c !== undefined) ?? '';
    faults.push({ kind, run, letter, at: [worst.x, worst.y], depthMm: worst.depthMm, wantedMm, areaMm2, motion: worst.motion });
  }
  faults.sort((a, b) => Math.abs(b.depthMm - b.wantedMm) * b.areaMm2 - Math.abs(a.depthMm - a.wantedMm) * a.areaMm2);
  return { faults, faulty };
}
