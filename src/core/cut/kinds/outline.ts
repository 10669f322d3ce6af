import { z } from 'zod';
import { ok } from '../../base/result';
import { offsetRings, unionRings } from '../../base/boolean';
import { concatRings, getRing, isEmptyRings, type Rings } from '../../base/rings';
import { cutCommon, cutDefaults, depthMm, sheetPlaces } from '../../job/cutSchema';
import { reverse } from '../area/fill';
import { beginWaysAt, isClosedWay, toSheetPlaces } from '../area/placesOnWays';
import { keepClearOf, loopCorners, passAlongWalls, passAround } from '../area/wallPasses';
import { moveStroke, planPieces } from '../planPieces';
import { createProfile } from '../profile';
import { getRadiusMm, widen } from '../profileMath';
import { allowanceMm } from './areaFields';
import type { CutKind } from './kind';

const schema = z.strictObject({
  kind: z.literal('outline'),
  ...cutCommon,
  side: z.enum(['on', 'inside', 'outside']),
  depthMm: depthMm(0.005),
  /** Corners that the way goes round on the outside: run out to a point, rounded, or passed straight and looped back into. */
  corners: z.enum(['sharp', 'round', 'loop']),
  direction: z.enum(['climb', 'conventional']),
  /** What is left on the wall, mm. */
  wallMm: allowanceMm,
  /** Places where ways begin; each is of the way that is nearest to it. */
  startsAt: sheetPlaces(200),
});

/** Follows closed shapes at one depth, on their outlines or beside them. */
export const outline: CutKind<typeof schema> = {
  schema,
  name: 'Outline',
  about: 'follows the outlines of closed shapes, on them or beside them',
  needs: 'an outline font or closed shapes',
  cutters: ['flat', 'v', 'ball-v', 'ball', 'bull', 'taper-ball', 'half-round', 'drag'],
  cutterName: 'an end mill or a V cutter',
  create: (id, toolId) => ({
    ...{ kind: 'outline', id, name: 'Outline', toolId, ...cutDefaults, feedMmPerMin: 400 },
    ...{ side: 'outside', depthMm: 0.3, corners: 'round', direction: 'climb', wallMm: 0, startsAt: [] },
  }),
  outlineOnly: true,
  takes: () => ['areas'],
  edge: ({ side }) => ({
    side: 'none',
    why: side === 'on' ? 'the cutter’s middle runs on the outline' : 'walls of outlines are measured in the cut piece, cell by cell',
  }),
  field(cut, lettering, tool) {
    const areas = concatRings(lettering.map((l) => l.areas));
    if (cut.side === 'inside') return { edges: areas, allowed: areas, fills: false };
    const wide = 2 * createProfile(tool).halfWidthAt(cut.depthMm) + cut.wallMm + 2 * getRadiusMm(tool);
    if (cut.side === 'on') return null;
    return { edges: turnRound(areas), allowed: frame(areas, wide), fills: false };
  },
  means: (cut, lettering, { tool }) => {
    const lines = unionRings(concatRings(lettering.map((l) => l.areas)));
    if (isEmptyRings(lines)) return { forms: [] };
    const { depthMm, side, wallMm, corners } = cut;
    const profile = createProfile(tool);
    const radiusMm = getRadiusMm(tool);
    const print = Math.min(radiusMm, profile.halfWidthAt(depthMm));
    // Corners run out to a point go as far as the clipper lets them; loops as far as they are long.
    const spreadMm =
      side !== 'outside' || corners === 'round' ? 0 : corners === 'sharp' ? 8 * (print + wallMm) : 3 * Math.max(0.2, radiusMm) + 8 * print;
    return {
      forms: [
        {
          form: 'band',
          lines,
          isClosed: true,
          side,
          depthMm,
          leastMm: depthMm,
          wallMm: side === 'on' ? 0 : wallMm,
          profile,
          radiusMm,
          spreadMm,
          isSharp: corners !== 'round',
        },
      ],
    };
  },
  *plan(cut, lettering, context) {
    const { tool, work } = context;
    const region = concatRings(lettering.map((l) => l.areas));
    const { side, depthMm: depth, corners, direction, wallMm } = cut;
    const common = JSON.stringify([
      'outline',
      side,
      depth,
      corners,
      direction,
      wallMm,
      tool.kind,
      tool.diameterMm,
      tool.tipMm,
      tool.includedDeg,
      tool.cornerMm,
    ]);
    const profile = widen(createProfile(tool), wallMm);
    const made = yield* planPieces(region, context, common, function* (piece) {
      yield 0;
      if (side === 'inside') return ok({ strokes: passAlongWalls(work, piece, depth, profile, direction) });
      if (side === 'on') return ok({ strokes: followRings(piece, depth) });
      const passes = passAround(work, piece, depth, profile, direction, corners === 'round' ? 'round' : 'sharp');
      return ok({ strokes: corners === 'loop' ? passes.map((p) => loopCorners(p, Math.max(0.2, getRadiusMm(tool)))) : passes });
    });
    if (!made.ok) return { strokes: [], deepestMm: 0, faults: [{ code: 'outline-crosses', data: {}, at: made.error }] };
    const all = made.value.flatMap(({ value, dxMm, dyMm }) => value.strokes.map((s) => moveStroke(s, dxMm, dyMm)));
    // Letters stand apart, and a way round one, or a loop, may lie in another, or in a part of its own.
    const clear =
      side === 'outside' && (made.value.length > 1 || corners === 'loop')
        ? keepClearOf(all, unionRings(region), work, depth, profile)
        : all;
    const strokes = beginWaysAt(clear, toSheetPlaces(cut.startsAt, work));
    const ways = strokes.filter(isClosedWay).map((points) => ({ points, tabs: [] }));
    return { strokes, deepestMm: strokes.length > 0 ? depth : 0, faults: [], directed: side !== 'on', ways };
  },
};

/** Rings at a depth, closed. */
export function followRings(rings: Rings, depth: number): Float64Array[] {
  return Array.from({ length: rings.starts.length - 1 }, (_, k) => {
    const ring = getRing(rings, k);
    const out: number[] = [];
    for (let i = 0; i < ring.length; i += 2) out.push(ring[i]!, ring[i + 1]!, depth);
    return Float64Array.from([...out, ring[0]!, ring[1]!, depth]);
  });
}

/** What lies round shapes, as wide as is given, mm: with what is inside their holes. */
export const frame = (areas: Rings, wideMm: number): Rings => concatRings([offsetRings(areas, wideMm, 0.01), turnRound(areas)]);

/** Rings the other way round: what was inside is outside. */
export function turnRound(rings: Rings): Rings {
  const xy = new Float64Array(rings.xy.length);
  for (let k = 0; k + 1 < rings.starts.length; k++) xy.set(reverse(getRing(rings, k)), 2 * rings.starts[k]!);
  return { xy, starts: rings.starts };
}
