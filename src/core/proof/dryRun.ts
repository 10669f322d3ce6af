import { runSteps } from '../base/steps';
import type { Finding } from '../findings/finding';
import { findTravelFaults } from '../findings/proofFindings';
import type { Setup } from '../pipeline/setup';
import { readProgram } from '../program/interpreter';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { DIALECTS } from '../program/registry';

/** What a run for a look comes to when it is read back: a dry run, or one round the lettering. */
export interface DryRunProof {
  /** Least height of the tip over the blank, as it was measured where passes follow that, mm; below 0 it would touch. */
  leastMm: number;
  /** Highest Z that it goes to, mm. */
  topMm: number;
  /** Whether the spindle stands still all along. */
  still: boolean;
  faults: number;
  /** Where it goes farther than the machine can. */
  beyond: Finding[];
}

/** Places of each motion at which the height is measured. */
const PLACES = 4;

/** Reads a run back and measures how far it stays off the blank and how far its axes go. O(motions · steps to the foot). */
export function proveDryRun(setup: Pick<Setup, 'job' | 'kinematics' | 'runs' | 'work'>, texts: readonly string[]): DryRunProof {
  const { job, kinematics, work } = setup;
  const index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const values = new Float64Array(index.length),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  const readings = texts.map((text) => runSteps(readProgram(text, DIALECTS[job.machine.dialect].rules)));
  const faults = readings.reduce((sum, r) => sum + r.faults.length, 0);
  const proof: DryRunProof = { leastMm: Infinity, topMm: -Infinity, still: true, faults, beyond: findTravelFaults(setup, { readings }) };
  for (const { motions, placedBy } of readings) {
    // From where all axes are placed on: before that nothing is known of where the tool is.
    const from = Math.max(0, ...index.map((k) => placedBy[k]!));
    for (let m = 0; m < motions.count; m++) {
      if (motions.spindleRpm[m] !== 0) proof.still = false;
      proof.topMm = Math.max(proof.topMm, motions.end[AXIS_COUNT * m + 2]!);
      if (m < from || motions.away[m] === AWAY.stays) continue;
      for (let p = m === from || motions.away[m] === AWAY.arrives ? PLACES : 1; p <= PLACES; p++) {
        index.forEach((k, i) => {
          const end = motions.end[AXIS_COUNT * m + k]!,
            start = m > 0 ? motions.end[AXIS_COUNT * (m - 1) + k]! : end;
          values[i] = start + (p / PLACES) * (end - start);
        });
        kinematics.forward(values, tip, axis);
        proof.leastMm = Math.min(proof.leastMm, work.toSheet(tip[0]!, tip[1]!, tip[2]!).heightMm);
      }
    }
  }
  return proof;
}
