import { z } from 'zod';
import { computeArea, offsetRings, subtractRings, unionRings } from '../../base/boolean';
import { ok } from '../../base/result';
import { computeBox, concatRings, isEmptyRings, packRings, type Rings } from '../../base/rings';
import type { Steps } from '../../base/steps';
import { clearing, cutCommon, cutDefaults, depthMm } from '../../job/cutSchema';
import { lengthMm } from '../../job/fields';
import type { Tool } from '../../job/schema';
import type { Work } from '../../machine/stance';
import { clearArea, type AreaPasses } from '../area/areaPasses';
import { passAround } from '../area/wallPasses';
import { gatherRings, moveStroke, planPieces } from '../planPieces';
import { createProfile, createVProfile, getWidestFlatMm } from '../profile';
import { getRadiusMm } from '../profileMath';
import { areaDefaults, areaFields, clearForEntry, listAreaCutters } from './areaFields';
import { carveRegion, clearRegion } from './carving';
import type { CutContext, CutKind, CutPaths } from './kind';
import { frame, turnRound } from './outline';

const schema = z.strictObject({
  kind: z.literal('raised'),
  ...cutCommon,
  clearing,
  depthMm: depthMm(0.005),
  /** What is cleared round the words: a box, everything within the margin of them, or all the way round the blank. */
  field: z.enum(['box', 'offset', 'band']),
  marginMm: lengthMm(0, 500),
  /** Sides of the letters: straight up; sloped up to the outline; or sloped from it, so that two slopes meet in a ridge. */
  sides: z.enum(['straight', 'flat-top', 'ridge']),
  ...areaFields,
});

/** Chord error of a field's round corners, mm. */
const FIELD_ARC_MM = 0.005;

/** Leaves lettering standing in a field that is cleared round it. */
export const raised: CutKind<typeof schema> = {
  schema,
  name: 'Raised',
  about: 'leaves outline letters standing in a field that is cleared round them',
  needs: 'an outline font or closed shapes',
  cutters: ['flat', 'bull', 'v', 'ball-v', 'half-round'],
  cutterName: 'an end mill for straight sides, a V cutter for sloped ones',
  create: (id, toolId) => ({
    ...{ kind: 'raised', id, name: 'Raised', toolId, ...cutDefaults, feedMmPerMin: 400, clearing: [], depthMm: 0.5 },
    ...{ field: 'box', marginMm: 3, sides: 'straight', ...areaDefaults },
  }),
  takes: () => ['areas'],
  edge: () => ({ side: 'none', why: 'what stands is measured in the cut piece, cell by cell' }),
  field(cut, lettering, tool, surface) {
    const areas = concatRings(lettering.map((l) => l.areas));
    if (isEmptyRings(areas)) return null;
    const wide = cut.marginMm + 4 * getRadiusMm(tool) + 10;
    const { periodMm } = surface;
    const isBand = cut.field === 'band' && periodMm !== null;
    // A ridge begins at the outline only where it stands on the floor.
    return cut.sides === 'ridge'
      ? null
      : { edges: turnRound(areas), allowed: isBand ? bandRound(areas, wide, periodMm) : frame(areas, wide), fills: false };
  },
  means(cut, lettering, { tool, before, work }) {
    const areas = unionRings(concatRings(lettering.map((l) => l.areas)));
    const profile = createProfile(tool);
    if (isEmptyRings(areas) || (cut.sides === 'straight') === profile.cotBeta > 0) return { forms: [] };
    const { depthMm, sides } = cut;
    const isBand = cut.field === 'band' && work.periodMm !== null;
    const around = isBand ? repeatRound(areas, work) : areas;
    // Round the blank the field's own ends lie a turn apart, where nobody asks.
    const field = findField(cut, areas, work, isBand ? work.periodMm! / 10 : getRadiusMm(before[0] ?? tool));
    const region = subtractRings(field, around);
    if (!(computeArea(region) > 0)) return { forms: [] };
    const mills = (sides === 'ridge' ? before : [...before, tool]).map((mill) => ({ tool: mill, wallMm: 0 }));
    if (sides === 'flat-top')
      return {
        forms: [{ form: 'roof', region, profile, limitMm: depthMm, sunkMm: 0, beginMm: cut.beginMm, millFlatMm: getWidestFlatMm(before) }],
        stands: areas,
      };
    const floor = { form: 'area', region, depthMm, wallMm: 0, cutters: mills } as const;
    if (sides === 'straight') return { forms: [floor], stands: areas };
    return { forms: [floor, { form: 'flank', region: areas, depthMm, profile }] };
  },
  *plan(cut, lettering, context) {
    const { tool, own, work } = context;
    const areas = unionRings(concatRings(lettering.map((l) => l.areas)));
    const isCone = createProfile(own).cotBeta > 0;
    if (cut.sides === 'straight' ? isCone : !isCone) {
      const needs = cut.sides === 'straight' ? 'an end mill for straight sides' : 'a V cutter for sloped sides';
      return { strokes: [], deepestMm: 0, faults: [{ code: 'wrong-cutter', data: { tool: own.name, needs } }] };
    }
    // Flat tops are carved: at its ends the field gets deep only as far in as the cutter is wide.
    const wideMm = cut.sides === 'flat-top' ? createProfile(own).halfWidthAt(cut.depthMm) : 0;
    const field = findField(cut, areas, work, wideMm + getRadiusMm(context.before[0] ?? tool));
    const region = subtractRings(field, cut.field === 'band' ? repeatRound(areas, work) : areas);
    if (!(computeArea(region) > 0) || (cut.field === 'box' && cut.marginMm === 0)) {
      return { strokes: [], deepestMm: 0, faults: [{ code: 'field-too-small', data: {} }] };
    }
    if (cut.sides === 'flat-top')
      return yield* tool === own ? carveRegion(region, cut.depthMm, context) : clearRegion(region, cut.depthMm, context);
    const cleared = yield* clearField(cut, region, context);
    if (cut.sides === 'ridge' && tool === own) {
      // The tip runs along the foot of the slopes: beside the outline by its own flat.
      const profile = createVProfile(0.001, tool.kind === 'ball-v' ? 0 : tool.tipMm);
      return { ...cleared, strokes: passAround(work, areas, cut.depthMm, profile, cut.direction, 'round'), deepestMm: cut.depthMm };
    }
    return cleared;
  },
};

/** Clears a field with straight sides by a row of end mills. */
function* clearField(cut: z.infer<typeof schema>, region: Rings, context: CutContext): Steps<number, CutPaths> {
  const { tool, own, work } = context;
  const isRidge = cut.sides === 'ridge';
  const cutters = listAreaCutters(context, cut.stepOverShare, (t: Tool) => createProfile(t)).filter(
    (_, k) => !isRidge || k < context.before.length || tool !== own,
  );
  if (cutters.length === 0) return { strokes: [], deepestMm: 0, faults: [] };
  const common = JSON.stringify([
    'raised',
    cut.depthMm,
    cut.pattern,
    cut.direction,
    [...context.before, tool].map((t) => [t.kind, t.diameterMm, t.cornerMm]),
    context.stepOverShares,
    cut.stepOverShare,
  ]);
  const made = yield* planPieces<AreaPasses>(region, context, common, function* (piece) {
    return ok(yield* clearArea(work, piece, piece, cut.depthMm, cutters, { ...cut.pattern, direction: cut.direction }));
  });
  if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
  const strokes = made.value.flatMap(({ value, dxMm, dyMm }) => value.strokes.map((s) => moveStroke(s, dxMm, dyMm)));
  const entry = clearForEntry(cut.entry, work, region, cut.depthMm, cutters[cutters.length - 1]);
  const ready = cut.keepDown ? gatherRings(made.value, (p) => p.ready) : undefined;
  const unreached = gatherRings(made.value, (p) => p.unreached);
  return {
    strokes,
    deepestMm: strokes.length > 0 ? cut.depthMm : 0,
    faults: [],
    unreached,
    entry: cut.entry,
    directed: true,
    ready,
    ...entry,
  };
}

/** What is to be cleared, words and all. */
function findField({ field, marginMm }: z.infer<typeof schema>, areas: Rings, work: Work, reachMm: number): Rings {
  const box = computeBox(areas.xy);
  const [x0, x1] = [box.minX - marginMm, box.maxX + marginMm];
  if (field === 'offset') return offsetRings(areas, marginMm, FIELD_ARC_MM);
  let [y0, y1] = [box.minY - marginMm, box.maxY + marginMm];
  if (field === 'band' && work.periodMm !== null) {
    // Once round and on until the cutters get as deep as anywhere where it began.
    const middle = (box.minY + box.maxY) / 2;
    const half = work.periodMm / 2 + Math.min(1.1 * reachMm + 0.1, 0.2 * work.periodMm);
    [y0, y1] = [middle - half, middle + half];
  }
  return packRings([[x0, y0, x1, y0, x1, y1, x0, y1]]);
}

/** Once round the blank, less the words: what a band may take. */
function bandRound(areas: Rings, wideMm: number, periodMm: number): Rings {
  const { minX, maxX, minY, maxY } = computeBox(areas.xy);
  const [x0, x1, y0] = [minX - wideMm, maxX + wideMm, (minY + maxY - periodMm) / 2];
  return subtractRings(packRings([[x0, y0, x1, y0, x1, y0 + periodMm, x0, y0 + periodMm]]), repeatRound(areas, { periodMm }));
}

/** Lettering as it comes again a turn on and a turn back. */
function repeatRound(areas: Rings, { periodMm }: Pick<Work, 'periodMm'>): Rings {
  if (periodMm === null) return areas;
  const moved = (by: number): Rings => ({ xy: areas.xy.map((v, i) => (i % 2 ? v + by : v)), starts: areas.starts });
  return concatRings([areas, moved(periodMm), moved(-periodMm)]);
}
