import { getCutKind, type AnyCutKind } from '../cut/kinds/registry';
import { createProfile, type Profile } from '../cut/profile';
import type { Cut, Job, Tool } from '../job/schema';
import type { LaidPaths } from '../lay/laidPaths';
import type { Kinematics } from '../machine/kinematics';
import { createKinematics, getStance } from '../machine/registry';
import { createWork, type Work } from '../machine/stance';
import { createSurface, NO_SHAPES, type Shapes } from '../surface/registry';
import type { Surface } from '../surface/surface';

/** A cut that is switched on, with everything that it names. */
export interface Run {
  /** Place among the runs: what `LaidPaths.run` counts. */
  index: number;
  /** Place in the job's list of cuts. */
  cutIndex: number;
  id: string;
  name: string;
  cut: Cut;
  kind: AnyCutKind;
  tool: Tool;
  profile: Profile;
}

/** A job resolved once: what every stage after lettering starts from. */
export interface Setup {
  job: Job;
  surface: Surface;
  work: Work;
  kinematics: Kinematics;
  runs: Run[];
}

/** Resolves a checked job. O(cuts); the surface of an equal blank is kept. */
export const createSetup = (job: Job, shapes: Shapes = NO_SHAPES): Setup => createSetupOn(job, createSurface(job.blank, shapes));

/** Resolves a checked job whose surface is made already. */
export function createSetupOn(job: Job, surface: Surface): Setup {
  return {
    job,
    surface,
    work: createWork(surface, getStance(job.machine, job.blank)),
    kinematics: createKinematics(job.machine, job.blank),
    runs: listRuns(job),
  };
}

/** The cuts of a job that are switched on, in order. */
export function listRuns(job: Pick<Job, 'cuts' | 'tools'>): Run[] {
  const tools = new Map(job.tools.map((t) => [t.id, t]));
  return job.cuts
    .map((cut, cutIndex) => ({ cut, cutIndex }))
    .filter(({ cut }) => cut.enabled)
    .map(({ cut, cutIndex }, index) => {
      const tool = tools.get(cut.toolId)!;
      return { index, cutIndex, id: cut.id, name: cut.name, cut, kind: getCutKind(cut), tool, profile: createProfile(tool) };
    });
}

/** Tools in the order in which a plan has them put in by hand. */
export function listToolsByHand(runs: readonly Run[], laid: Pick<LaidPaths, 'run' | 'count'>): Tool[] {
  const out: Tool[] = [];
  for (const index of laid.run.subarray(0, laid.count)) {
    const tool = runs[index]?.tool;
    if (tool && tool.id !== out[out.length - 1]?.id) out.push(tool);
  }
  return out;
}
