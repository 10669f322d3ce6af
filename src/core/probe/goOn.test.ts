import { describe, expect, it } from 'vitest';
import { invertMatrix } from '../base/matrix';
import { goOnPast } from './goOn';
import { createMeasuredMap } from './measuredMap';

const xs = [-36, -18, 0, 18, 36];
const ys = [-36, -24, -12, 0, 12, 24, 36];
const inDisc = (x: number, y: number): boolean => Math.hypot(x, y) < 40;
const over = (f: (x: number, y: number) => number, known: (x: number, y: number) => boolean): number[][] =>
  xs.map((x) => ys.map((y) => (known(x, y) ? f(x, y) : NaN)));
/** Largest distance of what was filled from what it stands for. */
const measureMiss = (f: (x: number, y: number) => number, known: (x: number, y: number) => boolean): number =>
  Math.max(...goOnPast(xs, ys, over(f, known)).flatMap((row, i) => row.map((v, j) => Math.abs(v - f(xs[i]!, ys[j]!)))));

describe('a map that goes on past what was touched', () => {
  it.each([
    ['a level one', () => 0.2, 1e-6],
    ['a tilt', (x: number, y: number) => 0.001 * x - 0.002 * y + 0.05, 1e-6],
    ['a saddle', (x: number, y: number) => 4e-5 * x * y + 1e-5 * x * x, 1e-6],
    ['a bow', (x: number, y: number) => 0.1 * Math.cos(x / 40) * Math.cos(y / 40), 0.01],
  ])('is %s beside a disc as well', (_, f, mostMm) => expect(measureMiss(f, inDisc)).toBeLessThan(mostMm));

  it('keeps to what is under it where it was touched, up to the edge', () => {
    const f = (x: number, y: number): number => 0.1 * Math.cos(x / 40) * Math.cos(y / 40);
    const flat = { periodMm: null, mmPerRad: 180 / Math.PI };
    const map = createMeasuredMap({ xMm: xs, turnDeg: ys, mm: goOnPast(xs, ys, over(f, inDisc)) }, flat);
    let worst = 0;
    for (let x = -36; x <= 36; x += 1.5)
      for (let y = -36; y <= 36; y += 1.5) if (Math.hypot(x, y) < 38) worst = Math.max(worst, Math.abs(map(x, y) - f(x, y)));
    expect(worst).toBeLessThan(0.003);
  });

  it('leaves what was touched alone, and makes of few places what it can', () => {
    const f = (x: number, y: number): number => 0.001 * x + 0.003 * y;
    const filled = goOnPast(xs, ys, over(f, inDisc));
    for (const [i, x] of xs.entries()) for (const [j, y] of ys.entries()) if (inDisc(x, y)) expect(filled[i]![j]).toBe(f(x, y));
    expect(
      goOnPast(
        [0, 10],
        [0, 10],
        [
          [0.1, NaN],
          [NaN, NaN],
        ],
      ).flat(),
    ).toEqual([0.1, 0.1, 0.1, 0.1]);
    // Places on one line say nothing of the way across it.
    expect(
      goOnPast(
        [0, 10, 20],
        [0, 10],
        [
          [0.1, NaN],
          [0.2, NaN],
          [0.3, NaN],
        ],
      ).map((row) => row[1]),
    ).toEqual([0.1, 0.2, 0.3].map((v) => expect.closeTo(v, 5) as number));
  });

  it('does not run away far from all that was touched', () => {
    const f = (x: number): number => 0.01 * x * x;
    const filled = goOnPast(
      xs,
      ys,
      over(f, (x) => Math.abs(x) < 20),
    );
    expect(Math.max(...filled.flat())).toBeLessThanOrEqual(2 * f(18));
  });
});

describe('an inverse', () => {
  it('times its matrix is one', () => {
    const a = [
      [2, 1, 0],
      [1, 3, -1],
      [0, 4, 5],
    ];
    const b = invertMatrix(a)!;
    const product = a.map((row) => b.map((_, c) => row.reduce((sum, v, k) => sum + v * b[k]![c]!, 0)));
    product.forEach((row, r) => row.forEach((v, c) => expect(v).toBeCloseTo(r === c ? 1 : 0, 12)));
  });
  it('is none of a singular one', () =>
    expect(
      invertMatrix([
        [1, 2],
        [2, 4],
      ]),
    ).toBeNull());
});
