import { z } from 'zod';
import { unionRings } from '../../base/boolean';
import { ok } from '../../base/result';
import { computeBox, concatRings, isEmptyRings, packRings, type Rings } from '../../base/rings';
import { fromTurnDeg } from '../../surface/surface';
import { cutCommon, cutDefaults, depthMm, sheetPlaces } from '../../job/cutSchema';
import { count, lengthMm } from '../../job/fields';
import type { Work } from '../../machine/stance';
import { measureLength } from '../../surface/length';
import { Clearance } from '../area/clearance';
import { beginWaysAt, placeOnWays, toSheetPlaces } from '../area/placesOnWays';
import { leadInAndOut, measureWay, placeTabs, raiseOverTabs, type LengthOf } from '../area/tabs';
import { createRimRise, keepClearOf, passAround } from '../area/wallPasses';
import { moveStroke, planPieces } from '../planPieces';
import { createProfile } from '../profile';
import { getRadiusMm } from '../profileMath';
import { wayEntrySchema } from './areaFields';
import type { CutFault, CutKind } from './kind';
import { frame, turnRound } from './outline';

const schema = z.strictObject({
  kind: z.literal('cut-out'),
  ...cutCommon,
  depthMm: depthMm(0.05),
  /** Round the closed shapes of the lettering, or once round the blank at a place along it. */
  along: z.discriminatedUnion('by', [
    z.strictObject({ by: z.literal('shapes') }),
    z.strictObject({ by: z.literal('place'), xMm: lengthMm(-5000, 5000) }),
  ]),
  tabs: z
    .strictObject({
      count: count(1, 100),
      spacingMm: lengthMm(1, 5000).nullable(),
      lengthMm: lengthMm(0.1, 200),
      thicknessMm: lengthMm(0.01, 50),
      ramped: z.boolean(),
      /** Places where a person put them; a way that has none of them has its tabs evenly apart. */
      at: sheetPlaces(200),
    })
    .nullable(),
  /** Arcs into the way and out of it: radius, and length along the arc; radius 0 for none. */
  leadRadiusMm: lengthMm(0, 100),
  leadMm: lengthMm(0, 200),
  direction: z.enum(['climb', 'conventional']),
  entry: wayEntrySchema,
  /** Places where ways begin; each is of the way that is nearest to it. */
  startsAt: sheetPlaces(200),
});

/** Once round goes on past its beginning by this, mm. */
const PAST_MM = 0.2;
/** A lead may touch the outline as the way itself does, mm. */
const CLEAR_MM = 0.0015;

/** Cuts shapes free of a plate, or parts a ring or tube. */
export const cutOut: CutKind<typeof schema> = {
  schema,
  name: 'Cut-out',
  about: 'cuts shapes free of a plate, or parts a ring or tube',
  needs: 'closed shapes',
  cutters: ['flat', 'bull'],
  cutterName: 'an end mill',
  create: (id, toolId) => ({
    ...{ kind: 'cut-out', id, name: 'Cut-out', toolId, ...cutDefaults, feedMmPerMin: 300, depthMm: 2 },
    ...{ levels: { by: 'step', stepMm: 0.5, even: true, finishMm: 0 }, along: { by: 'shapes' }, direction: 'climb' },
    ...{ tabs: { count: 4, spacingMm: null, lengthMm: 3, thicknessMm: 0.5, ramped: true, at: [] }, leadRadiusMm: 1, leadMm: 1.5 },
    ...{ entry: { by: 'ramp', angleDeg: 3 }, startsAt: [] },
  }),
  frees: true,
  outlineOnly: true,
  takes: ({ along }) => (along.by === 'shapes' ? ['areas'] : []),
  edge: () => ({ side: 'none', why: 'the edge of a piece that is cut free is measured in the cut piece, cell by cell' }),
  field(cut, lettering, tool) {
    if (cut.along.by === 'place') return null;
    const areas = concatRings(lettering.map((l) => l.areas));
    return { edges: turnRound(areas), allowed: frame(areas, 2 * getRadiusMm(tool) + 2 * cut.leadRadiusMm + 1), fills: false };
  },
  means(cut, lettering, { tool, work }) {
    const profile = createProfile(tool);
    const radiusMm = getRadiusMm(tool);
    const { depthMm, tabs, along } = cut;
    const byPlace = along.by === 'place';
    const shapes = byPlace ? packRings([]) : unionRings(concatRings(lettering.map((l) => l.areas)));
    if (!byPlace && isEmptyRings(shapes)) return { forms: [] };
    const { minY, maxY } = work.domain;
    const lines = byPlace ? packRings([[along.xMm, minY, along.xMm, maxY]]) : shapes;
    const box = computeBox(lines.xy);
    const floor = Math.min(depthMm, work.wallAt((box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2));
    const leastMm = tabs ? Math.max(0, floor - tabs.thicknessMm - findRim(lines.xy, 2, work, profile.flatMm)) : depthMm;
    const way = byPlace
      ? ({ isClosed: false, side: 'on', spreadMm: 0, isSharp: false } as const)
      : ({ isClosed: true, side: 'outside', spreadMm: 2 * cut.leadRadiusMm + 1, isSharp: false } as const);
    return {
      forms: [{ form: 'band', lines, ...way, depthMm, leastMm, wallMm: 0, profile, radiusMm }],
      ...(tabs && {
        tabs: {
          shapes,
          xMm: byPlace ? along.xMm : 0,
          ...{ radiusMm, depthMm, lengthMm: tabs.lengthMm, thicknessMm: tabs.thicknessMm },
          countFor: (aroundMm) => (tabs.spacingMm === null ? tabs.count : Math.max(1, Math.ceil(aroundMm / tabs.spacingMm))),
          at: tabs.at.map(({ xMm, turnDeg }) => [xMm, fromTurnDeg(work, turnDeg)] as const),
        },
      }),
    };
  },
  isThrough: () => true,
  *plan(cut, lettering, { work, tool, pieces, surfaceKey }) {
    const profile = createProfile(tool);
    const faults: CutFault[] = [];
    const ways: Float64Array[] = [];
    let clearance: Clearance | null = null;
    if (cut.along.by === 'place') ways.push(goRound(work, cut.along.xMm, cut.depthMm, cut.direction));
    else {
      const region: Rings = concatRings(lettering.map((l) => l.areas));
      const common = JSON.stringify(['cut-out', cut.depthMm, cut.direction, tool.diameterMm, tool.kind, tool.cornerMm]);
      const made = yield* planPieces(region, { work, pieces, surfaceKey }, common, function* (piece) {
        yield 0;
        return ok({ strokes: passAround(work, piece, cut.depthMm, profile, cut.direction, 'round') });
      });
      clearance = new Clearance(work, region, profile);
      if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
      const all = made.value.flatMap(({ value, dxMm, dyMm }) => value.strokes.map((s) => moveStroke(s, dxMm, dyMm)));
      ways.push(...(made.value.length > 1 ? keepClearOf(all, unionRings(region), work, cut.depthMm, profile) : all));
    }
    const begun = beginWaysAt(ways, toSheetPlaces(cut.startsAt, work));
    const byHand = cut.tabs ? placeOnWays(begun, toSheetPlaces(cut.tabs.at, work)) : [];
    const lengthOf: LengthOf = (...ends) => measureLength(work, ...ends);
    const held = begun.map((points, k) => ({
      points,
      tabs: !cut.tabs ? [] : byHand[k]!.length > 0 ? byHand[k]! : placeTabs(cut.tabs, measureWay(points, lengthOf)),
    }));
    const ends = { radiusMm: getRadiusMm(tool), flatMm: profile.flatMm };
    const strokes = held.map((way) => finishWay(cut, way, work, ends, clearance, faults));
    const [x, y] = [strokes[0]?.[0] ?? 0, strokes[0]?.[1] ?? 0];
    const wall = work.wallAt(x, y);
    if (strokes.length > 0 && wall > cut.depthMm) faults.push({ code: 'not-through', data: { depthMm: cut.depthMm, wallMm: wall } });
    return { strokes, deepestMm: strokes.length > 0 ? cut.depthMm : 0, faults, directed: true, entry: cut.entry, ways: held };
  },
};

/**
 * By how much the rim of a flat end goes deeper than its middle along a way at the most, mm: where it leans, and in a hollow.
 * @param numbers To a place, x and y first.
 */
function findRim(way: ArrayLike<number>, numbers: number, work: Work, flatMm: number): number {
  const riseAt = createRimRise(work, flatMm);
  let most = 0;
  for (let i = 0; i < way.length; i += numbers) most = Math.max(most, riseAt(way[i]!, way[i + 1]!));
  return most;
}

/** A way with its tabs and leads. */
function finishWay(
  cut: z.infer<typeof schema>,
  { points: way, tabs: shares }: { points: Float64Array; tabs: readonly number[] },
  work: Work,
  { radiusMm, flatMm }: { radiusMm: number; flatMm: number },
  clearance: Clearance | null,
  faults: CutFault[],
): Float64Array {
  const { tabs } = cut;
  let out = way;
  if (tabs) {
    const lengthOf: LengthOf = (...ends) => measureLength(work, ...ends);
    const around = measureWay(way, lengthOf);
    // The rim of an end that leans goes lower than its middle: a tab is as thick as asked under the rim.
    const floor = Math.min(cut.depthMm, work.wallAt(way[0]!, way[1]!)) - findRim(way, 3, work, flatMm);
    if (shares.length * (tabs.lengthMm + 2 * radiusMm) > around) faults.push({ code: 'tab-too-long', data: { aroundMm: around } });
    else if (tabs.thicknessMm >= floor) faults.push({ code: 'tab-too-thick', data: { depthMm: floor } });
    out = raiseOverTabs(way, tabs, shares, floor, radiusMm, lengthOf);
  }
  if (!clearance) return out;
  const isFree = (x: number, y: number): boolean => clearance.measure(x, y, cut.depthMm) > -CLEAR_MM;
  // Climb milling round a piece has it on the right: the waste is on the left.
  return leadInAndOut(out, cut.leadRadiusMm, cut.leadMm, cut.direction === 'climb' ? 'left' : 'right', isFree);
}

/** Once round a blank at a place along it, or once across. */
function goRound(work: Work, x: number, depth: number, direction: 'climb' | 'conventional'): Float64Array {
  const { minY, maxY } = work.domain;
  const [y0, y1] = work.periodMm === null ? [minY, maxY] : [-work.periodMm / 2, work.periodMm / 2 + PAST_MM];
  return direction === 'climb' ? Float64Array.of(x, y0, depth, x, y1, depth) : Float64Array.of(x, y1, depth, x, y0, depth);
}
