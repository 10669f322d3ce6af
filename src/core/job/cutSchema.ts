import { z } from 'zod';
import { angleDeg, between, id, label, lengthMm } from './fields';

/** Largest number of inscriptions and of cuts in one job. */
export const MAX_INSCRIPTIONS = 200;
export const MAX_CUTS = 50;

export const levelsSchema = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('count'), count: z.int('must be a whole number').min(1).max(100) }),
  z.strictObject({
    by: z.literal('step'),
    stepMm: lengthMm(0.005, 50),
    even: z.boolean(),
    finishMm: lengthMm(0, 5),
  }),
]);
export type Levels = z.infer<typeof levelsSchema>;

/** How a cutter is run. */
const paceFields = {
  levels: levelsSchema,
  feedMmPerMin: between(0.1, 60000, 'between 0.1 and 60000 mm/min'),
  plungeMmPerMin: between(0.1, 60000, 'between 0.1 and 60000 mm/min'),
  spindleRpm: between(1, 200000, 'between 1 and 200000 rev/min'),
};
export type Pace = z.infer<z.ZodObject<typeof paceFields>>;

/** A cutter that goes over a cut's area before the cut's own: what it takes, the own one need not. */
export const stageSchema = z.strictObject({
  toolId: id,
  ...paceFields,
  /** Distance between neighbouring passes over the cutter's diameter. */
  stepOverShare: between(0.01, 1, 'between 0.01 and 1'),
});
export type Stage = z.infer<typeof stageSchema>;

/** Most cutters before a cut's own. */
export const clearing = z.array(stageSchema).max(5);

/** Cutters that go before a cut's own, in running order. */
export const getStages = (cut: object): readonly Stage[] => ('clearing' in cut ? (cut.clearing as Stage[]) : []);

/** How long the tool stays where it has come down, s. */
export const getDwellS = (cut: object): number => ('dwellS' in cut ? (cut.dwellS as number) : 0);

/** Depth of the floor that a cut is made in, mm: 0 for the blank's own surface. */
export const getSunkMm = (cut: object): number => ('sunkMm' in cut ? (cut.sunkMm as number) : 0);

/** Depth at which a cut's levels begin, mm: its floor, and what is gone below it already. */
export const getBeginMm = (cut: Pick<CutCommon, 'beginMm'>): number => getSunkMm(cut) + cut.beginMm;

/** What every kind of cut says; each kind adds its own in `core/cut/kinds/`. */
export const cutCommon = {
  id,
  name: label,
  enabled: z.boolean(),
  /** Ids of the inscriptions to cut, or every one this kind of cut can use. */
  targets: z.union([z.literal('all'), z.array(id).max(MAX_INSCRIPTIONS)]),
  toolId: id,
  ...paceFields,
  /** Whether strokes may be run from either end; forbidding it costs air travel. */
  reversible: z.boolean(),
  /** How a level takes a stroke: no deeper than the level, or the whole of it raised by what is left to its full depth. */
  levelsBy: z.enum(['clip', 'shift']),
  /** What is gone already below the surface or the floor that is cut, mm: the levels begin there. */
  beginMm: lengthMm(0, 100),
  /** Height above the surface at which this cut's strokes are crossed between; null for the job's. */
  hopHeightMm: between(-100, 1000, 'between -100 and 1000 mm').nullable(),
};

/** Places on the sheet that a person put something at. */
export const sheetPlaces = (most: number) =>
  z.array(z.strictObject({ xMm: lengthMm(-5000, 5000), turnDeg: angleDeg(-100_000, 100_000) })).max(most);
export type SheetPlaces = z.infer<ReturnType<typeof sheetPlaces>>;

/** A depth that a cut asks for, mm. */
export const depthMm = (min: number) => lengthMm(min, 100);

export type CutCommon = z.infer<z.ZodObject<typeof cutCommon>>;

/** What a new cut of any kind starts with. */
export const cutDefaults = {
  enabled: true,
  targets: 'all' as const,
  levels: { by: 'count' as const, count: 1 },
  plungeMmPerMin: 150,
  spindleRpm: 18000,
  reversible: true,
  levelsBy: 'clip' as const,
  beginMm: 0,
  hopHeightMm: null,
};
