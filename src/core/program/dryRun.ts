import { runSteps } from '../base/steps';
import type { Job } from '../job/schema';
import { createKinematics, getStance, keepsToolPoint } from '../machine/registry';
import { upInto } from '../machine/stance';
import type { Surface } from '../surface/surface';
import { readProgram } from './interpreter';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from './motions';
import { DIALECTS } from './registry';
import { formatWord, toComment } from './words';
import { getLengthDigits, getUnitMm } from './units';

/** A Z word, with or without spaces round it. */
const Z_WORD = /Z(-?[\d.]+)/g;
/** A spindle that is started, with its speed. */
const SPINDLE_START = /^(N\d+ ?)?S\d+\s*M[34]$/;

/**
 * The same program lifted by a height, with the spindle still: the texts of its parts, each Z raised and no spindle started. Texts are
 * absolute, as all that Hobel writes. Before anything else stands what it is, where the control takes words for people.
 * @param liftMm More than 0.
 */
export function toDryRun(texts: readonly string[], job: Pick<Job, 'machine' | 'blank' | 'zero' | 'motion'>, liftMm: number): string[] {
  const { machine } = job;
  const lift = liftMm / getUnitMm(machine);
  const digits = getLengthDigits(machine);
  const { frame, comments } = DIALECTS[machine.dialect].rules;
  const liftZ = (line: string): string =>
    line.startsWith('(') ? line : line.replace(Z_WORD, (_, z: string) => `Z${formatWord(Number(z) + lift, digits)}`);
  return texts.map((text) => {
    const out = text
      .split('\n')
      .filter((line) => !SPINDLE_START.test(line))
      .map(keepsToolPoint(machine) ? createTipLifter(job, liftMm) : liftZ);
    const at = frame.includes(out[0]!) ? 1 : 0;
    if (comments.length > 0) out.splice(at, 0, toComment(`DRY RUN, lifted by ${formatWord(liftMm, 3)} mm, spindle still`));
    return out.join('\n');
  });
}

/**
 * Lifts a line of a program whose words are the tip's own: straight up on the machine, which is another way on the blank for every position
 * of what turns. Lines come in their order.
 */
function createTipLifter(job: Pick<Job, 'machine' | 'blank' | 'zero' | 'motion'>, liftMm: number): (line: string) => string {
  const kinematics = createKinematics(job);
  const stance = getStance(job);
  const unitMm = getUnitMm(job.machine),
    digits = getLengthDigits(job.machine);
  const letters = kinematics.axes.map((a) => a.letter);
  const at = new Float64Array(letters.length),
    out = new Float64Array(letters.length);
  const tip = new Float64Array(3),
    frame = new Float64Array(6),
    up = new Float64Array(3);
  return (line) => {
    if (line.startsWith('(') || /G53/.test(line)) return line;
    const words = [...line.matchAll(/([XYZABC])(-?[\d.]+)/g)];
    for (const [, letter, value] of words) at[letters.indexOf(letter!)] = Number(value) * ('XYZ'.includes(letter!) ? unitMm : 1);
    // At the machine's top what turns is set alone.
    if (words.length === 0 || (/^G0/.test(line) && !words.some(([, l]) => 'XYZ'.includes(l!)))) return line;
    kinematics.forward(at, tip, frame.subarray(3));
    upInto(stance, frame, up);
    for (let k = 0; k < 3; k++) tip[k]! += liftMm * up[k]!;
    kinematics.inverse(tip, frame.subarray(3), at, out);
    const lifted = ['X', 'Y', 'Z'].map((l, k) => `${l}${formatWord(out[k]! / unitMm, digits)}`).join(' ');
    const rest = line.replace(/[XYZ]-?[\d.]+ ?/g, '');
    const before = /^((?:G[\d.]+ ?)*)(.*)$/.exec(rest)!;
    return `${before[1]}${lifted} ${before[2]}`.trim();
  };
}

/** What a dry run comes to when it is read back. */
export interface DryRunProof {
  /** Least height of the tip over the blank, mm; below 0 it would touch. */
  leastMm: number;
  /** Highest Z that it goes to, mm. */
  topMm: number;
  /** Whether the spindle stands still all along. */
  still: boolean;
  faults: number;
}

/** Places of each motion at which the height is measured. */
const PLACES = 4;

/** Reads a dry run back and measures how far it stays off the blank. O(motions · steps to the foot). */
export function proveDryRun(texts: readonly string[], job: Job, surface: Surface): DryRunProof {
  const kinematics = createKinematics(job);
  const index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const values = new Float64Array(index.length),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  const proof: DryRunProof = { leastMm: Infinity, topMm: -Infinity, still: true, faults: 0 };
  for (const text of texts) {
    const { motions, faults, placedBy } = runSteps(readProgram(text, DIALECTS[job.machine.dialect].rules));
    proof.faults += faults.length;
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
        proof.leastMm = Math.min(proof.leastMm, surface.toSheet(tip[0]!, tip[1]!, tip[2]!).heightMm);
      }
    }
  }
  return proof;
}
