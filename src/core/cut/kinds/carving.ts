import { z } from 'zod';
import { ok } from '../../base/result';
import { offsetRings } from '../../base/boolean';
import { isEmptyRings, type Rings } from '../../base/rings';
import type { Steps } from '../../base/steps';
import { clearing, cutCommon, cutDefaults, depthMm } from '../../job/cutSchema';
import { lengthMm } from '../../job/fields';
import type { Tool } from '../../job/schema';
import { sinkWork } from '../../machine/sunkWork';
import { clearArea, FLOOR_CUSP_MM, type AreaPasses } from '../area/areaPasses';
import { ARC_TOLERANCE_MM } from '../area/fill';
import { createPrint } from '../area/print';
import { computeCarving } from '../carve';
import { gatherRings, moveStroke, planPieces } from '../planPieces';
import { createProfile, createVProfile, getWidestFlatMm } from '../profile';
import { getFloorMm, getRadiusMm, underLeaningWalls } from '../profileMath';
import type { CutContext, CutFault, CutKind, CutPaths } from './kind';
import { nested, nestedRegion } from './areaFields';

const schema = z.strictObject({
  kind: z.literal('v-carve'),
  ...cutCommon,
  clearing,
  nested,
  /** Depth of the floor that it is carved in, as of a pocket that was cut before; 0 for the blank's surface. */
  sunkMm: lengthMm(0, 100),
  /** Depth below that the carve may not exceed; wider strokes get a flat floor. */
  maxDepthMm: depthMm(0.005),
  /** Whether the V runs its strokes once more at full depth, to leave walls and floors clean. */
  finishing: z.boolean(),
});

/** A limit that takes less than this off the wanted depth is none, mm. */
const LIMITED_MM = 1e-6;
/** How an end mill comes down into a floor. */
const ENTRY = { by: 'ramp', angleDeg: 3 } as const;
/** Floors are cleared along their walls. */
const PATTERN = { by: 'along', direction: 'climb' } as const;

/** Runs along the middle of the letters, as deep as lets both walls reach the outline. */
export const carving: CutKind<typeof schema> = {
  schema,
  name: 'V-carve',
  about: 'fills outline letters as deep as their strokes are wide',
  needs: 'an outline font',
  cutters: ['v', 'ball-v', 'taper-ball', 'half-round'],
  cutterName: 'a V cutter',
  create: (id, toolId) => ({
    kind: 'v-carve',
    id,
    name: 'V-carve',
    toolId,
    ...cutDefaults,
    feedMmPerMin: 500,
    clearing: [],
    nested: 'stands',
    sunkMm: 0,
    maxDepthMm: 1.5,
    finishing: false,
  }),
  takes: () => ['areas'],
  edge: () => ({ side: 'inside' }),
  field: (cut, lettering) => {
    const areas = nestedRegion(cut.nested, lettering);
    return { edges: areas, allowed: areas, fills: true };
  },
  means: (cut, lettering, { tool, before }) => {
    const region = nestedRegion(cut.nested, lettering);
    if (isEmptyRings(region)) return { forms: [] };
    const { maxDepthMm: limitMm, sunkMm, beginMm } = cut;
    return {
      forms: [{ form: 'roof', region, profile: createProfile(tool), limitMm, sunkMm, beginMm, millFlatMm: getWidestFlatMm(before) }],
    };
  },
  *plan(cut, lettering, context) {
    const region = nestedRegion(cut.nested, lettering);
    const { sunkMm } = cut;
    const floor =
      sunkMm > 0
        ? { ...context, work: sinkWork(context.work, sunkMm), surfaceKey: `${context.surfaceKey}|${String(sunkMm)} down` }
        : context;
    if (context.tool !== context.own) return lower(yield* clearRegion(region, cut.maxDepthMm, floor), sunkMm);
    const paths = lower(yield* carveRegion(region, cut.maxDepthMm, floor), sunkMm);
    return cut.finishing ? { ...paths, finishing: paths.strokes } : paths;
  },
};

/** Paths of a floor, their depths from the surface on. */
const lower = (paths: CutPaths, sunkMm: number): CutPaths =>
  sunkMm === 0 || paths.strokes.length === 0
    ? paths
    : {
        ...paths,
        strokes: paths.strokes.map((s) => s.map((v, i) => (i % 3 === 2 ? v + sunkMm : v))),
        deepestMm: paths.deepestMm + sunkMm,
      };

/** Carves a region with the cut's own V, but for what its end mills cleared. */
export function* carveRegion(region: Rings, limitMm: number, context: CutContext): Steps<number, CutPaths> {
  const { before, stepOverShares } = context;
  const mills = before.length > 0 && {
    key: JSON.stringify([before.map(keyOf), stepOverShares]),
    *find(piece: Rings) {
      return (yield* clearFloor(piece, limitMm, context, before)).cleared;
    },
  };
  const made = yield* computeCarving([region], limitMm, context, mills || null);
  if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
  const { strokes, deepestMm, wantedMm, tooSteep } = made.value;
  const faults: CutFault[] = [];
  if (tooSteep > 0) faults.push({ code: 'leans-too-far', data: { pieces: tooSteep } });
  const limited = strokes.length > 0 && wantedMm > deepestMm + LIMITED_MM;
  if (limited && before.length === 0) faults.push({ code: 'flat-floor', data: { deepMm: wantedMm, limitMm: deepestMm } });
  return { strokes, deepestMm, faults };
}

/** Clears the floors of a carve with one of the end mills that go before its V. */
export function* clearRegion(region: Rings, limitMm: number, context: CutContext): Steps<number, CutPaths> {
  const { tool, own, before, stepOverShares } = context;
  const common = JSON.stringify(['carve floor', limitMm, own.includedDeg, [...before, tool].map(keyOf), stepOverShares]);
  const made = yield* planPieces(region, context, common, function* (piece) {
    return ok(yield* clearFloor(piece, limitMm, context, [...before, tool]));
  });
  if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
  const strokes = made.value.flatMap(({ value, dxMm, dyMm }) => value.strokes.map((s) => moveStroke(s, dxMm, dyMm)));
  const unreached = gatherRings(made.value, (p) => p.unreached);
  return { strokes, deepestMm: strokes.length > 0 ? limitMm : 0, faults: [], unreached, entry: ENTRY, directed: true };
}

const keyOf = (t: Tool): unknown[] => [t.kind, t.diameterMm, t.cornerMm];

/** What end mills clear of the floor between a piece's leaning walls. */
function* clearFloor(
  piece: Rings,
  limitMm: number,
  { own, work, stepOverShares }: CutContext,
  mills: readonly Tool[],
): Steps<number, AreaPasses> {
  // The floor ends where a sharp cone of the same angle, that deep, would touch the outline.
  const foot = createPrint(work, piece, createVProfile(own.includedDeg, 0), limitMm);
  const floor = foot.ringsToSheet(offsetRings(foot.toPlane(piece), -foot.radiusMm, ARC_TOLERANCE_MM));
  const cutters = mills.map((t, k) => {
    const floorMm = getFloorMm(t, FLOOR_CUSP_MM);
    return {
      profile: underLeaningWalls(t, own.includedDeg),
      radiusMm: floorMm,
      stepMm: Math.min((stepOverShares[k] ?? 0.45) * 2 * getRadiusMm(t), 2 * floorMm),
    };
  });
  return yield* clearArea(work, piece, floor, limitMm, cutters, PATTERN);
}
