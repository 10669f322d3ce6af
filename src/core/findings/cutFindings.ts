import type { Cut, Job, Tool } from '../job/schema';
import { isFeedMove, type LaidPaths } from '../lay/laidPaths';
import type { AxisMoves } from '../machine/axisMoves';
import type { Kinematics } from '../machine/kinematics';
import type { Surface } from '../surface/surface';
import type { ReadBack } from '../proof/readBack';
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
  if (hop > 0 && gap > hop) out.push(makeFinding('heights-crossed', where, { what: `the approach gap of ${gap} mm is over the hop height of ${hop} mm` }));
  if (park < hop) out.push(makeFinding('heights-crossed', where, { what: `the park height of ${park} mm is under the hop height of ${hop} mm` }));
  return out;
}

/** Findings on one cut's depth against the blank and the cutter. */
export function findDepthFaults(cut: Cut, tool: Tool, depthMm: number, surface: Surface, bore: boolean): Finding[] {
  const where = { station: 'cuts' as const, id: cut.id, name: cut.name };
  const out: Finding[] = [];
  const { name } = cut;
  const left = surface.wallMm - depthMm;
  if (left <= 0) out.push(makeFinding('breaks-through', where, { name, depthMm, wallMm: surface.wallMm, bore }));
  else if (depthMm > THIN_WALL_SHARE * surface.wallMm) out.push(makeFinding('wall-thin', where, { name, depthMm, leftMm: left, bore }));
  if (depthMm > tool.fluteLengthMm) out.push(makeFinding('flute-too-short', where, { name, depthMm, fluteMm: tool.fluteLengthMm, tool: tool.name }));
  if (tool.kind !== 'flat') {
    const reach = (tool.diameterMm - tool.tipMm) / 2 / Math.tan((tool.includedDeg * Math.PI) / 360);
    if (depthMm > reach) out.push(makeFinding('cutter-too-narrow', where, { name, depthMm, tool: tool.name, reachMm: reach }));
  } else if (cut.kind === 'v-carve') out.push(makeFinding('wrong-cutter', where, { name, tool: tool.name }));
  return out;
}

/** Findings on speeds: the rotary's, the feed's, the spindle's. O(blocks). */
export function findSpeedFaults(job: Job, cuts: readonly Cut[], laid: LaidPaths, moves: AxisMoves, kinematics: Kinematics): Finding[] {
  const out: Finding[] = [];
  const n = kinematics.letters.length;
  const turnIndex = kinematics.rotary.indexOf(true);
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
