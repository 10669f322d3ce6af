import { z } from 'zod';
import { cutCommon, cutDefaults, depthMm } from '../../job/cutSchema';
import { computeCarving } from '../carve';
import type { CutFault, CutKind } from './kind';

const schema = z.strictObject({
  kind: z.literal('v-carve'),
  ...cutCommon,
  /** Depth the carve may not exceed; wider strokes get a flat floor. */
  maxDepthMm: depthMm(0.005),
});

/** A limit that takes less than this off the wanted depth is none, mm. */
const LIMITED_MM = 1e-6;

/** Runs along the middle of the letters, as deep as lets both walls reach the outline. */
export const carving: CutKind<typeof schema> = {
  schema,
  name: 'V-carve',
  about: 'fills outline letters as deep as their strokes are wide',
  needs: 'an outline font',
  cutters: ['v', 'ball-v'],
  cutterName: 'a V cutter',
  create: (id, toolId) => ({ kind: 'v-carve', id, name: 'V-carve', toolId, ...cutDefaults, feedMmPerMin: 500, maxDepthMm: 1.5 }),
  takes: () => ['areas'],
  edge: () => ({ side: 'inside' }),
  *plan(cut, lettering, context) {
    const made = yield* computeCarving(
      lettering.map((l) => l.areas),
      cut.maxDepthMm,
      context,
    );
    if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
    const { strokes, deepestMm, wantedMm, tooSteep } = made.value;
    const faults: CutFault[] = [];
    if (tooSteep > 0) faults.push({ code: 'leans-too-far', data: { pieces: tooSteep } });
    if (strokes.length > 0 && wantedMm > deepestMm + LIMITED_MM) {
      faults.push({ code: 'flat-floor', data: { deepMm: wantedMm, limitMm: deepestMm } });
    }
    return { strokes, deepestMm, faults };
  },
};
