/** What the tests share: engines, fonts, and small jobs to plan. */
import { runSteps } from '../src/core/base/steps';
import type { Head, Rotary, TurningMachine } from '../src/core/machine/layouts/edit';
import { createTool } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import type { Finding } from '../src/core/findings/finding';
import { createBlank, createInscription, createJob, DEFAULT_MACHINE, TILTING_MACHINE } from '../src/core/job/defaults';
import { STARTER_MACHINES } from '../src/core/job/starterMachines';
import { computeCarving } from '../src/core/cut/carve';
import { createPieceCache } from '../src/core/cut/pieceCache';
import type { CutContext } from '../src/core/cut/kinds/kind';
import { createProfile } from '../src/core/cut/profile';
import { readProgram, type ProgramReading } from '../src/core/program/interpreter';
import { rs274Rules } from '../src/core/program/rs274Rules';
import type { CutOf, Job, Layout, LayoutOf, Machine, TextInscription, Tool } from '../src/core/job/schema';
import type { Engines } from '../src/core/pipeline/engines';
import { createLetterer, type Library, type Lettering } from '../src/core/pipeline/lettering';
import { createPlanner, type Plan, type Planner } from '../src/core/pipeline/plan';
import { createSetup, type Setup } from '../src/core/pipeline/setup';
import { computeProof, type Proof } from '../src/core/proof/proof';
import { packRings, type Rings } from '../src/core/base/rings';
import { createLayMap } from '../src/core/lay/layMap';
import { createPieceLayer, type PieceLayer } from '../src/core/lettering/layPieces';
import { createLay } from '../src/core/job/laySchema';
import type { BlankOf } from '../src/core/job/blankSchema';
import { PLAIN_STANCE, type Work } from '../src/core/machine/stance';
import { NO_SHAPES, type Shapes } from '../src/core/surface/registry';
import type { Surface } from '../src/core/surface/surface';
import { healSoup } from '../src/core/shape/heal';
import type { ShapeMesh } from '../src/core/shape/shapeMesh';
import { loadEngines } from '../src/server/resources/engines';
import { createFileLibrary } from '../src/server/resources/fonts';

let loading: Promise<Engines> | null = null;
export const getEngines = (): Promise<Engines> => (loading ??= loadEngines());

export async function getLibrary(baseDir: string | null = null): Promise<Library> {
  return createFileLibrary(await getEngines(), baseDir);
}

export interface Planned {
  setup: Setup;
  lettering: Lettering;
  plan: Plan;
  proof: Proof;
  /** Those of the plan and of the proof. */
  findings: Finding[];
  surface: Surface;
  work: Work;
}

/** A surface with the tool along its normal everywhere. */
export const asWork = (surface: Surface): Work => ({
  ...surface,
  stance: { ...PLAIN_STANCE, turns: surface.round },
  alongNormal: true,
  poseInto: surface.frameInto,
});

/** An inclined plate under an upright tool, as cuts are planned on it. */
export function leaningPlate(inclineDeg: number): Work {
  const machine = STARTER_MACHINES.find((m) => m.layout.kind === 'table')!;
  const blank = { ...createBlank('plate'), inclineDeg, inclineTowards: 'y' as const };
  return createSetup({ ...lineJob('I', {}, { blank }), machine }).work;
}

/** Lays pieces like a label. */
export const layerOn = (surface: Surface): PieceLayer => createPieceLayer(createLayMap(createLay(), surface), surface);

/** Sets and plans a job from scratch, without proving it. */
export async function planOnly(
  job: Job,
  baseDir: string | null = null,
  shapes: Shapes = NO_SHAPES,
): Promise<Pick<Planned, 'setup' | 'lettering' | 'plan'>> {
  const lettering = createLetterer(await getLibrary(baseDir), () => '', shapes).compute(job);
  const setup = createSetup(job, shapes);
  return { setup, lettering, plan: planWith(createPlanner((await getEngines()).voronoi), setup, lettering) };
}

/** Sets, plans and proves a job from scratch. */
export async function planJob(...from: Parameters<typeof planOnly>): Promise<Planned> {
  const { setup, lettering, plan } = await planOnly(...from);
  const proof = proveWith(setup, lettering, plan);
  return { setup, lettering, plan, proof, findings: [...plan.findings, ...proof.findings], surface: setup.surface, work: setup.work };
}

/** A plan by a planner that may have planned before. */
export const planWith = (planner: Planner, setup: Setup, lettering: Lettering): Plan => runSteps(planner.plan(setup, lettering));

/** The proof of a plan, or of what a test made of it. */
export const proveWith = (setup: Setup, lettering: Lettering, plan: Pick<Plan, 'program' | 'laid' | 'moves'>): Proof =>
  runSteps(computeProof(setup, lettering, plan));

/** The text of a program that has one part. */
export const textOf = (plan: Pick<Plan, 'program'>): string => plan.program.parts[0]!.lines.join('\n');

export const codesOf = (planned: Pick<Planned, 'findings'>): string[] => planned.findings.map((f) => f.code);

interface JobOptions {
  font?: string;
  words?: Partial<TextInscription>;
  carve?: Partial<CutOf<'v-carve'>>;
  tool?: Partial<Tool>;
  blank?: Partial<BlankOf<'cylinder'>>;
  job?: Partial<Job>;
}

/** A job on a cylinder. */
export type CylinderJob = Job & { blank: BlankOf<'cylinder'>; machine: TurningMachine };

/** A job with one V-carved inscription round the blank. */
export function carveJob(text: string, { font = 'dejavu-sans-bold', words, carve, tool, blank, job }: JobOptions = {}): CylinderJob {
  const base = createJob('Test piece') as CylinderJob;
  return {
    ...base,
    blank: { ...base.blank, ...blank },
    tools: [{ ...createTool('cutter', 1, 'cutter', 'v', { diameterMm: 12, fluteLengthMm: 6, stickOutMm: 30 }), ...tool }],
    inscriptions: [{ ...createInscription('words', text, font, (blank?.lengthMm ?? base.blank.lengthMm) / 2), rotationDeg: 90, ...words }],
    cuts: [{ ...createCut('v-carve', 'carve', 'cutter'), maxDepthMm: 5, ...carve }],
    ...job,
  } as CylinderJob;
}

/** A job with one inscription of a stroke font, engraved at a depth. */
export function lineJob(text: string, cut: Partial<CutOf<'centre-line'>> = {}, job: Partial<Job> = {}): CylinderJob {
  const base = createJob('Test piece') as CylinderJob;
  return {
    ...base,
    inscriptions: [{ ...createInscription('words', text, 'hershey-sans', 40), rotationDeg: 90 }],
    cuts: [{ ...createCut('centre-line', 'line', 'v60'), ...cut }],
    ...job,
  } as CylinderJob;
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

const MESH_ID = 'd'.repeat(64);

/** A free shape that is a cap of a ball: radius 40, foot of 25, standing on z = 0 in its own frame, and its whole solid. */
export const createDomeBlank = (): BlankOf<'free'> => ({
  kind: 'free',
  source: 'dome',
  shape: { id: MESH_ID },
  unitMm: 1,
  pick: [0, 0, 40],
  normal: [0, 0, 1],
  turnDeg: 0,
  creaseDeg: 30,
  mount: 'table',
  axisBelowMm: 0,
  zero: 'surface',
});

let dome: ShapeMesh | null = null;

/** The dome as a mesh of some thousand triangles. */
export function getDomeMesh(): ShapeMesh {
  if (dome) return dome;
  const made = healSoup({ corners: ballCap(40, Math.asin(25 / 40), 48, 96) });
  if (!made.ok) throw new Error(made.error.kind);
  return (dome = made.value);
}

export const domeShapes = (change: (mesh: ShapeMesh) => ShapeMesh = (m) => m): Shapes => {
  const mesh = change(getDomeMesh());
  return { find: (ref) => ('id' in ref && ref.id === MESH_ID ? mesh : null) };
};

/** Loose triangles of a cap of a ball about the origin, closed by a flat foot. */
export function ballCap(radius: number, halfAngle: number, rings: number, sectors: number): Float64Array {
  const out: number[] = [];
  const at = (i: number, k: number): number[] => {
    const t = (halfAngle * i) / rings,
      p = (2 * Math.PI * (k % sectors)) / sectors;
    return [radius * Math.sin(t) * Math.cos(p), radius * Math.sin(t) * Math.sin(p), radius * Math.cos(t)];
  };
  const foot = [0, 0, radius * Math.cos(halfAngle)];
  for (let k = 0; k < sectors; k++) {
    for (let i = 0; i < rings; i++) {
      if (i > 0) out.push(...at(i, k), ...at(i + 1, k + 1), ...at(i, k + 1));
      out.push(...at(i, k), ...at(i + 1, k), ...at(i + 1, k + 1));
    }
    out.push(...foot, ...at(rings, k + 1), ...at(rings, k));
  }
  return Float64Array.from(out);
}

/** A motion of a program, unpacked. */
export interface ReadMotion {
  line: number;
  rapid: boolean;
  end: Float64Array;
  timeMin: number;
  tool: number;
  spindleRpm: number;
  coolant: number;
}

/** Reads RS274/NGC text, with its motions one by one. */
export function readNc(text: string): Omit<ProgramReading, 'motions'> & { motions: ReadMotion[] } {
  const reading = runSteps(readProgram(text, rs274Rules));
  const m = reading.motions;
  const motions = Array.from({ length: m.count }, (_, i) => ({
    line: m.line[i]!,
    rapid: m.rapid[i] === 1,
    end: m.end.subarray(6 * i, 6 * i + 6),
    timeMin: m.timeMin[i]!,
    tool: m.tool[i]!,
    spindleRpm: m.spindleRpm[i]!,
    coolant: m.coolant[i]!,
  }));
  return { ...reading, motions };
}

/** The machine every job starts with, its rotary changed. */
export const machineWith = (rotary: Partial<Rotary>, wrappedAxis: Layout['wrappedAxis'] = 'Y'): TurningMachine => ({
  ...DEFAULT_MACHINE,
  layout: { ...DEFAULT_MACHINE.layout, wrappedAxis, rotary: { ...DEFAULT_MACHINE.layout.rotary, ...rotary } },
});

/** A tilting machine, its head changed. */
export function tiltingMachine(head: Partial<Head> = {}): Machine & { layout: LayoutOf<'rotary-tilting-head'> } {
  const { layout } = TILTING_MACHINE;
  return { ...TILTING_MACHINE, layout: { ...layout, head: { ...layout.head, ...head } } };
}

/** Carves with what a test needs to say. */
export function carveRings(
  regions: readonly Rings[],
  maxDepthMm: number,
  context: Pick<CutContext, 'tool' | 'work' | 'engine'> & Partial<CutContext>,
) {
  const made = runSteps(
    computeCarving(regions, maxDepthMm, {
      profile: createProfile(context.tool),
      pieces: createPieceCache(),
      axes: createPieceCache(),
      surfaceKey: '',
      ...context,
    }),
  );
  if (!made.ok) throw new Error(made.error.kind);
  return made.value;
}

/** Volume of a closed solid by the divergence theorem (elementary), mm³. */
export function measureSolid({ positions: p, triangles: t }: { positions: ArrayLike<number>; triangles: ArrayLike<number> }): number {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i]!, 3 * t[i + 1]!, 3 * t[i + 2]!];
    sum +=
      p[a]! * (p[b + 1]! * p[c + 2]! - p[b + 2]! * p[c + 1]!) +
      p[a + 1]! * (p[b + 2]! * p[c]! - p[b]! * p[c + 2]!) +
      p[a + 2]! * (p[b]! * p[c + 1]! - p[b + 1]! * p[c]!);
  }
  return sum / 6;
}
