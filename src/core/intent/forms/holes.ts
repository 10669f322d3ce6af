import { computeBox } from '../../base/rings';
import type { Work } from '../../machine/stance';
import type { Answerer } from '../answerer';
import type { HoleMeaning } from '../meaning';
import { createPrint, findWidest, growBox } from './reach';
import { StandingCutter } from './standing';

export function answerHoles({ places, depthMm, profile, radiusMm }: HoleMeaning, work: Work): Answerer {
  const xy = Float64Array.from(places.flat());
  const cutter = new StandingCutter(work, profile, radiusMm);
  const period = work.periodMm;
  const reach = Math.max(1.6 * radiusMm, findWidest(createPrint(profile, radiusMm, depthMm), { xy }, work)) + 0.1;
  return {
    form: 'holes',
    box: growBox(computeBox(xy), reach, work),
    deepestMm: depthMm,
    outlines: null,
    ask(x, y, slackMm, out) {
      out.mustMm = out.mayMm = 0;
      cutter.askAt(x, y);
      for (const [px, py] of places) {
        const dy = period === null ? y - py : y - py - period * Math.round((y - py) / period);
        // A hole is never wider on the sheet than the sheet is stretched.
        if (Math.hypot(x - px, dy) > 2 * reach + 1) continue;
        out.mayMm = Math.max(out.mayMm, cutter.cutFrom(px, py, depthMm, -slackMm) + 0.002);
        out.mustMm = Math.max(out.mustMm, cutter.cutFrom(px, py, depthMm, slackMm, true) - 0.002);
      }
    },
  };
}
