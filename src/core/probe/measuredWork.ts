import type { Work } from '../machine/stance';
import type { OffsetAt } from './measuredMap';

/** Steps to the foot of a place under a leaning tool, and where they end: what is measured changes by far less than that in one, mm. */
const MAX_STEPS = 8;
const SAME_MM = 1e-7;
/** Step for derivatives on the sheet, mm. */
const STEP_MM = 1e-3;

/**
 * A work as it really is: every place of the surface moved along the tool by what was measured there. The tool stands as it would on the
 * drawn one. @param mostMm Most that it is moved outwards, mm.
 */
export function createMeasuredWork(work: Work, offsetAt: OffsetAt, mostMm: number): Work {
  const pose = new Float64Array(6),
    before = new Float64Array(3),
    after = new Float64Array(3);
  const pointInto: Work['pointInto'] = (x, y, out) => {
    const d = offsetAt(x, y);
    work.poseInto(x, y, pose);
    for (let k = 0; k < 3; k++) out[k] = pose[k]! + d * pose[3 + k]!;
  };
  /** Derivatives along the sheet, one after the other, to u and v. */
  const u = new Float64Array(3),
    v = new Float64Array(3);
  const differ = (x: number, y: number, dx: number, dy: number, out: Float64Array): void => {
    pointInto(x - dx, y - dy, before);
    pointInto(x + dx, y + dy, after);
    for (let k = 0; k < 3; k++) out[k] = (after[k]! - before[k]!) / (2 * STEP_MM);
  };
  return {
    ...work,
    alongNormal: false,
    isometric: false,
    flat: false,
    homogeneous: 'nowhere',
    radialNormal: false,
    topMm: work.topMm + mostMm,
    pointInto,
    frameInto(x, y, out) {
      differ(x, y, STEP_MM, 0, u);
      differ(x, y, 0, STEP_MM, v);
      const nx = u[1]! * v[2]! - u[2]! * v[1]!,
        ny = u[2]! * v[0]! - u[0]! * v[2]!,
        nz = u[0]! * v[1]! - u[1]! * v[0]!;
      const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
      pointInto(x, y, out);
      out[3] = nx / length;
      out[4] = ny / length;
      out[5] = nz / length;
    },
    poseInto(x, y, out) {
      const d = offsetAt(x, y);
      work.poseInto(x, y, out);
      for (let k = 0; k < 3; k++) out[k]! += d * out[3 + k]!;
    },
    metricInto(x, y, out) {
      differ(x, y, STEP_MM, 0, u);
      differ(x, y, 0, STEP_MM, v);
      out[0] = u[0]! * u[0]! + u[1]! * u[1]! + u[2]! * u[2]!;
      out[1] = u[0]! * v[0]! + u[1]! * v[1]! + u[2]! * v[2]!;
      out[2] = v[0]! * v[0]! + v[1]! * v[1]! + v[2]! * v[2]!;
    },
    wallAt: (x, y) => work.wallAt(x, y) + offsetAt(x, y),
    toSheet(px, py, pz) {
      let at = work.toSheet(px, py, pz);
      let d = offsetAt(at.x, at.y);
      if (work.alongNormal) return { ...at, heightMm: at.heightMm - d };
      // Under a leaning tool the place that was moved here has its foot beside this one.
      for (let k = 0, last = Infinity; k < MAX_STEPS && Math.abs(d - last) > SAME_MM; k++) {
        work.poseInto(at.x, at.y, pose);
        at = work.toSheet(px - d * pose[3]!, py - d * pose[4]!, pz - d * pose[5]!);
        last = d;
        d = offsetAt(at.x, at.y);
      }
      return at;
    },
  };
}
