import { z } from 'zod';
import { ok } from '../../base/result';
import { computeArea, offsetRings, subtractRings } from '../../base/boolean';
import { isEmptyRings, type Rings } from '../../base/rings';
import { clearing, cutCommon, cutDefaults, depthMm, sheetPlaces } from '../../job/cutSchema';
import { clearArea, findReach, findWidestMm } from '../area/areaPasses';
import { ARC_TOLERANCE_MM } from '../area/fill';
import { beginWaysAt, isClosedWay, toSheetPlaces } from '../area/placesOnWays';
import { passAlongWalls } from '../area/wallPasses';
import { gatherRings, moveStroke, planPieces } from '../planPieces';
import { createProfile } from '../profile';
import { widen } from '../profileMath';
import { allowanceMm, areaDefaults, areaFields, clearForEntry, listAreaCutters, nested, nestedRegion } from './areaFields';
import type { CutFault, CutKind, CutLettering } from './kind';

const schema = z.strictObject({
  kind: z.literal('pocket'),
  ...cutCommon,
  clearing,
  depthMm: depthMm(0.005),
  ...areaFields,
  nested,
  /** What is left on walls and floor for another cut. */
  wallMm: allowanceMm,
  floorMm: allowanceMm,
  /** Thickness that a last pass along the walls takes at full depth; 0 for none. */
  finishMm: allowanceMm,
  /** Where that pass begins on the walls that are nearest: a mark stays there. Elsewhere as it comes. */
  startsAt: sheetPlaces(200),
});

/** Less than this is not worth saying, mm². */
const LEAST_MM2 = 0.01;

/** Clears closed shapes to one depth below the true surface, walls straight up. */
export const pocket: CutKind<typeof schema> = {
  schema,
  name: 'Pocket',
  about: 'clears closed shapes to an even floor',
  needs: 'an outline font or closed shapes',
  cutters: ['flat', 'bull', 'ball'],
  cutterName: 'an end mill',
  create: (id, toolId) => ({
    ...{ kind: 'pocket', id, name: 'Pocket', toolId, ...cutDefaults, feedMmPerMin: 400, clearing: [], depthMm: 0.5 },
    ...{ ...areaDefaults, nested: 'stands', wallMm: 0, floorMm: 0, finishMm: 0, startsAt: [] },
  }),
  takes: () => ['areas'],
  edge: () => ({ side: 'none', why: 'walls that stand straight up are measured in the cut piece, cell by cell' }),
  field: (cut, lettering) => {
    const areas = findRegion(cut, lettering);
    return { edges: areas, allowed: areas, fills: true };
  },
  means: (cut, lettering, { tool, before }) => {
    const depthMm = cut.depthMm - cut.floorMm;
    const region = findRegion(cut, lettering);
    if (!(depthMm > 0) || isEmptyRings(region)) return { forms: [] };
    const roughMm = cut.wallMm + cut.finishMm;
    const cutters = [...before.map((mill) => ({ tool: mill, wallMm: roughMm })), { tool, wallMm: cut.wallMm }];
    return { forms: [{ form: 'area', region, depthMm, wallMm: cut.wallMm, cutters }] };
  },
  *plan(cut, lettering, context) {
    const { tool, own, work } = context;
    const region = findRegion(cut, lettering);
    const depth = cut.depthMm - cut.floorMm;
    const roughMm = cut.wallMm + cut.finishMm;
    const cutters = listAreaCutters(context, cut.stepOverShare, (t) => widen(createProfile(t), roughMm));
    const common = JSON.stringify([
      'pocket',
      cut.depthMm,
      cut.floorMm,
      cut.wallMm,
      cut.finishMm,
      cut.pattern,
      cut.direction,
      cutters.map(keyOf),
    ]);
    if (!(depth > 0)) return { strokes: [], deepestMm: 0, faults: [] };
    const made = yield* planPieces(region, context, common, function* (piece) {
      const floor = cut.wallMm > 0 ? offsetRings(piece, -cut.wallMm, ARC_TOLERANCE_MM) : piece;
      const passes = yield* clearArea(work, piece, floor, depth, cutters, { ...cut.pattern, direction: cut.direction });
      const finishing =
        tool === own && cut.finishMm > 0 ? passAlongWalls(work, piece, depth, widen(createProfile(tool), cut.wallMm), cut.direction) : [];
      // The pass along the walls takes what was left for it.
      const unreached =
        finishing.length > 0
          ? subtractRings(passes.unreached, findReach(work, piece, widen(createProfile(tool), cut.wallMm), depth))
          : passes.unreached;
      return ok({ strokes: passes.strokes, finishing, unreached, ready: passes.ready });
    });
    if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
    const strokes = made.value.flatMap(({ value, dxMm, dyMm }) => value.strokes.map((s) => moveStroke(s, dxMm, dyMm)));
    const walls = made.value.flatMap(({ value, dxMm, dyMm }) => value.finishing.map((s) => moveStroke(s, dxMm, dyMm)));
    const finishing = beginWaysAt(walls, toSheetPlaces(cut.startsAt, work));
    const ways = finishing.filter(isClosedWay).map((points) => ({ points, tabs: [] }));
    const unreached = gatherRings(made.value, (p) => p.unreached);
    const unreachedMm2 = computeArea(unreached);
    const ready = cut.keepDown ? gatherRings(made.value, (p) => p.ready) : undefined;
    const entry = clearForEntry(cut.entry, work, region, depth, cutters[cutters.length - 1]);
    const faults: CutFault[] = [];
    if (strokes.length === 0 && tool === own && context.before.length === 0 && !isEmptyRings(region)) {
      faults.push({ code: 'cutter-too-wide', data: { tool: tool.name, widestMm: 2 * findWidestMm(region) } });
    } else if (tool === own && unreachedMm2 > LEAST_MM2) {
      faults.push({ code: 'not-reached', data: { mm2: unreachedMm2, percent: (100 * unreachedMm2) / computeArea(region) } });
    }
    return {
      strokes,
      finishing,
      ways,
      deepestMm: strokes.length > 0 ? depth : 0,
      faults,
      unreached,
      entry: cut.entry,
      directed: true,
      ready,
      ...entry,
    };
  },
};

/** What is cleared: shapes inside shapes stand, unless they are to be cut as one. */
const findRegion = (cut: z.infer<typeof schema>, lettering: readonly CutLettering[]): Rings => nestedRegion(cut.nested, lettering);

const keyOf = ({ radiusMm, stepMm, profile }: ReturnType<typeof listAreaCutters>[number]): number[] => [
  radiusMm,
  stepMm,
  profile.flatMm,
  profile.ballRadiusMm,
];
