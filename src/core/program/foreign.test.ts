import { describe, expect, it } from 'vitest';
import { runSteps } from '../base/steps';
import { arcByCentre, arcByRadius } from './arc';
import { NumberReader } from './expression';
import { readForeign } from './foreign';
import { AWAY } from './motions';

const read = (...lines: string[]) => runSteps(readForeign([...lines, 'M2'].join('\n')));
const ends = (r: ReturnType<typeof read>) =>
  Array.from({ length: r.motions.count }, (_, i) => Array.from(r.motions.end.subarray(6 * i, 6 * i + 3)));
const value = (text: string, parameters = new Map<number, number>()) => new NumberReader(text, parameters).read();

describe('numbers (NISTIR 6556, 3.3.2; worked by hand)', () => {
  it.each([
    ['[2+3*4]', 14],
    ['[2**3*2]', 16],
    ['[7MOD3]', 1],
    ['[[1+2]*[3-5]]', -6],
    ['ATAN[1]/[-1]', 135],
    ['SIN[30]', 0.5],
    ['SQRT[2]', Math.SQRT2],
    ['FIX[-2.8]', -3],
    ['FUP[2.2]', 3],
    ['-[3]', -3],
    ['#3', 7],
    ['##4', 7],
  ])('%s', (text, wanted) => {
    expect(
      value(
        text,
        new Map([
          [3, 7],
          [4, 3],
        ]),
      ),
    ).toBeCloseTo(wanted, 12);
  });

  it.each(['[2+', '[1/0]', 'FOO[2]', '#0', 'X', `${'['.repeat(60)}1`])('%s is refused', (text) => {
    expect(() => value(text)).toThrow();
  });

  it('sets parameters at the end of their block', () => {
    expect(ends(read('#1=4', 'G0 X#1 #1=6', 'X#1')).map((e) => e[0])).toEqual([4, 6]);
  });
});

describe('arcs (NISTIR 6556, 3.5.3)', () => {
  it('goes round by centre and by radius alike, in all planes', () => {
    const byCentre = arcByCentre([10, 0], [0, 10], [0, 0], false);
    const byRadius = arcByRadius([10, 0], [0, 10], 10, false);
    expect(byCentre).toMatchObject({ radiusMm: 10, sweepRad: expect.closeTo(Math.PI / 2, 12) as number });
    expect(byRadius).toMatchObject({ sweepRad: expect.closeTo(Math.PI / 2, 9) as number });
    expect(arcByRadius([10, 0], [0, 10], -10, false)).toMatchObject({ sweepRad: expect.closeTo((3 * Math.PI) / 2, 9) as number });
  });

  it.each([
    ['G17', 'X0 Y10', 'I-10 J0', [0, 1]],
    ['G18', 'Z0 X10', 'K-10 I0', [2, 0]],
    ['G19', 'Y0 Z10', 'J-10 K0', [1, 2]],
  ] as const)('%s: every point lies on the circle, and it runs the right way', (plane, to, centre, [a, b]) => {
    const start = ['X', 'Y', 'Z'].map((l, k) => `${l}${k === a ? 10 : 0}`).join(' ');
    const all = ends(read(`G0 ${start}`, `${plane} G3 ${to} ${centre} F100`)).slice(1);
    expect(all.length).toBeGreaterThan(20);
    for (const p of all) expect(Math.hypot(p[a]!, p[b]!)).toBeCloseTo(10, 9);
    expect(all[Math.floor(all.length / 2)]![a]!).toBeGreaterThan(5);
    expect(all[Math.floor(all.length / 2)]![b]!).toBeGreaterThan(5);
  });

  it('wants both ends as far from the centre as the standard does: within 0.002 mm, in inches within 0.0002 in', () => {
    const faults = (unit: string, off: number) => read(unit, 'G0 X1 Y0 Z0', `G3 X0 Y${(1 + off).toFixed(5)} I-1 J0 F60`).faults.length;
    expect([faults('G21', 0.0019), faults('G21', 0.0021)]).toEqual([0, 1]);
    expect([faults('G20', 0.00019), faults('G20', 0.00021)]).toEqual([0, 1]);
  });

  it('a helix rises evenly, a whole turn comes back, and the time is that of its length', () => {
    const r = read('G0 X5 Y0 Z0', 'G2 X5 Y0 Z-2 I-5 F60');
    const all = ends(r).slice(1);
    expect(all[all.length - 1]).toEqual([5, 0, -2]);
    expect(all[Math.floor(all.length / 4) - 1]![1]!).toBeLessThan(-4.5);
    const minutes = r.motions.timeMin.reduce((s, t) => s + t, 0);
    expect(minutes * 60).toBeCloseTo(Math.hypot(2 * Math.PI * 5, 2), 1);
  });

  it.each([
    ['ends that lie at two distances', 'G2 X10 Y0 I4 F10', /from its centre/],
    ['a radius that does not reach', 'G2 X10 R2 F10', /does not reach/],
    ['a radius from a place to itself', 'G2 X0 Y0 R2 F10', /cannot end where it begins/],
    ['no centre at all', 'G2 X10 F10', /needs R, or I and J/],
    ['no feed', 'G2 X10 R5', /no feed rate/],
  ])('%s', (_, block, says) => {
    expect(
      read('G0 X0 Y0 Z0', block)
        .faults.map((f) => f.text)
        .join(),
    ).toMatch(says);
  });

  it('takes absolute centres under G90.1', () => {
    expect(read('G0 X10 Y0', 'G90.1 G3 X0 Y10 I0 J0 F10').faults).toEqual([]);
    expect(read('G0 X10 Y0', 'G3 X0 Y10 I0 J0 F10').faults.length).toBe(1);
  });
});

describe('the rest of the motion', () => {
  it('inches, relative ways, shifted zeros', () => {
    expect(ends(read('G20 G0 X1', 'G91 X1', 'G90 G92 X0', 'X1'))).toEqual([
      [25.4, 0, 0],
      [50.8, 0, 0],
      [expect.closeTo(76.2, 9), 0, 0],
    ]);
  });

  it('drills, with and without pecks, back to where it began or to R', () => {
    const g98 = ends(read('G0 X0 Y0 Z10', 'G81 X5 Y0 Z-3 R2 F100', 'X9', 'G80'));
    expect(g98.slice(1)).toEqual([
      [5, 0, 10],
      [5, 0, 2],
      [5, 0, -3],
      [5, 0, 10],
      [9, 0, 10],
      [9, 0, 2],
      [9, 0, -3],
      [9, 0, 10],
    ]);
    const pecks = read('G0 X0 Y0 Z10', 'G99 G83 X5 Y0 Z-3 R2 Q2 F100');
    expect(ends(pecks).map((e) => e[2])).toEqual([10, 10, 2, 0, 2, 0.254, -2, 2, -1.746, -3, 2].map((z) => expect.closeTo(z, 9) as number));
    expect(read('G0 Z10', 'G81 X5 Z3 R2 F10').faults[0]!.text).toContain('R lies below Z');
  });

  it('lists what it does not follow, by line, and goes on', () => {
    const r = read('G0 X1', 'O100 SUB', 'G38.2 Z-1', 'G7', 'G1 Y2 F10', '/X99', 'G55 X3', 'G1 X[2', 'U4');
    expect(r.faults.map((f) => f.line)).toEqual([1, 2, 3, 7, 8]);
    expect(ends(r).map((e) => e.slice(0, 2))).toEqual([
      [1, 0],
      [1, 2],
      [3, 2],
    ]);
    expect(r.notes.join()).toMatch(/block delete.*G55/);
  });

  it('keeps the tool’s point and goes to the top where the control does, and says so where not', () => {
    const text = ['G90 G21 G94', 'G53 G0 Z0', 'G43.4 H3', 'G0 X1 B30', 'Z5', 'G1 Z-1 F100', 'G49', 'G53 G0 Z0', 'M2'].join('\n');
    const kept = runSteps(readForeign(text, 'G43.4'));
    expect(kept.faults).toEqual([]);
    expect([...kept.motions.away]).toEqual([AWAY.stays, AWAY.arrives, AWAY.no]);
    expect([...kept.motions.length]).toEqual([3, 3, 3]);
    expect(kept.notes.join()).toContain('machine’s top');
    expect(runSteps(readForeign(text)).faults.map((f) => [f.line, f.text.split(':')[0]])).toEqual([[2, 'G43.4 is not followed']]);
    const early = runSteps(readForeign('G0 X1\nG53 G1 Z0\nG53 G0 Z0 A0\nG43.4 H1\nG53 G0 Z0\nM2', 'G43.4'));
    expect(early.faults.map((f) => f.line)).toEqual([0, 1, 2, 4]);
  });

  it('reads comments, numbers of lines, small letters and spaces', () => {
    expect(ends(read('%', 'n10 g0 x 1 . 5 (go there) y2 ; and so on'))).toEqual([[1.5, 2, 0]]);
  });
});
