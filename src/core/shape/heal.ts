import { err, ok, type Result } from '../base/result';
import { computeBounds, type HealReport, type ShapeMesh } from './shapeMesh';

/** Loose triangles as a file holds them: nine numbers each. */
export interface TriangleSoup {
  /** x, y, z of three corners a triangle. */
  corners: Float32Array | Float64Array;
}

export type ShapeError =
  { kind: 'notReadable'; what: string } | { kind: 'empty'; what: string } | { kind: 'tooMany'; count: number } | { kind: 'noSolid' };

export const MAX_TRIANGLES = 3_000_000;
/** Corners nearer than this share of the shape's size are one. */
const WELD_SHARE = 1e-7;

export type ShapeProgress = (share: number) => void;

/**
 * Makes one shape of loose triangles: welds corners that are one, drops triangles without area and such as stand twice, turns
 * neighbours the same way round and the whole outside out. What it finds and does is in the report. O(n) but for hashing.
 */
export function healSoup({ corners }: TriangleSoup, onProgress: ShapeProgress = () => undefined): Result<ShapeMesh, ShapeError> {
  const count = Math.floor(corners.length / 9);
  if (count === 0) return err({ kind: 'empty', what: 'it has no triangle' });
  if (count > MAX_TRIANGLES) return err({ kind: 'tooMany', count });
  for (let i = 0; i < corners.length; i++) {
    if (!Number.isFinite(corners[i]))
      return err({
        kind: 'notReadable',
        what: `corner ${(Math.floor(i / 3) % 3) + 1} of triangle ${Math.floor(i / 9) + 1} has a number that is none`,
      });
  }
  const welded = weld(corners, count);
  onProgress(0.4);
  const { positions, index } = welded;
  const kept = dropBad(positions, index);
  if (kept.triangles.length === 0) return err({ kind: 'empty', what: 'none of its triangles has an area' });
  onProgress(0.6);
  const { triangles } = kept;
  const edges = pairEdges(triangles, positions.length / 3);
  onProgress(0.8);
  const turned = orient(positions, triangles, edges.neighbours);
  const { neighbours } = edges;
  onProgress(1);
  const { volume, area } = measure(positions, triangles);
  const report: HealReport = {
    triangles: triangles.length / 3,
    vertices: positions.length / 3,
    degenerate: kept.degenerate,
    duplicates: kept.duplicates,
    flipped: turned.flipped,
    openEdges: edges.open,
    crowdedEdges: edges.crowded,
    parts: turned.parts,
    volume,
    area,
  };
  return ok({ positions, triangles, neighbours, report });
}

/** Open hashing of grid places; a power of two of slots. */
function createSlots(count: number): { slots: Int32Array; mask: number } {
  let size = 1024;
  while (size < 2 * count) size *= 2;
  return { slots: new Int32Array(size).fill(-1), mask: size - 1 };
}

const hash3 = (x: number, y: number, z: number): number => {
  let h = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b) ^ Math.imul(z, 0xc2b2ae35);
  h ^= h >>> 15;
  h = Math.imul(h, 0x2c1b3c6d);
  return (h ^ (h >>> 13)) >>> 0;
};

function weld(corners: ArrayLike<number>, count: number): { positions: Float64Array; index: Uint32Array } {
  const flat = corners as Float64Array;
  const { min, max } = computeBounds({ positions: flat });
  const size = Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2], 1e-9);
  const cell = size * WELD_SHARE;
  const n = 3 * count;
  const { slots, mask } = createSlots(n);
  const index = new Uint32Array(n);
  const grid = new Int32Array(3 * n);
  const positions = new Float64Array(3 * n);
  let vertices = 0;
  for (let i = 0; i < n; i++) {
    const gx = Math.round((corners[3 * i]! - min[0]) / cell),
      gy = Math.round((corners[3 * i + 1]! - min[1]) / cell),
      gz = Math.round((corners[3 * i + 2]! - min[2]) / cell);
    let slot = hash3(gx, gy, gz) & mask;
    let v = slots[slot]!;
    while (v >= 0 && (grid[3 * v] !== gx || grid[3 * v + 1] !== gy || grid[3 * v + 2] !== gz)) {
      slot = (slot + 1) & mask;
      v = slots[slot]!;
    }
    if (v < 0) {
      v = vertices++;
      slots[slot] = v;
      grid[3 * v] = gx;
      grid[3 * v + 1] = gy;
      grid[3 * v + 2] = gz;
      positions[3 * v] = corners[3 * i]!;
      positions[3 * v + 1] = corners[3 * i + 1]!;
      positions[3 * v + 2] = corners[3 * i + 2]!;
    }
    index[i] = v;
  }
  return { positions: positions.slice(0, 3 * vertices), index };
}

function dropBad(p: Float64Array, index: Uint32Array): { triangles: Uint32Array; degenerate: number; duplicates: number } {
  const out = new Uint32Array(index.length);
  const { slots, mask } = createSlots(index.length / 3);
  let at = 0,
    degenerate = 0,
    duplicates = 0;
  for (let i = 0; i < index.length; i += 3) {
    const a = index[i]!,
      b = index[i + 1]!,
      c = index[i + 2]!;
    if (a === b || b === c || c === a || !hasArea(p, a, b, c)) {
      degenerate++;
      continue;
    }
    const low = Math.min(a, b, c),
      high = Math.max(a, b, c),
      middle = a + b + c - low - high;
    let slot = hash3(low, middle, high) & mask;
    let twice = false;
    for (let t = slots[slot]!; t >= 0; t = slots[slot]!) {
      const x = out[3 * t]!,
        y = out[3 * t + 1]!,
        z = out[3 * t + 2]!;
      const l = Math.min(x, y, z),
        h = Math.max(x, y, z);
      if (l === low && h === high && x + y + z - l - h === middle) {
        twice = true;
        break;
      }
      slot = (slot + 1) & mask;
    }
    if (twice) {
      duplicates++;
      continue;
    }
    slots[slot] = at / 3;
    out[at++] = a;
    out[at++] = b;
    out[at++] = c;
  }
  return { triangles: out.slice(0, at), degenerate, duplicates };
}

/** Whether a triangle is more than a line: its height over its longest side is more than rounding. */
function hasArea(p: Float64Array, ia: number, ib: number, ic: number): boolean {
  const a = 3 * ia,
    b = 3 * ib,
    c = 3 * ic;
  const ux = p[b]! - p[a]!,
    uy = p[b + 1]! - p[a + 1]!,
    uz = p[b + 2]! - p[a + 2]!;
  const vx = p[c]! - p[a]!,
    vy = p[c + 1]! - p[a + 1]!,
    vz = p[c + 2]! - p[a + 2]!;
  const nx = uy * vz - uz * vy,
    ny = uz * vx - ux * vz,
    nz = ux * vy - uy * vx;
  const longest = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz);
  return nx * nx + ny * ny + nz * nz > 1e-16 * longest * longest;
}

/** Finds the triangle across each edge. Edges with three triangles or more have no neighbour: the surface ends there. */
function pairEdges(t: Uint32Array, vertices: number): { neighbours: Int32Array; open: number; crowded: number } {
  const n = t.length;
  const neighbours = new Int32Array(n).fill(-1);
  // Half-edges by their lower vertex, in lists: no more hashing than an array.
  const head = new Int32Array(vertices).fill(-1);
  const next = new Int32Array(n);
  const other = (h: number): number => t[h % 3 === 2 ? h - 2 : h + 1]!;
  for (let h = 0; h < n; h++) {
    const low = Math.min(t[h]!, other(h));
    next[h] = head[low]!;
    head[low] = h;
  }
  let open = 0,
    crowded = 0;
  const done = new Uint8Array(n);
  for (let h = 0; h < n; h++) {
    if (done[h]) continue;
    const a = t[h]!,
      b = other(h);
    const low = Math.min(a, b),
      high = Math.max(a, b);
    let mate = -1,
      count = 0;
    for (let g = head[low]!; g >= 0; g = next[g]!) {
      const c = t[g]!,
        d = other(g);
      if (Math.min(c, d) !== low || Math.max(c, d) !== high) continue;
      count++;
      done[g] = 1;
      if (g !== h) mate = g;
    }
    if (count === 1) open++;
    else if (count === 2) {
      neighbours[h] = Math.floor(mate / 3);
      neighbours[mate] = Math.floor(h / 3);
    } else crowded++;
  }
  return { neighbours, open, crowded };
}

/** Turns each part one way round, and outside out if its volume is negative. Neighbours follow their edges. */
function orient(p: Float64Array, t: Uint32Array, neighbours: Int32Array): { flipped: number; parts: number } {
  const count = t.length / 3;
  const part = new Int32Array(count).fill(-1);
  const turned = new Uint8Array(count);
  const stack: number[] = [];
  let parts = 0,
    flipped = 0;
  const volumes: number[] = [];
  const flip = (f: number): void => {
    // Corners 1 and 2 swapped: edge 0 and edge 2 swap with them.
    const b = t[3 * f + 1]!;
    t[3 * f + 1] = t[3 * f + 2]!;
    t[3 * f + 2] = b;
    const e = neighbours[3 * f]!;
    neighbours[3 * f] = neighbours[3 * f + 2]!;
    neighbours[3 * f + 2] = e;
    turned[f] = turned[f] ? 0 : 1;
  };
  for (let s = 0; s < count; s++) {
    if (part[s]! >= 0) continue;
    part[s] = parts;
    stack.push(s);
    let volume = 0;
    while (stack.length) {
      const f = stack.pop()!;
      volume += signedVolume(p, t[3 * f]!, t[3 * f + 1]!, t[3 * f + 2]!);
      for (let k = 0; k < 3; k++) {
        const g = neighbours[3 * f + k]!;
        if (g < 0 || part[g]! >= 0) continue;
        const a = t[3 * f + k]!,
          b = t[3 * f + ((k + 1) % 3)]!;
        // Alike if the neighbour runs the shared edge the other way.
        let alike = false;
        for (let m = 0; m < 3; m++) if (t[3 * g + m] === b && t[3 * g + ((m + 1) % 3)] === a) alike = true;
        if (!alike) flip(g);
        part[g] = parts;
        stack.push(g);
      }
    }
    volumes.push(volume);
    parts++;
  }
  for (let f = 0; f < count; f++) if (volumes[part[f]!]! < 0) flip(f);
  for (let f = 0; f < count; f++) flipped += turned[f]!;
  return { flipped, parts };
}

function signedVolume(p: Float64Array, ia: number, ib: number, ic: number): number {
  const a = 3 * ia,
    b = 3 * ib,
    c = 3 * ic;
  return (
    (p[a]! * (p[b + 1]! * p[c + 2]! - p[b + 2]! * p[c + 1]!) +
      p[a + 1]! * (p[b + 2]! * p[c]! - p[b]! * p[c + 2]!) +
      p[a + 2]! * (p[b]! * p[c + 1]! - p[b + 1]! * p[c]!)) /
    6
  );
}

/** Volume inside and area of closed triangles. Source: divergence theorem, elementary. */
export function measure(p: Float64Array, t: Uint32Array): { volume: number; area: number } {
  let volume = 0,
    area = 0;
  for (let i = 0; i < t.length; i += 3) {
    volume += signedVolume(p, t[i]!, t[i + 1]!, t[i + 2]!);
    const a = 3 * t[i]!,
      b = 3 * t[i + 1]!,
      c = 3 * t[i + 2]!;
    const ux = p[b]! - p[a]!,
      uy = p[b + 1]! - p[a + 1]!,
      uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!,
      vy = p[c + 1]! - p[a + 1]!,
      vz = p[c + 2]! - p[a + 2]!;
    area += Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2) / 2;
  }
  return { volume, area };
}

/** A shape's fault in words: what, and what to do. */
export function describeShapeError(error: ShapeError, fileName: string): string {
  switch (error.kind) {
    case 'notReadable':
      return `${fileName} cannot be read: ${error.what}. Export it anew as STL, OBJ or STEP.`;
    case 'empty':
      return `${fileName} holds no surface: ${error.what}. Export the solid itself, not its sketch or curves.`;
    case 'tooMany':
      return `${fileName} has ${error.count.toLocaleString('en-GB')} triangles; up to ${MAX_TRIANGLES.toLocaleString('en-GB')} can be taken. Export it with a coarser chord tolerance.`;
    case 'noSolid':
      return `${fileName} is a STEP file without a solid or a shell in it. Export the body, not only curves or an empty assembly.`;
  }
}
