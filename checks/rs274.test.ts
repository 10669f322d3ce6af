import { describe, expect, it } from 'vitest';
import { readNc } from '../tests/support';

/**
 * Source: Kramer, Proctor, Messina, "The NIST RS274/NGC Interpreter - Version 3", NISTIR 6556, August 2000; sections and
 * rules from memory.
 */
const timesOf = (text: string) => readNc(`${text}\nM2`).motions.map((m) => m.timeMin);
const faultsOf = (text: string) => readNc(`${text}\nM2`).faults.map((f) => f.text);

describe('feed rules (2.1.2.5)', () => {
  it('units per minute, X Y Z move: F is along the XYZ path alone, the rotary keeps pace', () => {
    expect(timesOf('G94 G0 X0 Y0 Z0 A0\nG1 X3 Y4 A720 F100').at(-1)).toBeCloseTo(5 / 100, 12);
  });
  it('units per minute, only a rotary moves: F is in degrees a minute', () => {
    expect(timesOf('G94 G0 A0\nG1 A90 F360').at(-1)).toBeCloseTo(0.25, 12);
  });
  it('units per minute, two rotaries: F is the rate of the root of the sum of squares', () => {
    expect(timesOf('G94 G0 A0 B0\nG1 A30 B40 F100').at(-1)).toBeCloseTo(0.5, 12);
  });
  it('inverse time: a move lasts 1/F minutes whatever moves, and F is wanted on every G1 line (3.5.20)', () => {
    expect(timesOf('G93 G0 X0 A0\nG1 X100 A10 F4').at(-1)).toBeCloseTo(0.25, 12);
    expect(faultsOf('G93 G0 X0\nG1 X1 F2\nX2')).toHaveLength(1);
  });
  it('F in inches while G20 is in force', () => expect(timesOf('G20 G94 G0 X0\nG1 X10 F10').at(-1)).toBeCloseTo(1, 12));
});

describe('block rules (3.3)', () => {
  it('reads numbers with or without a point, sign and leading zero; letters of either case; spaces anywhere', () => {
    const end = readNc('G0 x +.5 Y-0.1 z003.\nM2').motions[0]!.end;
    expect([...end.slice(0, 3)]).toEqual([0.5, -0.1, 3]);
  });
  it('takes line numbers, comments in brackets, empty lines and percent signs', () => {
    const { motions, faults } = readNc('%\nN10 G0 X1 (to the left) \n\n(only a comment)\nN20 X2\nM2\n%');
    expect(faults).toEqual([]);
    expect(motions.map((m) => m.end[0])).toEqual([1, 2]);
  });
  it('refuses a comment within a comment (3.3.4)', () => {
    expect(faultsOf('G0 X1 (to the (left)')[0]).toContain('cannot read');
  });
  it('allows one word of a modal group a line (3.4), and no axis word twice (3.3.2)', () => {
    expect(faultsOf('G0 G1 X1 F1')[0]).toContain('one group');
    expect(faultsOf('G90 G91 G0 X1')[0]).toContain('one group');
    expect(faultsOf('G0 X1 X2')[0]).toContain('twice');
    expect(faultsOf('G17 G21 G90 G40 G49 G80')).toEqual([]);
  });
  it('ends at M2 or M30 and reads nothing after (3.6.1)', () => {
    expect(readNc('G0 X1\nM30\nG0 X2').faults[0]!.text).toContain('after the end');
  });
});
