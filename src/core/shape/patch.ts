import { packRings, type Rings } from '../base/rings';
import type { BlankOf } from '../job/blankSchema';
import type { ShapeMesh } from './shapeMesh';

/** Triangles by the cells of the sheet that their boxes meet: `list[start[c] .. start[c + 1]]`. */
export interface CellGrid {
  minX: number;
  minY: number;
  cellMm: number;
  columns: number;
  rows: number;
  start: Uint32Array;
  list: Uint32Array;
}

/**
 * The part of a free shape that is lettered, in the blank frame: what faces the pick and hangs together with it over edges
 * that bend little. Typed arrays alone, so that it can be made in a worker and handed over.
 */
export interface Patch {
  /** x, y, z a vertex of the whole shape, mm, blank frame. */
  positions: Float64Array;
  /** Three vertices a triangle, patch alone. */
  triangles: Uint32Array;
  /** Across each edge within the patch, or −1. */
  neighbours: Int32Array;
  /** Unit normal a vertex, smooth over the patch; 0 where the patch does not reach. */
  normals: Float32Array;
  grid: CellGrid;
  /** Triangles below the patch that face away from it: where the tool would come through. */
  under: { triangles: Uint32Array; grid: CellGrid };
  outline: Rings;
  domain: { minX: number; maxX: number; minY: number; maxY: number };
  areaMm2: number;
}

/** Steeper than this against the pick's normal, a face is seen too much from the side to be lettered from there. */
const MIN_FACING = Math.cos((82 * Math.PI) / 180);
const MAX_CELLS = 4_000_000;

/** Axes of the blank frame in the shape's own: x, y, z rows of three. z is the pick's normal, x the file's x as far as it can be. */
export function computePoseAxes(blank: Pick<BlankOf<'free'>, 'normal' | 'turnDeg'>): [number[], number[], number[]] {
  const length = Math.hypot(...blank.normal);
  const z = blank.normal.map((v) => v / length);
  const from = Math.abs(z[0]!) > 0.95 ? [0, 1, 0] : [1, 0, 0];
  const along = from[0]! * z[0]! + from[1]! * z[1]! + from[2]! * z[2]!;
  let x = from.map((v, k) => v - along * z[k]!);
  const lx = Math.hypot(...x);
  x = x.map((v) => v / lx);
  const y = [z[1]! * x[2]! - z[2]! * x[1]!, z[2]! * x[0]! - z[0]! * x[2]!, z[0]! * x[1]! - z[1]! * x[0]!];
  const t = (blank.turnDeg * Math.PI) / 180;
  const c = Math.cos(t),
    s = Math.sin(t);
  return [x.map((v, k) => c * v + s * y[k]!), y.map((v, k) => c * v - s * x[k]!), z];
}

/** Takes the shape's vertices into the blank frame, mm. O(vertices). */
export function placeVertices(blank: BlankOf<'free'>, positions: Float64Array): Float64Array {
  const [x, y, z] = computePoseAxes(blank);
  const lift = blank.mount === 'rotary' ? blank.axisBelowMm : 0;
  const out = new Float64Array(positions.length);
  const [p0, p1, p2] = blank.pick;
  const k = blank.unitMm;
  for (let i = 0; i < positions.length; i += 3) {
    const a = k * (positions[i]! - p0),
      b = k * (positions[i + 1]! - p1),
      c = k * (positions[i + 2]! - p2);
    out[i] = x[0]! * a + x[1]! * b + x[2]! * c;
    out[i + 1] = y[0]! * a + y[1]! * b + y[2]! * c;
    out[i + 2] = z[0]! * a + z[1]! * b + z[2]! * c + lift;
  }
  return out;
}

/**
 * Grows the patch from the pick and indexes it. O(triangles).
 * @returns Null where nothing of the shape faces the pick's direction.
 */
export function createPatch(blank: BlankOf<'free'>, mesh: ShapeMesh, onProgress: (share: number) => void = () => undefined): Patch | null {
  const positions = placeVertices(blank, mesh.positions);
  const t = mesh.triangles;
  const count = t.length / 3;
  const normals = computeFaceNormals(positions, t);
  onProgress(0.2);
  const lift = blank.mount === 'rotary' ? blank.axisBelowMm : 0;
  const seed = findSeed(positions, t, normals, lift);
  if (seed < 0) return null;
  const cosCrease = Math.cos((blank.creaseDeg * Math.PI) / 180);
  const inPatch = new Int32Array(count).fill(-1);
  const order = [seed];
  inPatch[seed] = 0;
  for (let head = 0; head < order.length; head++) {
    const f = order[head]!;
    for (let k = 0; k < 3; k++) {
      const g = mesh.neighbours[3 * f + k]!;
      if (g < 0 || inPatch[g]! >= 0 || normals[3 * g + 2]! < MIN_FACING) continue;
      const cos = normals[3 * f]! * normals[3 * g]! + normals[3 * f + 1]! * normals[3 * g + 1]! + normals[3 * f + 2]! * normals[3 * g + 2]!;
      if (cos < cosCrease) continue;
      inPatch[g] = order.length;
      order.push(g);
    }
  }
  onProgress(0.5);
  const triangles = new Uint32Array(3 * order.length);
  const neighbours = new Int32Array(3 * order.length);
  order.forEach((f, i) => {
    for (let k = 0; k < 3; k++) {
      triangles[3 * i + k] = t[3 * f + k]!;
      const g = mesh.neighbours[3 * f + k]!;
      neighbours[3 * i + k] = g < 0 ? -1 : inPatch[g]!;
    }
  });
  const domain = computeDomain(positions, triangles);
  const grid = createGrid(positions, triangles, domain);
  onProgress(0.8);
  const below: number[] = [];
  for (let f = 0; f < count; f++) {
    if (normals[3 * f + 2]! > -0.02) continue;
    const [a, b, c] = [3 * t[3 * f]!, 3 * t[3 * f + 1]!, 3 * t[3 * f + 2]!];
    if (
      Math.max(positions[a]!, positions[b]!, positions[c]!) < domain.minX ||
      Math.min(positions[a]!, positions[b]!, positions[c]!) > domain.maxX
    )
      continue;
    if (
      Math.max(positions[a + 1]!, positions[b + 1]!, positions[c + 1]!) < domain.minY ||
      Math.min(positions[a + 1]!, positions[b + 1]!, positions[c + 1]!) > domain.maxY
    )
      continue;
    below.push(t[3 * f]!, t[3 * f + 1]!, t[3 * f + 2]!);
  }
  const under = Uint32Array.from(below);
  let area = 0;
  for (let i = 0; i < triangles.length; i += 3) area += computeArea(positions, triangles[i]!, triangles[i + 1]!, triangles[i + 2]!);
  onProgress(1);
  return {
    positions,
    triangles,
    neighbours,
    normals: computeVertexNormals(positions, triangles),
    grid,
    under: { triangles: under, grid: createGrid(positions, under, domain) },
    outline: computeOutline(positions, triangles, neighbours),
    domain,
    areaMm2: area,
  };
}

export function computeFaceNormals(p: Float64Array, t: Uint32Array): Float32Array {
  const out = new Float32Array(t.length);
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i]!,
      b = 3 * t[i + 1]!,
      c = 3 * t[i + 2]!;
    const ux = p[b]! - p[a]!,
      uy = p[b + 1]! - p[a + 1]!,
      uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!,
      vy = p[c + 1]! - p[a + 1]!,
      vz = p[c + 2]! - p[a + 2]!;
    const nx = uy * vz - uz * vy,
      ny = uz * vx - ux * vz,
      nz = ux * vy - uy * vx;
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    out[i] = nx / l;
    out[i + 1] = ny / l;
    out[i + 2] = nz / l;
  }
  return out;
}

function computeArea(p: Float64Array, ia: number, ib: number, ic: number): number {
  const a = 3 * ia,
    b = 3 * ib,
    c = 3 * ic;
  const ux = p[b]! - p[a]!,
    uy = p[b + 1]! - p[a + 1]!,
    uz = p[b + 2]! - p[a + 2]!;
  const vx = p[c]! - p[a]!,
    vy = p[c + 1]! - p[a + 1]!,
    vz = p[c + 2]! - p[a + 2]!;
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}

/** The triangle under the pick: it holds the origin of the sheet and is nearest to it in height; else the nearest that faces up. */
function findSeed(p: Float64Array, t: Uint32Array, normals: Float32Array, lift: number): number {
  let best = Infinity,
    seed = -1,
    nearBest = Infinity,
    near = -1;
  for (let i = 0; i < t.length; i += 3) {
    if (normals[i + 2]! < MIN_FACING) continue;
    const a = 3 * t[i]!,
      b = 3 * t[i + 1]!,
      c = 3 * t[i + 2]!;
    const ab = p[a]! * p[b + 1]! - p[a + 1]! * p[b]!,
      bc = p[b]! * p[c + 1]! - p[b + 1]! * p[c]!,
      ca = p[c]! * p[a + 1]! - p[c + 1]! * p[a]!;
    if (ab >= 0 && bc >= 0 && ca >= 0) {
      const sum = ab + bc + ca || 1;
      const z = (bc * p[a + 2]! + ca * p[b + 2]! + ab * p[c + 2]!) / sum;
      if (Math.abs(z - lift) < best) {
        best = Math.abs(z - lift);
        seed = i / 3;
      }
    }
    const x = (p[a]! + p[b]! + p[c]!) / 3,
      y = (p[a + 1]! + p[b + 1]! + p[c + 1]!) / 3,
      z = (p[a + 2]! + p[b + 2]! + p[c + 2]!) / 3 - lift;
    const d = x * x + y * y + z * z;
    if (d < nearBest) {
      nearBest = d;
      near = i / 3;
    }
  }
  return seed >= 0 ? seed : near;
}

/** Normals a vertex: those of its faces, weighed by the angle they have there. */
function computeVertexNormals(p: Float64Array, t: Uint32Array): Float32Array {
  const out = new Float32Array(p.length);
  for (let i = 0; i < t.length; i += 3) {
    const v = [3 * t[i]!, 3 * t[i + 1]!, 3 * t[i + 2]!];
    const [a, b, c] = v as [number, number, number];
    const ux = p[b]! - p[a]!,
      uy = p[b + 1]! - p[a + 1]!,
      uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!,
      vy = p[c + 1]! - p[a + 1]!,
      vz = p[c + 2]! - p[a + 2]!;
    let nx = uy * vz - uz * vy,
      ny = uz * vx - ux * vz,
      nz = ux * vy - uy * vx;
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    nx /= l;
    ny /= l;
    nz /= l;
    for (let k = 0; k < 3; k++) {
      const o = v[k]!,
        n = v[(k + 1) % 3]!,
        m = v[(k + 2) % 3]!;
      const ax = p[n]! - p[o]!,
        ay = p[n + 1]! - p[o + 1]!,
        az = p[n + 2]! - p[o + 2]!;
      const bx = p[m]! - p[o]!,
        by = p[m + 1]! - p[o + 1]!,
        bz = p[m + 2]! - p[o + 2]!;
      const cos = (ax * bx + ay * by + az * bz) / (Math.sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz)) || 1);
      const w = Math.acos(Math.min(1, Math.max(-1, cos)));
      out[o]! += w * nx;
      out[o + 1]! += w * ny;
      out[o + 2]! += w * nz;
    }
  }
  for (let i = 0; i < out.length; i += 3) {
    const l = Math.hypot(out[i]!, out[i + 1]!, out[i + 2]!);
    if (l > 0) {
      out[i]! /= l;
      out[i + 1]! /= l;
      out[i + 2]! /= l;
    }
  }
  return out;
}

function computeDomain(p: Float64Array, t: Uint32Array): Patch['domain'] {
  const box = { minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity };
  for (const v of t) {
    box.minX = Math.min(box.minX, p[3 * v]!);
    box.maxX = Math.max(box.maxX, p[3 * v]!);
    box.minY = Math.min(box.minY, p[3 * v + 1]!);
    box.maxY = Math.max(box.maxY, p[3 * v + 1]!);
  }
  return box;
}

/** Sorts triangles into cells of about two each. O(triangles + cells). */
function createGrid(p: Float64Array, t: Uint32Array, box: Patch['domain']): CellGrid {
  const width = Math.max(1e-6, box.maxX - box.minX),
    height = Math.max(1e-6, box.maxY - box.minY);
  const wanted = Math.min(MAX_CELLS, Math.max(1, t.length / 6));
  const cellMm = Math.max(Math.sqrt((width * height) / wanted), width / 4000, height / 4000);
  const columns = Math.max(1, Math.ceil(width / cellMm)),
    rows = Math.max(1, Math.ceil(height / cellMm));
  const start = new Uint32Array(columns * rows + 1);
  const range = (i: number): [number, number, number, number] => {
    const a = 3 * t[i]!,
      b = 3 * t[i + 1]!,
      c = 3 * t[i + 2]!;
    const clampC = (v: number, n: number) => Math.min(n - 1, Math.max(0, Math.floor(v)));
    return [
      clampC((Math.min(p[a]!, p[b]!, p[c]!) - box.minX) / cellMm, columns),
      clampC((Math.max(p[a]!, p[b]!, p[c]!) - box.minX) / cellMm, columns),
      clampC((Math.min(p[a + 1]!, p[b + 1]!, p[c + 1]!) - box.minY) / cellMm, rows),
      clampC((Math.max(p[a + 1]!, p[b + 1]!, p[c + 1]!) - box.minY) / cellMm, rows),
    ];
  };
  for (let i = 0; i < t.length; i += 3) {
    const [x0, x1, y0, y1] = range(i);
    for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) start[y * columns + x + 1]!++;
  }
  for (let c = 0; c < columns * rows; c++) start[c + 1]! += start[c]!;
  const at = start.slice(0, -1);
  const list = new Uint32Array(start[columns * rows]!);
  for (let i = 0; i < t.length; i += 3) {
    const [x0, x1, y0, y1] = range(i);
    for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) list[at[y * columns + x]!++] = i / 3;
  }
  return { minX: box.minX, minY: box.minY, cellMm, columns, rows, start, list };
}

/** The patch's edges as rings on the sheet. O(triangles). */
function computeOutline(p: Float64Array, t: Uint32Array, neighbours: Int32Array): Rings {
  const next = new Map<number, number[]>();
  for (let i = 0; i < t.length; i++) {
    if (neighbours[i]! >= 0) continue;
    const from = t[i]!,
      to = t[i % 3 === 2 ? i - 2 : i + 1]!;
    const list = next.get(from);
    if (list) list.push(to);
    else next.set(from, [to]);
  }
  const rings: number[][] = [];
  for (const start of [...next.keys()]) {
    let v = next.get(start)?.pop();
    if (v === undefined) continue;
    const ring = [p[3 * start]!, p[3 * start + 1]!];
    while (v !== undefined && v !== start) {
      ring.push(p[3 * v]!, p[3 * v + 1]!);
      v = next.get(v)?.pop();
    }
    if (ring.length >= 6) rings.push(ring);
  }
  return packRings(rings);
}
