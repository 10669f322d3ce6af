import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createDomeBlank, createRandom, domeShapes, getDomeMesh } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import type { Blank } from '../job/schema';
import { createArched } from './arched';
import { computeConeFigures, createCone } from './cone';
import { createCylinder } from './cylinder';
import { createProfileNodes } from './profileShapes';
import { createPlate } from './plate';
import { createSurface, NO_SHAPES } from './registry';
import type { Surface } from './surface';

const round = { boreMm: 0, zero: 'axis' as const, seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 };
const blanks: [string, Blank, number][] = [
  ['cylinder', createBlank('cylinder'), 1e-9],
  ['cone', createBlank('cone'), 1e-9],
  ['cone that narrows', { ...createBlank('cone'), datumDiameterMm: 60, farDiameterMm: 20 }, 1e-9],
  ['barrel', createBlank('turned'), 1e-8],
  ['waist', { kind: 'turned', profile: createProfileNodes('waist', 40, 60), ...round }, 1e-6],
  ['dome', { kind: 'turned', profile: createProfileNodes('dome', 40, 30), ...round }, 1e-8],
  ['plate', createBlank('plate'), 1e-9],
  ['inclined plate', { ...createBlank('plate'), inclineDeg: 35, inclineTowards: 'y' }, 1e-9],
  ['disc', { ...createBlank('plate'), shape: 'disc', inclineDeg: -20 }, 1e-9],
  ['arched, convex, on the table', createBlank('arched'), 1e-9],
  ['arched, convex, on the rotary', { ...createBlank('arched'), mount: 'rotary', zero: 'axis' }, 1e-9],
  ['arched, concave', { ...createBlank('arched'), side: 'concave' }, 1e-9],
  ['free shape', createDomeBlank(), 1e-6],
];
const inside = (s: Surface, u: number, v: number): [number, number] => {
  const { minX, maxX, minY, maxY } = s.domain;
  // A disc and a patch of a dome are seen within their inscribed square.
  const k = s.outline ? 0.6 : 0.9;
  return [(minX + maxX) / 2 + k * (u - 0.5) * (maxX - minX), (minY + maxY) / 2 + k * (v - 0.5) * (maxY - minY)];
};
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe.each(blanks)('surface of a %s', (name, blank, precision) => {
  const s = createSurface(blank, domeShapes());
  const free = name === 'free shape';
  const each = (check: (x: number, y: number) => void) =>
    fc.assert(
      fc.property(share, share, (u, v) => check(...inside(s, u, v))),
      { seed: 31, numRuns: 60 },
    );
  const differ = (x: number, y: number, e: number) => {
    const [a, b, c, d] = [new Float64Array(3), new Float64Array(3), new Float64Array(3), new Float64Array(3)];
    s.pointInto(x + e, y, a);
    s.pointInto(x - e, y, b);
    s.pointInto(x, y + e, c);
    s.pointInto(x, y - e, d);
    return { px: [0, 1, 2].map((k) => (a[k]! - b[k]!) / (2 * e)), py: [0, 1, 2].map((k) => (c[k]! - d[k]!) / (2 * e)) };
  };
  const dot = (a: number[], b: number[]) => a.reduce((t, v, k) => t + v * b[k]!, 0);

  it('is right-handed: e_x × e_y points out of the material, along a unit normal', () =>
    each((x, y) => {
      const { px, py } = differ(x, y, 1e-4);
      const f = new Float64Array(6);
      s.frameInto(x, y, f);
      const n = [px[1]! * py[2]! - px[2]! * py[1]!, px[2]! * py[0]! - px[0]! * py[2]!, px[0]! * py[1]! - px[1]! * py[0]!];
      const l = Math.hypot(...n);
      expect(Math.hypot(f[3]!, f[4]!, f[5]!)).toBeCloseTo(1, 6);
      // A mesh has flat faces under smooth normals.
      expect(
        dot(
          n.map((v) => v / l),
          [f[3]!, f[4]!, f[5]!],
        ),
      ).toBeGreaterThan(free ? 0.9995 : 1 - 1e-7);
    }));

  it('is met by a ray where the ray says, from any side that faces it', () => {
    if (!s.rayInto) return;
    const random = createRandom(17);
    let met = 0;
    each((x, y) => {
      const f = new Float64Array(6),
        p = new Float64Array(3),
        out = new Float64Array(2);
      s.frameInto(x, y, f);
      // A direction into the material, up to 60° off the normal.
      const d = [3, 4, 5].map((k) => -f[k]! + 0.9 * (random() - 0.5));
      const length = Math.hypot(...d);
      const unit = d.map((v) => v / length);
      const start = [0, 1, 2].map((k) => f[k]! - 0.3 * unit[k]!);
      const facing = s.rayInto!(start, unit, out);
      if (!(facing > 0)) return;
      met++;
      s.frameInto(out[0]!, out[1]!, f);
      s.pointInto(out[0]!, out[1]!, p);
      // The place lies on the ray, ahead of its start, and the cosine is the one to the normal there.
      const way = [0, 1, 2].map((k) => p[k]! - start[k]!);
      const ahead = dot(way, unit);
      expect(ahead).toBeGreaterThan(0);
      expect(Math.hypot(...way.map((v, k) => v - ahead * unit[k]!))).toBeLessThan(1e-7);
      expect(facing).toBeCloseTo(-dot([f[3]!, f[4]!, f[5]!], unit), 9);
    });
    expect(met).toBeGreaterThan(50);
  });

  it('has a twin for every point near it: toSheet leads back, with the height', () =>
    each((x, y) => {
      const f = new Float64Array(6);
      s.frameInto(x, y, f);
      const lift = 0.4;
      const at = s.toSheet(f[0]! + lift * f[3]!, f[1]! + lift * f[4]!, f[2]! + lift * f[5]!);
      expect(at.x).toBeCloseTo(x, 6);
      const period = s.periodMm ?? Infinity;
      const turns = s.periodMm === null ? 0 : Math.round((at.y - y) / period);
      expect(Math.abs(at.y - y - (turns ? turns * period : 0))).toBeLessThan(1e-6);
      expect(at.heightMm).toBeCloseTo(lift, 6);
    }));

  it('says truly how the sheet stretches: metric against differences', () => {
    if (free) return;
    each((x, y) => {
      const { px, py } = differ(x, y, 1e-4);
      const g = new Float64Array(3);
      s.metricInto(x, y, g);
      expect(g[0]).toBeCloseTo(dot(px, px), 5);
      expect(g[1]).toBeCloseTo(dot(px, py), 5);
      expect(g[2]).toBeCloseTo(dot(py, py), 5);
      if (s.isometric) [1, 0, 1].forEach((v, k) => expect(g[k]).toBeCloseTo(v, 12));
    });
  });

  it('walks straight: first steps are true, and a walk there and back ends where it began', () =>
    each((x, y) => {
      const out = new Float64Array(2),
        p = new Float64Array(3),
        q = new Float64Array(3);
      s.pointInto(x, y, p);
      s.expInto(x, y, 0.02, -0.03, out);
      s.pointInto(out[0]!, out[1]!, q);
      expect(Math.hypot(q[0]! - p[0]!, q[1]! - p[1]!, q[2]! - p[2]!)).toBeCloseTo(Math.hypot(0.02, 0.03), free ? 4 : 6);
      s.expInto(x, y, 0, 0, out);
      expect(Math.hypot(out[0]! - x, out[1]! - y)).toBeLessThan(Math.max(precision, 1e-9));
    }));

  it('bends as much as it says: principal curvatures against how the normal turns', () =>
    each((x, y) => {
      const k = new Float64Array(2),
        n0 = new Float64Array(6),
        n1 = new Float64Array(6),
        out = new Float64Array(2);
      s.curvatureInto(x, y, k);
      expect(k[0]).toBeGreaterThanOrEqual(k[1]! - 1e-12);
      // Normal curvature in any direction lies between the two; a mesh only says about how much.
      for (const t of [0, 0.7, 1.9]) {
        const e = free ? 1.5 : 1e-3;
        s.frameInto(x, y, n0);
        s.expInto(x, y, e * Math.cos(t), e * Math.sin(t), out);
        s.frameInto(out[0]!, out[1]!, n1);
        const d = [0, 1, 2].map((c) => n1[c]! - n0[c]!),
          dn = [3, 4, 5].map((c) => n1[c]! - n0[c]!);
        const bend = dot(d, dn) / dot(d, d);
        const slack = free ? 0.01 : 2e-3;
        expect(bend).toBeGreaterThan(k[1]! - slack);
        expect(bend).toBeLessThan(k[0]! + slack);
      }
    }));

  it('knows its inside from its outside, and its wall', () => {
    const [x, y] = inside(s, 0.5, 0.5);
    expect(s.outsideMm(x, y)).toBe(0);
    expect(s.outsideMm(s.domain.maxX + 3, y)).toBeGreaterThan(1);
    expect(s.wallAt(x, y)).toBeGreaterThan(0);
  });
});

describe('createCone', () => {
  it('goes over into the cylinder, to the last digits, as its taper vanishes', () => {
    const cylinder = createCylinder(40, 60, 0, Math.PI);
    const a = new Float64Array(6),
      b = new Float64Array(6);
    for (const half of [1e-9, 0]) {
      const cone = createCone({ datumDiameterMm: 40, farDiameterMm: 40 + 2 * 60 * Math.tan(half), lengthMm: 60 }, 0, Math.PI);
      for (const [x, y, du, dv] of [
        [10, 5, 3, 4],
        [50, -60, -20, 30],
        [30, 0, 0, 60],
      ] as const) {
        cone.frameInto(x, (y / 20) * cone.mmPerRad, a);
        cylinder.frameInto(x, y, b);
        for (let k = 0; k < 6; k++) expect(Math.abs(a[k]! - b[k]!)).toBeLessThan(1e-6);
        cone.expInto(x, 0, du, dv, a);
        cylinder.expInto(x, 0, du, dv, b);
        expect(Math.abs(a[0]! - b[0]!)).toBeLessThan(1e-6);
        expect(Math.abs((a[1]! / cone.mmPerRad) * 20 - b[1]!)).toBeLessThan(1e-6);
      }
    }
  });
  it('has a wall that thins towards its narrow end', () => {
    const cone = createCone({ datumDiameterMm: 30, farDiameterMm: 60, lengthMm: 40 }, 20, 0);
    expect(cone.wallAt(0, 0)).toBeLessThan(cone.wallAt(40, 0));
    expect(cone.wallAt(0, 0)).toBeCloseTo(5 / Math.cos(Math.atan(15 / 40)), 9);
  });
  it.each([
    [0, 0, 10],
    [-1, 5, 10],
    [5, NaN, 10],
    [5, 5, 0],
  ])('refuses %d to %d × %d', (datumDiameterMm, farDiameterMm, lengthMm) => {
    expect(() => createCone({ datumDiameterMm, farDiameterMm, lengthMm }, 0, 0)).toThrow('createCone');
  });
  it('has no apex without taper', () =>
    expect(computeConeFigures({ datumDiameterMm: 10, farDiameterMm: 10, lengthMm: 5 })).toMatchObject({
      apexToDatumMm: Infinity,
      ratioK: Infinity,
      sectorRad: 0,
    }));
});

describe('createPlate and createArched', () => {
  it.each([[{ lengthMm: 0 }], [{ thicknessMm: -1 }], [{ inclineRad: 2 }]])('refuses %j', (patch) => {
    expect(() =>
      createPlate({ shape: 'rectangle', lengthMm: 10, widthMm: 10, thicknessMm: 1, inclineRad: 0, inclineTowards: 'x', ...patch }),
    ).toThrow('createPlate');
  });
  it.each([[{ radiusMm: 0 }], [{ chordMm: 21 }], [{ lengthMm: NaN }]])('refuses %j', (patch) => {
    expect(() =>
      createArched({ side: 'convex', radiusMm: 10, chordMm: 10, lengthMm: 10, thicknessMm: 1, origin: 'face', ...patch }),
    ).toThrow('createArched');
  });
  it('lies at z = 0 on its middle line, crown or trough', () => {
    const p = new Float64Array(3);
    for (const side of ['convex', 'concave'] as const) {
      const s = createSurface({ ...createBlank('arched'), side });
      s.pointInto(5, 0, p);
      expect(p[2]).toBeCloseTo(0, 12);
      s.pointInto(5, 10, p);
      expect(Math.sign(p[2]!)).toBe(side === 'convex' ? -1 : 1);
    }
  });
});

describe('createFreeSurface', () => {
  it('is a flat stand-in while its mesh is away', () => {
    const s = createSurface(createDomeBlank(), NO_SHAPES);
    expect(s).toMatchObject({ hasRims: false, flat: true, outline: null });
  });
  it('takes the patch the pick hangs together with, and not what lies over an edge', () => {
    const whole = createSurface(createDomeBlank(), domeShapes());
    expect(whole.domain.maxX - whole.domain.minX).toBeCloseTo(50, 1);
    // Picked on the foot, from below, only the foot is a patch.
    const foot = createSurface(
      { ...createDomeBlank(), pick: [0, 0, 40 * Math.cos(Math.asin(25 / 40))], normal: [0, 0, -1], creaseDeg: 10 },
      domeShapes(),
    );
    const k = new Float64Array(2);
    foot.curvatureInto(3, 4, k);
    expect(Math.abs(k[0]!)).toBeLessThan(1e-9);
  });
  it('knows what lies under it', () => {
    const s = createSurface(createDomeBlank(), domeShapes());
    expect(s.wallAt(0.3, 0.2)).toBeCloseTo(40 - 40 * Math.cos(Math.asin(25 / 40)), 1);
  });
  it('has nothing where nothing faces the pick', () => {
    const mesh = getDomeMesh();
    const s = createSurface(createDomeBlank(), {
      find: () => ({ ...mesh, triangles: mesh.triangles.slice(0, 0), neighbours: mesh.neighbours.slice(0, 0) }),
    });
    expect(s.outline).toBeNull();
  });
});
