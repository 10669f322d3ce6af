import { describe, expect, it } from 'vitest';
import { readNc } from '../../../tests/support';

const faultsOf = (text: string) =>
  readNc(text)
    .faults.map((f) => f.text)
    .join('; ');

describe('readProgram', () => {
  it('keeps words and motions modal', () => {
    const { motions, faults } = readNc('G21 G90 G94\nG0 X1. Y2. Z5.\nG1 Z-1. F100.\nX4.\nM2');
    expect(faults).toEqual([]);
    expect(motions.map((m) => [m.rapid, ...m.end.slice(0, 3)])).toEqual([
      [true, 1, 2, 5],
      [false, 1, 2, -1],
      [false, 4, 2, -1],
    ]);
    expect(motions[2]!.timeMin).toBeCloseTo(3 / 100, 12);
  });
  it('reads numbers as RS274 writes them, in any case and spacing', () => {
    const { motions, faults } = readNc('g0x.5y-.25z+3\nn20 G1 x 1 . 5 F 10\nM30');
    expect(faults).toEqual([]);
    expect([...motions[1]!.end.slice(0, 3)]).toEqual([1.5, -0.25, 3]);
  });
  it('reads arcs as chords of one line that last as long together, on their circle, the right way round', () => {
    const { motions, faults } = readNc('G94\nG0 X1 Y0 Z0\nG3 X0 Y1 I-1 J0 F60\nG2 X1 Y0 I0 J-1\nM2');
    expect(faults).toEqual([]);
    const there = motions.filter((m) => m.line === 2),
      back = motions.filter((m) => m.line === 3);
    for (const m of [...there, ...back]) expect(Math.hypot(m.end[0]!, m.end[1]!)).toBeCloseTo(1, 9);
    for (const arc of [there, back]) expect(arc.reduce((sum, m) => sum + m.timeMin, 0)).toBeCloseTo(Math.PI / 2 / 60, 9);
    expect([...there.at(-1)!.end.slice(0, 2)]).toEqual([0, 1]);
    expect([...back.at(-1)!.end.slice(0, 2)]).toEqual([1, 0]);
    expect(there[0]!.end[1]).toBeGreaterThan(0);
    // The long way round is another arc.
    expect(readNc('G94\nG0 X1 Y0\nG2 X0 Y1 I-1 J0 F60\nM2').motions[1]!.end[1]).toBeLessThan(0);
  });
  it('reads inches and increments', () => {
    const { motions } = readNc('G20\nG0 X1\nG91 X1 A90\nM2');
    expect([...motions[1]!.end]).toEqual([50.8, 0, 0, 90, 0, 0]);
  });
  it.each([
    ['G93\nG0 X0\nG1 X1\nM2', 'no F word on a G1 block in inverse time'],
    ['G0 X0\nG1 X1\nM2', 'no feed rate set'],
    ['G1 X1 F10\nM2', 'fed before it was ever placed'],
    ['G0 X0 X1\nM2', 'X stands twice'],
    ['G0 G1 X1 F1\nM2', 'of one group'],
    ['G0 X0\nG5 X1\nM2', 'G5 is not known here'],
    ['G0 X0', 'has no end'],
    ['G94\nG0 X0 Y0\nG2 X1 Y1 I1 F10 Z2\nM2', 'Z moves on an arc'],
    ['G94\nG0 X0 Y0\nG2 X1 Y1 I5 F10\nM2', 'mm from its centre'],
    ['G94\nG0 X0 Y0\nG18 G2 X1 Y1 I1 F10\nM2', 'another plane'],
    ['G94\nG0 X0 Y0\nG1 X1 I1 F10\nM2', 'I or J without an arc'],
    ['G94\nG2 X1 Y1 I1 F10\nM2', 'before X and Y were ever placed'],
    ['G0 X0\nG4\nM2', 'G4 without a P word'],
    ['G0 X0\nG4 P1 X2\nM2', 'axis words beside G4'],
    ['G0 X0\nG1 X1 F10 P1\nM2', 'a P word without G64 or G4'],
    ['X1\nM2', 'axis words without a motion'],
    ['G0 X--1\nM2', 'cannot read'],
    ['G0 X0\nM2\nG0 X1', 'words after the end'],
    ['G0 X0\nG1 X1 F0\nM2', 'no feed rate set'],
    ['G0 XNaN\nM2', 'cannot read'],
  ])('finds the fault in %j', (text, fault) => expect(faultsOf(text)).toContain(fault));
  it('forgets the feed when the feed mode changes', () => expect(faultsOf('G94\nG0 X0\nG1 X1 F50\nG93\nX2\nM2')).toContain('no F word'));
  it('survives any text', () => {
    for (const text of ['', '%', '(', 'G', '\u0000\uffff', 'G0 X1e5\nM2', 'Ω'.repeat(1000)]) expect(() => readNc(text)).not.toThrow();
  });
});
