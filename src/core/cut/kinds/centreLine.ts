import { z } from 'zod';
import { unionRings } from '../../base/boolean';
import { concatRings, getRing, isEmptyRings, type Rings } from '../../base/rings';
import type { Steps } from '../../base/steps';
import { cutCommon, cutDefaults, depthMm } from '../../job/cutSchema';
import { findMiddle } from '../middle';
import { moveStroke, planPieces } from '../planPieces';
import { createProfile } from '../profile';
import { getRadiusMm } from '../profileMath';
import type { CutContext, CutKind, CutPaths } from './kind';

const schema = z.strictObject({
  kind: z.literal('centre-line'),
  ...cutCommon,
  depthMm: depthMm(0.001),
  /** Whether it follows open lines, or the middle of outline lettering. */
  of: z.enum(['lines', 'middle']),
});

/** Follows open lines, or the middle of closed shapes, at one depth below the true surface. */
export const centreLine: CutKind<typeof schema> = {
  schema,
  name: 'Centre-line',
  about: 'follows stroke fonts, or the middle of letters, at one depth',
  needs: 'a stroke font, or to follow the middle of letters',
  cutters: ['v', 'ball-v', 'flat', 'ball', 'taper-ball', 'half-round', 'centre-drill', 'drag'],
  cutterName: 'a V cutter or an end mill',
  create: (id, toolId) => ({
    ...{ kind: 'centre-line', id, name: 'Centre-line', toolId, ...cutDefaults, feedMmPerMin: 400, depthMm: 0.15 },
    of: 'lines',
  }),
  takes: ({ of }) => [of === 'lines' ? 'lines' : 'areas'],
  edge: () => ({ side: 'none', why: 'a line has no outline to meet: its width is the cutter’s at that depth' }),
  field: () => null,
  means: (cut, lettering, { tool }) => {
    const profile = createProfile(tool);
    const { depthMm } = cut;
    const radiusMm = getRadiusMm(tool);
    if (cut.of === 'middle') {
      const region = unionRings(concatRings(lettering.map((l) => l.areas)));
      return isEmptyRings(region) ? { forms: [] } : { forms: [{ form: 'middle', region, depthMm, profile, radiusMm }] };
    }
    const lines = concatRings(lettering.map((l) => l.lines));
    if (isEmptyRings(lines)) return { forms: [] };
    const way = { side: 'on', isClosed: false, wallMm: 0, spreadMm: 0, isSharp: false } as const;
    return { forms: [{ form: 'band', lines, ...way, depthMm, leastMm: depthMm, profile, radiusMm }] };
  },
  *plan(cut, lettering, context) {
    if (cut.of === 'middle') return yield* followMiddle(concatRings(lettering.map((l) => l.areas)), cut.depthMm, context);
    const strokes = lettering.flatMap((l) => toStrokes(l.lines, cut.depthMm));
    yield 1;
    return { strokes, deepestMm: strokes.length > 0 ? cut.depthMm : 0, faults: [] };
  },
};

function* followMiddle(region: Rings, depth: number, context: CutContext): Steps<number, CutPaths> {
  const made = yield* planPieces(region, context, JSON.stringify(['middle', depth]), function* (piece) {
    yield 0;
    return findMiddle(piece, depth, context.work, context.engine);
  });
  if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
  const strokes = made.value.flatMap(({ value, dxMm, dyMm }) => value.strokes.map((s) => moveStroke(s, dxMm, dyMm)));
  return { strokes, deepestMm: strokes.length > 0 ? depth : 0, faults: [] };
}

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
