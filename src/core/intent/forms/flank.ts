import { computeLean, type Work } from '../../machine/stance';
import type { Answerer } from '../answerer';
import type { FlankMeaning } from '../meaning';
import { Outlines } from '../outlines';
import { CUSP_MM, StandingCutter } from './standing';

/** A tip that stands nearer to an outline than its own flat by more than this does not stand there, mm. */
const CLEAR_MM = 0.002;

export function answerFlank({ region, depthMm, profile }: FlankMeaning, work: Work): Answerer {
  const outlines = new Outlines(region, true, work);
  const reach = 1.3 * profile.halfWidthAt(depthMm) + 0.2;
  const half = profile.flatMm;
  const cutter = new StandingCutter(work, profile, Infinity);
  /** Whether the tip goes in there: not into a notch that is narrower. */
  const isClear = (x: number, y: number): boolean =>
    half === 0 || (!outlines.isInside(x, y) && (outlines.findNearest(x, y, 2 * half)?.lateralMm ?? half) > half - CLEAR_MM);
  return {
    form: 'flank',
    box: outlines.box,
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out) {
      out.mustMm = out.mayMm = 0;
      if (!outlines.isInside(x, y)) return;
      cutter.askAt(x, y);
      outlines.visitNear(x, y, reach, (px, py, away) => {
        // The tip runs beside the outline, by its own flat, as the tool sees it.
        const by = half / Math.max(away, 1e-6);
        const [qx, qy] = [px + by * (px - x), py + by * (py - y)];
        out.mayMm = Math.max(out.mayMm, cutter.cutFrom(qx, qy, depthMm, -slackMm) + 0.005);
        // Asked for along the normal, in the middle of the tip; depths are measured along the tool.
        const upMm = half > 0 && !work.alongNormal ? depthMm * (1 - Math.cos(computeLean(work, qx, qy))) : 0;
        const must = cutter.cutFrom(qx, qy, depthMm - upMm, slackMm, true) - CUSP_MM;
        if (must > out.mustMm && isClear(qx, qy)) out.mustMm = must;
      });
    },
  };
}
