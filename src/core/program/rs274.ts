import { describeBlank } from '../job/blankText';
import { MOVE, isFeedMove } from '../lay/laidPaths';
import type { Dialect, Program } from './dialect';

/** Significant digits of a feed word: block times then hold to 1e-6. */
const FEED_DIGITS = 7;
/** Comments take no brackets and no control characters, and stay short for narrow displays. */
const toComment = (text: string): string =>
  `(${text
    .normalize('NFKD')
    .replace(/[^\x20-\x7e]/g, '')
    .replace(/[()]/g, '')
    .slice(0, 100)})`;

/** A number with a decimal point, so that no controller takes it for a count of least increments. */
export function formatWord(value: number, digits: number): string {
  let text = value.toFixed(digits);
  if (text.includes('.')) text = text.replace(/0+$/, '');
  if (Number(text) === 0) text = '0.';
  return text.includes('.') ? text : `${text}.`;
}

const formatFeed = (value: number): string => {
  const digits = Math.min(12, Math.max(0, FEED_DIGITS - 1 - Math.floor(Math.log10(value))));
  return formatWord(value, digits);
};

/**
 * Writes RS274/NGC: millimetres, absolute, G93 with F on every feed block, or G94 with the feed compensated for the
 * rotary. Source of the word and feed rules: NISTIR 6556, sections 2.1.2.5 and 3 (from memory).
 */
export const rs274: Dialect = {
  id: 'rs274',
  write(input) {
    const { job, machine, kinematics, laid, moves, cuts } = input;
    const n = kinematics.letters.length;
    const lines: string[] = [];
    const lineOfBlock = new Uint32Array(moves.count);
    const say = (line: string) => lines.push(line);
    const digits = kinematics.rotary.map((turns) => (turns ? machine.angleDigits : machine.lengthDigits));
    const rounded = new Float64Array(n).fill(NaN);
    const words = new Array<string>(n).fill('');
    const inverseTime = machine.feedMode === 'G93';

    say('%');
    say(toComment(`${job.name} - Hobel`));
    const along = machine.wrappedAxis === 'Y' ? 'X' : 'Y';
    const turns = kinematics.turnIndex >= 0;
    say(
      toComment(
        `blank ${describeBlank(job.blank, (mm) => formatWord(mm, 3), 'mm')
          .replace('Ø', 'dia')
          .replaceAll('×', 'x')
          .replaceAll('°', ' deg')}, ${job.material}`,
      ),
    );
    say(
      toComment(
        `zero ${along} at ${job.blank.kind === 'free' ? 'the picked place' : 'the datum end'}, Z on the ${job.blank.zero}${turns ? `, ${machine.rotaryLetter} at the line that faces the tool` : ''}`,
      ),
    );
    if (turns)
      say(toComment(`rotary ${machine.rotaryLetter} takes the place of ${machine.wrappedAxis}, sense ${machine.sense > 0 ? '+' : '-'}`));
    if (machine.tilt)
      say(
        toComment(
          `head tilts on ${machine.tilt.letter}, ${machine.tilt.pivotMm > 0 ? `tip ${formatWord(machine.tilt.pivotMm, 3)} mm below its axis` : 'the control keeps the tip'}`,
        ),
      );
    for (const number of new Set(cuts.map((c) => c.tool.number))) {
      say(toComment(`T${number} ${cuts.find((c) => c.tool.number === number)!.tool.name}`));
    }
    say('G21 G90 G17 G40 G49 G80');

    let feedMode = '';
    let motion = '';
    let currentCut = -1;
    let currentTool = -1;
    const changed = (i: number): string[] => {
      const out: string[] = [];
      for (let k = 0; k < n; k++) {
        const word = formatWord(moves.values[n * i + k]!, digits[k]!);
        if (word === words[k]) continue;
        words[k] = word;
        rounded[k] = Number(word);
        out.push(kinematics.letters[k]! + word);
      }
      return out;
    };
    const startCut = (i: number) => {
      currentCut = laid.cut[moves.move[i]!]!;
      const { cut, tool } = cuts[currentCut]!;
      say(toComment(`cut ${currentCut + 1}: ${cut.name}`));
      if (tool.number !== currentTool) {
        if (currentTool >= 0) say('M5');
        say(machine.toolChanger ? `T${tool.number} M6` : currentTool >= 0 ? 'M0' : toComment(`tool ${tool.number} in the spindle`));
        currentTool = tool.number;
      }
      say(`S${Math.round(cut.spindleRpm)} M3`);
    };

    for (let i = 0; i < moves.count; i++) {
      const move = moves.move[i]!;
      if (laid.cut[move]! !== currentCut && laid.kind[move] !== MOVE.park) startCut(i);
      const before = rounded.slice();
      const feeding = isFeedMove(laid.kind[move]!);
      const axisWords = changed(i);
      if (axisWords.length === 0) {
        lineOfBlock[i] = Math.max(0, lines.length - 1);
        continue;
      }
      const block: string[] = [];
      if (feeding && feedMode !== machine.feedMode) block.push((feedMode = machine.feedMode));
      const g = feeding ? 'G1' : 'G0';
      if (g !== motion) block.push((motion = g));
      block.push(...axisWords);
      if (!feeding) {
        // The first approach brings Z up before anything else moves.
        if (Number.isNaN(before[2]!)) {
          const z = block.findIndex((w) => w.startsWith('Z'));
          say(`G0 ${block[z]!}`);
          block.splice(z, 1);
        }
        if (block.length && !(block.length === 1 && block[0] === 'G0')) say(block.join(' '));
      } else {
        block.push(
          `F${formatFeed(inverseTime ? 1 / moves.feedTimeMin[i]! : compensatedFeed(before, rounded, kinematics.rotary, moves.feedTimeMin[i]!))}`,
        );
        say(block.join(' '));
      }
      lineOfBlock[i] = lines.length - 1;
    }
    if (feedMode === 'G93') say('G94');
    say('M5');
    say('M2');
    say('%');
    return { lines, lineOfBlock } satisfies Program;
  },
};

/**
 * The G94 word under which a block takes a given time: where X, Y or Z moves, F applies to their path alone; where only
 * a rotary moves, F is in degrees/min. Worked out from the rounded words, so that the time holds for the shortest block.
 */
function compensatedFeed(before: Float64Array, after: Float64Array, rotary: readonly boolean[], timeMin: number): number {
  let linear = 0;
  let turn = 0;
  after.forEach((v, k) => {
    const d = v - before[k]!;
    if (rotary[k]) turn += d * d;
    else linear += d * d;
  });
  return Math.sqrt(linear > 0 ? linear : turn) / timeMin;
}
