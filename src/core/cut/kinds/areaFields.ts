import { z } from 'zod';
import { angleDeg, between, lengthMm } from '../../job/fields';
import { nestRings } from '../../base/nest';
import { concatRings, type Rings } from '../../base/rings';
import type { Tool } from '../../job/schema';
import type { Work } from '../../machine/stance';
import { Clearance } from '../area/clearance';
import type { IsFree } from '../area/entry';
import { FLOOR_CUSP_MM, type AreaCutter } from '../area/areaPasses';
import type { Profile } from '../profile';
import { getFloorMm, getRadiusMm } from '../profileMath';
import type { CutContext, CutLettering } from './kind';

/** How a cutter comes down, as cuts that clear areas say it. */
const alongWay = [
  z.strictObject({ by: z.literal('plunge') }),
  z.strictObject({ by: z.literal('ramp'), angleDeg: angleDeg(0.1, 45) }),
] as const;
/** The same on a way that has no room beside it. */
export const wayEntrySchema = z.discriminatedUnion('by', alongWay);
export const entrySchema = z.discriminatedUnion('by', [
  ...alongWay,
  z.strictObject({ by: z.literal('helix'), angleDeg: angleDeg(0.1, 45), radiusMm: lengthMm(0.05, 50) }),
]);

/** What every cut that clears an area says. */
export const areaFields = {
  /** Distance between neighbouring passes over the cutter's diameter. */
  stepOverShare: between(0.01, 1, 'between 1 and 100 %'),
  pattern: z.discriminatedUnion('by', [
    z.strictObject({ by: z.literal('along') }),
    z.strictObject({ by: z.literal('rows'), angleDeg: angleDeg(-180, 180) }),
  ]),
  direction: z.enum(['climb', 'conventional']),
  entry: entrySchema,
  /** Whether the cutter stays down from pass to pass where the way lies in what cutters before it cleared. */
  keepDown: z.boolean(),
};

export const areaDefaults = {
  stepOverShare: 0.45,
  pattern: { by: 'along' as const },
  direction: 'climb' as const,
  entry: { by: 'ramp' as const, angleDeg: 3 },
  keepDown: false,
};

/** What becomes of shapes that lie inside other shapes of the same cut: they stand, or all is cut as one. */
export const nested = z.enum(['stands', 'one']);

/** The region of a cut that fills closed shapes. With `one` overlaps and all that lies inside are filled as they come. */
export const nestedRegion = (choice: z.infer<typeof nested>, lettering: readonly CutLettering[]): Rings =>
  choice === 'stands' ? nestRings(lettering.map((l) => l.areas)).region : concatRings(lettering.map((l) => l.areas));

/** Allowance that is left on walls or floors, mm. */
export const allowanceMm = lengthMm(0, 10);

/** How far a way down may come beyond the wall, mm: as the passes along it do. */
const ENTRY_CLEAR_MM = 0.0005;

/** Where a way down may lie beside the passes of an area, if it is one that does. */
export function clearForEntry(
  { by }: z.infer<typeof entrySchema>,
  work: Work,
  region: Rings,
  depthMm: number,
  cutter: AreaCutter | undefined,
): { isFree?: IsFree } {
  if (by !== 'helix' || !cutter) return {};
  const clearance = new Clearance(work, region, cutter.profile);
  return { isFree: (x, y) => clearance.measure(x, y, depthMm) > -ENTRY_CLEAR_MM };
}

/**
 * The cutters of a cut up to the one that is planned, as ones that clear an area.
 * @param keepsClear What of a cutter must keep clear of the outline. @param ownShare Step-over of the cut's own cutter.
 */
export function listAreaCutters(
  { tool, before, stepOverShares }: Pick<CutContext, 'tool' | 'before' | 'stepOverShares'>,
  ownShare: number,
  keepsClear: (tool: Tool) => Profile,
): AreaCutter[] {
  return [...before, tool].map((t, k) => {
    const floorMm = getFloorMm(t, FLOOR_CUSP_MM);
    return {
      profile: keepsClear(t),
      radiusMm: floorMm,
      stepMm: Math.min((stepOverShares[k] ?? ownShare) * 2 * getRadiusMm(t), 2 * floorMm),
    };
  });
}
