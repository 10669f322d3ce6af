import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Guide, GuideNode } from '../job/guideSchema';
import { createCurve, flattenCurve, reverseCurve, type Curve } from './curve';

const sheet = { mmPerRad: 20, periodMm: 40 * Math.PI };
const at = (c: Curve, s: number) => {
  const out = new Float64Array(4);
  c.at(s, out);
  return [...out];
};
const node = (xMm: number, yMm: number, out: [number, number] = [0, 0], into: [number, number] = [0, 0]): GuideNode => ({
  xMm,
  yMm,
  outMm: { xMm: out[0], yMm: out[1] },
  inMm: { xMm: into[0], yMm: into[1] },
});
const path = (nodes: GuideNode[], closed = false): Guide => ({ kind: 'path', id: 'p', name: '', closed, nodes });
const near = (a: number[], b: number[]) => a.forEach((v, k) => expect(v).toBeCloseTo(b[k]!, 8));

describe('createCurve', () => {
  it('runs along a line, and on past its ends', () => {
    const c = createCurve({ kind: 'line', id: 'l', name: '', from: { xMm: 1, yMm: 2 }, to: { xMm: 4, yMm: 6 } }, sheet)!;
    expect(c.lengthMm).toBe(5);
    near(at(c, 2.5), [2.5, 4, 0.6, 0.8]);
    near(at(c, 10), [7, 10, 0.6, 0.8]);
    near(at(reverseCurve(c), 0), [4, 6, -0.6, -0.8]);
  });

  it('runs round an arc either way', () => {
    const arc = (sweepDeg: number) =>
      createCurve({ kind: 'arc', id: 'a', name: '', centre: { xMm: 0, yMm: 0 }, radiusMm: 10, startDeg: 0, sweepDeg }, sheet)!;
    near(at(arc(90), 5 * Math.PI), [0, 10, -1, 0]);
    near(at(arc(-90), 5 * Math.PI), [0, -10, -1, 0]);
    expect(arc(360).closed).toBe(true);
    expect(arc(359).closed).toBe(false);
  });

  it('goes all the way round the blank', () => {
    const c = createCurve({ kind: 'around', id: 'r', name: '', xMm: 30, startDeg: -90 }, sheet)!;
    expect(c.lengthMm).toBeCloseTo(40 * Math.PI, 12);
    near(at(c, 10 * Math.PI), [30, 0, 0, 1]);
  });

  it('follows a polyline round its corners, and closes it', () => {
    const c = createCurve(path([node(0, 0), node(3, 0), node(3, 4)], true), sheet)!;
    expect(c.lengthMm).toBeCloseTo(12, 10);
    near(at(c, 5), [3, 2, 0, 1]);
    near(at(c, 12 + 1), [1, 0, 1, 0]);
  });

  it('gives back by its points the distances it is asked for, on random Beziers', () => {
    const n = fc.double({ min: -20, max: 20, noNaN: true });
    fc.assert(
      fc.property(n, n, n, n, n, n, (a, b, c, d, e, f) => {
        const curve = createCurve(path([node(0, 0, [a, b]), node(c, d, [e, f], [f, e]), node(d, c)]), sheet);
        if (!curve) return;
        let sum = 0;
        let last = at(curve, 0);
        for (let k = 1; k <= 2000; k++) {
          const p = at(curve, (curve.lengthMm * k) / 2000);
          sum += Math.hypot(p[0]! - last[0]!, p[1]! - last[1]!);
          last = p;
        }
        expect(sum / curve.lengthMm).toBeGreaterThan(0.998);
        expect(sum / curve.lengthMm).toBeLessThanOrEqual(1 + 1e-9);
      }),
      { seed: 8, numRuns: 15 },
    );
  });

  it.each<[string, Guide]>([
    ['a line', { kind: 'line', id: 'l', name: '', from: { xMm: 1, yMm: 1 }, to: { xMm: 1, yMm: 1 } }],
    ['an arc', { kind: 'arc', id: 'a', name: '', centre: { xMm: 0, yMm: 0 }, radiusMm: 5, startDeg: 0, sweepDeg: 0 }],
    ['a path', path([node(2, 2), node(2, 2)])],
    ['one node', path([node(2, 2)])],
    ['no node', path([])],
    ['no node, closed', path([], true)],
  ])('is null for %s without length', (_, guide) => expect(createCurve(guide, sheet)).toBeNull());

  it('is drawn within the tolerance', () => {
    const c = createCurve({ kind: 'arc', id: 'a', name: '', centre: { xMm: 0, yMm: 0 }, radiusMm: 10, startDeg: 0, sweepDeg: 360 }, sheet)!;
    const xy = flattenCurve(c, 0.01);
    for (let i = 0; i + 3 < xy.length; i += 2)
      expect(Math.hypot((xy[i]! + xy[i + 2]!) / 2, (xy[i + 1]! + xy[i + 3]!) / 2)).toBeGreaterThan(9.99);
  });
});
