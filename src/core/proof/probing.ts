import { runSteps } from '../base/steps';
import type { Finding } from '../findings/finding';
import { findLongLines, findTravelFaults } from '../findings/proofFindings';
import type { Setup } from '../pipeline/setup';
import type { ProbeSettings } from '../probe/probeProgram';
import { readProgram } from '../program/interpreter';
import { getRules } from '../program/registry';
import { fromTurnDeg } from '../surface/surface';
import { measureLastDigitMm, TipWay } from './tipWay';

/** What a probing program comes to when it is read back. */
export interface ProbeProof {
  touches: number;
  /** What is wrong with it: each would make it useless or break the probe. */
  faults: string[];
  /** Where it goes farther than the machine can, and what is longer than it takes. */
  beyond: Finding[];
}

/** A touch may miss its place, and a way between two its height, by this and by the last digits of the words, mm. */
const SLACK_MM = 0.002;
/** Places of a motion at which its height is measured. */
const PLACES = 8;

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
  const reading = runSteps(readProgram(text, getRules(job.machine)));
  const { motions } = reading;
  const faults = reading.faults.filter((f) => !f.tooLong).map((f) => `line ${f.line + 1}: ${f.text}`);
  const way = new TipWay(kinematics, reading);
  faults.push(...way.unplaced.map((letter) => `no line says where ${letter} is to stand`));
  const say = (m: number, what: string): void => void faults.push(`line ${motions.line[m]! + 1}: ${what}`);
  let touches = 0,
    least = Infinity,
    leastAt = -1,
    begins = Infinity,
    digitMm = 0;
  for (let m = 0; m < motions.count; m++) {
    if (motions.spindleRpm[m] !== 0) say(m, 'the spindle turns');
    if (!motions.probes[m]) {
      // From a touch it goes up from wherever the probe tripped.
      const height = way.findLeastHeight(m, PLACES, surface, motions.probes[m - 1] === 1);
      if (height < least) [least, leastAt] = [height, m];
      continue;
    }
    way.goTo(m, 0);
    const from = way.tip.slice();
    begins = Math.min(begins, way.heightOver(surface));
    way.goTo(m, 1);
    const place = places[touches++];
    if (!place) continue;
    const lastMm = measureLastDigitMm(kinematics, job.machine, way.values);
    digitMm = Math.max(digitMm, lastMm);
    const missMm = measureMiss(surface, place, from, way, searchMm);
    if (!(missMm < SLACK_MM + lastMm)) say(m, `the touch misses its place by ${missMm.toFixed(3)} mm`);
  }
  if (least < begins - SLACK_MM - digitMm) say(leastAt, `between touches the probe comes within ${least.toFixed(3)} mm of the drawn blank`);
  if (touches !== places.length) faults.push(`it touches ${touches} places of ${places.length}`);
  // How long the probe is nobody has said: how high the spindle's nose comes is asked of no cutter.
  const travel = findTravelFaults({ ...setup, runs: [] }, { readings: [reading] });
  return { touches, faults, beyond: [...travel, ...findLongLines(reading.faults.map((f) => ({ ...f, part: 0 })))] };
}

/** By how much a touch misses its place or its search, mm: begun and ended along the tool, as far over the place as under it. */
function measureMiss(
  surface: Setup['surface'],
  [xMm, turnDeg]: readonly [number, number],
  from: Float64Array,
  { tip, axis }: TipWay,
  searchMm: number,
): number {
  const at = new Float64Array(3);
  surface.pointInto(xMm, fromTurnDeg(surface, turnDeg), at);
  let over = 0,
    under = 0;
  for (let k = 0; k < 3; k++) {
    over = Math.max(over, Math.abs(from[k]! - searchMm * axis[k]! - at[k]!));
    under = Math.max(under, Math.abs(tip[k]! + searchMm * axis[k]! - at[k]!));
  }
  return Math.max(over, under);
}
