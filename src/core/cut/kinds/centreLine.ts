import { z } from 'zod';
import { getRing, type Rings } from '../../base/rings';
import { cutCommon, cutDefaults, depthMm } from '../../job/cutSchema';
import type { CutKind } from './kind';

const schema = z.strictObject({
  kind: z.literal('centre-line'),
  ...cutCommon,
  depthMm: depthMm(0.001),
});

/** Follows open lines at one depth below the true surface. */
export const centreLine: CutKind<typeof schema> = {
  schema,
  name: 'Centre-line',
  about: 'follows stroke fonts at one depth',
  needs: 'a stroke font',
  cutters: ['v', 'ball-v', 'flat', 'ball', 'taper-ball', 'half-round', 'drag'],
  cutterName: 'a V cutter or an end mill',
  create: (id, toolId) => ({ kind: 'centre-line', id, name: 'Centre-line', toolId, ...cutDefaults, feedMmPerMin: 400, depthMm: 0.15 }),
  takes: () => ['lines'],
  edge: () => ({ side: 'none', why: 'a line has no outline to meet: its width is the cutter’s at that depth' }),
  field: () => null,
  *plan(cut, lettering) {
    const strokes = lettering.flatMap((l) => toStrokes(l.lines, cut.depthMm));
    yield 1;
    return { strokes, deepestMm: strokes.length > 0 ? cut.depthMm : 0, faults: [] };
  },
};

function toStrokes(chains: Rings, depth: number): Float64Array[] {
  const out: Float64Array[] = [];
  for (let k = 0; k + 1 < chains.starts.length; k++) {
    const xy = getRing(chains, k);
    const stroke = new Float64Array((xy.length / 2) * 3);
    for (let i = 0; i < xy.length / 2; i++) stroke.set([xy[2 * i]!, xy[2 * i + 1]!, depth], 3 * i);
    out.push(stroke);
  }
  return out;
}
