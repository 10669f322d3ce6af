import { computeLean, type Work } from '../../machine/stance';
import type { Answerer } from '../answerer';
import type { MiddleMeaning } from '../meaning';
import { Outlines } from '../outlines';
import { createPrint, findWidest, growBox, widenLeaning } from './reach';
import { StandingCutter } from './standing';

/** Two contacts lie on opposite sides of a stroke if their directions differ by more than this, cosine. */
const OPPOSITE_COS = -0.93;

export function answerMiddle({ region, depthMm, profile, radiusMm }: MiddleMeaning, work: Work): Answerer {
  const outlines = new Outlines(region, true, work);
  const reach = Math.max(20, (outlines.box.maxX - outlines.box.minX) / 2);
  const print = createPrint(profile, radiusMm, depthMm);
  const cutter = new StandingCutter(work, profile, radiusMm);
  return {
    form: 'middle',
    box: growBox(outlines.box, findWidest(print, region, work) + 0.1, work),
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out) {
      out.mustMm = out.mayMm = 0;
      const near = outlines.findNearest(x, y, reach);
      if (!near) return;
      const isInside = outlines.isInside(x, y);
      const away = near.lateralMm;
      if (!isInside) {
        // A cutter wider than the stroke goes over its edge.
        if (away < widenLeaning(print, work, x, y) + slackMm) out.mayMm = depthMm;
        return;
      }
      const lean = work.alongNormal ? 0 : computeLean(work, x, y);
      out.mayMm = depthMm / Math.cos(lean) + profile.flatMm * Math.tan(lean) + 0.002;
      if (away < 1e-6) return;
      const [ux, uy] = [(x - near.x) / away, (y - near.y) / away];
      let low = 0,
        high = away;
      const deeper = (s: number): boolean => {
        const found = outlines.findNearest(x + s * ux, y + s * uy, reach);
        return found !== null && outlines.isInside(x + s * ux, y + s * uy) && found.lateralMm > away + s - 1e-4;
      };
      for (let k = 0; k < 6 && deeper(high); k++) high *= 2;
      for (let k = 0; k < 12; k++) {
        const s = (low + high) / 2;
        if (deeper(s)) low = s;
        else high = s;
      }
      if (low + slackMm > print.printMm) return;
      // Only between walls that face each other: the middle does not run into corners.
      const [mx, my] = [x + high * ux, y + high * uy];
      const other = outlines.findNearest(mx + 0.02 * ux, my + 0.02 * uy, reach);
      if (!other || other.lateralMm < 1e-6) return;
      const cos = (ux * (mx - other.x) + uy * (my - other.y)) / Math.hypot(mx - other.x, my - other.y);
      if (cos > OPPOSITE_COS) return;
      cutter.askAt(x, y);
      // The middle of a stroke is no edge: it may lie aside by a tenth of its half-width.
      const aside = slackMm + 0.02 + 0.1 * (away + low);
      out.mustMm = Math.max(0, cutter.cutFrom(x + low * ux, y + low * uy, depthMm, aside, true) - 0.005);
    },
  };
}
