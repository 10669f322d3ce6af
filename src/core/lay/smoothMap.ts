/** A map of a plane on to the sheet about some anchor: writes x, y and how squarely it meets the surface (1: along the normal). */
export interface PlaneMap {
  /** @returns Whether the place is on the surface; if not, `out` may hold anything. */
  map(u: number, v: number, out: Float64Array): boolean;
}

/** Nodes along each side of a tile. */
const N = 7;
/** Tiles are parted until they are this small, mm; below it the map itself is asked. */
const MIN_TILE_MM = 0.3;
/** Places in a tile, as shares of its half-side, at which it is held against the map. */
const PROBES = [[0.31, -0.57], [-0.83, 0.79]] as const;

/** Chebyshev points of the second kind, at which polynomials are steadiest. Source: any numerical handbook (from memory). */
const NODES = Float64Array.from({ length: N }, (_, k) => Math.cos((Math.PI * k) / (N - 1)));
/** Coefficients of powers from values at the nodes: the inverse of their Vandermonde matrix; well conditioned for so few. */
const TO_POWERS = invertVandermonde(NODES);

function invertVandermonde(t: Float64Array): Float64Array {
  const n = t.length;
  const a = Array.from(t, (x, r) => Array.from({ length: 2 * n }, (_, c) => (c < n ? x ** c : c - n === r ? 1 : 0)));
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let r = k; r < n; r++) if (Math.abs(a[r]![k]!) > Math.abs(a[best]![k]!)) best = r;
    [a[k], a[best]] = [a[best]!, a[k]!];
    const pivot = a[k]![k]!;
    for (let c = 0; c < 2 * n; c++) a[k]![c]! /= pivot;
    for (let r = 0; r < n; r++) {
      if (r === k) continue;
      const f = a[r]![k]!;
      for (let c = 0; c < 2 * n; c++) a[r]![c]! -= f * a[k]![c]!;
    }
  }
  return Float64Array.from({ length: n * n }, (_, i) => a[Math.floor(i / n)]![n + (i % n)]!);
}

interface Tile {
  u: number;
  v: number;
  half: number;
  /** Coefficients of u^a v^b for x, y and facing in turn; null where the tile is parted or the map is asked. */
  powers: Float64Array | null;
  /** Whether facing is 1 all over, as on every lay but projection. */
  square: boolean;
  parts: Tile[] | null;
}

/** Coefficients of one component from its values at N × N nodes. */
function toPowers(values: Float64Array, from: number, powers: Float64Array, to: number): void {
  const half = new Float64Array(N * N);
  for (let i = 0; i < N; i++) {
    for (let b = 0; b < N; b++) {
      let sum = 0;
      for (let j = 0; j < N; j++) sum += TO_POWERS[b * N + j]! * values[3 * (i * N + j) + from]!;
      half[i * N + b] = sum;
    }
  }
  for (let a = 0; a < N; a++) {
    for (let b = 0; b < N; b++) {
      let sum = 0;
      for (let i = 0; i < N; i++) sum += TO_POWERS[a * N + i]! * half[i * N + b]!;
      powers[to + a * N + b] = sum;
    }
  }
}

function readPowers(p: Float64Array, from: number, u: number, v: number): number {
  let sum = 0;
  for (let a = N - 1, at = from + N * N - 1; a >= 0; a--) {
    let row = 0;
    for (let b = N - 1; b >= 0; b--) row = row * v + p[at--]!;
    sum = sum * u + row;
  }
  return sum;
}

function readTile(t: Tile, u: number, v: number, out: Float64Array): void {
  const x = (u - t.u) / t.half, y = (v - t.v) / t.half;
  out[0] = readPowers(t.powers!, 0, x, y);
  out[1] = readPowers(t.powers!, N * N, x, y);
  out[2] = t.square ? 1 : readPowers(t.powers!, 2 * N * N, x, y);
}

/**
 * A dear, smooth map read from tiles by polynomials through Chebyshev points. Tiles are made when first needed; one that is off
 * by more than the tolerance at its probes, or of which a part is not on the surface, is parted into four.
 * @param tileMm Side of the tiles to begin with, mm; one is centred on the anchor.
 * @param toleranceMm Largest error at the probes, mm.
 */
export function createSmoothMap(base: PlaneMap, tileMm: number, toleranceMm: number): PlaneMap {
  const tiles = new Map<number, Tile>();
  const probe = new Float64Array(3), read = new Float64Array(3);

  const make = (u: number, v: number, half: number): Tile => {
    const tile: Tile = { u, v, half, powers: null, square: true, parts: null };
    const values = new Float64Array(3 * N * N);
    const part = (): Tile => {
      tile.powers = null;
      if (half > MIN_TILE_MM) {
        const h = half / 2;
        tile.parts = [make(u - h, v - h, h), make(u + h, v - h, h), make(u - h, v + h, h), make(u + h, v + h, h)];
      }
      return tile;
    };
    for (let a = 0, at = 0; a < N; a++) {
      for (let b = 0; b < N; b++, at += 3) {
        if (!base.map(u + half * NODES[a]!, v + half * NODES[b]!, probe)) return part();
        values.set(probe, at);
        if (probe[2] !== 1) tile.square = false;
      }
    }
    tile.powers = new Float64Array(3 * N * N);
    for (let c = 0; c < 3; c++) toPowers(values, c, tile.powers, c * N * N);
    for (const [pu, pv] of PROBES) {
      const [x, y] = [u + half * pu, v + half * pv];
      if (!base.map(x, y, probe)) return part();
      readTile(tile, x, y, read);
      if (!(Math.abs(read[0]! - probe[0]!) <= toleranceMm && Math.abs(read[1]! - probe[1]!) <= toleranceMm)) return part();
    }
    return tile;
  };

  let last: Tile | null = null;
  const find = (u: number, v: number): Tile => {
    const i = Math.round(u / tileMm), j = Math.round(v / tileMm);
    const key = (i + 32768) * 65536 + (j + 32768);
    let tile = tiles.get(key);
    if (!tile) tiles.set(key, (tile = make(i * tileMm, j * tileMm, tileMm / 2)));
    while (tile.parts) tile = tile.parts[(u > tile.u ? 1 : 0) + (v > tile.v ? 2 : 0)]!;
    return tile;
  };
  return {
    map(u, v, out) {
      if (!last || Math.abs(u - last.u) > last.half || Math.abs(v - last.v) > last.half) last = find(u, v);
      if (!last.powers) return base.map(u, v, out);
      readTile(last, u, v, out);
      return true;
    },
  };
}
