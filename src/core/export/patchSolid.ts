import { TILE, type DepthField } from '../removal/field';
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

/**
 * The lettered patch as a closed solid: its skin as it is cut, a floor under it, and walls round it. Where lettering goes round a closed
 * blank more than the room for walls allows, the patch is the whole turn less one cell.
 * @param toleranceMm Largest distance of its skin from the field's own cells, about, mm: as many cells are left out as keep it.
 * @returns Null if nothing was cut. @throws RangeError if it would have too many triangles, with the tolerance that fits.
 * O(cells of the patch).
 */
export function createPatchSolid(field: DepthField, surface: Pick<Surface, 'frameInto' | 'wallAt'>, toleranceMm: number): Triangles | null {
  const box = findCutCells(field);
  if (!box) return null;
  const { grid } = field;
  // On a wall of 45° a face over n cells is off by half of them at most.
  const step = Math.max(1, Math.floor((2 * toleranceMm) / Math.max(grid.cellX, grid.cellY)));
  const margin = 2 * step;
  const c0 = Math.max(0, box.c0 - margin),
    c1 = Math.min(grid.columns - 1, box.c1 + margin);
  let r0 = box.r0 - margin,
    r1 = box.r1 + margin;
  if (!grid.closed) [r0, r1] = [Math.max(0, r0), Math.min(grid.rows - 1, r1)];
  else if (r1 - r0 >= grid.rows - 1) [r0, r1] = [0, grid.rows - 2];
  const xs = lines(c0, c1, step),
    ys = lines(r0, r1, step);
  const [nx, ny] = [xs.length, ys.length];
  const count = 4 * (nx - 1) * (ny - 1) + 4 * (nx + ny - 2);
  if (count > MAX_TRIANGLES) {
    const fits = toleranceMm * Math.sqrt(count / MAX_TRIANGLES);
    throw new RangeError(`the solid would have ${Math.round(count / 1e6)} million faces: a tolerance of ${fits.toFixed(3)} mm fits`);
  }
  const positions = new Float32Array(6 * nx * ny);
  const f = new Float64Array(6);
  for (let j = 0; j < ny; j++) {
    for (let i = 0; i < nx; i++) {
      const x = field.cellX(xs[i]!),
        y = field.cellY(ys[j]!);
      surface.frameInto(x, y, f);
      const depth = field.depthAt(x, y);
      const floor = Math.max(depth + 0.05, Math.min(box.deepestMm + UNDER_MM, 0.98 * surface.wallAt(x, y)));
      const top = 3 * (j * nx + i),
        low = top + 3 * nx * ny;
      for (let k = 0; k < 3; k++) {
        positions[top + k] = f[k]! - depth * f[3 + k]!;
        positions[low + k] = f[k]! - floor * f[3 + k]!;
      }
    }
  }
  return { positions, triangles: createFaces(nx, ny, count) };
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

/** Faces of a skin over a floor, closed round their edge. */
function createFaces(nx: number, ny: number, count: number): Uint32Array {
  const out = new Uint32Array(3 * count);
  const low = nx * ny;
  let t = 0;
  const quad = (a: number, b: number, c: number, d: number) => {
    out.set([a, b, c, a, c, d], t);
    t += 6;
  };
  for (let j = 0; j + 1 < ny; j++) {
    for (let i = 0; i + 1 < nx; i++) {
      const a = j * nx + i;
      quad(a, a + 1, a + nx + 1, a + nx);
      quad(low + a, low + a + nx, low + a + nx + 1, low + a + 1);
    }
  }
  for (let i = 0; i + 1 < nx; i++) {
    const far = (ny - 1) * nx + i;
    quad(low + i, low + i + 1, i + 1, i);
    quad(far, far + 1, low + far + 1, low + far);
  }
  for (let j = 0; j + 1 < ny; j++) {
    const near = j * nx,
      far = near + nx - 1;
    quad(near, near + nx, low + near + nx, low + near);
    quad(low + far, low + far + nx, far + nx, far);
  }
  return out;
}

/** Binary STL: 80 bytes of heading, the number of faces, and fifty bytes a face. */
export function toStl({ positions: p, triangles }: Triangles): Uint8Array {
  const n = triangles.length / 3;
  const bytes = new Uint8Array(84 + 50 * n);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode('engraved patch, mm'));
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
