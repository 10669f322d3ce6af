import type { Rings } from '../base/rings';
import { getRing, isEmptyRings } from '../base/rings';
import { computeLevels } from '../cut/levels';
import { clipToLevel, computeStrokeLength } from '../cut/stroke';
import { computeVCarve, createCarveCache, type CarveCache, type CarvePlan } from '../cut/carve';
import { findCutterFaults, findMotionFaults, findReadBackFaults, findSpeedFaults, findStrokeFaults } from '../findings/cutFindings';
import { makeFinding, type Finding } from '../findings/finding';
import type { Cut, Job, Tool } from '../job/schema';
import { getTitle } from '../job/title';
import { layPaths, type LaidPaths, type Pass } from '../lay/laidPaths';
import { orderStrokes } from '../lay/order';
import type { InscriptionArtwork } from '../lettering/artwork';
import { computeAxisMoves, type AxisMoves } from '../machine/axisMoves';
import { createKinematics } from '../machine/registry';
import { computeTimes, getAxisLimits } from '../machine/time';
import type { VoronoiEngine } from '../medial/voronoi';
import { rs274 } from '../program/rs274';
import type { Program } from '../program/dialect';
import { computeReadBack, type ReadBack } from '../proof/readBack';
import { createWork, type Work } from '../machine/stance';
import { createSurface, NO_SHAPES, type Shapes } from '../surface/registry';
import type { Lettering } from './lettering';

/** What one cut comes to. */
export interface CutSummary {
  id: string;
  kind: Cut['kind'];
  tool: string;
  levelsMm: number[];
  maxDepthMm: number;
  /** Length of all its strokes on all levels, mm. */
  cutLengthMm: number;
  strokes: number;
}

/** Everything derived from a job and its lettering. */
export interface Plan {
  cuts: CutSummary[];
  laid: LaidPaths;
  moves: AxisMoves;
  /** End time of each block, s. */
  timesS: Float64Array;
  timeS: number;
  program: Program;
  readBack: ReadBack;
  findings: Finding[];
}

export type PlanStage = 'carving' | 'ordering' | 'laying' | 'posting' | 'reading back';
export type OnProgress = (stage: PlanStage, share: number) => void;

/** Plans jobs again and again, paying for carving only where a piece of lettering, the cutter, the depth or the blank changed. */
export interface Planner {
  /** @param onProgress May throw to stop the plan. */
  compute(job: Job, lettering: Lettering, onProgress: OnProgress): Plan;
}

/** Strokes of a cut and what stood in their way. */
interface Carved {
  plan: CarvePlan;
  faults: Finding[];
}

export function createPlanner(engine: VoronoiEngine, shapes: Shapes = NO_SHAPES): Planner {
  const pieces = createCarveCache();
  return {
    compute(job, lettering, onProgress) {
      const surface = createSurface(job.blank, shapes);
      const work = createWork(surface, job.machine, job.blank);
      // The seam, clear zones and the like do not matter to the cut, but are cheap to take along.
      const surfaceKey = JSON.stringify([job.blank, job.machine.tilt]);
      const findings: Finding[] = [...lettering.findings, ...findMotionFaults(job)];
      const enabled = job.cuts.filter((c) => c.enabled);
      const cuts = enabled.map((cut) => ({ cut, tool: job.tools.find((t) => t.id === cut.toolId)! }));
      const used = { 'v-carve': new Set<string>(), 'centre-line': new Set<string>() };
      const passes: Pass[] = [];
      let from: [number, number] = [0, 0];
      const summaries = cuts.map(({ cut, tool }, index): CutSummary => {
        const chosen = chooseLettering(job, cut, lettering.artworks);
        chosen.forEach((art) => used[cut.kind].add(art.id));
        const share = (s: number) => onProgress('carving', (index + s) / cuts.length);
        const { plan: carved, faults } = carve(cut, tool, chosen, work, engine, share, pieces, surfaceKey);
        findings.push(...faults);
        const summary: CutSummary = {
          id: cut.id,
          kind: cut.kind,
          tool: tool.name,
          levelsMm: [],
          maxDepthMm: carved.deepestMm,
          cutLengthMm: 0,
          strokes: 0,
        };
        if (carved.strokes.length === 0) {
          if (carved.tooSteep > 0)
            findings.push(...findStrokeFaults(job.blank, cut, tool, [], carved.tooSteep, work, job.machine.tilt !== null));
          if (!findings.some((f) => f.where.id === cut.id)) {
            findings.push(
              makeFinding('nothing-to-cut', { station: 'cuts', id: cut.id, name: cut.name }, { name: cut.name, kind: cut.kind }),
            );
          }
          return summary;
        }
        findings.push(...findCutterFaults(cut, tool, carved.deepestMm));
        findings.push(...findStrokeFaults(job.blank, cut, tool, carved.strokes, carved.tooSteep, work, job.machine.tilt !== null));
        if (carved.wantedMm > carved.deepestMm + 1e-6) {
          findings.push(
            makeFinding(
              'flat-floor',
              { station: 'cuts', id: cut.id, name: cut.name },
              { name: cut.name, deepMm: carved.wantedMm, limitMm: carved.deepestMm },
            ),
          );
        }
        summary.levelsMm = computeLevels(carved.deepestMm, cut.levels);
        summary.levelsMm.forEach((levelMm, level) => {
          const above = level === 0 ? 0 : summary.levelsMm[level - 1]!;
          const clipped = carved.strokes.flatMap((s) => clipToLevel(s, above, levelMm));
          onProgress('ordering', (index + level / summary.levelsMm.length) / cuts.length);
          const strokes = orderStrokes(clipped, cut.reversible, from);
          const last = strokes[strokes.length - 1];
          if (last) from = [last[last.length - 3]!, last[last.length - 2]!];
          passes.push({ cut: index, level, strokes });
          summary.strokes += strokes.length;
          for (const s of strokes) summary.cutLengthMm += computeStrokeLength(s);
        });
        return summary;
      });
      lettering.artworks.forEach((art, i) => {
        const areas = !isEmptyRings(art.regions) && !used['v-carve'].has(art.id);
        const strokes = !isEmptyRings(art.chains) && !used['centre-line'].has(art.id);
        if (!areas && !strokes) return;
        const name = getTitle(job.inscriptions[i]!);
        const part =
          areas && !isEmptyRings(art.chains) && !strokes
            ? 'the areas of '
            : strokes && !isEmptyRings(art.regions) && !areas
              ? 'the strokes of '
              : '';
        findings.push(makeFinding('not-cut', { station: 'cuts', id: art.id, name }, { name, part }));
      });
      onProgress('laying', 0);
      const laid = layPaths(work, passes, enabled, job.motion);
      const kinematics = createKinematics(job.machine, job.blank);
      const moves = computeAxisMoves(laid, work, kinematics, job.machine.chordToleranceMm);
      const timesS = computeTimes(
        moves.values,
        moves.feedTimeMin.map((t) => t * 60),
        getAxisLimits(job.machine, kinematics),
      );
      onProgress('posting', 0);
      const program = rs274.write({
        job,
        machine: job.machine,
        kinematics,
        laid,
        moves,
        cuts: cuts.map((c, i) => ({ ...c, levelsMm: summaries[i]!.levelsMm })),
      });
      onProgress('reading back', 0);
      const readBack = computeReadBack(program.lines.join('\n'), program, laid, moves, work, kinematics);
      findings.push(...findSpeedFaults(job, enabled, laid, moves, kinematics));
      findings.push(...findReadBackFaults(job, readBack, kinematics.turnIndex >= 0 ? surface.mmPerRad : (job.machine.tilt?.pivotMm ?? 0)));
      const toolNumbers = new Set(cuts.filter((_, i) => summaries[i]!.strokes > 0).map((c) => c.tool.number));
      if (!job.machine.toolChanger && toolNumbers.size > 1)
        findings.push(makeFinding('tool-by-hand', { station: 'cuts' }, { count: toolNumbers.size }));
      return { cuts: summaries, laid, moves, timesS, timeS: timesS[timesS.length - 1] ?? 0, program, readBack, findings };
    },
  };
}

/** The lettering a cut works on: closed regions for a V-carve, open chains for a centre-line. */
function chooseLettering(job: Job, cut: Cut, artworks: readonly InscriptionArtwork[]): InscriptionArtwork[] {
  return artworks.filter((art) => {
    if (cut.targets !== 'all' && !cut.targets.includes(art.id)) return false;
    return !isEmptyRings(cut.kind === 'v-carve' ? art.regions : art.chains);
  });
}

function carve(
  cut: Cut,
  tool: Tool,
  chosen: readonly InscriptionArtwork[],
  work: Work,
  engine: VoronoiEngine,
  onProgress: (share: number) => void,
  pieces: CarveCache,
  surfaceKey: string,
): Carved {
  const nothing: CarvePlan = { strokes: [], deepestMm: 0, wantedMm: 0, tooSteep: 0 };
  if (cut.kind === 'centre-line') {
    const strokes = chosen.flatMap((art) => toStrokes(art.chains, cut.depthMm));
    return { plan: { strokes, deepestMm: strokes.length ? cut.depthMm : 0, wantedMm: cut.depthMm, tooSteep: 0 }, faults: [] };
  }
  if (tool.kind === 'flat') {
    return { plan: nothing, faults: findCutterFaults(cut, tool, 0) };
  }
  const made = computeVCarve(
    chosen.map((a) => a.regions),
    cut,
    tool,
    work,
    engine,
    onProgress,
    pieces,
    surfaceKey,
  );
  if (made.ok) return { plan: made.value, faults: [] };
  const where = { station: 'cuts' as const, id: cut.id, name: cut.name, xMm: made.error.xMm };
  return { plan: nothing, faults: [makeFinding('outline-crosses', where, { name: cut.name })] };
}

function toStrokes(chains: Rings, depthMm: number): Float64Array[] {
  const out: Float64Array[] = [];
  for (let k = 0; k + 1 < chains.starts.length; k++) {
    const xy = getRing(chains, k);
    const stroke = new Float64Array((xy.length / 2) * 3);
    for (let i = 0; i < xy.length / 2; i++) stroke.set([xy[2 * i]!, xy[2 * i + 1]!, depthMm], 3 * i);
    out.push(stroke);
  }
  return out;
}
