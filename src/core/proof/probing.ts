import { runSteps } from '../base/steps';
import type { Finding } from '../findings/finding';
import { findTravelFaults } from '../findings/proofFindings';
import type { Setup } from '../pipeline/setup';
import type { ProbeSettings } from '../probe/probeProgram';
import { readProgram } from '../program/interpreter';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { DIALECTS } from '../program/registry';
import { fromTurnDeg } from '../surface/surface';

/** What a probing program comes to when it is read back. */
export interface ProbeProof {
  touches: number;
  /** What is wrong with it: each would make it useless or break the probe. */
  faults: string[];
  /** Where it goes farther than the machine can. */
  beyond: Finding[];
}

/** A touch may miss its place by this, and by the last digits of its words, mm. */
const MISS_MM = 0.005;
/** Places of a motion at which its height is measured. */
const PLACES = 8;
/** Slack for the last digits of words, mm. */
const HEIGHT_SLACK_MM = 0.005;

/**
 * Reads a probing program back: whether each touch comes down along the tool through its place, from as far over it as under it; whether
 * the probe is nowhere lower between them than where they begin, the spindle still; and how far the axes go. O(lines · steps to the foot).
 * @param places As `writeProbeProgram` has them, in the order in which they are touched: x, mm, and turn, degrees.
 */
export function proveProbeProgram(
  setup: Pick<Setup, 'job' | 'kinematics' | 'surface'>,
  text: string,
  places: readonly (readonly [xMm: number, turnDeg: number])[],
  { searchMm }: Pick<ProbeSettings, 'searchMm'>,
): ProbeProof {
  const { job, kinematics, surface } = setup;
  const reading = runSteps(readProgram(text, DIALECTS[job.machine.dialect].rules));
  const { motions, placedBy } = reading;
  const faults = reading.faults.map((f) => `line ${f.line + 1}: ${f.text}`);
  const index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const known = Math.max(0, ...index.map((k) => placedBy[k]!));
  const words = new Float64Array(index.length),
    from = new Float64Array(3),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  /** Where the tip is at a share of a motion, and how the tool stands there. */
  const goTo = (m: number, share: number, out: Float64Array): void => {
    index.forEach((k, i) => {
      const end = motions.end[AXIS_COUNT * m + k]!;
      const start = m > 0 ? motions.end[AXIS_COUNT * (m - 1) + k]! : end;
      words[i] = start + share * (end - start);
    });
    kinematics.forward(words, out, axis);
  };
  const heightOf = (p: Float64Array): number => surface.toSheet(p[0]!, p[1]!, p[2]!).heightMm;
  const say = (m: number, what: string): void => void faults.push(`line ${motions.line[m]! + 1}: ${what}`);
  let touches = 0,
    least = Infinity,
    leastAt = -1,
    begins = Infinity;
  for (let m = 0; m < motions.count; m++) {
    if (motions.spindleRpm[m] !== 0) say(m, 'the spindle turns');
    if (motions.probes[m]) {
      goTo(m, 0, from);
      goTo(m, 1, tip);
      begins = Math.min(begins, heightOf(from));
      const place = places[touches++];
      if (!place) continue;
      const missMm = measureMiss(surface, place, from, tip, axis, searchMm);
      if (!(missMm < MISS_MM)) say(m, `the touch misses its place by ${missMm.toFixed(3)} mm`);
      continue;
    }
    if (m < known || motions.away[m] === AWAY.stays) continue;
    // From a touch it goes up from wherever the probe tripped; from the machine's top the way is not known either.
    const blind = m === known || motions.probes[m - 1] === 1 || motions.away[m] === AWAY.arrives;
    for (let p = blind ? PLACES : 1; p <= PLACES; p++) {
      goTo(m, p / PLACES, tip);
      const height = heightOf(tip);
      if (height < least) [least, leastAt] = [height, m];
    }
  }
  if (least < begins - HEIGHT_SLACK_MM) say(leastAt, `between touches the probe comes within ${least.toFixed(3)} mm of the drawn blank`);
  if (touches !== places.length) faults.push(`it touches ${touches} places of ${places.length}`);
  // How long the probe is nobody has said: how high the spindle's nose comes is asked of no cutter.
  return { touches, faults, beyond: findTravelFaults({ ...setup, runs: [] }, { readings: [reading] }) };
}

/** By how much a touch misses its place or its search, mm: begun and ended along the tool, as far over the place as under it. */
function measureMiss(
  surface: Setup['surface'],
  [xMm, turnDeg]: readonly [number, number],
  from: Float64Array,
  to: Float64Array,
  axis: Float64Array,
  searchMm: number,
): number {
  const at = new Float64Array(3);
  surface.pointInto(xMm, fromTurnDeg(surface, turnDeg), at);
  let over = 0,
    under = 0;
  for (let k = 0; k < 3; k++) {
    over = Math.max(over, Math.abs(from[k]! - searchMm * axis[k]! - at[k]!));
    under = Math.max(under, Math.abs(to[k]! + searchMm * axis[k]! - at[k]!));
  }
  return Math.max(over, under);
}
