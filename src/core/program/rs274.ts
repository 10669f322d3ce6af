import type { Dialect, Manner } from './dialect';
import { rs274Rules } from './rs274Rules';
import { formatWord, toComment } from './words';
import { writeProgram } from './writer';

/** A number that is whole but for its own rounding stays what it is. */
const ROUNDING = 1e-6;

/** Source of the word and feed rules: NISTIR 6556, sections 2.1.2.5 and 3 (from memory). */
export const rs274Manner: Manner = {
  frame: '%',
  comment: toComment,
  opening: (unit) => [`${unit === 'in' ? 'G20' : 'G21'} G90 G17 G40 G49 G80`],
  corner: (tolerance, digits) => {
    // Never more than was asked for.
    const word = formatWord(Math.floor(tolerance * 10 ** digits + ROUNDING) / 10 ** digits, digits);
    return Number(word) > 0 ? `G64 P${word}` : 'G61';
  },
  dwell: (seconds) => `G4 P${formatWord(seconds, 3)}`,
  end: 'M2',
  arcs: true,
  numbered: false,
  spaced: true,
};

/** RS274/NGC: absolute, G93 with F on every feed block, or G94 with the feed compensated for the rotary. */
export const rs274: Dialect = {
  name: 'RS274/NGC',
  rules: rs274Rules,
  cannot: () => [],
  write: (input, split, ...blocks) => writeProgram(rs274Manner, input, split, ...blocks),
};
