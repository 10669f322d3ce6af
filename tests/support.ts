/** What the tests share: engines, fonts, and small jobs to plan. */
import { createCentreLine, createInscription, createJob, createVCarve } from '../src/core/job/defaults';
import type { CentreLineCut, Job, TextInscription, Tool, VCarveCut } from '../src/core/job/schema';
import type { Engines } from '../src/core/pipeline/engines';
import { createLetterer, type Library, type Lettering } from '../src/core/pipeline/lettering';
import { createPlanner, type Plan } from '../src/core/pipeline/plan';
import { packRings, type Rings } from '../src/core/base/rings';
import { loadEngines } from '../src/server/resources/engines';
import { createFileLibrary } from '../src/server/resources/fonts';

let loading: Promise<Engines> | null = null;
export const getEngines = (): Promise<Engines> => (loading ??= loadEngines());

export async function getLibrary(baseDir: string | null = null): Promise<Library> {
  return createFileLibrary(await getEngines(), baseDir);
}

export interface Planned {
  lettering: Lettering;
  plan: Plan;
}

/** Sets and plans a job from scratch. */
export async function planJob(job: Job, baseDir: string | null = null): Promise<Planned> {
  const lettering = createLetterer(await getLibrary(baseDir)).compute(job);
  return { lettering, plan: createPlanner((await getEngines()).voronoi).compute(job, lettering, () => undefined) };
}

export const codesOf = (plan: Plan): string[] => plan.findings.map((f) => f.code);

interface JobOptions {
  font?: string;
  words?: Partial<TextInscription>;
  carve?: Partial<VCarveCut>;
  tool?: Partial<Tool>;
  blank?: Partial<Job['blank']>;
  job?: Partial<Job>;
}

/** A job with one V-carved inscription round the blank. */
export function carveJob(text: string, { font = 'dejavu-sans-bold', words, carve, tool, blank, job }: JobOptions = {}): Job {
  const base = createJob('Test piece');
  return {
    ...base,
    blank: { ...base.blank, ...blank },
    tools: [{ id: 'cutter', name: 'cutter', kind: 'v', includedDeg: 90, tipMm: 0, diameterMm: 12, fluteLengthMm: 6, flutes: 2, number: 1, ...tool }],
    inscriptions: [{ ...createInscription('words', text, font, (blank?.lengthMm ?? base.blank.lengthMm) / 2), rotationDeg: 90, ...words }],
    cuts: [{ ...createVCarve('carve', 'cutter'), maxDepthMm: 5, ...carve }],
    ...job,
  };
}

/** A job with one inscription of a stroke font, engraved at a depth. */
export function lineJob(text: string, cut: Partial<CentreLineCut> = {}, job: Partial<Job> = {}): Job {
  const base = createJob('Test piece');
  return {
    ...base,
    inscriptions: [{ ...createInscription('words', text, 'hershey-sans', 40), rotationDeg: 90 }],
    cuts: [{ ...createCentreLine('line', 'v60'), ...cut }],
    ...job,
  };
}

/** The words of a job's first inscription. */
export const wordsOf = (job: Job): TextInscription => {
  const first = job.inscriptions[0];
  if (first?.kind !== 'text') throw new Error('the first inscription is no wording');
  return first;
};

export const rect = (x0: number, y0: number, x1: number, y1: number): number[] => [x0, y0, x1, y0, x1, y1, x0, y1];
export const ringsOf = (...parts: number[][]): Rings => packRings(parts);

/** A seeded generator, the same on every run. Source: mulberry32, public domain (from memory). */
export function createRandom(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
