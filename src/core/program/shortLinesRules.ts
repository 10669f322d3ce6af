import type { ReadingRules } from './dialect';

/** Most characters that such a control keeps of a line. Common practice, no source. */
const LONGEST_LINE = 70;

/** What small controls that are fed line by line take (common practice, no source). Nothing of the writer. */
export const shortLinesRules: ReadingRules = {
  groups: {
    G0: 'motion',
    G1: 'motion',
    G2: 'motion',
    G3: 'motion',
    'G38.2': 'motion',
    G4: 'dwell',
    G17: 'plane',
    G20: 'units',
    G21: 'units',
    G90: 'distance',
    G91: 'distance',
    G93: 'feed mode',
    G94: 'feed mode',
    M0: 'stopping',
    M2: 'stopping',
    M30: 'stopping',
    M3: 'spindle',
    M4: 'spindle',
    M5: 'spindle',
    M8: 'coolant',
    M9: 'coolant',
  },
  comments: [],
  frame: [],
  longestLine: LONGEST_LINE,
};
