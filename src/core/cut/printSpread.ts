import type { Ground } from '../machine/stance';
import type { AllowedDepth } from './allowedDepth';
import type { Chart } from './chart';
import type { Profile } from './profile';

/** How the outline is drawn (see `Chart`), and how far the low rim of a leaning flat lies deeper than its middle, mm. */
export type DrawnOutline = Pick<Chart, 'plain' | 'root' | 'tipRiseMm'>;

/** Step for derivatives, mm. */
const STEP_MM = 1e-4;
/** A print is not taken to be longer than an upright tool's by more than this factor. */
const MAX_SPREAD = 30;
/** Least cosine of the lean that is used. */
const MIN_COS = 0.02;

/**
 * How far a leaning cutter's print reaches in the chart at a place, as a factor on the half-width of an upright cutter's on a true
 * sheet. The chart is true in its middle only; elsewhere the print can be longer.
 */
export function createPrintSpread(ground: Ground, profile: Profile, drawn: DrawnOutline): (at: AllowedDepth) => number {
  if (drawn.plain) return () => 1;
  const tanBeta = profile.cotBeta > 0 ? 1 / profile.cotBeta : 0;
  const normal = new Float64Array(6),
    px = new Float64Array(3),
    py = new Float64Array(3);
  return ({ x, y, frame }) => {
    ground.frameInto(x, y, normal);
    const cos = Math.max(MIN_COS, frame[3]! * normal[3]! + frame[4]! * normal[4]! + frame[5]! * normal[5]!);
    const tt = (Math.sqrt(Math.max(0, 1 - cos * cos)) / cos) * tanBeta;
    const root = cos * Math.sqrt(Math.max(1e-4, 1 - tt * tt));
    // Least true length of a length in the chart, with the middle's own shortening taken out.
    ground.pointInto(x + STEP_MM, y, px);
    ground.pointInto(x, y + STEP_MM, py);
    let e = 0,
      f = 0,
      g = 0;
    for (let k = 0; k < 3; k++) {
      const du = ((px[k]! - frame[k]!) / STEP_MM) * drawn.root,
        dv = (py[k]! - frame[k]!) / STEP_MM;
      e += du * du;
      f += du * dv;
      g += dv * dv;
    }
    const least = Math.sqrt(Math.max(1e-6, (e + g) / 2 - Math.hypot((e - g) / 2, f)));
    return Math.min(MAX_SPREAD, ((cos / root) * (1 + tt) * Math.max(1, drawn.root / root)) / Math.min(1, least));
  };
}
