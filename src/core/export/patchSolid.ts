import { TILE } from '../removal/tile';
import type { DepthField } from '../removal/field';
import { AdaptiveMesh } from './adaptiveMesh';
import type { Surface } from '../surface/surface';

/** Triangles of a closed solid: three corners each, counter-clockwise seen from outside. */
export interface Triangles {
  positions: Float32Array;
  triangles: Uint32Array;
}

/** Material kept under the deepest place of a patch, mm. */
const UNDER_MM = 1;
/** Triangles at most: a binary STL of 200 MB. */
const MAX_TRIANGLES = 4_000_000;

/** Heights along the normal of a slab's upper and lower skin at a place, mm. */
type Skins = (depthMm: number, x: number, y: number) => readonly [top: number, low: number];

/**
 * The lettered patch as a closed solid: its skin as it is cut, a floor under it, and walls round it; a ring where lettering goes round
 * all of a closed blank.
 * @param toleranceMm Largest distance of its skin from the field's own cells, about, mm: as many cells are left out as keep it.
 * @returns Null if nothing was cut. @throws RangeError if it would have too many triangles, with the tolerance that fits.
 * O(cells of the patch).
 */
export function createPatchSolid(field: DepthField, surface: Pick<Surface, 'frameInto' | 'wallAt'>, toleranceMm: number): Triangles | null {
  return createSlab(field, surface, toleranceMm, (deepestMm) => (depth, x, y) => {
    const floor = Math.max(depth + 0.05, Math.min(deepestMm + UNDER_MM, 0.98 * surface.wallAt(x, y)));
    return [-depth, -floor];
  });
}

/** How far over the surface what is taken from a blank begins and ends where nothing is cut, in tolerances. */
const PLUG_TOP = 4,
  PLUG_LOW = 2;

/**
 * What is to be taken from a blank, as a closed solid that stands out of it: its lower skin is the cut, and lies over the surface where
 * there is none, by more than the blank's faces may be off.
 * @returns Null if nothing was cut. @throws RangeError as `createPatchSolid` does.
 */
export const createPlug = (field: DepthField, surface: Pick<Surface, 'frameInto'>, toleranceMm: number): Triangles | null =>
  createSlab(field, surface, toleranceMm, () => (depth) => [PLUG_TOP * toleranceMm, depth > 0 ? -depth : PLUG_LOW * toleranceMm]);

const ceilTo3 = (mm: number): string => (Math.ceil(1000 * mm) / 1000).toFixed(3);

/** Grid places at most. */
const MAX_PLACES = 40e6;

function createSlab(
  field: DepthField,
  surface: Pick<Surface, 'frameInto'>,
  toleranceMm: number,
  makeSkins: (deepestMm: number) => Skins,
): Triangles | null {
  const box = findCutCells(field);
  if (!box) return null;
  const skins = makeSkins(box.deepestMm);
  const { grid } = field;
  // On a wall of 45° a face over n cells is off by half of them at most.
  const step = Math.max(1, Math.floor(toleranceMm / Math.max(grid.cellX, grid.cellY)));
  const margin = 2 * step;
  const c0 = Math.max(0, box.c0 - margin),
    c1 = Math.min(grid.columns - 1, box.c1 + margin);
  let r0 = box.r0 - margin,
    r1 = box.r1 + margin;
  const isRing = grid.closed && r1 - r0 >= grid.rows - 1;
  if (isRing) [r0, r1] = [0, grid.rows - 1];
  else if (!grid.closed) [r0, r1] = [Math.max(0, r0), Math.min(grid.rows - 1, r1)];
  const xs = lines(c0, c1, step),
    ys = lines(r0, r1, step);
  const [nx, ny] = [xs.length, ys.length];
  if (nx * ny > MAX_PLACES) {
    const fits = Math.max(grid.cellX, grid.cellY) * Math.ceil(step * Math.sqrt((nx * ny) / MAX_PLACES));
    throw new RangeError(`the solid would be too fine: a tolerance of ${ceilTo3(fits)} mm fits`);
  }
  const f = new Float64Array(6);
  const depthAt = (i: number, j: number): number => field.depthOf(xs[i]!, ys[j % ny]!);
  const placeInto = (i: number, j: number, isTop: boolean, out: Float64Array): void => {
    const x = field.cellX(xs[i]!),
      y = field.cellY(ys[j % ny]!);
    surface.frameInto(x, y, f);
    const height = skins(depthAt(i, j), x, y)[isTop ? 0 : 1];
    for (let k = 0; k < 3; k++) out[k] = f[k]! + height * f[3 + k]!;
  };
  const p = [0, 1, 2, 3, 4].map(() => new Float64Array(3));
  /** Whether the middle of a block lies where its corners say. */
  const isSmooth = (x0: number, y0: number, x1: number, y1: number, isTop: boolean): boolean => {
    const corners = [
      [x0, y0],
      [x1, y0],
      [x0, y1],
      [x1, y1],
      [(x0 + x1) >> 1, (y0 + y1) >> 1],
    ] as const;
    for (const [k, [x, y]] of corners.entries()) placeInto(x, y, isTop, p[k]!);
    const [u, v] = [(((x0 + x1) >> 1) - x0) / (x1 - x0), (((y0 + y1) >> 1) - y0) / (y1 - y0)];
    let off = 0;
    for (let k = 0; k < 3; k++) {
      const mean = (1 - v) * ((1 - u) * p[0]![k]! + u * p[1]![k]!) + v * ((1 - u) * p[2]![k]! + u * p[3]![k]!);
      off += (p[4]![k]! - mean) ** 2;
    }
    return off < toleranceMm * toleranceMm;
  };
  /** Whether depths within a block are what its corners say. */
  const isEven = (x0: number, y0: number, x1: number, y1: number): boolean => {
    if (step === 1 && field.isWhole(xs[x0]!, ys[y0]!, xs[x1]!, ys[y0]! + y1 - y0)) return true;
    const [a, b, c, d] = [depthAt(x0, y0), depthAt(x1, y0), depthAt(x0, y1), depthAt(x1, y1)];
    for (let j = y0; j <= y1; j++) {
      const v = (j - y0) / (y1 - y0);
      for (let i = x0; i <= x1; i++) {
        const u = (i - x0) / (x1 - x0);
        const depth = depthAt(i, j);
        if (Math.abs(depth - (1 - v) * ((1 - u) * a + u * b) - v * ((1 - u) * c + u * d)) > 0.5 * toleranceMm) return false;
        // An edge is followed cell by cell.
        if (depth > 0 !== a > 0) return false;
      }
    }
    return a > 0 === b > 0 && b > 0 === c > 0 && c > 0 === d > 0;
  };
  const [cutTop, cutLow] = [0, 1].map((k) => skins(0.1, 0, 0)[k] !== skins(0, 0, 0)[k]);
  const meshes = [cutTop, cutLow].map(
    (isCut, k) => new AdaptiveMesh(nx, ny, isRing, (...block) => (!isCut || isEven(...block)) && isSmooth(...block, k === 0)),
  ) as [AdaptiveMesh, AdaptiveMesh];
  AdaptiveMesh.joinRims(...meshes);
  const [top, low] = meshes.map((m) => m.triangulate()) as [Uint32Array, Uint32Array];
  const first = meshes[0].corners;
  const walls: number[] = [];
  const rims = meshes.map((m) => m.listRimCorners());
  for (const [side, corners] of rims[0]!.entries()) {
    // Columns 0 and last, rows 0 and last: outward is to the right of the way up, or to its left.
    const turned = side === 1 || side === 2;
    for (let k = 0; k + 1 < corners.length; k++) {
      const [a, b] = [corners[k]!, corners[k + 1]!];
      const [a1, b1] = [meshes[0].find(...a), meshes[0].find(...b)];
      const [a2, b2] = [first + meshes[1].find(...a), first + meshes[1].find(...b)];
      if (turned) walls.push(a1, b2, b1, a1, a2, b2);
      else walls.push(a1, b1, b2, a1, b2, a2);
    }
  }
  const count = (top.length + low.length + walls.length) / 3;
  if (count > MAX_TRIANGLES) {
    const fits = toleranceMm * Math.sqrt(count / MAX_TRIANGLES);
    throw new RangeError(`the solid would have ${Math.round(count / 1e6)} million faces: a tolerance of ${ceilTo3(fits)} mm fits`);
  }
  const positions = new Float32Array(3 * (first + meshes[1].corners));
  for (const [k, mesh] of meshes.entries()) {
    mesh.forEachCorner((i, j, id) => {
      placeInto(i, j, k === 0, p[0]!);
      positions.set(p[0]!, 3 * (id + (k === 0 ? 0 : first)));
    });
  }
  const triangles = new Uint32Array(3 * count);
  triangles.set(top);
  // Seen from below, its faces go round the other way.
  for (let k = 0; k < low.length; k += 3) triangles.set([first + low[k]!, first + low[k + 2]!, first + low[k + 1]!], top.length + k);
  triangles.set(walls, top.length + low.length);
  return { positions, triangles };
}

function findCutCells(field: DepthField) {
  const { grid, tiles } = field;
  let [c0, c1, r0, r1, deepestMm] = [Infinity, -1, Infinity, -1, 0];
  for (const { key, depth } of tiles) {
    const c = (key % grid.tilesAlong) * TILE,
      r = Math.floor(key / grid.tilesAlong) * TILE;
    for (let i = 0; i < depth.length; i++) {
      if (!(depth[i]! > 0)) continue;
      const column = c + (i & (TILE - 1)),
        row = r + (i >> 5);
      [c0, c1, r0, r1] = [Math.min(c0, column), Math.max(c1, column), Math.min(r0, row), Math.max(r1, row)];
      if (depth[i]! > deepestMm) deepestMm = depth[i]!;
    }
  }
  return c1 < 0 ? null : { c0, c1, r0, r1, deepestMm };
}

/** Every n-th of a row of cells, and the last. */
function lines(from: number, to: number, step: number): number[] {
  const out: number[] = [];
  for (let k = from; k < to; k += step) out.push(k);
  out.push(to);
  return out;
}

/** Binary STL: 80 bytes of heading, which say what it is, the number of faces, and fifty bytes a face. */
export function toStl({ positions: p, triangles }: Triangles, heading = 'engraved patch, mm'): Uint8Array {
  const n = triangles.length / 3;
  const bytes = new Uint8Array(84 + 50 * n);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode(heading));
  view.setUint32(80, n, true);
  for (let f = 0; f < n; f++) {
    const [a, b, c] = [3 * triangles[3 * f]!, 3 * triangles[3 * f + 1]!, 3 * triangles[3 * f + 2]!];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    const normal = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const l = Math.hypot(...normal) || 1;
    const o = 84 + 50 * f;
    normal.forEach((v, k) => view.setFloat32(o + 4 * k, v / l, true));
    [a, b, c].forEach((corner, k) => {
      for (let j = 0; j < 3; j++) view.setFloat32(o + 12 + 12 * k + 4 * j, p[corner + j]!, true);
    });
  }
  return bytes;
}
