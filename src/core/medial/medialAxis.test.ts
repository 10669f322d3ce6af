import { beforeAll, describe, expect, it } from 'vitest';
import { getEngines, rect, ringsOf } from '../../../tests/support';
import { computeMedialAxis, computeSiteDistance, interpolateEdge, type MedialAxis } from './medialAxis';
import { createOutline, type Outline } from './outline';
import type { VoronoiEngine } from './voronoi';

let engine: VoronoiEngine;
beforeAll(async () => {
  engine = (await getEngines()).voronoi;
});
const axisOf = (parts: number[][], tolerance = 0): { o: Outline; m: MedialAxis } => {
  const made = createOutline(ringsOf(...parts));
  if (!made.ok) throw new Error(made.error.kind);
  return { o: made.value, m: computeMedialAxis(made.value, engine, tolerance) };
};

describe('computeMedialAxis', () => {
  it('of a rectangle is a spine and four corners', () => {
    const { m } = axisOf([rect(0, 0, 10, 4)]);
    expect(m.a).toHaveLength(5);
    const spine = Array.from(m.a).findIndex((a, k) => m.r[a] === 2 && m.r[m.b[k]!] === 2);
    expect(spine).toBeGreaterThanOrEqual(0);
    expect(Math.abs(m.x[m.a[spine]!]! - m.x[m.b[spine]!]!)).toBeCloseTo(6, 9);
  });

  it('of a ring goes round the hole and never into it', () => {
    const { m } = axisOf([rect(0, 0, 10, 10), [3, 3, 3, 7, 7, 7, 7, 3]]);
    for (const v of [...m.a, ...m.b]) expect(m.x[v]! > 3.01 && m.x[v]! < 6.99 && m.y[v]! > 3.01 && m.y[v]! < 6.99).toBe(false);
    expect(m.a.length).toBeGreaterThanOrEqual(8);
  });

  it('bends at a reflex corner along the parabola of the corner and the facing side', () => {
    // An L: the corner (4, 4) faces the outer sides; points on such an edge are equally far from both.
    const { o, m } = axisOf([[0, 0, 10, 0, 10, 4, 4, 4, 4, 10, 0, 10]]);
    const out = new Float64Array(2);
    let curved = 0;
    for (let k = 0; k < m.a.length; k++) {
      for (const t of [0.1, 0.37, 0.5, 0.8]) {
        interpolateEdge(o, m, k, t, out);
        expect(computeSiteDistance(o, m.site0[k]!, out[0]!, out[1]!)).toBeCloseTo(computeSiteDistance(o, m.site1[k]!, out[0]!, out[1]!), 8);
      }
      const mid = [(m.x[m.a[k]!]! + m.x[m.b[k]!]!) / 2, (m.y[m.a[k]!]! + m.y[m.b[k]!]!) / 2];
      interpolateEdge(o, m, k, 0.5, out);
      if (Math.hypot(out[0]! - mid[0]!, out[1]! - mid[1]!) > 0.01) curved++;
    }
    expect(curved).toBeGreaterThan(0);
  });

  it('prunes the whiskers of a flattened curve, and keeps true corners', () => {
    const round: number[] = [];
    for (let k = 0; k < 400; k++)
      round.push(Math.cos((k * Math.PI) / 200) * 3 + Math.sign(Math.cos((k * Math.PI) / 200)) * 5, Math.sin((k * Math.PI) / 200) * 3);
    expect(axisOf([round], 0).m.a.length).toBeGreaterThan(300);
    const { m } = axisOf([round], 0.002);
    expect(m.a.length).toBeLessThan(60);
    expect(axisOf([rect(0, 0, 10, 4)], 0.002).m.a).toHaveLength(5);
  });

  it('never prunes a part away', () => {
    const disc = Array.from({ length: 200 }, (_, k) => (k % 2 ? Math.sin : Math.cos)((Math.floor(k / 2) * 2 * Math.PI) / 100));
    expect(axisOf([disc], 0.002).m.a.length).toBeGreaterThanOrEqual(1);
  });
});

describe('VoronoiEngine', () => {
  it('takes nothing, and refuses what is not four numbers a segment', () => {
    expect(engine.build(new Int32Array(0)).edges).toHaveLength(0);
    expect(() => engine.build(new Int32Array(3))).toThrow('four numbers');
  });
  it('answers the same after a large diagram as before it', () => {
    const square = Int32Array.from([0, 0, 100, 0, 100, 0, 100, 100, 100, 100, 0, 100, 0, 100, 0, 0]);
    const first = engine.build(square);
    const big: number[] = [];
    for (let i = 0; i < 5000; i++) big.push(i * 10, 0, i * 10 + 5, 7);
    engine.build(Int32Array.from(big));
    expect(engine.build(square)).toEqual(first);
  });
});
