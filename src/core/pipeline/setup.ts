import { getCutKind, type AnyCutKind } from '../cut/kinds/registry';
import { createProfile, type Profile } from '../cut/profile';
import { getStages, isStill, type Cut, type Job, type Pace, type Tool } from '../job/schema';
import type { LaidPaths } from '../lay/laidPaths';
import type { Kinematics } from '../machine/kinematics';
import { createKinematics, getStance } from '../machine/registry';
import { createWork, type Work } from '../machine/stance';
import { hashBlank } from '../probe/grid';
import { createMeasuredMap } from '../probe/measuredMap';
import { createMeasuredWork } from '../probe/measuredWork';
import { createSurface, NO_SHAPES, type Shapes } from '../surface/registry';
import type { Surface } from '../surface/surface';

/** A cut that is switched on, or the part of one that one of its cutters does, with everything that it names. */
export interface Run extends Pace {
  /** Place among the runs: what `LaidPaths.run` counts. */
  index: number;
  /** Place in the job's list of cuts. */
  cutIndex: number;
  /** Which of the cut's cutters, in running order; its own is the last. */
  stage: number;
  id: string;
  name: string;
  cut: Cut;
  kind: AnyCutKind;
  tool: Tool;
  profile: Profile;
  /** Distance between neighbouring passes over the cutter's diameter, for a cutter before the cut's own. */
  stepOverShare: number | null;
  /** Cutters of the same cut that go before. */
  before: readonly Tool[];
}

/** A job resolved once: what every stage after lettering starts from. */
export interface Setup {
  job: Job;
  surface: Surface;
  /** The surface as it is drawn, with the tool's stance: what cuts are planned on. */
  ground: Work;
  /** The same as it was measured, where passes are to follow that: what they are laid on, and what they are proved on. */
  work: Work;
  kinematics: Kinematics;
  runs: Run[];
}

/** Resolves a checked job. O(cuts); the surface of an equal blank is kept. */
export const createSetup = (job: Job, shapes: Shapes = NO_SHAPES): Setup => createSetupOn(job, createSurface(job.blank, shapes));

/** Resolves a checked job whose surface is made already. */
export function createSetupOn(job: Job, surface: Surface): Setup {
  const ground = createWork(surface, getStance(job));
  return {
    job,
    surface,
    ground,
    work: createRealWork(ground, job),
    kinematics: createKinematics(job),
    runs: listRuns(job),
  };
}

/** The work as it was measured, where its passes are to follow that. */
function createRealWork(ground: Work, { measured, blank }: Pick<Job, 'measured' | 'blank'>): Work {
  if (!measured?.follows || measured.blank !== hashBlank(blank)) return ground;
  return createMeasuredWork(ground, createMeasuredMap(measured, ground), Math.max(0, ...measured.mm.flat()));
}

/** The cuts of a job that are switched on, cutter by cutter, in running order. */
export function listRuns(job: Pick<Job, 'cuts' | 'tools'> & { motion?: Pick<Job['motion'], 'byCutter'> }): Run[] {
  const tools = new Map(job.tools.map((t) => [t.id, t]));
  const runs = job.cuts.flatMap((cut, cutIndex) => {
    if (!cut.enabled) return [];
    const stages = [...getStages(cut), { ...cut, stepOverShare: null }];
    const cutters = stages.map((s) => tools.get(s.toolId)!);
    return stages.map(({ levels, feedMmPerMin, plungeMmPerMin, spindleRpm, stepOverShare }, stage) => ({
      ...{ cutIndex, stage, id: cut.id, name: cut.name, cut, kind: getCutKind(cut), stepOverShare },
      ...{ levels, feedMmPerMin, plungeMmPerMin, spindleRpm: isStill(cutters[stage]!) ? 0 : spindleRpm },
      tool: cutters[stage]!,
      profile: createProfile(cutters[stage]!),
      before: cutters.slice(0, stage),
    }));
  });
  return (job.motion?.byCutter ? groupByCutter(runs) : runs).map((run, index) => ({ ...run, index }));
}

/**
 * Runs of one cutter together, as far as each cut's own order allows: the cutter that is in the spindle goes on while it can. What cuts the
 * piece free waits for all that comes before it.
 */
export function groupByCutter<R extends Pick<Run, 'cutIndex' | 'stage' | 'tool'> & { kind: Pick<Run['kind'], 'frees'> }>(
  runs: readonly R[],
): R[] {
  const left = [...runs];
  const out: R[] = [];
  const isReady = (run: R): boolean =>
    !left.some((other) => (other.cutIndex === run.cutIndex ? other.stage < run.stage : run.kind.frees && other.cutIndex < run.cutIndex));
  while (left.length > 0) {
    const inSpindle = out[out.length - 1]?.tool.id;
    const next = left.find((r) => isReady(r) && r.tool.id === inSpindle) ?? left.find(isReady)!;
    out.push(next);
    left.splice(left.indexOf(next), 1);
  }
  return out;
}

/** What says which cutter a block is cut with, and in which file it stands. */
export interface WrittenBlocks {
  laid: Pick<LaidPaths, 'run'>;
  moves: { move: ArrayLike<number>; count: number };
  program: { partOfBlock: ArrayLike<number> };
}

/** Tools in the order in which a plan has them put in by hand; every file begins with one, though it be the one before. */
export function listToolsByHand(runs: readonly Run[], { laid, moves, program }: WrittenBlocks): Tool[] {
  const out: Tool[] = [];
  let part = -1;
  for (let i = 0; i < moves.count; i++) {
    const tool = runs[laid.run[moves.move[i]!]!]?.tool;
    if (!tool || (tool.id === out[out.length - 1]?.id && program.partOfBlock[i] === part)) continue;
    out.push(tool);
    part = program.partOfBlock[i]!;
  }
  return out;
}
