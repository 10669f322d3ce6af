import { computeArea } from '../base/boolean';
import type { Rings } from '../base/rings';
import { reportSteps, type Steps } from '../base/steps';
import { createPieceCache, type PieceCounts } from '../cut/pieceCache';
import type { CutContext, CutPaths } from '../cut/kinds/kind';
import { enterStroke } from '../cut/area/entry';
import { createRimRise } from '../cut/area/wallPasses';
import { keepDown } from '../cut/keepDown';
import { joinLegs } from '../cut/legs';
import { computeLevels } from '../cut/levels';
import { clipToLevel, computeStrokeLength, shiftToLevel, simplifyStroke } from '../cut/stroke';
import {
  findBlockRate,
  findCutsAfterFree,
  findDialectFaults,
  findMountFaults,
  findMotionFaults,
  findSlowFeeds,
  findSlowFloors,
  findSpeedFaults,
  findTableFaults,
  findToolChangeFaults,
} from '../findings/cutFindings';
import { findMeasuredFaults } from '../findings/measuredFindings';
import { makeFinding, type Finding } from '../findings/finding';
import { findMixtureFaults } from '../findings/mixtureFindings';
import { getBeginMm, getStages, type Cut, type Motion, type ToolKind } from '../job/schema';
import { layPaths, type CutMotion, type LaidPaths, type Pass } from '../lay/laidPaths';
import { createAir, type Air } from '../lay/air';
import { orderStrokes } from '../lay/order';
import { computeAxisMoves, type AxisMoves } from '../machine/axisMoves';
import type { VoronoiEngine } from '../medial/voronoi';
import { getSplit, type Program } from '../program/dialect';
import { DIALECTS } from '../program/registry';
import type { Lettering } from './lettering';
import { timePlan } from './planTimes';
import { chooseFor, findCutTwice, findLeftOut, findRunFaults } from './runFaults';
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

export type PlanStage = 'carving' | 'ordering' | 'laying' | 'posting' | 'reading back' | 'checking edges' | 'cutting the piece';

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
        ...findMeasuredFaults(setup, lettering.artworks),
        ...findDialectFaults(job),
        ...findCutsAfterFree(setup.runs),
        ...findMixtureFaults(setup, lettering),
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
        runs.map((run) => ({ ...run, hopHeightMm: run.cut.hopHeightMm, rimRiseAt: findRimRise(setup, run), steepest: findSteepest(run) })),
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

/** Slack on a cone's own flank: its tip runs down into corners just as steeply. */
const FLANK_SLACK = 1.05;

/** The steepest way down that a cutter's flank cuts. */
const findSteepest = ({ profile }: Run): number => FLANK_SLACK * profile.cotBeta;

/** How far the rim of an end mill stands out under its middle; a cone's does not. */
function findRimRise({ ground: work }: Setup, { profile, tool }: Run): CutMotion['rimRiseAt'] {
  return profile.cotBeta > 0 || (work.alongNormal && work.flat) ? undefined : createRimRise(work, tool.diameterMm / 2);
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
