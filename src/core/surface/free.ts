import type { BlankOf } from '../job/blankSchema';
import { createPatch, type CellGrid, type Patch } from '../shape/patch';
import type { ShapeMesh } from '../shape/shapeMesh';
import { FLAT_MM_PER_RAD, outsideBox, type Surface, type Walk } from './surface';
import { TRUE_SHEET } from './trueSheet';

/** Half the width of the sheet that stands in for a shape that is not there, mm. */
const STAND_IN_MM = 25;
const MAX_CROSSINGS = 100_000;
/** Faces looked at to tell how coarse a mesh is. */
const CHORD_LOOKS = 500;

const patches = new WeakMap<ShapeMesh, { key: string; patch: Patch | null }>();

/** What a patch depends on besides its mesh. */
export const getPatchKey = (b: BlankOf<'free'>): string =>
  JSON.stringify([b.unitMm, b.pick, b.normal, b.turnDeg, b.creaseDeg, b.mount, b.axisBelowMm]);

/** The patch of a pose, made once and kept for the newest pose of each mesh. */
export function getPatch(blank: BlankOf<'free'>, mesh: ShapeMesh, onProgress?: (share: number) => void): Patch | null {
  const key = getPatchKey(blank);
  const known = patches.get(mesh);
  if (known?.key === key) return known.patch;
  const patch = createPatch(blank, mesh, onProgress);
  patches.set(mesh, { key, patch });
  return patch;
}

/** Hands over a patch that was made elsewhere. */
export const keepPatch = (blank: BlankOf<'free'>, mesh: ShapeMesh, patch: Patch | null): void =>
  void patches.set(mesh, { key: getPatchKey(blank), patch });

/**
 * A patch of a free shape as seen along the normal of the place picked on it: the sheet is the plane through that place, and
 * the surface stands over it. Faces are flat, as they came; normals run smoothly from one to the next.
 * @param mesh Null while it is not there: a flat stand-in takes its place.
 */
export function createFreeSurface(blank: BlankOf<'free'>, mesh: ShapeMesh | null): Surface {
  const patch = mesh ? getPatch(blank, mesh) : null;
  return patch ? createPatchSurface(blank, patch) : createStandIn(blank.mount === 'rotary' ? blank.axisBelowMm : 0);
}

function createStandIn(lift: number): Surface {
  const domain = { minX: -STAND_IN_MM, maxX: STAND_IN_MM, minY: -STAND_IN_MM, maxY: STAND_IN_MM };
  const point = (x: number, y: number, out: Float64Array): void => {
    out[0] = x;
    out[1] = y;
    out[2] = lift;
  };
  return {
    ...common,
    ...TRUE_SHEET,
    domain,
    outline: null,
    flat: true,
    homogeneous: 'everywhere',
    wallAt: () => 0,
    outsideMm: (x, y) => outsideBox(domain, x, y),
    pointInto: point,
    frameInto(x, y, out) {
      point(x, y, out);
      out[3] = 0;
      out[4] = 0;
      out[5] = 1;
    },
    curvatureInto: (_x, _y, out) => void out.fill(0, 0, 2),
    bendInto: (_x, _y, out) => void out.fill(0, 0, 3),
    toSheet: (px, py, pz) => ({ x: px, y: py, heightMm: pz - lift }),
  };
}

const common = {
  hasRims: false,
  developable: false,
  radialNormal: false,
  wallName: 'wall' as const,
  periodMm: null,
  mmPerRad: FLAT_MM_PER_RAD,
  round: false,
  radiusAt: () => FLAT_MM_PER_RAD,
};

/** Finds triangles over sheet places; the one found last is looked at first. */
function createLocator(p: Float64Array, t: Uint32Array, grid: CellGrid) {
  let last = -1;
  let w0 = 0,
    w1 = 0,
    w2 = 0;
  /** Whether triangle f holds (x, y), within rounding; sets the weights of its corners. */
  const holds = (f: number, x: number, y: number, slack: number): boolean => {
    const a = 3 * t[3 * f]!,
      b = 3 * t[3 * f + 1]!,
      c = 3 * t[3 * f + 2]!;
    const ax = p[a]! - x,
      ay = p[a + 1]! - y,
      bx = p[b]! - x,
      by = p[b + 1]! - y,
      cx = p[c]! - x,
      cy = p[c + 1]! - y;
    const ab = ax * by - ay * bx,
      bc = bx * cy - by * cx,
      ca = cx * ay - cy * ax;
    const sum = ab + bc + ca;
    if (!(Math.abs(sum) > 1e-18)) return false;
    w0 = bc / sum;
    w1 = ca / sum;
    w2 = ab / sum;
    return w0 >= -slack && w1 >= -slack && w2 >= -slack;
  };
  const height = (f: number): number => w0 * p[3 * t[3 * f]! + 2]! + w1 * p[3 * t[3 * f + 1]! + 2]! + w2 * p[3 * t[3 * f + 2]! + 2]!;
  const cellOf = (x: number, y: number): number => {
    const c = Math.floor((x - grid.minX) / grid.cellMm),
      r = Math.floor((y - grid.minY) / grid.cellMm);
    return c < 0 || r < 0 || c >= grid.columns || r >= grid.rows ? -1 : r * grid.columns + c;
  };
  /** The highest triangle over (x, y), below `ceiling`, or −1. */
  const find = (x: number, y: number, ceiling: number): number => {
    if (ceiling === Infinity && last >= 0 && holds(last, x, y, 1e-12)) return last;
    const cell = cellOf(x, y);
    if (cell < 0) return -1;
    let best = -Infinity,
      found = -1;
    for (let i = grid.start[cell]!; i < grid.start[cell + 1]!; i++) {
      const f = grid.list[i]!;
      if (!holds(f, x, y, 1e-9)) continue;
      const z = height(f);
      if (z > best && z < ceiling) {
        best = z;
        found = f;
      }
    }
    if (found >= 0) {
      holds(found, x, y, 1e-9);
      if (ceiling === Infinity) last = found;
    }
    return found;
  };
  /** Where there is none: the triangle nearest to the place, whose plane goes on. */
  const findNear = (x: number, y: number): number => {
    const c0 = Math.min(grid.columns - 1, Math.max(0, Math.floor((x - grid.minX) / grid.cellMm)));
    const r0 = Math.min(grid.rows - 1, Math.max(0, Math.floor((y - grid.minY) / grid.cellMm)));
    let best = Infinity,
      found = -1,
      extra = 1;
    for (let ring = 0; ring < Math.max(grid.columns, grid.rows) && extra >= 0; ring++) {
      if (found >= 0) extra--;
      for (let r = r0 - ring; r <= r0 + ring; r++) {
        if (r < 0 || r >= grid.rows) continue;
        const step = r === r0 - ring || r === r0 + ring ? 1 : 2 * ring || 1;
        for (let c = c0 - ring; c <= c0 + ring; c += step) {
          if (c < 0 || c >= grid.columns) continue;
          const cell = r * grid.columns + c;
          for (let i = grid.start[cell]!; i < grid.start[cell + 1]!; i++) {
            const f = grid.list[i]!;
            const a = 3 * t[3 * f]!,
              b = 3 * t[3 * f + 1]!,
              d = 3 * t[3 * f + 2]!;
            const dx = (p[a]! + p[b]! + p[d]!) / 3 - x,
              dy = (p[a + 1]! + p[b + 1]! + p[d + 1]!) / 3 - y;
            const away = dx * dx + dy * dy;
            if (away < best) {
              best = away;
              found = f;
            }
          }
        }
      }
    }
    if (found >= 0) holds(found, x, y, Infinity);
    return found;
  };
  return { find, findNear, height, weights: () => [w0, w1, w2] as const, w: (k: number) => (k === 0 ? w0 : k === 1 ? w1 : w2) };
}

function createPatchSurface(blank: BlankOf<'free'>, patch: Patch): Surface {
  const { positions: p, triangles: t, neighbours, normals, outline, domain } = patch;
  const top = createLocator(p, t, patch.grid);
  const under = createLocator(p, patch.under.triangles, patch.under.grid);
  const n = new Float64Array(3);
  /** Principal curvatures of each face and how much it bends on the sheet, worked out when first asked. */
  const faceCurvatures = new Float32Array((2 * t.length) / 3).fill(NaN);
  const bends = new Float32Array(t.length / 3).fill(NaN);

  /** Finds the triangle over (x, y), or the nearest, leaving its corner weights in `top`. */
  const over = (x: number, y: number): number => {
    const f = top.find(x, y, Infinity);
    return f >= 0 ? f : top.findNear(x, y);
  };
  /** Normal at the weights that `top` holds: smooth from corner to corner. */
  const smoothNormal = (f: number, out: Float64Array): void => {
    let nx = 0,
      ny = 0,
      nz = 0;
    for (let k = 0; k < 3; k++) {
      // Past the edge of the patch the weights run away: there the nearest corner counts.
      const w = Math.min(2, Math.max(-1, top.w(k)));
      const v = 3 * t[3 * f + k]!;
      nx += w * normals[v]!;
      ny += w * normals[v + 1]!;
      nz += w * normals[v + 2]!;
    }
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    out[0] = nx / l;
    out[1] = ny / l;
    out[2] = nz / l;
  };
  const faceNormal = (f: number, out: Float64Array): void => {
    const a = 3 * t[3 * f]!,
      b = 3 * t[3 * f + 1]!,
      c = 3 * t[3 * f + 2]!;
    const ux = p[b]! - p[a]!,
      uy = p[b + 1]! - p[a + 1]!,
      uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!,
      vy = p[c + 1]! - p[a + 1]!,
      vz = p[c + 2]! - p[a + 2]!;
    out[0] = uy * vz - uz * vy;
    out[1] = uz * vx - ux * vz;
    out[2] = ux * vy - uy * vx;
    const l = Math.hypot(out[0], out[1], out[2]) || 1;
    out[0] /= l;
    out[1] /= l;
    out[2] /= l;
  };

  /** Shape operator of a face from its corners' normals: least squares over its edges. Source: Rusinkiewicz, 2004 (from memory). */
  const curvatures = (f: number, out: Float64Array): void => {
    out[0] = faceCurvatures[2 * f]!;
    out[1] = faceCurvatures[2 * f + 1]!;
    if (!Number.isNaN(out[0])) return;
    faceNormal(f, n);
    const a = 3 * t[3 * f]!,
      b = 3 * t[3 * f + 1]!;
    const e1 = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const l1 = Math.hypot(...e1) || 1;
    const u = e1.map((v) => v / l1);
    const v = [n[1]! * u[2]! - n[2]! * u[1]!, n[2]! * u[0]! - n[0]! * u[2]!, n[0]! * u[1]! - n[1]! * u[0]!];
    const ata = [0, 0, 0, 0, 0, 0],
      atb = [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const i = 3 * t[3 * f + k]!,
        j = 3 * t[3 * f + ((k + 1) % 3)]!;
      const d = [0, 1, 2].map((c) => p[j + c]! - p[i + c]!),
        dn = [0, 1, 2].map((c) => normals[j + c]! - normals[i + c]!);
      const du = dot(d, u),
        dv = dot(d, v),
        nu = dot(dn, u),
        nv = dot(dn, v);
      // Rows: [du dv 0 | nu] and [0 du dv | nv] for the operator (e, f; f, g).
      ata[0]! += du * du;
      ata[1]! += du * dv;
      ata[3]! += dv * dv + du * du;
      ata[4]! += du * dv;
      ata[5]! += dv * dv;
      atb[0]! += du * nu;
      atb[1]! += dv * nu + du * nv;
      atb[2]! += dv * nv;
    }
    const s = solveSymmetric(ata, atb);
    const mean = (s[0]! + s[2]!) / 2,
      spread = Math.hypot((s[0]! - s[2]!) / 2, s[1]!);
    out[0] = faceCurvatures[2 * f] = mean + spread;
    out[1] = faceCurvatures[2 * f + 1] = mean - spread;
  };

  const walkFrom = (x: number, y: number, du: number, dv: number): Walk => {
    const f0 = top.find(x, y, Infinity);
    const start = f0 >= 0 ? f0 : top.findNear(x, y);
    const z = top.height(start);
    faceNormal(start, n);
    // Sheet x on the face: (1, 0, zx).
    const ex = [1, 0, -n[0]! / n[2]!];
    const le = Math.hypot(...ex);
    const u = ex.map((v) => v / le);
    const w = [n[1]! * u[2]! - n[2]! * u[1]!, n[2]! * u[0]! - n[0]! * u[2]!, n[0]! * u[1]! - n[1]! * u[0]!];
    const length = Math.hypot(du, dv);
    const way =
      length > 0
        ? traceGeodesic(
            p,
            t,
            neighbours,
            start,
            [x, y, z],
            [0, 1, 2].map((k) => (du * u[k]! + dv * w[k]!) / length),
          )
        : null;
    return {
      toInto(share, out) {
        out[0] = x;
        out[1] = y;
        return (!way || way(share * length, out)) && f0 >= 0;
      },
    };
  };

  // Chord of a face of the mean size over the mean curvature: a² κ / 8.
  const k = new Float64Array(2);
  let bendSum = 0;
  const looked = Math.max(1, Math.floor(t.length / 3 / CHORD_LOOKS));
  let looks = 0;
  for (let f = 0; f < t.length / 3; f += looked, looks++) {
    curvatures(f, k);
    bendSum += Math.max(Math.abs(k[0]!), Math.abs(k[1]!));
  }
  const meanEdgeSquared = (2.3 * patch.areaMm2) / Math.max(1, t.length / 3);
  return {
    ...common,
    chordMm: (meanEdgeSquared * bendSum) / Math.max(1, looks) / 8,
    domain,
    outline,
    isometric: false,
    flat: false,
    homogeneous: 'nowhere',
    wallAt(x, y) {
      const f = top.find(x, y, Infinity);
      if (f < 0) return Infinity;
      const z = top.height(f);
      const g = under.find(x, y, z - 1e-6);
      const floor = g < 0 ? Infinity : z - under.height(g);
      return blank.mount === 'rotary' ? Math.min(floor, z) : floor;
    },
    outsideMm(x, y) {
      if (top.find(x, y, Infinity) >= 0) return 0;
      let best = Infinity;
      for (let k = 0; k + 1 < outline.starts.length; k++) {
        for (let i = outline.starts[k]!; i < outline.starts[k + 1]!; i++) {
          best = Math.min(best, Math.hypot(outline.xy[2 * i]! - x, outline.xy[2 * i + 1]! - y));
        }
      }
      return best;
    },
    pointInto(x, y, out) {
      const f = over(x, y);
      out[0] = x;
      out[1] = y;
      out[2] = top.height(f);
    },
    frameInto(x, y, out) {
      const f = over(x, y);
      out[0] = x;
      out[1] = y;
      out[2] = top.height(f);
      smoothNormal(f, n);
      out[3] = n[0]!;
      out[4] = n[1]!;
      out[5] = n[2]!;
    },
    metricInto(x, y, out) {
      smoothNormal(over(x, y), n);
      const zx = -n[0]! / n[2]!,
        zy = -n[1]! / n[2]!;
      out[0] = 1 + zx * zx;
      out[1] = zx * zy;
      out[2] = 1 + zy * zy;
    },
    curvatureInto: (x, y, out) => curvatures(over(x, y), out),
    bendInto(x, y, out) {
      const f = over(x, y);
      let steep = bends[f]!;
      if (Number.isNaN(steep)) {
        curvatures(f, out);
        const most = Math.max(Math.abs(out[0]!), Math.abs(out[1]!));
        smoothNormal(over(x, y), n);
        steep = bends[f] = most / (n[2]! * n[2]!);
      }
      out[0] = steep;
      out[1] = steep;
      out[2] = steep;
    },
    walkFrom,
    expInto: (x, y, du, dv, out) => walkFrom(x, y, du, dv).toInto(1, out),
    toSheet(px, py, pz) {
      const f = over(px, py);
      const z = top.height(f);
      smoothNormal(f, n);
      return { x: px, y: py, heightMm: (pz - z) * n[2]! };
    },
  };
}

/**
 * Walks straight on over the faces: within a face along a line, across an edge as if both faces lay flat.
 * @param pos Start. @param dir Unit direction in the start's face.
 * @returns Goes on to a distance from the start, mm, never back, and writes x and y there: whether the way stayed on the patch;
 * past its edge it goes on straight.
 */
function traceGeodesic(
  p: Float64Array,
  t: Uint32Array,
  neighbours: Int32Array,
  start: number,
  pos: readonly number[],
  dir: readonly number[],
): (distanceMm: number, out: Float64Array) => boolean {
  let f = start,
    from = -1,
    gone = 0,
    crossings = 0,
    lost = false;
  let px = pos[0]!,
    py = pos[1]!,
    pz = pos[2]!,
    dx = dir[0]!,
    dy = dir[1]!,
    dz = dir[2]!;
  return (distanceMm, out) => {
    while (!lost) {
      const base = 3 * f;
      const A = 3 * t[base]!,
        B = 3 * t[base + 1]!,
        C = 3 * t[base + 2]!;
      const ux = p[B]! - p[A]!,
        uy = p[B + 1]! - p[A + 1]!,
        uz = p[B + 2]! - p[A + 2]!;
      const vx = p[C]! - p[A]!,
        vy = p[C + 1]! - p[A + 1]!,
        vz = p[C + 2]! - p[A + 2]!;
      const nx = uy * vz - uz * vy,
        ny = uz * vx - ux * vz,
        nz = ux * vy - uy * vx;
      let exit = -1,
        exitAt = Infinity;
      for (let k = 0; k < 3; k++) {
        if (k === from) continue;
        const i = k === 0 ? A : k === 1 ? B : C,
          j = k === 0 ? B : k === 1 ? C : A;
        const ex = p[j]! - p[i]!,
          ey = p[j + 1]! - p[i + 1]!,
          ez = p[j + 2]! - p[i + 2]!;
        // Outward across the edge: e × n; its length does not matter to where it is crossed.
        const mx = ey * nz - ez * ny,
          my = ez * nx - ex * nz,
          mz = ex * ny - ey * nx;
        const speed = dx * mx + dy * my + dz * mz;
        if (!(speed > 0)) continue;
        const gap = (p[i]! - px) * mx + (p[i + 1]! - py) * my + (p[i + 2]! - pz) * mz;
        const at = gap > 0 ? gap / speed : 0;
        if (at < exitAt) {
          exitAt = at;
          exit = k;
        }
      }
      if (exit < 0 || gone + exitAt >= distanceMm) break;
      px += exitAt * dx;
      py += exitAt * dy;
      pz += exitAt * dz;
      gone += exitAt;
      const g = neighbours[base + exit]!;
      if (g < 0 || ++crossings > MAX_CROSSINGS) {
        lost = true;
        break;
      }
      const own = t[base + exit]!;
      const i = 3 * own,
        j = 3 * t[base + ((exit + 1) % 3)]!;
      let ex = p[j]! - p[i]!,
        ey = p[j + 1]! - p[i + 1]!,
        ez = p[j + 2]! - p[i + 2]!;
      const le = 1 / (Math.sqrt(ex * ex + ey * ey + ez * ez) || 1);
      ex *= le;
      ey *= le;
      ez *= le;
      const along = dx * ex + dy * ey + dz * ez;
      // Into the next face, square to the edge.
      let entered = 0;
      for (let k = 0; k < 3; k++) if (neighbours[3 * g + k] === f && t[3 * g + ((k + 1) % 3)] === own) entered = k;
      const apex = 3 * t[3 * g + ((entered + 2) % 3)]!;
      const qx = p[apex]! - p[i]!,
        qy = p[apex + 1]! - p[i + 1]!,
        qz = p[apex + 2]! - p[i + 2]!;
      const qe = qx * ex + qy * ey + qz * ez;
      const mx = qx - qe * ex,
        my = qy - qe * ey,
        mz = qz - qe * ez;
      const across = Math.sqrt(Math.max(0, 1 - along * along)) / (Math.sqrt(mx * mx + my * my + mz * mz) || 1);
      dx = along * ex + across * mx;
      dy = along * ey + across * my;
      dz = along * ez + across * mz;
      f = g;
      from = entered;
    }
    out[0] = px + (distanceMm - gone) * dx;
    out[1] = py + (distanceMm - gone) * dy;
    return !lost;
  };
}

const dot = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/** Solves a symmetric 3 × 3 system given as a11 a12 a13 a22 a23 a33; zero where it is singular. Cramer's rule. */
function solveSymmetric(a: readonly number[], b: readonly number[]): [number, number, number] {
  const [a11, a12, a13, a22, a23, a33] = a as [number, number, number, number, number, number];
  const c11 = a22 * a33 - a23 * a23,
    c12 = a13 * a23 - a12 * a33,
    c13 = a12 * a23 - a13 * a22;
  const det = a11 * c11 + a12 * c12 + a13 * c13;
  if (!(Math.abs(det) > 1e-30)) return [0, 0, 0];
  const c22 = a11 * a33 - a13 * a13,
    c23 = a12 * a13 - a11 * a23,
    c33 = a11 * a22 - a12 * a12;
  return [
    (c11 * b[0]! + c12 * b[1]! + c13 * b[2]!) / det,
    (c12 * b[0]! + c22 * b[1]! + c23 * b[2]!) / det,
    (c13 * b[0]! + c23 * b[1]! + c33 * b[2]!) / det,
  ];
}
