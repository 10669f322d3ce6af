import { getDwellS } from '../job/cutSchema';
import type { Dialect, Manner } from './dialect';
import { shortLinesRules } from './shortLinesRules';
import { writeProgram } from './writer';
import { formatWord } from './words';

/** Few words, no spaces, no frame. Common practice of small controls that are fed line by line, no source. */
const manner: Manner = {
  frame: null,
  comment: null,
  opening: (unit) => [unit === 'in' ? 'G20' : 'G21', 'G90', 'G17'],
  corner: null,
  dwell: (seconds) => `G4 P${formatWord(seconds, 3)}`,
  end: 'M2',
  arcs: true,
  numbered: false,
  spaced: false,
};

/** Small controls that take a program line by line: they change no cutter by themselves, and keep no table of lengths. */
export const shortLines: Dialect = {
  name: 'short lines, for small controls',
  rules: shortLinesRules,
  cannot: ({ machine, cuts }) => [
    ...(machine.toolChanger ? ['a change of cutter by a changer'] : []),
    ...(machine.toolLengths === 'table' ? ['a cutter\u2019s length called from a table'] : []),
    ...(machine.coolant === 'mist' ? ['a mist at the cutter'] : []),
    ...(cuts.some((c) => c.enabled && getDwellS(c) > MOST_DWELL_S) ? [`a stay of more than ${MOST_DWELL_S} s`] : []),
  ],
  write: (input, split, ...blocks) => writeProgram(manner, input, split, ...blocks),
};

/** Longer, such a control may take its host to be gone. Common practice, no source. */
const MOST_DWELL_S = 10;
