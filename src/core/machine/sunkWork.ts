import type { Work } from './stance';

/** Step for derivatives on the sheet, mm. */
const STEP_MM = 1e-3;

/**
 * The floor of a pocket as what is carved: every place of the blank lowered along the tool, as a depth is measured. Lettering keeps its
 * turn and its place along, so on a round blank it gets narrower as the floor's radius is smaller. Depths in it are below the floor.
 * @param sunkMm Depth of the floor, mm; ≥ 0, less than the radius. @returns The same work for 0.
 */
export function sinkWork(work: Work, sunkMm: number): Work {
  if (sunkMm === 0) return work;
  const pointInto: Work['pointInto'] = (x, y, out) => {
    work.poseInto(x, y, pose);
    for (let k = 0; k < 3; k++) out[k] = pose[k]! - sunkMm * pose[3 + k]!;
  };
  const pose = new Float64Array(6),
    before = new Float64Array(3),
    after = new Float64Array(3);
  /** Derivative of the floor along the sheet. */
  const along = (x: number, y: number, dx: number, dy: number): [number, number, number] => {
    pointInto(x - dx, y - dy, before);
    pointInto(x + dx, y + dy, after);
    return [0, 1, 2].map((k) => (after[k]! - before[k]!) / (2 * STEP_MM)) as [number, number, number];
  };
  const tangents = (x: number, y: number) => [along(x, y, STEP_MM, 0), along(x, y, 0, STEP_MM)] as const;
  /** Parallel to the surface the normal is the surface's own; under a leaning tool it is asked of the floor. */
  const frameInto: Work['frameInto'] = (x, y, out) => {
    if (work.alongNormal) work.frameInto(x, y, out);
    else {
      const [u, v] = tangents(x, y);
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const length = Math.hypot(...n);
      for (let k = 0; k < 3; k++) out[3 + k] = n[k]! / length;
    }
    pointInto(x, y, out);
  };
  return {
    ...work,
    isometric: work.isometric && work.flat,
    pointInto,
    frameInto,
    poseInto(x, y, out) {
      work.poseInto(x, y, out);
      for (let k = 0; k < 3; k++) out[k]! -= sunkMm * out[3 + k]!;
    },
    metricInto(x, y, out) {
      const [u, v] = tangents(x, y);
      out[0] = dot(u, u);
      out[1] = dot(u, v);
      out[2] = dot(v, v);
    },
    // Of a parallel surface; nearly so under a leaning tool, where steps and reaches alone go by it.
    curvatureInto(x, y, out) {
      work.curvatureInto(x, y, out);
      for (let k = 0; k < 2; k++) out[k]! /= 1 - sunkMm * out[k]!;
    },
    wallAt: (x, y) => work.wallAt(x, y) - sunkMm,
    toSheet(px, py, pz) {
      const at = work.toSheet(px, py, pz);
      return { ...at, heightMm: at.heightMm + sunkMm };
    },
  };
}

const dot = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
