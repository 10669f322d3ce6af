import type { ReadingRules } from './dialect';

/**
 * What may stand in RS274/NGC as far as it is read here. Source: NISTIR 6556 (from memory: block format in 3.3, modal groups in
 * 3.4). It shares nothing with the writer.
 */
export const rs274Rules: ReadingRules = {
  groups: {
    G0: 'motion',
    G1: 'motion',
    G2: 'motion',
    G3: 'motion',
    G80: 'motion',
    G4: 'dwell',
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
    G43: 'length offset',
    G49: 'length offset',
    G54: 'coordinate system',
    G55: 'coordinate system',
    G56: 'coordinate system',
    G57: 'coordinate system',
    G58: 'coordinate system',
    G59: 'coordinate system',
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
  },
  comments: [/\([^()]*\)/g, /;.*$/],
  frame: ['%'],
};
