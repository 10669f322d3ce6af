import { runSteps } from '../base/steps';
import type { Finding } from '../findings/finding';
import { findLongLines, findTravelFaults } from '../findings/proofFindings';
import type { Setup } from '../pipeline/setup';
import { readProgram } from '../program/interpreter';
import { AXIS_COUNT } from '../program/motions';
import { getRules } from '../program/registry';
import { TipWay } from './tipWay';

/** What a run for a look comes to when it is read back: a dry run, or one round the lettering. */
export interface DryRunProof {
  /** Least height of the tip over the blank, as it was measured where passes follow that, mm; below 0 it would touch. */
  leastMm: number;
  /** Highest Z that it goes to, mm. */
  topMm: number;
  /** Whether the spindle stands still all along. */
  still: boolean;
  /** What cannot be read of it, and axes that no line places, in number; but for lines that are too long. */
  faults: number;
  /** Where it goes farther than the machine can, and what is longer than it takes. */
  beyond: Finding[];
}

/** Places of each motion at which the height is measured. */
const PLACES = 4;

/** Reads a run back and measures how far it stays off the blank and how far its axes go. O(motions · steps to the foot). */
export function proveDryRun(setup: Pick<Setup, 'job' | 'kinematics' | 'runs' | 'work'>, texts: readonly string[]): DryRunProof {
  const rules = getRules(setup.job.machine);
  const readings = texts.map((text) => runSteps(readProgram(text, rules)));
  const faults = readings.flatMap((r, part) => r.faults.map((f) => ({ ...f, part })));
  const proof: DryRunProof = {
    leastMm: Infinity,
    topMm: -Infinity,
    still: true,
    faults: faults.filter((f) => !f.tooLong).length,
    beyond: [...findTravelFaults(setup, { readings }), ...findLongLines(faults)],
  };
  for (const reading of readings) {
    const { motions } = reading;
    const way = new TipWay(setup.kinematics, reading);
    proof.faults += way.unplaced.length;
    for (let m = 0; m < motions.count; m++) {
      if (motions.spindleRpm[m] !== 0) proof.still = false;
      proof.topMm = Math.max(proof.topMm, motions.end[AXIS_COUNT * m + 2]!);
      proof.leastMm = Math.min(proof.leastMm, way.findLeastHeight(m, PLACES, setup.work));
    }
  }
  return proof;
}
