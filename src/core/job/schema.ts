import { z } from 'zod';
import { cutSchema } from '../cut/kinds/registry';
import { blankSchema } from './blankSchema';
import { getStages, MAX_CUTS, MAX_INSCRIPTIONS } from './cutSchema';
import { angleDeg, between, id, label } from './fields';
import { guideSchema } from './guideSchema';
import { inscriptionSchema } from './inscriptionSchema';
import { laySchema } from './laySchema';
import { machineSchema } from './machineSchema';
import { measuredSchema } from './measured';
import { zeroSchema } from './zero';
import { MATERIALS } from './materials';
import { toolSchema } from './toolSchema';
import { variablesSchema } from './variablesSchema';

export * from './blankSchema';
export * from './guideSchema';
export * from './inscriptionSchema';
export * from './laySchema';
export * from './cutSchema';
export * from './machineSchema';
export * from './materials';
export type { Measured } from './measured';
export * from './toolSchema';
export { cutSchema, type Cut, type CutKindId, type CutOf } from '../cut/kinds/registry';
export * from './variablesSchema';

/** The version this code writes. A job of a newer version is refused, of an older one migrated. */
export const JOB_VERSION = 12;

export const MAX_GUIDES = 100;

export const motionSchema = z.strictObject({
  /** Above the surface, where the tool waits at start and end. */
  parkHeightMm: between(-100, 1000, 'between -100 and 1000 mm'),
  /** Above the surface, where it crosses between strokes. */
  hopHeightMm: between(-100, 1000, 'between -100 and 1000 mm'),
  /** Above the surface, where rapid ends and feed begins. */
  approachGapMm: between(-100, 1000, 'between -100 and 1000 mm'),
  /** Whether cuts are run cutter by cutter, as far as their own order allows. */
  byCutter: z.boolean(),
  /** By how much the tool leans from the normal towards the far end of the blank, where the machine can tilt one against the other. */
  leadDeg: angleDeg(-60, 60),
  /** Most that tool or table are tilted from where they stand upright, degrees; null for as far as the machine goes. */
  mostTiltDeg: angleDeg(0, 180).nullable(),
});

export const MAX_TRIALS = 20;
const trialSchema = z.strictObject({ id, name: label.min(1, 'must have a name'), cuts: z.array(cutSchema).max(MAX_CUTS) });
export type Trial = z.infer<typeof trialSchema>;

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
    material: z.enum(MATERIALS),
    blank: blankSchema,
    lay: laySchema,
    machine: machineSchema,
    zero: zeroSchema,
    tools: z.array(toolSchema).max(100),
    inscriptions: z.array(inscriptionSchema).max(MAX_INSCRIPTIONS),
    guides: z.array(guideSchema).max(MAX_GUIDES),
    variables: variablesSchema,
    cuts: z.array(cutSchema).max(MAX_CUTS),
    /** Other ways to cut the same lettering, kept beside the cuts that the program is made of. */
    trials: z.array(trialSchema).max(MAX_TRIALS),
    motion: motionSchema,
    measured: measuredSchema.nullable(),
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
    job.trials.forEach(({ cuts }, t) => {
      const used = cuts.flatMap((cut) => [cut.toolId, ...getStages(cut).map((s) => s.toolId)]);
      const missing = used.find((tool) => !toolIds.has(tool));
      if (missing !== undefined) ctx.addIssue({ code: 'custom', path: ['trials', t], message: `no tool "${missing}" in this job` });
    });
    job.cuts.forEach((cut, i) => {
      if (!toolIds.has(cut.toolId)) {
        ctx.addIssue({ code: 'custom', path: ['cuts', i, 'toolId'], message: `no tool "${cut.toolId}" in this job` });
      }
      getStages(cut).forEach((stage, k) => {
        if (toolIds.has(stage.toolId)) return;
        ctx.addIssue({ code: 'custom', path: ['cuts', i, 'clearing', k, 'toolId'], message: `no tool "${stage.toolId}" in this job` });
      });
      if (cut.targets === 'all') return;
      cut.targets.forEach((target, k) => {
        if (!inscriptionIds.has(target)) {
          ctx.addIssue({ code: 'custom', path: ['cuts', i, 'targets', k], message: `no inscription "${target}" in this job` });
        }
      });
    });
  });

export type Job = z.infer<typeof jobSchema>;
export type Motion = z.infer<typeof motionSchema>;
