import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createMeridian, describeMeridianError, type Meridian, type MeridianNode } from './meridian';
import { createProfileNodes, PROFILE_SHAPES } from './profileShapes';

const corner = (xMm: number, diameterMm: number, bulge = 0): MeridianNode => ({ xMm, diameterMm, join: 'corner', bulge });
const smooth = (xMm: number, diameterMm: number): MeridianNode => ({ xMm, diameterMm, join: 'smooth', bulge: 0 });
const made = (nodes: MeridianNode[]): Meridian => {
  const m = createMeridian(nodes);
  if (!m.ok) throw new Error(m.error.kind);
  return m.value;
};
const at = (m: Meridian, s: number) => {
  const o = new Float64Array(5);
  m.at(s, o);
  return { x: o[0]!, r: o[1]!, dx: o[2]!, dr: o[3]!, k: o[4]! };
};

describe('createMeridian', () => {
  it('runs straight between corners, by arc length, and on past its ends', () => {
    const m = made([corner(0, 40), corner(30, 120)]);
    expect(m.lengthMm).toBeCloseTo(50, 12);
    expect(at(m, 25)).toMatchObject({ x: 15, r: 40, k: 0 });
    expect(at(m, 60).r).toBeCloseTo(68, 12);
    expect(at(m, -5).x).toBeCloseTo(-3, 12);
  });

  it('makes a half-ball of two arcs of a quarter turn: r² + x² = R², curvature 1/R, poles at its ends', () => {
    const q = Math.tan(Math.PI / 8);
    const m = made([corner(0, 0, q), corner(20, 40, q), corner(40, 0)]);
    expect(m.lengthMm).toBeCloseTo(20 * Math.PI, 9);
    for (let k = 0; k <= 40; k++) {
      const p = at(m, (k / 40) * m.lengthMm);
      expect((p.x - 20) ** 2 + p.r ** 2).toBeCloseTo(400, 8);
      expect(p.k).toBeCloseTo(1 / 20, 9);
    }
  });

  it('is at unit speed with the curvature its direction has, along a spline', () => {
    const m = made([corner(0, 40), smooth(20, 28), smooth(45, 52), corner(70, 30)]);
    const e = 1e-4;
    for (let k = 1; k < 60; k++) {
      const s = (k / 60) * m.lengthMm;
      const [a, p, b] = [at(m, s - e), at(m, s), at(m, s + e)];
      // Read by cubic steps, whose slope errs by order step³.
      expect(Math.abs(Math.hypot(b.x - a.x, b.r - a.r) / (2 * e) - 1)).toBeLessThan(1e-7);
      expect(Math.hypot(p.dx, p.dr)).toBeCloseTo(1, 12);
      // κ = −φ'. The table holds it straight between its places.
      expect(-(Math.atan2(b.dr, b.dx) - Math.atan2(a.dr, a.dx)) / (2 * e)).toBeCloseTo(p.k, 2);
    }
  });

  it('passes through every place of a spline, smooth there, and keeps corners', () => {
    const nodes = [corner(0, 40), smooth(20, 28), smooth(45, 52), corner(70, 30), corner(90, 30)];
    const m = made(nodes);
    for (const n of nodes) expect(Math.abs(m.nearest(n.xMm, n.diameterMm / 2).offMm)).toBeLessThan(1e-6);
    const smoothAt = m.nearest(20, 14).s,
      cornerAt = m.joints[1]!;
    const bend = (s: number) =>
      Math.abs(Math.atan2(at(m, s + 1e-6).dr, at(m, s + 1e-6).dx) - Math.atan2(at(m, s - 1e-6).dr, at(m, s - 1e-6).dx));
    expect(bend(smoothAt)).toBeLessThan(1e-5);
    expect(bend(cornerAt)).toBeGreaterThan(0.2);
  });

  it('finds the nearest place, with the side it lies on', () => {
    const m = made(createProfileNodes('barrel', 50, 70));
    fc.assert(
      fc.property(fc.double({ min: 1, max: 69, noNaN: true }), fc.double({ min: -3, max: 8, noNaN: true }), (s, off) => {
        const p = at(m, s);
        const found = m.nearest(p.x - off * p.dr, p.r + off * p.dx);
        expect(found.s).toBeCloseTo(s, 6);
        expect(found.offMm).toBeCloseTo(off, 6);
      }),
      { seed: 4 },
    );
  });

  it('is the same whichever end the table begins at', () => {
    const forth = made([corner(0, 30, 0.2), corner(50, 40)]),
      back = made([corner(50, 40, 0.2), corner(0, 30)]);
    for (const s of [0, 10, 33, 50]) expect(at(back, s).r).toBeCloseTo(at(forth, s).r, 9);
  });

  it.each([
    [[corner(0, 10)], 'tooFew', /at least two/],
    [[corner(0, 10), corner(0, 10)], 'noLength', /same spot/],
    [[corner(0, 10), smooth(20, 0), corner(25, 60)], 'belowAxis', /crosses the axis/],
    [[corner(0, 20), corner(20, 0), corner(40, 20)], 'poleInside', /touches the axis/],
    [[corner(0, 20), corner(40, 60), corner(40, 20), corner(10, 70)], 'crossesItself', /crosses itself/],
  ] as const)('refuses %j: %s', (nodes, kind, words) => {
    const m = createMeridian(nodes as readonly MeridianNode[]);
    expect(m.ok).toBe(false);
    if (!m.ok) {
      expect(m.error.kind).toBe(kind);
      expect(describeMeridianError(m.error)).toMatch(words);
    }
  });
  it('takes a pole at an end', () => expect(made([corner(0, 30), corner(20, 0)]).minRadiusMm).toBeCloseTo(0, 12));
});

describe('createProfileNodes', () => {
  it.each(PROFILE_SHAPES)('%s is as thick as asked for, and can be turned', (shape) => {
    for (const [d, l] of [
      [50, 70],
      [30, 12],
      [8, 200],
    ] as const)
      expect(made(createProfileNodes(shape, d, l)).maxRadiusMm).toBeCloseTo(d / 2, 2);
  });
  it('gives a ball that is one', () => {
    const m = made(createProfileNodes('ball', 30, 30));
    for (let k = 0; k <= 20; k++) expect(at(m, (k / 20) * m.lengthMm).k).toBeCloseTo(1 / 15, 9);
  });

  it('joined smoothly to an arc, runs on as the arc does, on either side, straight or through places', () => {
    const node = (xMm: number, diameterMm: number, join: 'corner' | 'smooth', bulge = 0) => ({ xMm, diameterMm, join, bulge });
    for (const nodes of [
      [node(0, 40, 'corner'), node(20, 40, 'smooth', 0.3), node(40, 40, 'smooth'), node(60, 40, 'corner')],
      [
        node(0, 40, 'corner'),
        node(10, 42, 'smooth'),
        node(20, 40, 'smooth', 0.3),
        node(40, 40, 'smooth'),
        node(50, 38, 'smooth'),
        node(60, 40, 'corner'),
      ],
    ]) {
      const made = createMeridian(nodes);
      if (!made.ok) throw new Error(made.error.kind);
      const [before, after] = [new Float64Array(5), new Float64Array(5)];
      for (const s of made.value.joints.slice(1, -1)) {
        made.value.at(s - 1e-7, before);
        made.value.at(s + 1e-7, after);
        expect(before[2]! * after[2]! + before[3]! * after[3]!).toBeGreaterThan(1 - 1e-9);
      }
      // It still goes through the places, and the curve by arc length is true.
      const at = new Float64Array(5);
      for (const n of nodes) {
        const { s } = made.value.nearest(n.xMm, n.diameterMm / 2);
        made.value.at(s, at);
        expect(Math.hypot(at[0]! - n.xMm, at[1]! - n.diameterMm / 2)).toBeLessThan(1e-6);
      }
    }
  });

  it('joined by a corner to an arc, stays a line', () => {
    const made = createMeridian([
      { xMm: 0, diameterMm: 40, join: 'corner', bulge: 0 },
      { xMm: 20, diameterMm: 40, join: 'corner', bulge: 0.3 },
      { xMm: 40, diameterMm: 40, join: 'corner', bulge: 0 },
    ]);
    const at = new Float64Array(5);
    if (made.ok) made.value.at(10, at);
    expect([...at]).toEqual([10, 20, 1, 0, 0]);
  });
});
