import type { Job } from '../job/schema';
import { createKinematics, getStance, keepsToolPoint } from '../machine/registry';
import { upInto } from '../machine/stance';
import { fitBlock, fitComment } from './programText';
import { getRules } from './registry';
import { formatWord, toComment } from './words';
import { getLengthDigits, getUnitMm } from './units';

/** A Z word, with or without spaces round it. */
const Z_WORD = /Z(-?[\d.]+)/g;
/** A word that says whether words count from zero or from where the tool is. */
const DISTANCE = /G9[01](?![\d.])/;
/** A spindle that is started, with its speed. */
const SPINDLE_START = /^(N\d+ ?)?S\d+\s*M[34]$/;

/**
 * The same program lifted by a height, with the spindle still: the texts of its parts, each Z raised and no spindle started. What Hobel
 * writes is absolute; what a block of the machine's own says from where the tool is (G91) stays. Before anything else stands what it is,
 * where the control takes words for people.
 * @param liftMm More than 0.
 */
export function toDryRun(texts: readonly string[], job: Pick<Job, 'machine' | 'blank' | 'zero' | 'motion'>, liftMm: number): string[] {
  const { machine } = job;
  const lift = liftMm / getUnitMm(machine);
  const digits = getLengthDigits(machine);
  const { frame, comments, longestLine = 0 } = getRules(machine);
  let relative = false;
  const liftZ = (line: string): string => {
    if (line.startsWith('(')) return line;
    if (DISTANCE.test(line)) relative = line.includes('G91');
    return relative ? line : line.replace(Z_WORD, (_, z: string) => `Z${formatWord(Number(z) + lift, digits)}`);
  };
  return texts.map((text) => {
    const out = text
      .split('\n')
      .filter((line) => !SPINDLE_START.test(line))
      .map(keepsToolPoint(machine) ? createTipLifter(job, liftMm) : liftZ)
      .map((line) => (line.startsWith('(') ? line : fitBlock(line, longestLine)));
    const at = frame.includes(out[0]!) ? 1 : 0;
    if (comments.length > 0)
      out.splice(at, 0, fitComment(toComment, [`DRY RUN, lifted by ${formatWord(liftMm, 3)} mm, spindle still`], longestLine));
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
