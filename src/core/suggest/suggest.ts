import { reportSteps, type Steps } from '../base/steps';
import { isEmptyRings } from '../base/rings';
import { getCutKind, isOutlineOnly, type CutKindId } from '../cut/kinds/registry';
import type { Cut, Job, Tool } from '../job/schema';
import type { VoronoiEngine } from '../medial/voronoi';
import type { Lettering } from '../pipeline/lettering';
import type { CutSummary, Planner } from '../pipeline/plan';
import { createSetupOn, type Run } from '../pipeline/setup';
import { computeEdges } from '../proof/edge';
import type { Surface } from '../surface/surface';
import { listCarvings, type Candidate, type ChoiceContext } from './candidates';
import { listLineCuts, listPockets } from './otherWays';
import { measureStrokes, type StrokeWidths } from './strokes';

/** What a set of cuts comes to when it is planned. */
export interface SetFigures {
  /** Time with changes and run-up, s. */
  timeS: number;
  lines: number;
  levels: number;
  deepestMm: number;
  cutLengthMm: number;
  changes: number;
  /** What no cutter of it reaches, mm². */
  unreachedMm2: number;
  /** Of carved edges; null where no cut has one that is measured along the path. */
  maxOutsideUm: number | null;
  uncut95Um: number | null;
}

/** A set of cuts for a job's lettering, planned. */
export interface Suggestion extends SetFigures {
  /** What it does with the lettering. */
  kind: CutKindId;
  name: string;
  cuts: Cut[];
  tools: Tool[];
  why: string;
  /** Whether no other takes less time and leaves less. */
  best: boolean;
}

/** So many carves are planned, and so many before other kinds have their turn; the others are judged by the rule of thumb alone. */
const MOST_CARVES = 6;
const CARVES_FIRST = 4;
/** No further set is begun that would be ready later than this, if it took as long as the longest before, ms. */
const TIME_MS = 9000;
/** Places at which the edge of a set is measured: enough to compare by. */
const EDGE_SAMPLES = 4000;
/** A set that leaves more than this share of the lettering is not what Hobel would take, if another leaves less. */
const LEFT_SHARE = 0.01;

/** What the choice of cuts goes by, for lettering on a surface. */
export function createChoice(job: Job, lettering: Lettering, surface: Surface): ChoiceContext {
  let wallMm = Infinity;
  for (const art of lettering.artworks)
    for (let i = 0; i < art.regions.xy.length; i += 20)
      wallMm = Math.min(wallMm, surface.wallAt(art.regions.xy[i]!, art.regions.xy[i + 1]!));
  return { material: job.material, machine: job.machine, motion: job.motion, wallMm };
}

/** Lettering without what is gone round or drilled alone: the edge of a plate is not to be filled. */
export const withoutOutlines = (job: Job, lettering: Lettering): Lettering => ({
  ...lettering,
  artworks: lettering.artworks.filter((a) => !isOutlineOnly(job.cuts, a.id)),
});

/** Closed lettering, on the sheet. */
export const measureLettering = (lettering: Lettering, engine: VoronoiEngine): StrokeWidths =>
  measureStrokes(
    lettering.artworks.map((a) => a.regions),
    engine,
  );

/**
 * Plans a handful of sets of cuts from a crib and says what each comes to. A set carves or pockets the closed lettering, and the job's
 * cuts of lines stay; where there are lines alone, it runs along them.
 * Yields the share that is done. @param strokes Of `withoutOutlines`. @param nowMs A clock.
 * @returns Quickest first; none where no cutter can do anything.
 */
export function* suggestCuts(
  job: Job,
  lettering: Lettering,
  surface: Surface,
  crib: readonly Tool[],
  strokes: StrokeWidths,
  planner: Planner,
  nowMs: () => number,
): Steps<number, Suggestion[]> {
  const own = withoutOutlines(job, lettering);
  const isClosed = own.artworks.some((a) => !isEmptyRings(a.regions));
  if (!isClosed && !own.artworks.some((a) => a.chains.xy.length > 0)) return [];
  const from = nowMs();
  const targets = own.artworks.length < lettering.artworks.length ? own.artworks.map((a) => a.id) : ('all' as const);
  const choice = createChoice(job, lettering, surface);
  // What is not made of areas stays as it is: lines, holes, what is cut out.
  const others = isClosed ? job.cuts.filter((c) => !FILLS.has(c.kind)) : job.cuts.filter((c) => !getCutKind(c).takes(c).includes('lines'));
  const chosen = isClosed ? listClosed(job, strokes, crib, choice) : listLineCuts(freeId(job, 'line'), crib, choice);
  const out: Suggestion[] = [];
  let longestMs = 0;
  for (const [k, candidate] of chosen.entries()) {
    const begunMs = nowMs();
    if (out.length > 1 && begunMs - from + longestMs > TIME_MS) break;
    yield k / chosen.length;
    const cuts = [{ ...candidate.cut, targets }, ...others];
    const planned = withSuggestion(job, { cuts, tools: candidate.tools });
    const figures = yield* reportSteps(planSet(planned, lettering, surface, strokes, planner), (share) => (k + share) / chosen.length);
    out.push({
      ...figures,
      kind: candidate.cut.kind,
      name: nameOf(candidate),
      cuts,
      tools: candidate.tools,
      why: candidate.why,
      best: false,
    });
    longestMs = Math.max(longestMs, nowMs() - begunMs);
  }
  out.sort((a, b) => a.timeS - b.timeS);
  for (const s of out) s.best = !out.some((o) => o !== s && beats(o, s));
  return out;
}

/** Plans a job's cuts and measures what they come to. Yields the share that is done. */
export function* planSet(
  job: Job,
  lettering: Lettering,
  surface: Surface,
  strokes: StrokeWidths,
  planner: Planner,
): Steps<number, SetFigures> {
  const setup = createSetupOn(job, surface);
  const plan = yield* reportSteps(planner.plan(setup, lettering), () => 0);
  const { edge } = yield* reportSteps(computeEdges(setup, lettering, plan.laid, EDGE_SAMPLES), () => 0.5);
  const used = setup.runs.filter((r) => plan.cuts[r.index]!.strokes > 0);
  const known = plan.cuts.filter((c) => c.unreachedMm2 !== null && isLastOf(plan.cuts, c));
  return {
    timeS: plan.timeS + plan.standingS,
    lines: plan.program.parts.reduce((sum, p) => sum + p.lines.length, 0),
    levels: plan.cuts.reduce((sum, c) => sum + c.levelsMm.length, 0),
    deepestMm: Math.max(0, ...plan.cuts.map((c) => c.maxDepthMm)),
    cutLengthMm: plan.cuts.reduce((sum, c) => sum + c.cutLengthMm, 0),
    changes: used.filter((r, k) => k > 0 && r.tool.id !== used[k - 1]!.tool.id).length,
    unreachedMm2: known.reduce((sum, c) => sum + c.unreachedMm2!, 0) + estimateUnreached(strokes, setup.runs),
    maxOutsideUm: edge?.maxOutsideUm ?? null,
    uncut95Um: edge?.uncut95Um ?? null,
  };
}

/** Whether nothing of the same cut comes after it. */
const isLastOf = (cuts: readonly CutSummary[], one: CutSummary): boolean => !cuts.some((c) => c.id === one.id && c.stage > one.stage);

/** Kinds that a suggested set stands in for. */
const FILLS: ReadonlySet<CutKindId> = new Set(['v-carve', 'pocket', 'raised', 'outline']);

/** Ways for closed lettering: carves of different cutters, and pockets among them. */
function listClosed(job: Job, strokes: StrokeWidths, crib: readonly Tool[], choice: ChoiceContext): Candidate[] {
  const carves = spread(listCarvings(freeId(job, 'carve'), strokes, crib, choice));
  const pockets = listPockets(freeId(job, 'pocket'), strokes, crib, choice);
  return [...carves.slice(0, CARVES_FIRST), ...pockets, ...carves.slice(CARVES_FIRST)];
}

/**
 * The one that Hobel would take: of the kind that the job has already, else a carve, the quickest of those that leave next to nothing, else
 * of all that leave least.
 */
export function takeBest(suggestions: readonly Suggestion[], areaMm2: number, job: Pick<Job, 'cuts'>): Suggestion | null {
  const wanted = job.cuts.find((c) => c.enabled && (c.kind === 'v-carve' || c.kind === 'pocket'))?.kind ?? 'v-carve';
  const alike = suggestions.filter((s) => s.kind === wanted);
  const all = alike.length > 0 ? alike : suggestions;
  const clean = all.filter((s) => s.unreachedMm2 <= LEFT_SHARE * areaMm2);
  const list = clean.length > 0 ? clean : [...all].sort((a, b) => a.unreachedMm2 - b.unreachedMm2).slice(0, 1);
  return list.reduce<Suggestion | null>((best, s) => (best && best.timeS <= s.timeS ? best : s), null);
}

/** A job with a suggestion in place of its own cuts. */
export const withSuggestion = (job: Job, { cuts, tools }: Pick<Suggestion, 'cuts' | 'tools'>): Job => ({
  ...job,
  cuts,
  tools: mergeTools(job.tools, tools),
});

/** The cutters of a list with others that it lacks. */
export const mergeTools = (own: readonly Tool[], others: readonly Tool[]): Tool[] => [
  ...own,
  ...others.filter((t) => !own.some((o) => o.id === t.id)),
];

const beats = (a: Suggestion, b: Suggestion): boolean =>
  a.timeS <= b.timeS && a.unreachedMm2 <= b.unreachedMm2 && (a.timeS < b.timeS || a.unreachedMm2 < b.unreachedMm2);

/** Candidates of different cutters first: the quickest of each, then the next. */
function spread(candidates: readonly Candidate[]): Candidate[] {
  const left = [...candidates];
  const out: Candidate[] = [];
  while (left.length > 0 && out.length < MOST_CARVES) {
    const used = (c: Candidate): number => out.filter((o) => o.cut.toolId === c.cut.toolId).length;
    const least = Math.min(...left.map(used));
    const [next] = left.splice(
      left.findIndex((c) => used(c) === least),
      1,
    );
    out.push(next!);
  }
  return out;
}

function nameOf({ tools, cut }: Candidate): string {
  const depthMm = 'maxDepthMm' in cut ? cut.maxDepthMm : 'depthMm' in cut ? cut.depthMm : 0;
  const lead = cut.kind === 'v-carve' ? '' : `${getCutKind(cut).name}: `;
  return `${lead}${tools.map((t) => t.name).join(' + ')}, ${depthMm} mm`;
}

/** Strokes too narrow for the tip of a carve, by their width and length, mm². */
function estimateUnreached({ widthMm, lengthMm }: StrokeWidths, runs: readonly Pick<Run, 'cut' | 'tool'>[]): number {
  const carve = runs.find((r) => r.cut.kind === 'v-carve' && r.cut.toolId === r.tool.id);
  const width = !carve || carve.tool.kind === 'ball-v' ? 0 : carve.tool.tipMm;
  let sum = 0;
  for (let k = 0; k < widthMm.length; k++) if (widthMm[k]! < width) sum += widthMm[k]! * lengthMm[k]!;
  return sum;
}

function freeId(job: Job, stem: string): string {
  const taken = new Set(job.cuts.map((c) => c.id));
  let k = 1;
  while (taken.has(`${stem}-${k}`)) k++;
  return `${stem}-${k}`;
}
