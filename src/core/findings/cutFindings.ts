import { createProfile } from '../cut/profile';
import type { Blank, Cut, Job, Tool } from '../job/schema';
import { isFeedMove, type LaidPaths } from '../lay/laidPaths';
import type { AxisMoves } from '../machine/axisMoves';
import type { Kinematics } from '../machine/kinematics';
import { computeLean, type Work } from '../machine/stance';
import type { EdgeProof } from '../proof/edge';
import type { ReadBack } from '../proof/readBack';
import { toTurnDeg, type Surface } from '../surface/surface';
import { makeFinding, type Finding } from './finding';

/** A depth that leaves less than this share of the wall is worth a word. */
const THIN_WALL_SHARE = 0.5;
/** The tip may leave the plan by this, or by the program's last digit if that is more, µm. */
export const TIP_TOLERANCE_UM = 1;

/** Findings on the heights the tool moves at. */
export function findMotionFaults(job: Job): Finding[] {
  const { parkHeightMm: park, hopHeightMm: hop, approachGapMm: gap } = job.motion;
  const where = { station: 'cuts' as const };
  const out: Finding[] = [];
  if (hop <= 0) out.push(makeFinding('hop-too-low', where, { hopMm: hop }));
  if (gap <= 0) out.push(makeFinding('gap-too-low', where, { gapMm: gap }));
  if (hop > 0 && gap > hop)
    out.push(makeFinding('heights-crossed', where, { what: `the approach gap of ${gap} mm is over the hop height of ${hop} mm` }));
  if (park < hop)
    out.push(makeFinding('heights-crossed', where, { what: `the park height of ${park} mm is under the hop height of ${hop} mm` }));
  return out;
}

/** What lies under the lettering, by name. */
function getWallName(blank: Blank): string {
  if (blank.kind === 'plate' || blank.kind === 'arched') return 'thickness';
  if (blank.kind === 'free') return 'wall';
  return blank.boreMm > 0 ? 'wall' : 'radius';
}

/** Findings on a cut's depth against its cutter. */
export function findCutterFaults(cut: Cut, tool: Tool, depthMm: number): Finding[] {
  const where = { station: 'cuts' as const, id: cut.id, name: cut.name };
  const out: Finding[] = [];
  const { name } = cut;
  if (depthMm > tool.fluteLengthMm)
    out.push(makeFinding('flute-too-short', where, { name, depthMm, fluteMm: tool.fluteLengthMm, tool: tool.name }));
  if (tool.kind !== 'flat') {
    const reach = (tool.diameterMm - tool.tipMm) / 2 / Math.tan((tool.includedDeg * Math.PI) / 360);
    if (depthMm > reach) out.push(makeFinding('cutter-too-narrow', where, { name, depthMm, tool: tool.name, reachMm: reach }));
  } else if (cut.kind === 'v-carve') out.push(makeFinding('wrong-cutter', where, { name, tool: tool.name }));
  return out;
}

/** A lean less than this is not worth a word, radians. */
const MIN_LEAN_RAD = 2e-4;

/**
 * Findings on a cut's strokes against the blank under them: what is left below, how the tool stands, and whether it fits into
 * hollows. O(points of the strokes).
 */
export function findStrokeFaults(
  blank: Blank,
  cut: Cut,
  tool: Tool,
  strokes: readonly Float64Array[],
  tooSteep: number,
  work: Work,
  tilts: boolean,
): Finding[] {
  const where = { station: 'cuts' as const, id: cut.id, name: cut.name };
  const out: Finding[] = [];
  const { name } = cut;
  const what = getWallName(blank);
  const profile = createProfile(tool);
  const cutterMm = tool.diameterMm / 2;
  const coneMm = tool.kind === 'flat' ? 0 : profile.heightAt(cutterMm);
  const leans = work.poseInto !== work.frameInto;
  const k = new Float64Array(2);
  let leastLeft = Infinity,
    wallThere = 0,
    depthThere = 0,
    thin = 0,
    lean = 0;
  let hollow: { radiusMm: number; needsMm: number; depthMm: number; short: number } | null = null;
  for (const s of strokes) {
    for (let i = 0; i < s.length; i += 3) {
      const [x, y, depth] = [s[i]!, s[i + 1]!, s[i + 2]!];
      const wall = work.wallAt(x, y);
      if (depth > THIN_WALL_SHARE * wall) thin++;
      if (wall - depth < leastLeft) [leastLeft, wallThere, depthThere] = [wall - depth, wall, depth];
      if (leans) lean = Math.max(lean, computeLean(work, x, y));
      if (tool.kind === 'flat' || work.flat) continue;
      work.curvatureInto(x, y, k);
      if (!(k[1]! < -1e-9)) continue;
      // The rim of the cone under a hollow that rises by ρ − √(ρ² − r²) towards it; narrower hollows do not let it in at all.
      const radius = -1 / k[1]!;
      const room = coneMm - depth;
      const needs = room > 0 ? (cutterMm * cutterMm + room * room) / (2 * room) : Infinity;
      const needed = room >= cutterMm ? cutterMm : needs;
      if (radius < needed && (!hollow || needed / radius > hollow.short))
        hollow = { radiusMm: radius, needsMm: Math.min(needed, 1e6), depthMm: depth, short: needed / radius };
    }
  }
  if (leastLeft <= 0) out.push(makeFinding('breaks-through', where, { name, depthMm: depthThere, wallMm: wallThere, what }));
  else if (thin > 0) out.push(makeFinding('wall-thin', where, { name, depthMm: depthThere, leftMm: leastLeft, what }));
  if (lean > MIN_LEAN_RAD) out.push(makeFinding('tool-leans', where, { name, deg: (lean * 180) / Math.PI, tilts }));
  if (tooSteep > 0) out.push(makeFinding('leans-too-far', where, { name, pieces: tooSteep }));
  if (hollow) out.push(makeFinding('cutter-too-big', where, { name, tool: tool.name, ...hollow }));
  return out;
}

/** Findings on speeds: the rotary's, the feed's, the spindle's. O(blocks). */
export function findSpeedFaults(job: Job, cuts: readonly Cut[], laid: LaidPaths, moves: AxisMoves, kinematics: Kinematics): Finding[] {
  const out: Finding[] = [];
  const n = kinematics.letters.length;
  const { turnIndex } = kinematics;
  const { machine } = job;
  const worst = new Float64Array(cuts.length);
  if (turnIndex >= 0) {
    for (let i = 1; i < moves.count; i++) {
      const move = moves.move[i]!;
      if (!isFeedMove(laid.kind[move]!) || !(moves.feedTimeMin[i]! > 0)) continue;
      const turn = Math.abs(moves.values[n * i + turnIndex]! - moves.values[n * (i - 1) + turnIndex]!);
      const c = laid.cut[move]!;
      worst[c] = Math.max(worst[c]!, turn / moves.feedTimeMin[i]!);
    }
  }
  cuts.forEach((cut, c) => {
    const where = { station: 'cuts' as const, id: cut.id, name: cut.name };
    const { name, feedMmPerMin: feed, spindleRpm: rpm } = cut;
    const limit = machine.maxTurnDegPerMin;
    if (worst[c]! > limit * (1 + 1e-9)) {
      out.push(makeFinding('turns-too-fast', where, { name, degPerMin: worst[c]!, limit, feed: Math.floor((feed * limit) / worst[c]!) }));
    }
    if (feed > machine.maxFeedMmPerMin) out.push(makeFinding('feed-too-fast', where, { name, feed, limit: machine.maxFeedMmPerMin }));
    if (rpm > machine.maxSpindleRpm) out.push(makeFinding('spindle-too-fast', where, { name, rpm, limit: machine.maxSpindleRpm }));
  });
  return out;
}

/** More than this outside the lettering is no rounding: it would be seen, µm. */
const OUTSIDE_LIMIT_UM = 10;
/** More than this left inside is more than a blunt tip leaves in the corners of letters, µm. */
const LEFT_LIMIT_UM = 100;

/** Findings from the proof of the edge: what is cut against what was drawn. */
export function findEdgeFaults(edge: EdgeProof | null, surface: Pick<Surface, 'mmPerRad'>): Finding[] {
  if (!edge) return [];
  const at = ([x, y]: [number, number]) => ({ station: 'cuts' as const, xMm: x, turnDeg: toTurnDeg(surface, y) });
  const out: Finding[] = [];
  if (!(edge.maxOutsideUm <= OUTSIDE_LIMIT_UM)) out.push(makeFinding('edge-outside', at(edge.outsideAt), { um: edge.maxOutsideUm }));
  if (!(edge.maxUncutUm <= LEFT_LIMIT_UM)) out.push(makeFinding('edge-left', at(edge.uncutAt), { um: edge.maxUncutUm }));
  return out;
}

/** Findings from reading the program back. */
export function findReadBackFaults(job: Job, back: ReadBack, radiusMm: number): Finding[] {
  const out: Finding[] = [];
  const { machine } = job;
  const digitUm = 1000 * (10 ** -machine.lengthDigits + ((radiusMm * Math.PI) / 180) * 10 ** -machine.angleDigits);
  const limitUm = Math.max(TIP_TOLERANCE_UM, digitUm) + 1000 * machine.chordToleranceMm;
  if (!(back.maxTipUm <= limitUm)) {
    out.push(makeFinding('deviation', { station: 'program', line: back.worstLine + 1 }, { um: back.maxTipUm, limitUm }));
  }
  if (back.mirrored) out.push(makeFinding('mirrored-program', { station: 'blank' }, {}));
  for (const fault of back.faults.slice(0, 3)) {
    out.push(makeFinding('program-fault', { station: 'program', line: fault.line + 1 }, { what: `line ${fault.line + 1}, ${fault.text}` }));
  }
  if (back.rapidInWorkLine >= 0) out.push(makeFinding('rapid-in-work', { station: 'cuts', line: back.rapidInWorkLine + 1 }, {}));
  return out;
}
