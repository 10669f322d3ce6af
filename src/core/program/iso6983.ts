import { getDwellS } from '../job/cutSchema';
import type { Dialect, Manner } from './dialect';
import { iso6983Rules } from './iso6983Rules';
import { writeProgram } from './writer';

/** Source: ISO 6983-1, word addresses and preparatory functions (from memory): N first, G70 and G71 for the unit, M30 at the end. */
const manner: Manner = {
  frame: '%',
  comment: null,
  opening: (unit) => [unit === 'in' ? 'G70' : 'G71', 'G90', 'G17', 'G40', 'G80'],
  corner: null,
  dwell: null,
  end: 'M30',
  arcs: true,
  numbered: true,
  spaced: true,
};

/**
 * Plain words of ISO 6983: every block numbered, nothing for people, one preparatory word a line at the start. The standard leaves open
 * how a stay and a tolerance for corners are said, so neither is.
 */
export const iso6983: Dialect = {
  name: 'ISO 6983, plain',
  rules: iso6983Rules,
  cannot: ({ cuts, machine }) => [
    ...(cuts.some((c) => c.enabled && getDwellS(c) > 0) ? ['a stay at the bottom of a hole'] : []),
    ...(machine.toolLengths === 'table' ? ['a cutter\u2019s length called from a table'] : []),
  ],
  write: (input, split, ...blocks) => writeProgram(manner, input, split, ...blocks),
};
