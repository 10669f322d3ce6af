import { describe, expect, it } from 'vitest';
import { createLayMap, type PlaneMap } from '../src/core/lay/layMap';
import { computeLayGrid } from '../src/core/lay/layGrid';
import { createLay, type Lay } from '../src/core/job/laySchema';
import type { BlankOf } from '../src/core/job/blankSchema';
import { createBlank } from '../src/core/job/defaults';
import { createMeridian } from '../src/core/surface/meridian';
import { createProfileNodes } from '../src/core/surface/profileShapes';
import { computeSheetScale } from '../src/core/surface/metric';
import { createSurface } from '../src/core/surface/registry';
import { createRevolved } from '../src/core/surface/revolved';
import { healSoup } from '../src/core/shape/heal';
import type { Surface } from '../src/core/surface/surface';

const lay = (patch: Partial<Lay>): Lay => ({ ...createLay(), ...patch });

describe('sphere', () => {
  const R = 15;
  const reach = Math.sqrt(R * R - 4.5 * 4.5);
  const ball = createSurface({ ...createBlank('turned'), profile: createProfileNodes('ball', 2 * R, 2 * R) });
  /** Arc length from the first neck at latitude φ from the equator. */
  const at = (latitude: number): number => R * (Math.asin(reach / R) + latitude);

  it('has curvature 1/R every way, and parallels shorter by the cosine of latitude: 0.8660 at 30°', () => {
    const k = new Float64Array(2),
      s = new Float64Array(3);
    for (const deg of [-50, -30, 0, 12, 30, 60]) {
      const x = at((deg * Math.PI) / 180);
      ball.curvatureInto(x, 7, k);
      expect(k[0]).toBeCloseTo(1 / R, 9);
      expect(k[1]).toBeCloseTo(1 / R, 9);
      computeSheetScale(ball, x, 7, s);
      expect(s[0]).toBeCloseTo(1, 9);
      expect(s[1]).toBeCloseTo(Math.cos((deg * Math.PI) / 180), 7);
    }
    // Spherical geometry, any textbook.
    computeSheetScale(ball, at(Math.PI / 6), 0, s);
    expect(s[1]).toBeCloseTo(0.866, 4);
  });

  it('walks along great circles: the place at distance s and bearing b by spherical trigonometry', () => {
    // Direct problem on the sphere (any textbook of navigation): sin φ2 = sin φ1 cos σ + cos φ1 sin σ cos b.
    const out = new Float64Array(2);
    for (const [lat, bearing, distance] of [
      [0, 0.4, 10],
      [0.3, 1.2, 18],
      [-0.5, 2.5, 12],
      [0.2, Math.PI / 2, 20],
    ] as const) {
      ball.expInto(at(lat), 0, distance * Math.cos(bearing), distance * Math.sin(bearing), out);
      const sigma = distance / R;
      const lat2 = Math.asin(Math.sin(lat) * Math.cos(sigma) + Math.cos(lat) * Math.sin(sigma) * Math.cos(bearing));
      const dLon = Math.atan2(Math.sin(bearing) * Math.sin(sigma) * Math.cos(lat), Math.cos(sigma) - Math.sin(lat) * Math.sin(lat2));
      expect(out[0]).toBeCloseTo(at(lat2), 5);
      expect(out[1]! / ball.mmPerRad).toBeCloseTo(dLon, 6);
    }
  });

  it('a draped plane shrinks across by sin(σ)/σ at distance σR from its anchor', () => {
    // Azimuthal equidistant projection: scale 1 along, σ / sin σ across (Snyder, Map Projections: A Working Manual, 1987, from memory).
    const grid = computeLayGrid(createLayMap(lay({ kind: 'drape' }), ball), ball, at(0), 0, 0.5);
    let worst = 0;
    for (let k = 0; k < grid.stretch.length; k++) {
      const p = new Float64Array(3);
      const q = grid.corners.subarray(8 * k, 8 * k + 8);
      ball.pointInto((q[0]! + q[2]! + q[4]! + q[6]!) / 4, (q[1]! + q[3]! + q[5]! + q[7]!) / 4, p);
      const sigma = Math.acos(Math.min(1, p[2]! / R));
      if (sigma < 0.1 || sigma > 0.9) continue;
      worst = Math.max(worst, Math.abs(grid.stretch[k]! - Math.sin(sigma) / sigma));
    }
    expect(worst).toBeLessThan(2e-3);
  });
});

describe('torus', () => {
  // A quarter of its inside is a saddle. Curvatures: 1/r along the tube, cos t / (R + r cos t) round. Any textbook of
  // differential geometry.
  const R = 30,
    r = 12;
  const q = Math.tan(Math.PI / 4);
  const made = createMeridian([
    { xMm: 0, diameterMm: 2 * R, join: 'corner', bulge: q },
    { xMm: 2 * r, diameterMm: 2 * R, join: 'corner', bulge: 0 },
  ]);
  const inner = createMeridian([
    { xMm: 0, diameterMm: 2 * R, join: 'corner', bulge: -q },
    { xMm: 2 * r, diameterMm: 2 * R, join: 'corner', bulge: 0 },
  ]);
  if (!made.ok || !inner.ok) throw new Error('torus');
  const options = { developable: false, boreMm: 0, seamRad: 0, refRadiusMm: R };
  it.each([
    [createRevolved(made.value, options), 1],
    [createRevolved(inner.value, options), -1],
  ] as const)('has the curvatures of its closed form (%#)', (surface, side) => {
    const k = new Float64Array(2);
    for (const t of [0.3, 0.9, 1.5, 2.2, 2.9]) {
      surface.curvatureInto(r * t, 0, k);
      // t from the first rim: the angle from the tube's outermost is t − π/2, and its cosine sin t.
      const along = side / r,
        around = Math.sin(t) / (R + side * r * Math.sin(t));
      expect(k[0]).toBeCloseTo(Math.max(along, around), 9);
      expect(k[1]).toBeCloseTo(Math.min(along, around), 9);
    }
  });
});

describe('Gauss: stretch is nothing exactly where curvature is', () => {
  // Theorema egregium: no map from a plane is true where the product of the principal curvatures is not zero.
  const names: [string, Surface, boolean][] = [
    ['cylinder', createSurface(createBlank('cylinder')), true],
    ['cone', createSurface(createBlank('cone')), true],
    ['plate', createSurface(createBlank('plate')), true],
    ['arch', createSurface(createBlank('arched')), true],
    ['barrel', createSurface(createBlank('turned')), false],
    ['waist', createSurface({ ...createBlank('turned'), profile: createProfileNodes('waist', 40, 60) }), false],
  ];
  it.each(names)('%s', (_, surface, flat) => {
    const { minX, maxX, minY, maxY } = surface.domain;
    const [x, y] = [(minX + maxX) / 2 + 3, (minY + maxY) / 2];
    const k = new Float64Array(2);
    surface.curvatureInto(x, y, k);
    expect(Math.abs(k[0]! * k[1]!) < 1e-12).toBe(flat);
    const grid = computeLayGrid(createLayMap(lay({ kind: 'drape' }), surface), surface, x, y, 4);
    const most = Math.max(...Array.from(grid.stretch, (s) => Math.abs(s - 1)));
    if (flat) expect(most).toBeLessThan(1e-3);
    else expect(most).toBeGreaterThan(0.01);
  });
});

describe('projection on a cylinder', () => {
  // y = R sin θ, stretch 1/cos θ: elementary.
  const R = 20;
  const surface = createSurface({ ...createBlank('cylinder'), diameterMm: 2 * R });
  const map = createLayMap(lay({ kind: 'project', from: 'direction' }), surface).about(40, 0);
  const out = new Float64Array(3);
  it.each([
    [0, 1],
    [15, 1.0353],
    [30, 1.1547],
    [45, 1.4142],
    [60, 2],
  ])('%d°: stretch %d', (deg, stretch) => {
    const theta = (deg * Math.PI) / 180;
    expect(map.map(3, R * Math.sin(theta), out)).toBe(true);
    expect(out[0]).toBeCloseTo(43, 9);
    expect(out[1]! / R).toBeCloseTo(theta, 6);
    const e = 0.01;
    map.map(3, R * Math.sin(theta) + e, out);
    const above = out[1]!;
    map.map(3, R * Math.sin(theta) - e, out);
    expect((above - out[1]!) / (2 * e)).toBeCloseTo(stretch, 3);
  });
});

/** A cylinder and a cone as meshes, lettered from above, against the closed forms. */
describe('drape on a mesh', () => {
  const mesh = (r0: number, r1: number, length: number, sectors: number, rings: number) => {
    const corners: number[] = [];
    const at = (i: number, k: number) => {
      const r = r0 + (i / rings) * (r1 - r0),
        t = (2 * Math.PI * (k % sectors)) / sectors;
      return [(i / rings) * length, r * Math.sin(t), r * Math.cos(t)];
    };
    for (let i = 0; i < rings; i++)
      for (let k = 0; k < sectors; k++)
        corners.push(...at(i, k), ...at(i + 1, k), ...at(i + 1, k + 1), ...at(i, k), ...at(i + 1, k + 1), ...at(i, k + 1));
    for (let k = 0; k < sectors; k++)
      corners.push(0, 0, 0, ...at(0, k), ...at(0, k + 1), length, 0, 0, ...at(rings, k + 1), ...at(rings, k));
    const made = healSoup({ corners: Float64Array.from(corners) });
    if (!made.ok) throw new Error(made.error.kind);
    return made.value;
  };
  it.each([
    ['cylinder', 20, 20, 400],
    ['cone', 12, 36, 500],
  ] as const)('%s: within the mesh’s chord error of the closed form', (_, r0, r1, sectors) => {
    const shape = mesh(r0, r1, 60, sectors, 40);
    const ax = 30,
      r = (r0 + r1) / 2;
    const chord = r1 * (1 - Math.cos(Math.PI / sectors));
    const blank: BlankOf<'free'> = {
      kind: 'free',
      source: 'm',
      shape: { file: 'm' },
      unitMm: 1,
      pick: [ax, 0, r],
      normal: [-Math.sin(Math.atan2(r1 - r0, 60)), 0, Math.cos(Math.atan2(r1 - r0, 60))],
      turnDeg: 0,
      creaseDeg: 30,
      mount: 'table',
      axisBelowMm: 0,
      zero: 'surface',
    };
    const free = createSurface(blank, { find: () => shape });
    const exact =
      r0 === r1
        ? createSurface({ ...createBlank('cylinder'), diameterMm: 2 * r0, lengthMm: 60 })
        : createSurface({ ...createBlank('cone'), datumDiameterMm: 2 * r0, farDiameterMm: 2 * r1, lengthMm: 60 });
    const map = createLayMap(lay({ kind: 'drape' }), free);
    const alpha = Math.atan2(r1 - r0, 60);
    const start = ax / Math.cos(alpha);
    const at = new Float64Array(3),
      p = new Float64Array(3),
      want = new Float64Array(3),
      sheet = new Float64Array(2);
    const worstOf = (drape: PlaneMap): number => {
      let worst = 0;
      for (let u = -12; u <= 12; u += 1.5) {
        for (let v = -14; v <= 14; v += 1.75) {
          expect(drape.map(u, v, at)).toBe(true);
          free.pointInto(at[0]!, at[1]!, p);
          exact.expInto(start, 0, u, v, sheet);
          exact.pointInto(sheet[0]!, sheet[1]!, want);
          // The mesh lies in a frame of its own: x along the slant, z along the normal, both about the pick.
          const [x, y, z] = [want[0]! - ax, want[1]!, want[2]! - r];
          const own = [x * Math.cos(alpha) + z * Math.sin(alpha), y, -x * Math.sin(alpha) + z * Math.cos(alpha)];
          worst = Math.max(worst, Math.hypot(p[0]! - own[0]!, p[1]! - own[1]!, p[2]! - own[2]!));
        }
      }
      return worst;
    };
    const [exactly, smoothly] = [worstOf(map.aboutExactly(0, 0)), worstOf(map.about(0, 0))];
    console.info(
      `drape on a meshed surface: walked ${(1000 * exactly).toFixed(2)} µm off, read from its grid ${(1000 * smoothly).toFixed(2)}, chord error ${(1000 * chord).toFixed(2)} µm`,
    );
    // Chords also are shorter than their arcs, by v·(π/N)²/6: the letters come that much farther round.
    expect(exactly).toBeLessThan(Math.hypot(chord, (14 * (Math.PI / sectors) ** 2) / 6 + 0.1 * chord));
    // Letters are read from a grid, which does not know where in a face it stands: once more the chord error.
    expect(smoothly).toBeLessThan(2 * chord);
  });
});
