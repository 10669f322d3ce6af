import { invertMatrix } from '../base/matrix';
import type { Walk } from '../surface/surface';

/** A map of a plane on to the sheet about some anchor: writes x, y and how squarely it meets the surface (1: along the normal). */
export interface PlaneMap {
  /** @returns Whether the place is on the surface; if not, `out` may hold anything. */
  map(u: number, v: number, out: Float64Array): boolean;
}

/** Nodes along each side of a tile; `readTile` is written out for so many. */
const N = 7;
const NODE_COUNT = N * N;
/** Tiles are split until they are this small, mm; below that size the map itself is evaluated. */
const MIN_TILE_MM = 0.3;
/** The same for tiles split by the surface's edge: lettering that crosses it is not laid, so a coarse answer is enough there. */
const MIN_EDGE_TILE_MM = 1.2;
/** Places in a tile, as shares of its half-side, at which it is held against the map. */
const PROBES = [
  [0.31, -0.57],
  [-0.83, 0.79],
] as const;

/** Chebyshev points of the second kind, at which polynomials are steadiest. Source: any numerical handbook (from memory). */
const NODES = Float64Array.from({ length: N }, (_, k) => Math.cos((Math.PI * k) / (N - 1)));
/** Coefficients of powers from values at the nodes: the inverse of their Vandermonde matrix; well conditioned for so few. */
const TO_POWERS = invertVandermonde(NODES);

function invertVandermonde(t: Float64Array): Float64Array {
  return Float64Array.from(invertMatrix(Array.from(t, (x) => Array.from(t, (_, c) => x ** c)))!.flat());
}

/** Values of the map at a tile's nodes, then at its probes: x, y and facing in turn. */
const SAMPLE_COUNT = NODE_COUNT + PROBES.length;
const SAMPLES = 3 * SAMPLE_COUNT;

/** A part of the map, in whichever two coordinates it is read by, and the polynomials that stand for it there. */
interface Tile {
  p: number;
  q: number;
  halfP: number;
  halfQ: number;
  /** Coefficients of p^a q^b: of x and y by turns, then of facing; null where the tile is split or the map itself is evaluated. */
  powers: Float64Array | null;
  /** Whether facing is 1 all over, as on every lay but projection. */
  square: boolean;
  /** Whether nothing of it is on the surface. */
  empty: boolean;
  parts: (Tile | null)[] | null;
}

/** Coefficients of one component from its values at N × N nodes. */
function toPowers(values: Float64Array, from: number, powers: Float64Array, to: number, step: number): void {
  for (let i = 0; i < N; i++) {
    for (let b = 0; b < N; b++) {
      let sum = 0;
      for (let j = 0; j < N; j++) sum += TO_POWERS[b * N + j]! * values[3 * (i * N + j) + from]!;
      rows[i * N + b] = sum;
    }
  }
  for (let a = 0; a < N; a++) {
    for (let b = 0; b < N; b++) {
      let sum = 0;
      for (let i = 0; i < N; i++) sum += TO_POWERS[a * N + i]! * rows[i * N + b]!;
      powers[to + step * (a * N + b)] = sum;
    }
  }
}
const rows = new Float64Array(NODE_COUNT);

/**
 * Reads a tile. Rows are written out in powers, not by Horner's rule, so that no product waits for the one before: half the time
 * of a loop, and this runs for every vertex of all lettering.
 */
function readTile(t: Tile, p: number, q: number, out: Float64Array): void {
  const u = (p - t.p) / t.halfP,
    v = (q - t.q) / t.halfQ;
  const v2 = v * v,
    v3 = v2 * v,
    v4 = v2 * v2,
    v5 = v4 * v,
    v6 = v4 * v2;
  const k = t.powers!;
  let x = 0,
    y = 0;
  for (let o = 2 * NODE_COUNT - 2 * N; o >= 0; o -= 2 * N) {
    x = x * u + (k[o]! + k[o + 2]! * v + k[o + 4]! * v2 + k[o + 6]! * v3 + k[o + 8]! * v4 + k[o + 10]! * v5 + k[o + 12]! * v6);
    y = y * u + (k[o + 1]! + k[o + 3]! * v + k[o + 5]! * v2 + k[o + 7]! * v3 + k[o + 9]! * v4 + k[o + 11]! * v5 + k[o + 13]! * v6);
  }
  out[0] = x;
  out[1] = y;
  if (t.square) {
    out[2] = 1;
    return;
  }
  let facing = 0;
  for (let o = 3 * NODE_COUNT - N; o >= 2 * NODE_COUNT; o -= N) {
    facing = facing * u + (k[o]! + k[o + 1]! * v + k[o + 2]! * v2 + k[o + 3]! * v3 + k[o + 4]! * v4 + k[o + 5]! * v5 + k[o + 6]! * v6);
  }
  out[2] = facing;
}

/**
 * Makes tiles: polynomials through the nodes where the probes agree with them, else four smaller tiles, made when they are first
 * needed, and below a smallest size none, so that the map itself is asked. Where no node lies on the surface nothing does.
 */
function createTiler(ask: (p: number, q: number, out: Float64Array) => boolean, toleranceMm: number) {
  const at = new Float64Array(3),
    samples = new Float64Array(SAMPLES);
  const sample = (p: number, q: number, halfP: number, halfQ: number): number => {
    let missing = 0;
    for (let k = 0, to = 0; k < SAMPLE_COUNT; k++, to += 3) {
      const [u, v] = k < NODE_COUNT ? [NODES[Math.floor(k / N)]!, NODES[k % N]!] : PROBES[k - NODE_COUNT]!;
      if (!ask(p + halfP * u, q + halfQ * v, at)) missing++;
      samples.set(at, to);
    }
    return missing;
  };
  /** @param values What the map says at the nodes and probes, and of how many it says nothing; asked if left out. */
  const make = (p: number, q: number, halfP: number, halfQ: number, values = samples, missing = sample(p, q, halfP, halfQ)): Tile => {
    const tile: Tile = { p, q, halfP, halfQ, powers: null, square: true, empty: missing === SAMPLE_COUNT, parts: null };
    if (tile.empty) return tile;
    if (missing === 0) {
      for (let i = 2; i < SAMPLES; i += 3) if (values[i] !== 1) tile.square = false;
      tile.powers = new Float64Array((tile.square ? 2 : 3) * NODE_COUNT);
      toPowers(values, 0, tile.powers, 0, 2);
      toPowers(values, 1, tile.powers, 1, 2);
      if (!tile.square) toPowers(values, 2, tile.powers, 2 * NODE_COUNT, 1);
      const agrees = PROBES.every(([u, v], k) => {
        readTile(tile, p + halfP * u, q + halfQ * v, at);
        const want = 3 * (NODE_COUNT + k);
        return Math.abs(at[0]! - values[want]!) <= toleranceMm && Math.abs(at[1]! - values[want + 1]!) <= toleranceMm;
      });
      if (agrees) return tile;
      tile.powers = null;
    }
    if (halfP > (missing ? MIN_EDGE_TILE_MM : MIN_TILE_MM)) tile.parts = [null, null, null, null];
    return tile;
  };
  /** The part of a tile that holds a place, made if need be. */
  const descend = (tile: Tile, p: number, q: number): Tile => {
    while (tile.parts) {
      const right = p > tile.p,
        upper = q > tile.q;
      const [a, b] = [tile.halfP / 2, tile.halfQ / 2];
      tile = tile.parts[(right ? 1 : 0) + (upper ? 2 : 0)] ??= make(tile.p + (right ? a : -a), tile.q + (upper ? b : -b), a, b);
    }
    return tile;
  };
  return { make, descend };
}

/**
 * An expensive, smooth map read from tiles by polynomials through Chebyshev points. Tiles are made when first needed; one that is off
 * by more than the tolerance at its probes, or of which a part is not on the surface, is split into four.
 * @param tileMm Side of the tiles to begin with, mm; one is centred on the anchor.
 * @param toleranceMm Largest error at the probes, mm.
 */
export function createSmoothMap(base: PlaneMap, tileMm: number, toleranceMm: number): PlaneMap {
  const tiles = new Map<number, Tile>();
  const { make, descend } = createTiler((u, v, out) => base.map(u, v, out), toleranceMm);
  let last: Tile | null = null;
  const find = (u: number, v: number): Tile => {
    const i = Math.round(u / tileMm),
      j = Math.round(v / tileMm);
    const key = (i + 32768) * 65536 + (j + 32768);
    let tile = tiles.get(key);
    if (!tile) tiles.set(key, (tile = make(i * tileMm, j * tileMm, tileMm / 2, tileMm / 2)));
    return descend(tile, u, v);
  };
  return {
    map(u, v, out) {
      if (!last || Math.abs(u - last.p) > last.halfP || Math.abs(v - last.q) > last.halfQ) last = find(u, v);
      if (last.empty) return false;
      if (!last.powers) return base.map(u, v, out);
      readTile(last, u, v, out);
      return true;
    },
  };
}

/** Sectors round the anchor. Even, so that the seam of the angle lies in the middle of one. */
const SECTORS = 16;

/** So many tiles along a ray; what lies farther is asked. */
const MAX_TILES = 1000;

/** Rays of one sector, in the order of the nodes across it and then the probes, and the tiles along them so far. */
interface Sector {
  rays: Walk[];
  tiles: Tile[];
}

/**
 * A map that walks straight on from its anchor, read as `createSmoothMap` reads others, but by distance and bearing: each ray is
 * walked once, and leaves the nodes of every tile along it. One walk for what would be dozens.
 * @param walkFrom Starts the walk to (du, dv). @param tileMm Length of the tiles along the rays, mm. @param toleranceMm As there.
 */
export function createRayMap(base: PlaneMap, walkFrom: (du: number, dv: number) => Walk, tileMm: number, toleranceMm: number): PlaneMap {
  const wide = (2 * Math.PI) / SECTORS;
  const { make, descend } = createTiler((r, t, out) => base.map(r * Math.cos(t), r * Math.sin(t), out), toleranceMm);
  const sectors: (Sector | undefined)[] = [];
  const values = new Float64Array(SAMPLES),
    at = new Float64Array(3);
  at[2] = 1;

  const startRays = (k: number): Sector => {
    const across = [...NODES, ...PROBES.map(([, v]) => v)];
    return { tiles: [], rays: across.map((v) => walkFrom(Math.cos(wide * (k + v / 2)), Math.sin(wide * (k + v / 2)))) };
  };
  const grow = (sector: Sector, k: number): void => {
    const half = tileMm / 2,
      middle = (2 * sector.tiles.length + 1) * half;
    let missing = 0;
    const leave = (ray: Walk, r: number, sample: number): void => {
      if (!ray.toInto(r, at)) missing++;
      values.set(at, 3 * sample);
    };
    // Nodes fall from the far end to the near one.
    for (let b = 0; b < N; b++) for (let a = N - 1; a >= 0; a--) leave(sector.rays[b]!, middle + half * NODES[a]!, a * N + b);
    PROBES.forEach(([u], p) => leave(sector.rays[N + p]!, middle + half * u, NODE_COUNT + p));
    sector.tiles.push(make(middle, wide * k, half, wide / 2, values, missing));
  };
  let last: Tile | null = null;
  return {
    map(u, v, out) {
      const r = Math.sqrt(u * u + v * v),
        t = Math.atan2(v, u);
      if (!last || Math.abs(r - last.p) > last.halfP || Math.abs(t - last.q) > last.halfQ) {
        if (!(r < MAX_TILES * tileMm)) return base.map(u, v, out);
        // Half a turn back and half a turn on are one sector, under two numbers.
        const k = Math.round(t / wide);
        const sector = (sectors[k + SECTORS] ??= startRays(k));
        const n = Math.floor(r / tileMm);
        while (sector.tiles.length <= n) grow(sector, k);
        last = descend(sector.tiles[n]!, r, t);
      }
      if (last.empty) return false;
      if (!last.powers) return base.map(u, v, out);
      readTile(last, r, t, out);
      return true;
    },
  };
}
