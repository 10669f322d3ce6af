import { z } from 'zod';
import { blankSchema } from './blankSchema';
import { angleDeg, between, id, label, lengthMm } from './fields';
import { guideSchema } from './guideSchema';
import { inscriptionSchema } from './inscriptionSchema';
import { laySchema } from './laySchema';
import { variablesSchema } from './variablesSchema';

export * from './blankSchema';
export * from './guideSchema';
export * from './inscriptionSchema';
export * from './laySchema';
export * from './variablesSchema';

/** The version this code writes. A job of a newer version is refused, of an older one migrated. */
export const JOB_VERSION = 3;

/** Largest number of inscriptions and of cuts in one job. */
export const MAX_INSCRIPTIONS = 200;
export const MAX_CUTS = 50;
export const MAX_GUIDES = 100;

export const toolSchema = z.strictObject({
  id,
  name: label.min(1, 'must have a name'),
  kind: z.enum(['v', 'ball-v', 'flat']),
  /** Included angle of a V cutter, degrees; ignored for a flat end mill. */
  includedDeg: between(5, 170, 'between 5 and 170 degrees'),
  /** Flat tip width of a V, tip radius × 2 of a ball-tipped V, diameter of a flat end mill. */
  tipMm: lengthMm(0, 50),
  /** Largest diameter of the cutting part. */
  diameterMm: lengthMm(0.05, 100),
  fluteLengthMm: lengthMm(0.05, 300),
  flutes: z.int('must be a whole number').min(1).max(12),
  number: z.int('must be a whole number').min(1, 'must be at least 1').max(999, 'must be at most 999'),
});

export const machineSchema = z
  .strictObject({
    id,
    name: label.min(1, 'must have a name'),
    rotaryLetter: z.enum(['A', 'B', 'C']),
    /** The linear axis that the rotary takes the place of; the other one of X and Y runs along the blank. */
    wrappedAxis: z.enum(['X', 'Y']),
    /** +1 if a growing rotary word turns the blank right-handed about the axis along it, else -1. */
    sense: z.union([z.literal(1), z.literal(-1)]),
    feedMode: z.enum(['G93', 'G94']),
    lengthDigits: z.int().min(2).max(6),
    angleDigits: z.int().min(2).max(6),
    maxFeedMmPerMin: between(1, 60000, 'between 1 and 60000 mm/min'),
    rapidMmPerMin: between(1, 100000, 'between 1 and 100000 mm/min'),
    maxTurnDegPerMin: between(1, 1000000, 'between 1 and 1000000 degrees/min'),
    accelerationMmPerS2: between(1, 50000, 'between 1 and 50000 mm/s²'),
    turnAccelerationDegPerS2: between(1, 500000, 'between 1 and 500000 degrees/s²'),
    maxSpindleRpm: between(1, 200000, 'between 1 and 200000 rev/min'),
    /** Largest distance the tip may leave its path between two blocks. */
    chordToleranceMm: lengthMm(0.0001, 0.1),
    toolChanger: z.boolean(),
    /** A head that tilts the tool in the plane of the blank's axis and Z; null if the tool always stands upright. */
    tilt: z
      .strictObject({
        letter: z.enum(['A', 'B', 'C']),
        /** +1 if a growing word leans the tool towards the blank's far end. */
        sense: z.union([z.literal(1), z.literal(-1)]),
        minDeg: angleDeg(-120, 0),
        maxDeg: angleDeg(0, 120),
        /** From the tilt axis to the tip; 0 where the controller keeps the tip in place by itself. */
        pivotMm: lengthMm(0, 2000),
        maxDegPerMin: between(1, 1000000, 'between 1 and 1000000 degrees/min'),
        accelerationDegPerS2: between(1, 500000, 'between 1 and 500000 degrees/s²'),
      })
      .nullable(),
  })
  .refine((m) => m.tilt?.letter !== m.rotaryLetter, { path: ['tilt', 'letter'], message: 'must be another letter than the rotary has' });

const levelsSchema = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('count'), count: z.int('must be a whole number').min(1).max(100) }),
  z.strictObject({
    by: z.literal('step'),
    stepMm: lengthMm(0.005, 50),
    even: z.boolean(),
    finishMm: lengthMm(0, 5),
  }),
]);

const cutCommon = {
  id,
  name: label,
  enabled: z.boolean(),
  /** Ids of the inscriptions to cut, or every one this kind of cut can use. */
  targets: z.union([z.literal('all'), z.array(id).max(MAX_INSCRIPTIONS)]),
  toolId: id,
  levels: levelsSchema,
  feedMmPerMin: between(0.1, 60000, 'between 0.1 and 60000 mm/min'),
  plungeMmPerMin: between(0.1, 60000, 'between 0.1 and 60000 mm/min'),
  spindleRpm: between(1, 200000, 'between 1 and 200000 rev/min'),
  /** Whether strokes may be run from either end; forbidding it costs air travel. */
  reversible: z.boolean(),
};

export const vCarveSchema = z.strictObject({
  kind: z.literal('v-carve'),
  ...cutCommon,
  /** Depth the carve may not exceed; wider strokes get a flat floor. */
  maxDepthMm: lengthMm(0.005, 100),
});

export const centreLineSchema = z.strictObject({
  kind: z.literal('centre-line'),
  ...cutCommon,
  depthMm: lengthMm(0.001, 100),
});

export const cutSchema = z.discriminatedUnion('kind', [vCarveSchema, centreLineSchema]);

export const motionSchema = z.strictObject({
  /** Above the surface, where the tool waits at start and end. */
  parkHeightMm: between(-100, 1000, 'between -100 and 1000 mm'),
  /** Above the surface, where it crosses between strokes. */
  hopHeightMm: between(-100, 1000, 'between -100 and 1000 mm'),
  /** Above the surface, where rapid ends and feed begins. */
  approachGapMm: between(-100, 1000, 'between -100 and 1000 mm'),
});

const duplicateIds =
  (what: string, key: 'inscriptions' | 'cuts' | 'tools' | 'guides') =>
  (
    job: { inscriptions: { id: string }[]; guides: { id: string }[]; cuts: { id: string }[]; tools: { id: string }[] },
    ctx: z.RefinementCtx,
  ) => {
    const seen = new Set<string>();
    job[key].forEach((item, i) => {
      if (seen.has(item.id)) ctx.addIssue({ code: 'custom', path: [key, i, 'id'], message: `${what} "${item.id}" stands twice` });
      seen.add(item.id);
    });
  };

/** The whole document: the only thing stored and the only thing edited. All else is derived from it. */
export const jobSchema = z
  .strictObject({
    format: z.literal('hobel-job'),
    version: z.literal(JOB_VERSION),
    name: label.min(1, 'must have a name'),
    notes: z.string().max(4000),
    /** Units shown and typed; the numbers in the document are always mm and degrees. */
    units: z.enum(['mm', 'in']),
    material: z.enum(['brass', 'bronze', 'steel', 'aluminium', 'slate', 'maple', 'acrylic']),
    blank: blankSchema,
    lay: laySchema,
    machine: machineSchema,
    tools: z.array(toolSchema).max(100),
    inscriptions: z.array(inscriptionSchema).max(MAX_INSCRIPTIONS),
    guides: z.array(guideSchema).max(MAX_GUIDES),
    variables: variablesSchema,
    cuts: z.array(cutSchema).max(MAX_CUTS),
    motion: motionSchema,
  })
  .superRefine(duplicateIds('inscription', 'inscriptions'))
  .superRefine(duplicateIds('cut', 'cuts'))
  .superRefine(duplicateIds('tool', 'tools'))
  .superRefine(duplicateIds('guide', 'guides'))
  .superRefine((job, ctx) => {
    const toolIds = new Set(job.tools.map((t) => t.id));
    const inscriptionIds = new Set(job.inscriptions.map((i) => i.id));
    const guideIds = new Set(job.guides.map((g) => g.id));
    job.inscriptions.forEach((inscription, i) => {
      if (inscription.kind !== 'text' || !inscription.onGuide) return;
      for (const key of ['guideId', 'topGuideId'] as const) {
        const wanted = inscription.onGuide[key];
        if (wanted !== null && !guideIds.has(wanted)) {
          ctx.addIssue({ code: 'custom', path: ['inscriptions', i, 'onGuide', key], message: `no guide "${wanted}" in this job` });
        }
      }
    });
    job.cuts.forEach((cut, i) => {
      if (!toolIds.has(cut.toolId)) {
        ctx.addIssue({ code: 'custom', path: ['cuts', i, 'toolId'], message: `no tool "${cut.toolId}" in this job` });
      }
      if (cut.targets === 'all') return;
      cut.targets.forEach((target, k) => {
        if (!inscriptionIds.has(target)) {
          ctx.addIssue({ code: 'custom', path: ['cuts', i, 'targets', k], message: `no inscription "${target}" in this job` });
        }
      });
    });
  });

export type Job = z.infer<typeof jobSchema>;
export type Tool = z.infer<typeof toolSchema>;
export type Machine = z.infer<typeof machineSchema>;
export type Cut = z.infer<typeof cutSchema>;
export type VCarveCut = z.infer<typeof vCarveSchema>;
export type CentreLineCut = z.infer<typeof centreLineSchema>;
export type Levels = z.infer<typeof levelsSchema>;
export type Motion = z.infer<typeof motionSchema>;
