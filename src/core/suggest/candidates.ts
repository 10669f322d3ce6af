import { FLOOR_CUSP_MM } from '../cut/area/areaPasses';
import { FLOOR_RIDGE_MM } from '../cut/floor';
import { createProfile } from '../cut/profile';
import { getFloorMm } from '../cut/profileMath';
import { createCut } from '../cut/kinds/registry';
import { computeLevels } from '../cut/levels';
import { chooseCuttingData, roundDown } from '../crib/speeds';
import type { Cut, CutOf, Job, Levels, Stage, Tool } from '../job/schema';
import { floorArea, lengthOver, type StrokeWidths } from './strokes';

/** A way to cut lettering: a cut with its cutters, what it comes to by a rule of thumb, and why it is as it is. */
export interface Candidate<C extends Cut = Cut> {
  cut: C;
  /** Cutters it needs, its own last. */
  tools: Tool[];
  minutes: number;
  why: string;
}

/** What a choice of cuts goes by. */
export type ChoiceContext = Pick<Job, 'material' | 'machine' | 'motion'> & {
  /** Least thickness under the lettering, mm. */
  wallMm: number;
};

/** A carve that Hobel puts in goes through no more than this share of the wall. */
const WALL_SHARE = 0.5;
/** Depth that is left between the widest stroke's and the cutter's own end, as a share. */
const DEPTH_SPARE = 1.08;
/** A lift, a crossing and a plunge, s: for an estimate. */
const LIFT_S = 0.6;
/** Strokes of this length are run between two lifts, mm: for an estimate. */
const BETWEEN_LIFTS_MM = 12;
/** A cutter before the V is worth it from this share of the floors on. */
const WORTH_SHARE = 0.15;
/** A tip wider than this share of a narrow stroke leaves it uncut or all but flat. */
const TIP_SHARE = 0.6;
/** Time for a change of cutter weighs at least this, s: somebody has to do it. */
const CHANGE_S = 20;

/** Levels of a depth by a step, as few as may be. */
export const levelsFor = (depthMm: number, stepMm: number): Levels =>
  depthMm <= stepMm ? { by: 'count', count: 1 } : { by: 'step', stepMm, even: true, finishMm: 0 };

/** The next length that a person would type, mm. */
export const roundUp = (mm: number): number => {
  const down = roundDown(mm);
  return down >= mm - 1e-9 ? down : roundDown(mm + 10 ** (Math.floor(Math.log10(mm)) - 1));
};

/**
 * Ways to carve closed lettering with the cutters of a crib, quickest first by a rule of thumb: each V as deep as the strokes want, or
 * as far as its flank, its flutes and the wall let it, with end mills for the floors that are left.
 */
export function listCarvings(
  id: string,
  strokes: StrokeWidths,
  crib: readonly Tool[],
  context: ChoiceContext,
): Candidate<CutOf<'v-carve'>>[] {
  const out: Candidate<CutOf<'v-carve'>>[] = [];
  for (const tool of crib) {
    if (tool.kind !== 'v' && tool.kind !== 'ball-v' && tool.kind !== 'half-round') continue;
    if (tool.tipMm > TIP_SHARE * strokes.narrowMm) continue;
    const profile = createProfile(tool);
    const wanted = DEPTH_SPARE * profile.heightAt(strokes.widestMm / 2);
    const reach = Math.min(tool.fluteLengthMm, profile.heightAt(tool.diameterMm / 2), WALL_SHARE * context.wallMm);
    if (!(wanted > 0 && reach > 0)) continue;
    const data = chooseCuttingData(tool, context.material, context.machine);
    const depths = new Set(wanted <= reach ? [roundUp(wanted)] : [roundDown(reach)]);
    // Less deep, with floors, where mills can make them.
    for (const share of [0.5, 0.3]) if (wanted * share > 0.1) depths.add(roundDown(Math.min(reach, wanted * share)));
    for (const depth of depths) {
      const floored = depth < wanted / DEPTH_SPARE;
      const mills = floored ? chooseMills(strokes, tool, depth, crib) : [];
      out.push(estimate(id, strokes, tool, depth, mills, data, context, floored));
    }
  }
  return out.sort((a, b) => a.minutes - b.minutes);
}

/** End mills for the floor of a carve, largest first: at most two that each do a fair share of what is left. */
function chooseMills(strokes: StrokeWidths, v: Tool, depth: number, crib: readonly Tool[]): Tool[] {
  const walls = 2 * depth * Math.tan((v.includedDeg * Math.PI) / 360);
  const all = lengthOver(strokes, walls);
  const mills = crib
    .filter((t) => t.kind === 'flat' && t.fluteLengthMm >= depth)
    .sort((a, b) => b.diameterMm - a.diameterMm)
    .filter((t) => lengthOver(strokes, walls + t.diameterMm) > WORTH_SHARE * all);
  const [largest] = mills;
  if (!largest) return [];
  const fine = mills.filter((t) => t.diameterMm <= 0.55 * largest.diameterMm)[0];
  return fine ? [largest, fine] : [largest];
}

function estimate(
  id: string,
  strokes: StrokeWidths,
  tool: Tool,
  depth: number,
  mills: readonly Tool[],
  data: ReturnType<typeof chooseCuttingData>,
  context: ChoiceContext,
  floored: boolean,
): Candidate<CutOf<'v-carve'>> {
  const levels = levelsFor(depth, data.stepDownMm);
  const profile = createProfile(tool);
  const walls = 2 * profile.halfWidthAt(depth);
  const run = (lengthMm: number, feed: number): number => (60 * lengthMm) / feed + (LIFT_S * lengthMm) / BETWEEN_LIFTS_MM;
  let seconds = 0;
  let above = 0;
  for (const level of computeLevels(depth, levels)) {
    seconds += run(lengthOver(strokes, 2 * profile.halfWidthAt(above)), data.feedMmPerMin);
    above = level;
  }
  let left = floored ? floorArea(strokes, walls) : 0;
  if (floored) seconds += run(2 * lengthOver(strokes, walls), data.feedMmPerMin);
  const clearing: Stage[] = mills.map((mill) => {
    const own = chooseCuttingData(mill, context.material, context.machine);
    const share = lengthOver(strokes, walls + mill.diameterMm) / Math.max(1e-9, lengthOver(strokes, walls));
    const stepMm = Math.min(own.stepOverShare * mill.diameterMm, 2 * getFloorMm(mill, FLOOR_CUSP_MM));
    const millLevels = levelsFor(depth, own.stepDownMm);
    seconds += computeLevels(depth, millLevels).length * run((share * left) / stepMm, own.feedMmPerMin) + CHANGE_S;
    left *= 1 - 0.9 * share;
    const { feedMmPerMin, plungeMmPerMin, spindleRpm, stepOverShare } = own;
    return { toolId: mill.id, levels: millLevels, feedMmPerMin, plungeMmPerMin, spindleRpm, stepOverShare };
  });
  seconds += run(left / (2 * Math.max(0.01, profile.halfWidthAt(FLOOR_RIDGE_MM))), data.feedMmPerMin);
  const { feedMmPerMin, plungeMmPerMin, spindleRpm } = data;
  const cut = { ...createCut('v-carve', id, tool.id), clearing, maxDepthMm: depth, levels, feedMmPerMin, plungeMmPerMin, spindleRpm };
  return { cut, tools: [...mills, tool], minutes: seconds / 60, why: explain(strokes, tool, depth, mills, levels, floored, data.from) };
}

function explain(
  strokes: StrokeWidths,
  tool: Tool,
  depth: number,
  mills: readonly Tool[],
  levels: Levels,
  floored: boolean,
  from: 'crib' | 'rules',
): string {
  const count = computeLevels(depth, levels).length;
  const wide = `the widest stroke is ${strokes.widestMm.toFixed(2)} mm`;
  const deep = floored ? `${wide}: to ${depth} mm, with a floor` : `${wide}: ${tool.name} goes to ${depth} mm in it`;
  const by = mills.length > 0 ? ` that ${mills.map((m) => m.name).join(' and ')} clear${mills.length === 1 ? 's' : ''}` : '';
  const speeds = from === 'crib' ? 'speeds of the crib' : 'speeds by rule for the material';
  return `${deep}${by}; ${count === 1 ? 'one level' : `${count} levels`}; ${speeds}`;
}
