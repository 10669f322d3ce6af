import type { Patch } from '../shape/patch';
import type { Locator } from './patchLocator';

/** Normals and curvatures of a patch's faces. */
export interface PatchFaces {
  /** Normal at the weights that the locator holds: smooth from corner to corner. */
  smoothNormal(f: number, out: Float64Array): void;
  faceNormal(f: number, out: Float64Array): void;
  /** Principal curvatures of a face, the more convex first, 1/mm. */
  curvatures(f: number, out: Float64Array): void;
}

/** Worked out face by face when first asked. */
export function createPatchFaces({ positions: p, triangles: t, normals }: Patch, top: Pick<Locator, 'w'>): PatchFaces {
  const n = new Float64Array(3);
  const known = new Float32Array((2 * t.length) / 3).fill(NaN);
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

  const curvatures = (f: number, out: Float64Array): void => {
    out[0] = known[2 * f]!;
    out[1] = known[2 * f + 1]!;
    if (!Number.isNaN(out[0])) return;
    faceNormal(f, n);
    fitCurvatures(p, t, normals, f, n, out);
    known[2 * f] = out[0];
    known[2 * f + 1] = out[1];
  };
  return { smoothNormal, faceNormal, curvatures };
}

/**
 * Principal curvatures of a face from its shape operator, fitted to its corners' normals by least squares over its edges.
 * Source: Rusinkiewicz, 2004 (from memory).
 * @param n Normal of the face.
 */
function fitCurvatures(p: Float64Array, t: Uint32Array, normals: Float32Array, f: number, n: Float64Array, out: Float64Array): void {
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
  out[0] = mean + spread;
  out[1] = mean - spread;
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
