/**
 * Reads RS274/NGC text back. Shares nothing with the writer: it knows the words of NISTIR 6556 (from memory: block
 * format in 3.3, modal groups in 3.4, feed rules in 2.1.2.5 and 3.5.19–20), not what the writer meant.
 */

/** One motion, from where the axes stood to `end`. */
export interface ProgramMotion {
  /** Line in the text, from 0. */
  line: number;
  rapid: boolean;
  /** X Y Z A B C at the end: mm and degrees. */
  end: Float64Array;
  /** What the feed word makes it last, min; 0 for rapid. */
  timeMin: number;
}

export interface ProgramFault {
  line: number;
  text: string;
}

export interface ProgramReading {
  motions: ProgramMotion[];
  faults: ProgramFault[];
  /** Tool changes and spindle words met, for checks of the whole. */
  tools: number[];
  ended: boolean;
}

const AXES = 'XYZABC';
const MODAL_GROUPS: Record<string, string> = {
  G0: 'motion',
  G1: 'motion',
  G80: 'motion',
  G17: 'plane',
  G18: 'plane',
  G19: 'plane',
  G90: 'distance',
  G91: 'distance',
  G93: 'feed mode',
  G94: 'feed mode',
  G20: 'units',
  G21: 'units',
  G40: 'radius compensation',
  G49: 'length offset',
  G54: 'coordinate system',
  G61: 'path control',
  G64: 'path control',
  M0: 'stopping',
  M1: 'stopping',
  M2: 'stopping',
  M30: 'stopping',
  M3: 'spindle',
  M4: 'spindle',
  M5: 'spindle',
  M6: 'tool change',
  M7: 'coolant',
  M8: 'coolant',
  M9: 'coolant',
};
const WORD = /([A-Z])([+-]?(?:\d+\.?\d*|\.\d+))/y;

/** Interprets a program from start to end. Faults do not stop it, so that all of them are seen. O(length). */
export function readProgram(text: string): ProgramReading {
  const motions: ProgramMotion[] = [];
  const faults: ProgramFault[] = [];
  const tools: number[] = [];
  const at = new Float64Array(6);
  let known = 0;
  let motion = '';
  let feedMode = 'G94';
  let unit = 1;
  let relative = false;
  let feed = 0;
  let selected = 0;
  let ended = false;

  text.split('\n').forEach((raw, line) => {
    const fault = (what: string) => faults.push({ line, text: what });
    const source = raw
      .replace(/\([^()]*\)/g, '')
      .replace(/;.*$/, '')
      .replace(/\s+/g, '')
      .toUpperCase();
    if (source === '' || source === '%') return;
    if (ended) {
      fault('words after the end of the program');
      return;
    }
    const axisWords = new Map<string, number>();
    const groups = new Map<string, string>();
    let feedWord: number | null = null;
    WORD.lastIndex = 0;
    while (WORD.lastIndex < source.length) {
      const start = WORD.lastIndex;
      const found = WORD.exec(source);
      if (!found) {
        fault(`cannot read "${source.slice(start, start + 12)}"`);
        return;
      }
      const letter = found[1]!;
      const value = Number(found[2]);
      if (AXES.includes(letter)) {
        if (axisWords.has(letter)) fault(`${letter} stands twice`);
        axisWords.set(letter, value);
      } else if (letter === 'G' || letter === 'M') {
        const code = `${letter}${value}`;
        const group = MODAL_GROUPS[code];
        if (!group) fault(`${code} is not known here`);
        else if (groups.has(group)) fault(`${code} and ${groups.get(group)} are of one group`);
        else groups.set(group, code);
      } else if (letter === 'F') feedWord = value;
      else if (letter === 'T') selected = value;
      else if (letter === 'S' || letter === 'N') {
        if (value < 0) fault(`${letter} is negative`);
      } else fault(`the word ${letter} is not known here`);
    }

    // Order of execution within a line: feed mode, feed, tool, spindle, units, distance, then motion, then stop.
    feedMode = groups.get('feed mode') ?? feedMode;
    if (groups.has('feed mode')) feed = 0;
    if (feedWord !== null) feed = feedWord;
    if (groups.has('tool change')) tools.push(selected);
    if (groups.has('units')) unit = groups.get('units') === 'G20' ? 25.4 : 1;
    if (groups.has('distance')) relative = groups.get('distance') === 'G91';
    motion = groups.get('motion') ?? motion;

    if (axisWords.size > 0) {
      if (motion !== 'G0' && motion !== 'G1') fault('axis words without a motion');
      const end = at.slice();
      let linear = 0;
      let turn = 0;
      axisWords.forEach((value, letter) => {
        const k = AXES.indexOf(letter);
        const scaled = k < 3 ? value * unit : value;
        end[k] = relative ? at[k]! + scaled : scaled;
        if (!(known & (1 << k)) && motion === 'G1') fault(`${letter} is fed before it was ever placed`);
        known |= 1 << k;
        const d = end[k]! - at[k]!;
        if (k < 3) linear += d * d;
        else turn += d * d;
      });
      let timeMin = 0;
      if (motion === 'G1') {
        if (feedMode === 'G93') {
          if (feedWord === null) fault('no F word on a G1 block in inverse time');
          timeMin = feedWord ? 1 / feedWord : 0;
        } else if (!(feed > 0)) fault('no feed rate set');
        else timeMin = linear > 0 ? Math.sqrt(linear) / (feed * unit) : Math.sqrt(turn) / feed;
        if (feedWord !== null && !(feedWord > 0)) fault('F is not positive');
      }
      motions.push({ line, rapid: motion === 'G0', end, timeMin });
      at.set(end);
    }
    if (groups.get('stopping') === 'M2' || groups.get('stopping') === 'M30') ended = true;
  });
  if (!ended) faults.push({ line: text.split('\n').length - 1, text: 'the program has no end' });
  return { motions, faults, tools, ended };
}
