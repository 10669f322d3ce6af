import { isEmptyBox, joinBoxes, type Box } from '../base/rings';
import type { Finding } from '../findings/finding';
import type { Lettering } from '../pipeline/lettering';
import type { CutSummary, Plan } from '../pipeline/plan';
import { isCutMove, type LaidPaths } from '../lay/laidPaths';
import { poseAt } from '../machine/pose';
import type { Work } from '../machine/stance';
import type { Setup } from '../pipeline/setup';
import type { EdgeProof, EdgeUnproved } from '../proof/edge';
import { getWordLimits } from '../machine/limits';
import { measureOwnAxes } from '../proof/axisSpan';
import type { Proof } from '../proof/proof';
import { toTurnDeg } from '../surface/surface';

/** What a cut comes to with all its cutters. */
export interface CutReport extends CutSummary {
  /** Names of its cutters, in running order; `tool` is its own. */
  tools: string[];
  /** Time of its moves, the way to it counted, s. */
  timeS: number;
}

/** The figures of a planned job, as `report.json` holds them. Lengths mm, turns degrees, times s. */
export interface Report {
  job: string;
  unrolledMm: { x: number; y: number };
  letteringMm: { x: number; y: number; turnDeg: number };
  cuts: CutReport[];
  /** Of all moves; `stopTimeS` on a control that stops at every corner; `standingS` comes on top for changes and run-up. */
  timeS: number;
  stopTimeS: number;
  standingS: number;
  blocks: number;
  readBack: { maxTipUm: number; maxAxisUm: number; maxTimeRatio: number };
  /** Layout and letters of the axes. */
  machine: { layout: string; letters: string[] };
  /** For each axis what its words may be (null: not known) and what they are, mm and degrees: least, most, used from, used to. */
  limits: Record<string, [number | null, number | null, number, number]>;
  /** The edge that is cut against the outline, µm, and how far that may be off the letters' own curves; null where no cut has one. */
  edge: Pick<EdgeProof, 'maxOutsideUm' | 'uncut95Um' | 'maxUncutUm' | 'curveUm' | 'outsideCurvesUm' | 'leftCurvesUm'> | null;
  /** Cuts whose edge was not measured, and why. */
  edgeUnproved: EdgeUnproved[];
  findings: Finding[];
}

/** Box of all lettering on the sheet; empty (`minX > maxX`) if there is none. */
export const getLetteringBox = (lettering: Lettering): Box =>
  lettering.artworks
    .map((a) => a.box)
    .filter((b) => !isEmptyBox(b))
    .reduce(joinBoxes, { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity });

/** Gathers the report of a plan and its proof. @param findings All that is to be said of the plan and of the piece. */
export function toReport(
  { job, surface, kinematics }: Setup,
  lettering: Lettering,
  plan: Plan,
  proof: Proof,
  findings: readonly Finding[] = [...plan.findings, ...proof.findings],
): Report {
  const { edge, readBack } = proof;
  const limits = getWordLimits(job, kinematics);
  const box = getLetteringBox(lettering);
  const x = isEmptyBox(box) ? 0 : box.maxX - box.minX;
  const y = isEmptyBox(box) ? 0 : box.maxY - box.minY;
  return {
    job: job.name,
    unrolledMm: { x: surface.domain.maxX - surface.domain.minX, y: surface.domain.maxY - surface.domain.minY },
    letteringMm: { x, y, turnDeg: toTurnDeg(surface, y) },
    cuts: toCutReports(plan),
    timeS: plan.timeS,
    stopTimeS: plan.stopTimeS,
    standingS: plan.standingS,
    blocks: plan.moves.count,
    readBack: { maxTipUm: readBack.maxTipUm, maxAxisUm: readBack.maxAxisUm, maxTimeRatio: readBack.maxTimeRatio },
    machine: { layout: job.machine.layout.kind, letters: kinematics.axes.map((a) => a.letter) },
    limits: Object.fromEntries(
      measureOwnAxes(kinematics, readBack.readings).map(({ letter, from, to }) => {
        const known = (v: number): number | null => (Number.isFinite(v) ? v : null);
        const [least, most] = limits[letter]!;
        return [letter, [known(least), known(most), from, to]];
      }),
    ),
    edge: edge && {
      maxOutsideUm: edge.maxOutsideUm,
      uncut95Um: edge.uncut95Um,
      maxUncutUm: edge.maxUncutUm,
      curveUm: edge.curveUm,
      outsideCurvesUm: edge.outsideCurvesUm,
      leftCurvesUm: edge.leftCurvesUm,
    },
    edgeUnproved: proof.unproved,
    findings: [...findings],
  };
}

/** Cuts with their cutters put together, in the order in which they are begun. */
function toCutReports({ cuts, laid, moves, timesS }: Plan): CutReport[] {
  const seconds = new Float64Array(cuts.length);
  for (let i = 0; i < moves.count; i++) seconds[laid.run[moves.move[i]!]!]! += timesS[i]! - (i > 0 ? timesS[i - 1]! : 0);
  const out = new Map<string, CutReport>();
  cuts.forEach((own, k) => {
    const summary = { ...own };
    const before = out.get(summary.id);
    if (!before) return out.set(summary.id, { ...summary, tools: [summary.tool], timeS: seconds[k]! });
    // The cut's own cutter comes last, and levels and depth are its own.
    out.set(summary.id, {
      ...summary,
      maxDepthMm: Math.max(before.maxDepthMm, summary.maxDepthMm),
      cutLengthMm: before.cutLengthMm + summary.cutLengthMm,
      strokes: before.strokes + summary.strokes,
      unreachedMm2: summary.unreachedMm2 ?? before.unreachedMm2,
      tools: [...before.tools, summary.tool],
      timeS: before.timeS + seconds[k]!,
    });
  });
  return [...out.values()];
}

/** Largest distance between a written path and the true one, when its points are joined by straight lines, mm. */
export const PATH_CHORD_MM = 0.0002;
const MAX_SPLITS = 14;

/**
 * The laid paths, one JSON object a line: `cut` id, `tool` name of its cutter, `level` (from 0), `kind` (`cut` at feed, `hop` at rapid),
 * `tip` points and unit tool `axis` in the blank frame, mm, and `feedMmPerMin`: the fastest of the way as it is laid (0 for rapid; its way
 * down goes at `plungeMmPerMin`). A move is straight on the sheet and bent on the blank: points are put in until
 * straight lines between them keep within `PATH_CHORD_MM`.
 */
export function* toPathLines({ work, runs }: Setup, plan: Pick<Plan, 'laid'>): Generator<string> {
  const { laid } = plan;
  const isCutting = (i: number) => isCutMove(laid.kind[i]!);
  let i = 0;
  while (i < laid.count) {
    const cutting = isCutting(i);
    const level = laid.level[i]!;
    const run = laid.run[i]!;
    const tip: number[][] = [];
    const axis: number[][] = [];
    let feedMmPerMin = 0;
    const add = (k: number) => {
      tip.push([...laid.tip.subarray(3 * k, 3 * k + 3)]);
      axis.push([...laid.axis.subarray(3 * k, 3 * k + 3)]);
    };
    if (i > 0) add(i - 1);
    for (; i < laid.count && isCutting(i) === cutting && laid.level[i] === level && laid.run[i] === run; i++) {
      if (i > 0) addBend(work, laid, i, tip, axis);
      add(i);
      feedMmPerMin = Math.max(feedMmPerMin, laid.feedMmPerMin[i]!);
    }
    const { id, tool: cutter, plungeMmPerMin } = runs[run]!;
    const tool = cutter.name;
    yield JSON.stringify(
      cutting
        ? { cut: id, tool, level, kind: 'cut', tip, axis, feedMmPerMin, plungeMmPerMin }
        : { cut: id, tool, level, kind: 'hop', tip, axis, feedMmPerMin: 0 },
    );
  }
}

/** Puts in the points between the ends of move i that its bend on the blank needs. */
function addBend(work: Work, { sheet, liftMm }: LaidPaths, i: number, tip: number[][], axis: number[][]): void {
  const frame = new Float64Array(6),
    t = new Float64Array(3),
    a = new Float64Array(3);
  const at = (share: number) => {
    const v = [0, 1, 2].map((k) => sheet[3 * i - 3 + k]! + share * (sheet[3 * i + k]! - sheet[3 * i - 3 + k]!));
    poseAt(work, v[0]!, v[1]!, v[2]!, liftMm[i - 1]! + share * (liftMm[i]! - liftMm[i - 1]!), frame, t, a);
    return { tip: [...t], axis: [...a] };
  };
  const split = (from: number, p: { tip: number[] }, to: number, q: { tip: number[] }, depth: number): void => {
    const middle = at((from + to) / 2);
    const gap = Math.hypot(...middle.tip.map((v, k) => v - (p.tip[k]! + q.tip[k]!) / 2));
    if (depth === 0 || gap <= PATH_CHORD_MM) return;
    split(from, p, (from + to) / 2, middle, depth - 1);
    tip.push(middle.tip);
    axis.push(middle.axis);
    split((from + to) / 2, middle, to, q, depth - 1);
  };
  split(0, at(0), 1, at(1), MAX_SPLITS);
}
