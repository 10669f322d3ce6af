import { createProfile } from '../../cut/profile';
import { getRadiusMm } from '../../cut/profileMath';
import { computeLean, type Work } from '../../machine/stance';
import type { Answerer } from '../answerer';
import type { AreaMeaning } from '../meaning';
import { Outlines } from '../outlines';
import { findLeanAround, FIT_MM, growBox } from './reach';
import { CUSP_MM } from './standing';

/** The passes along a wall on a convex blank leave a floor so much higher, mm. */
const RIM_MM = 0.052;

export function answerArea({ region, depthMm, wallMm, cutters }: AreaMeaning, work: Work): Answerer {
  const outlines = new Outlines(region, true, work);
  const mills = cutters.map(({ tool, wallMm: offMm }) => {
    const profile = createProfile(tool);
    return { offMm, profile, flatMm: profile.flatMm, radiusMm: getRadiusMm(tool), atSurfaceMm: profile.halfWidthAt(depthMm) };
  });
  const widest = Math.max(0, ...mills.map((m) => m.radiusMm));
  const reach = 2 * widest + wallMm + 1;
  const curvature = new Float64Array(2);
  // Where offsets in a plane are not those on the blank a cutter that only just fits may be left out.
  const fitMm = work.flat && work.alongNormal ? 0 : FIT_MM;
  return {
    form: 'area',
    box: growBox(outlines.box, 0.1, work),
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out, foundMm) {
      out.mustMm = out.mayMm = 0;
      const near = outlines.findNearest(x, y, reach);
      const away = near?.lateralMm ?? reach;
      const isInside = outlines.isInside(x, y);
      if (!isInside && !(away < slackMm)) return;
      const lean = work.alongNormal ? 0 : computeLean(work, x, y);
      work.curvatureInto(x, y, curvature);
      const leaning = 0.01 * depthMm * Math.tan(lean);
      const flat = Math.max(0, ...mills.map((m) => m.flatMm));
      const hollowMm = (Math.max(0, -curvature[1]!) * widest * widest) / 2;
      if (away > wallMm - slackMm || !isInside) {
        out.mayMm = depthMm + flat * Math.tan(lean) + leaning + hollowMm;
        if (foundMm > out.mayMm && !work.alongNormal)
          out.mayMm = depthMm + flat * Math.tan(findLeanAround(work, x, y, flat)) + leaning + hollowMm;
      }
      if (!isInside) return;
      for (const { offMm, profile, flatMm, radiusMm, atSurfaceMm } of mills) {
        // Where the cutter stands that reaches it: over it, or as far from the wall as the wall lets it.
        // A ray leaves the wall of a cutter that leans, and in a hollow.
        const aslant = depthMm * (Math.tan(lean) + Math.max(0, -curvature[1]!) * radiusMm);
        const off = offMm + atSurfaceMm + aslant - away;
        let [qx, qy] = [x, y];
        if (off > 0) {
          if (!near || away < 1e-6 || off > radiusMm - slackMm) continue;
          const by = (off - aslant + slackMm + fitMm) / away;
          qx += by * (x - near.x);
          qy += by * (y - near.y);
          if (!outlines.isInside(qx, qy)) continue;
        }
        if (outlines.findClearance(qx, qy, depthMm, profile, reach) < offMm + (off > 0 ? 0 : slackMm)) continue;
        const lost = off > 0 ? profile.heightAt(off + 2 * slackMm) : 0;
        if (!(lost < depthMm)) continue;
        const floor = CUSP_MM + (curvature[0]! > 0 ? RIM_MM : 0) + 2 * flatMm * Math.tan(lean) + leaning + 2 * hollowMm;
        out.mustMm = Math.max(out.mustMm, depthMm - lost - floor);
      }
    },
  };
}
