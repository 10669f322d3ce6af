import { computeArea } from '../base/boolean';
import { isEmptyRings, type Rings } from '../base/rings';
import { reportSteps, type Steps } from '../base/steps';
import { createPieceCache, type PieceCounts } from '../cut/pieceCache';
import type { CutContext, CutFault, CutPaths, LetteringPart } from '../cut/kinds/kind';
import { CUT_KINDS, getCutKind } from '../cut/kinds/registry';
import { enterStroke } from '../cut/area/entry';
import { createSink } from '../cut/area/wallPasses';
import { keepDown } from '../cut/keepDown';
import { joinLegs } from '../cut/legs';
import { computeLevels } from '../cut/levels';
import { clipToLevel, computeStrokeLength, shiftToLevel, simplifyStroke } from '../cut/stroke';
import {
  findBlockRate,
  findCutterFaults,
  findCutsAfterFree,
  findDialectFaults,
  findMountFaults,
  findMotionFaults,
  findSlowFeeds,
  findMeasuredFaults,
  findSlowFloors,
  findSpeedFaults,
  findTableFaults,
  findStrokeFaults,
  findToolChangeFaults,
} from '../findings/cutFindings';
import { makeFinding, type Finding, type FindingCode, type FindingData } from '../findings/finding';
import { getBeginMm, getDwellS, getStages, getSunkMm, type Cut, type Motion, type ToolKind } from '../job/schema';
import { getTitle } from '../job/title';
import { layPaths, MOVE, type CutMotion, type LaidPaths, type Pass } from '../lay/laidPaths';
import { createAir, type Air } from '../lay/air';
import { orderStrokes } from '../lay/order';
import type { InscriptionArtwork } from '../lettering/artwork';
import { computeAxisMoves, type AxisMoves } from '../machine/axisMoves';
import { toMachineValues } from '../machine/kinematics';
import { computeTimes, getAxisLimits } from '../machine/time';
import type { VoronoiEngine } from '../medial/voronoi';
import { getSplit, type Program } from '../program/dialect';
import { DIALECTS } from '../program/registry';
import { toTurnDeg } from '../surface/surface';
import type { Lettering } from './lettering';
import type { Run, Setup } from './setup';

/** What one run comes to. */
export interface CutSummary {
  /** The cut's id, and which of its cutters. */
  id: string;
  stage: number;
  kind: Cut['kind'];
  tool: string;
  levelsMm: number[];
  maxDepthMm: number;
  /** Length of all its strokes on all levels, mm. */
  cutLengthMm: number;
  strokes: number;
  /** Area that was to be cut and that this cutter and those before it do not reach, mm²; null where it is not known. */
  unreachedMm2: number | null;
  /** The same on the sheet. */
  unreached: Rings | null;
  /** Pieces of lettering that were planned before and kept, and those that this plan made. */
  pieces: PieceCounts;
  /** Closed ways whose beginning and tabs can be moved; none for most kinds. */
  ways: NonNullable<CutPaths['ways']>;
}

/** Everything planned from a set-up and its lettering; what proves it is in `proof/`. */
export interface Plan {
  /** One entry a run. */
  cuts: CutSummary[];
  laid: LaidPaths;
  moves: AxisMoves;
  /** End time of each block, s. */
  timesS: Float64Array;
  /** Time of all moves, with corners rounded as the machine may, s. */
  timeS: number;
  /** The same on a control that stops at every corner, s. */
  stopTimeS: number;
  /** What comes on top for changes of cutter and for the spindle to run up, s. */
  standingS: number;
  program: Program;
  findings: Finding[];
}

export type PlanStage = 'carving' | 'ordering' | 'laying' | 'posting' | 'reading back' | 'checking edges';

/** How far a plan or a proof is: the stage, and the share of it in [0, 1]. */
export interface PlanProgress {
  stage: PlanStage;
  share: number;
}

/** Plans jobs again and again, paying for carving only where a piece of lettering, the cutter, the depth or the blank changed. */
export interface Planner {
  /** The plan in steps: whoever drives them may stop between two, and what was carved by then stays carved. */
  plan(setup: Setup, lettering: Lettering): Steps<PlanProgress, Plan>;
}

export function createPlanner(engine: VoronoiEngine): Planner {
  const pieces = createPieceCache();
  const axes = createPieceCache(MAX_KEPT_AXES);
  return {
    *plan(setup, lettering) {
      const { job, work, kinematics, runs } = setup;
      const findings: Finding[] = [
        ...lettering.findings,
        ...findMotionFaults(job),
        ...findMountFaults(job),
        ...findTableFaults(job),
        ...findMeasuredFaults(job),
        ...findDialectFaults(job),
        ...findCutsAfterFree(setup.runs),
      ];
      const passes: Pass[] = [];
      const summaries: CutSummary[] = [];
      const limited: Run[] = [];
      let from: [number, number] = [0, 0];
      for (const run of runs) {
        pieces.takeCounts();
        const paths = refuseLevels(run, yield* planRun(setup, run, lettering, { engine, pieces, axes }));
        const counts = pieces.takeCounts();
        if (paths.faults.some((f) => f.code === 'flat-floor')) limited.push(run);
        findings.push(...findRunFaults(setup, run, paths, chooseFor(run, lettering)));
        const air = createAir(work, kinematics, heightsOf(run, job.motion), run.plungeMmPerMin);
        const ordered = yield* levelRun(run, paths, from, air, canMerge(setup, run) ? job.machine.mergeMm : 0);
        from = ordered.to;
        passes.push(...ordered.passes);
        summaries.push({ ...ordered.summary, pieces: counts });
      }
      findings.push(...findLeftOut(setup, lettering.artworks), ...findCutTwice(setup, lettering.artworks));
      yield { stage: 'laying', share: 0 };
      const laid = layPaths(
        work,
        passes,
        runs.map((run) => ({ ...run, hopHeightMm: run.cut.hopHeightMm, rimRiseAt: createRimRise(setup, run) })),
        job.motion,
        job.machine.maxFeedMmPerMin,
        kinematics,
      );
      const airMm = Math.max(0, Math.min(...runs.map((run) => heightsOf(run, job.motion).hopHeightMm)));
      const moves = yield* reportSteps(computeAxisMoves(laid, work, kinematics, job.machine.chordToleranceMm, airMm), at('laying'));
      const { timesS, ...times } = timePlan(setup, laid, moves);
      if (laid.count === 0 && runs.length > 0) findings.push(makeFinding('cuts-nothing', { station: 'cuts' }, {}));
      const dialect = DIALECTS[job.machine.dialect];
      const program = yield* reportSteps(
        dialect.write({ job, kinematics, laid, moves, runs, isStamped: true }, getSplit(job.machine)),
        at('posting'),
      );
      findings.push(...findSpeedFaults(setup, laid, moves), ...findSlowFeeds(setup, laid, moves, timesS));
      findings.push(...findSlowFloors(limited, laid, moves, timesS));
      findings.push(...findBlockRate(setup, moves, timesS, program.lineOfBlock));
      findings.push(
        ...findToolChangeFaults(
          job.machine,
          runs.filter((r) => summaries[r.index]!.strokes > 0),
        ),
      );
      return { cuts: summaries, laid, moves, timesS, ...times, program, findings };
    },
  };
}

/** How long a plan takes: its moves, block by block, and what comes on top. */
function timePlan({ kinematics, job, work, runs }: Setup, laid: LaidPaths, moves: AxisMoves) {
  const { machine } = job;
  const wantedS = moves.feedTimeMin.map((t) => t * 60);
  const own = toMachineValues(kinematics, moves.values);
  const timeBy = (cornerMm: number): Float64Array =>
    computeTimes(own, wantedS, getAxisLimits(kinematics.axes, cornerMm, Math.abs(work.topMm)));
  const timesS = timeBy(machine.cornerToleranceMm);
  let dwellS = 0;
  for (let i = 0; i < moves.count; i++) {
    timesS[i]! += dwellS;
    const move = moves.move[i]!;
    if (laid.kind[move] === MOVE.plunge && moves.move[i + 1] !== move) dwellS += getDwellS(runs[laid.run[move]!]!.cut);
  }
  const last = (times: Float64Array): number => times[times.length - 1] ?? 0;
  // The first cutter is called by a changer, and put in before the start by hand.
  let changes = 0,
    runUps = 0,
    tool = '';
  let run = -1;
  for (const own of laid.run.subarray(0, laid.count)) {
    if (own === run) continue;
    run = own;
    const { id } = runs[own]!.tool;
    if (id === tool) continue;
    if (tool !== '' || machine.toolChanger) changes++;
    runUps++;
    tool = id;
  }
  const standingS = changes * machine.toolChangeS + runUps * machine.spindleRunUpS;
  return { timesS, timeS: last(timesS), stopTimeS: last(timeBy(0)) + dwellS, standingS };
}

/** Heights of a run: its cut's own, else the job's. */
const heightsOf = ({ cut }: Run, motion: Motion): Motion => ({ ...motion, hopHeightMm: cut.hopHeightMm ?? motion.hopHeightMm });

/** A stage's own share as progress of the plan. */
const at =
  (stage: PlanStage) =>
  (share: number): PlanProgress => ({ stage, share });

/** Cutters that can clear a floor before a cut's own. */
const CLEARING_CUTTERS: readonly ToolKind[] = ['flat', 'bull', 'ball'];

const MOST_LEVELS = 200;
/** Middles of so many pieces are kept: they are larger than what is made of them. */
const MAX_KEPT_AXES = 400;
/** A stroke that hangs on another is run out and back from it if that takes no longer each way; a lift takes longer, s. */
const LEG_S = 0.55;

const NO_PATHS: CutPaths = { strokes: [], deepestMm: 0, faults: [] };

/** Lettering that a run takes. */
const chooseFor = (run: Run, { artworks }: Lettering): InscriptionArtwork[] => {
  const takes = run.kind.takes(run.cut);
  return artworks.filter((art) => targets(run, art) && partsOf(art).some((p) => takes.includes(p)));
};

/** Whether a run cuts an inscription. */
const targets = ({ cut }: Pick<Run, 'cut'>, art: InscriptionArtwork): boolean => cut.targets === 'all' || cut.targets.includes(art.id);

/** Parts of an inscription that hold something. */
const partsOf = (art: InscriptionArtwork): LetteringPart[] => [
  ...(isEmptyRings(art.regions) ? [] : (['areas'] as const)),
  ...(isEmptyRings(art.chains) ? [] : (['lines'] as const)),
];

/** Strokes of one run at their full depth. */
function* planRun(
  setup: Setup,
  run: Run,
  lettering: Lettering,
  kept: Pick<CutContext, 'engine' | 'pieces' | 'axes'>,
): Steps<PlanProgress, CutPaths> {
  const { job, ground: work, runs } = setup;
  const { cut, kind, tool, profile } = run;
  const chosen = chooseFor(run, lettering);
  if (chosen.length === 0 && kind.takes(cut).length > 0) return NO_PATHS;
  const stages = getStages(cut);
  const isOwn = run.stage === stages.length;
  if (!(isOwn ? kind.cutters : CLEARING_CUTTERS).includes(tool.kind)) {
    const needs = isOwn ? kind.cutterName : 'an end mill to go before';
    return { ...NO_PATHS, faults: [{ code: 'wrong-cutter', data: { tool: tool.name, needs } }] };
  }
  const own = job.tools.find((t) => t.id === cut.toolId)!;
  const stepOverShares = [...stages.map((s) => s.stepOverShare), null];
  // The seam, clear zones and the like do not matter to the cut, but cost nothing in a key.
  const surfaceKey = JSON.stringify([job.blank, work.stance]);
  const steps = kind.plan(
    cut,
    chosen.map((art) => ({ areas: art.regions, lines: art.chains })),
    { tool, profile, own, before: run.before, stepOverShares, work, ...kept, surfaceKey },
  );
  return yield* reportSteps(steps, (share) => ({ stage: 'carving', share: (run.index + share) / runs.length }) as const);
}

/** How far the rim of an end mill stands out under its middle; a cone's does not. */
function createRimRise({ ground: work }: Setup, { profile, tool }: Run): CutMotion['rimRiseAt'] {
  if (profile.cotBeta > 0 || (work.alongNormal && work.flat)) return undefined;
  const sinkAt = createSink(work, tool.diameterMm / 2, Infinity);
  return (x, y) => sinkAt(x, y);
}

/** Whether the way may be moved a little: not under a flat tip that leans, which sets down all at once. */
const canMerge = ({ ground: work }: Setup, { profile }: Run): boolean => work.alongNormal || profile.flatMm === 0;

/** Nothing of a run that would go down in more levels than anyone wants. */
function refuseLevels(run: Run, paths: CutPaths): CutPaths {
  if (paths.strokes.length === 0) return paths;
  const beginMm = getBeginMm(run.cut);
  const { length } = computeLevels(paths.deepestMm, run.levels, beginMm);
  if (length === 0) return { ...NO_PATHS, faults: [{ code: 'begins-too-deep', data: { beginMm, depthMm: paths.deepestMm } }] };
  if (length <= MOST_LEVELS) return paths;
  return { ...NO_PATHS, faults: [{ code: 'too-many-levels', data: { count: length, most: MOST_LEVELS } }] };
}

/** A run's strokes cut into levels and put in order. */
function* levelRun(
  run: Run,
  paths: CutPaths,
  start: [number, number],
  air: Air,
  mergeMm: number,
): Steps<PlanProgress, { summary: CutSummary; passes: Pass[]; to: [number, number] }> {
  const { cut, tool } = run;
  const summary: CutSummary = {
    id: run.id,
    stage: run.stage,
    kind: cut.kind,
    tool: tool.name,
    levelsMm: [],
    maxDepthMm: paths.deepestMm,
    cutLengthMm: 0,
    strokes: 0,
    unreachedMm2: paths.unreached ? computeArea(paths.unreached) : null,
    unreached: paths.unreached ?? null,
    ways: paths.ways ?? [],
    pieces: { kept: 0, made: 0 },
  };
  const passes: Pass[] = [];
  const beginMm = getBeginMm(cut);
  let to = start;
  if (paths.strokes.length === 0) return { summary, passes, to };
  summary.levelsMm = computeLevels(paths.deepestMm, run.levels, beginMm);
  const reversible = cut.reversible && !paths.directed;
  const longestLegMm = (LEG_S * run.feedMmPerMin) / 60;
  const add = (level: number, whole: Float64Array[], readyMm = 0): void => {
    const strokes = mergeMm > 0 ? whole.map((s) => simplifyStroke(s, mergeMm)) : whole;
    const last = strokes[strokes.length - 1];
    if (last) to = [last[last.length - 3]!, last[last.length - 2]!];
    passes.push({ run: run.index, level, strokes, readyMm });
    summary.strokes += strokes.length;
    for (const s of strokes) summary.cutLengthMm += computeStrokeLength(s);
  };
  if (paths.holes) {
    // A hole is drilled down in all its pecks before the next.
    for (const [x, y] of orderStrokes(paths.strokes, reversible, to, air)) {
      for (const [level, levelMm] of summary.levelsMm.entries())
        add(level, [Float64Array.of(x!, y!, levelMm)], level === 0 ? 0 : summary.levelsMm[level - 1]);
    }
    return { summary, passes, to };
  }
  for (const [level, levelMm] of summary.levelsMm.entries()) {
    yield { stage: 'ordering', share: level / summary.levelsMm.length };
    const above = level === 0 ? 0 : summary.levelsMm[level - 1]!;
    // What is gone already is taken on trust: the tool comes down to it at feed.
    const gone = level === 0 ? beginMm : above;
    const clipped = paths.strokes.flatMap((s) =>
      cut.levelsBy === 'clip' ? clipToLevel(s, gone, levelMm) : shiftToLevel(s, beginMm, paths.deepestMm - levelMm),
    );
    const inOrder = orderStrokes(reversible ? joinLegs(clipped, longestLegMm) : clipped, reversible, to, air);
    const ordered = paths.ready ? keepDown(inOrder, levelMm, { ready: paths.ready, mostMm: longestLegMm }) : inOrder;
    // Raised strokes begin each at a depth of its own: how far they were cut there is not said.
    const readyMm = cut.levelsBy === 'clip' ? above : 0;
    add(level, paths.entry ? ordered.map((s) => enterStroke(s, gone, paths.entry!, paths.isFree)) : ordered, readyMm);
  }
  if (paths.finishing && paths.finishing.length > 0) add(summary.levelsMm.length - 1, orderStrokes(paths.finishing, reversible, to, air));
  return { summary, passes, to };
}

/** What is wrong with a run's strokes: what its kind said, its cutter and the blank under it. */
function findRunFaults(setup: Setup, run: Run, paths: CutPaths, chosen: readonly InscriptionArtwork[]): Finding[] {
  const out = paths.faults.map((fault) => toFinding(setup, run, fault));
  if (paths.strokes.length > 0)
    return [...out, ...findCutterFaults(run, paths.deepestMm - getSunkMm(run.cut)), ...findStrokeFaults(setup, run, paths.strokes)];
  if (out.length > 0) return out;
  const { name, id, kind, tool } = run;
  // A cutter that goes before may find nothing wide enough.
  if (!isOwnCutter(run)) return [];
  if (chosen.length > 0) {
    const letterings = chosen.map((art) => getTitle(setup.job.inscriptions.find((i) => i.id === art.id)!));
    return [makeFinding('tip-too-wide', { station: 'cuts', id, name }, { name, tool: tool.name, letterings })];
  }
  return [makeFinding('nothing-to-cut', { station: 'cuts', id, name }, { name, kindName: `a ${kind.name} cut`, needs: kind.needs })];
}

/** A fault of a kind of cut, worded. */
function toFinding({ surface }: Setup, { id, name }: Run, { code, data, at }: CutFault): Finding {
  const place = at ? { xMm: at.xMm, turnDeg: toTurnDeg(surface, at.yMm) } : {};
  // The fault's own type ties its code to its figures; the name is what all of them lack.
  return makeFinding(code as FindingCode, { station: 'cuts', id, name, ...place }, { ...data, name } as FindingData[FindingCode] &
    object as never);
}

/** Lettering that no run takes, whole or in part. */
function findLeftOut({ job, runs }: Setup, artworks: readonly InscriptionArtwork[]): Finding[] {
  return artworks.flatMap((art, i) => {
    const there = partsOf(art);
    const left = there.filter((part) => !runs.some((run) => targets(run, art) && run.kind.takes(run.cut).includes(part)));
    if (left.length === 0) return [];
    const name = getTitle(job.inscriptions[i]!);
    const part = left.length === there.length ? '' : left[0] === 'areas' ? 'the areas of ' : 'the strokes of ';
    return [makeFinding('not-cut', { station: 'cuts', id: art.id, name }, { name, part, ways: listWays(left) })];
  });
}

/** Whether a run is a cut's own cutter, not one that goes before. */
const isOwnCutter = ({ cut, stage }: Run): boolean => stage === getStages(cut).length;

/** Whether a run's cut takes away all that it takes; one that goes round shapes or into their middles may come beside another. */
const fills = ({ kind, cut, tool }: Run): boolean =>
  kind.takes(cut).includes('lines') || kind.field(cut, [], tool, { periodMm: null })?.fills === true;

/** Lettering whose areas, or whose lines, more than one cut fills. */
function findCutTwice({ job, runs }: Setup, artworks: readonly InscriptionArtwork[]): Finding[] {
  return artworks.flatMap((art, i) => {
    const cuts = new Set(
      partsOf(art).flatMap((part) => {
        const takers = runs.filter((run) => isOwnCutter(run) && fills(run) && targets(run, art) && run.kind.takes(run.cut).includes(part));
        return takers.length > 1 ? takers.map((r) => r.name) : [];
      }),
    );
    if (cuts.size === 0) return [];
    const name = getTitle(job.inscriptions[i]!);
    return [makeFinding('cut-twice', { station: 'cuts', id: art.id, name }, { name, cuts: [...cuts] })];
  });
}

/** Names of the kinds of cut that take any of some parts of lettering. */
function listWays(parts: readonly LetteringPart[]): string[] {
  return Object.values(CUT_KINDS).flatMap((kind) => {
    const takes = getCutKind(kind.create('x', 'x')).takes(kind.create('x', 'x'));
    return takes.some((p) => parts.includes(p)) ? [`a ${kind.name} cut`] : [];
  });
}
