import { describe, expect, it } from 'vitest';
import { createDomeBlank, domeShapes } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import { createLay, LAY_KINDS, type Lay } from '../job/laySchema';
import { createProfileNodes } from '../surface/profileShapes';
import { createSurface } from '../surface/registry';
import type { Surface } from '../surface/surface';
import { computeLayGrid, findWidestGap } from './layGrid';
import { createLayMap, describeLay, getEffectiveLay, getProjectionDirection, type PlaneMap } from './layMap';
import { createRayMap, createSmoothMap } from './smoothMap';

const lay = (patch: Partial<Lay>): Lay => ({ ...createLay(), ...patch });
const cone = createSurface({ ...createBlank('cone'), datumDiameterMm: 30, farDiameterMm: 90, lengthMm: 60 });
const barrel = createSurface({ ...createBlank('turned'), profile: createProfileNodes('barrel', 50, 70) });
const cylinder = createSurface(createBlank('cylinder'));
const dome = createSurface(createDomeBlank(), domeShapes());
const at = (map: PlaneMap, u: number, v: number): [number, number, number] => {
  const out = new Float64Array(3);
  expect(map.map(u, v, out)).toBe(true);
  return [out[0]!, out[1]!, out[2]!];
};

describe('createLayMap', () => {
  it('is the sheet itself on every true sheet, whatever the lay but projection', () => {
    for (const kind of ['wrap', 'level', 'drape'] as const) {
      expect(createLayMap(lay({ kind }), cylinder).plain).toBe(true);
      expect(createLayMap(lay({ kind }), createSurface(createBlank('plate'))).plain).toBe(true);
      expect(createLayMap(lay({ kind }), cone).plain).toBe(false);
    }
    expect(createLayMap(lay({ kind: 'project' }), cylinder).plain).toBe(false);
  });

  it('puts the anchor where it is, on every lay and surface', () => {
    for (const kind of LAY_KINDS) {
      for (const s of [cone, barrel, cylinder, dome]) {
        const [x, y] = [!s.hasRims ? 4 : 30, !s.hasRims ? -6 : 12];
        const [ax, ay] = at(createLayMap(lay({ kind }), s).about(x, y), 0, 0);
        expect(ax).toBeCloseTo(x, 6);
        expect(ay).toBeCloseTo(y, 6);
      }
    }
  });

  it('wraps a straight line on a cone so that it sags: its ends come farther from the apex than its middle', () => {
    const wrap = createLayMap(lay({ kind: 'wrap' }), cone).about(40, 0);
    expect(at(wrap, 0, 30)[0]).toBeGreaterThan(41);
    expect(at(wrap, 0, 30)[0]).toBeCloseTo(at(wrap, 0, -30)[0], 9);
  });

  it('keeps a level line at its distance from the rim, with feet at true lengths along it', () => {
    const map = createLayMap(lay({ kind: 'level' }), cone);
    expect(map.byLetter).toBe(true);
    const out = new Float64Array(2);
    for (const v of [-40, 0, 55]) {
      map.footInto(40, 7, 3, v, out);
      expect(out[0]).toBe(43);
      expect(((out[1]! - 7) / cone.mmPerRad) * cone.radiusAt(43, 0)).toBeCloseTo(v, 9);
    }
    expect(createLayMap(lay({ kind: 'level', letters: 'bent' }), cone).byLetter).toBe(false);
  });

  it('drapes with true distances from the anchor', () => {
    const p = new Float64Array(3),
      q = new Float64Array(3);
    const drape = createLayMap(lay({ kind: 'drape' }), barrel).about(35, 0);
    // Along the meridian the walk is the meridian itself.
    expect(at(drape, 10, 0)[0]).toBeCloseTo(45, 6);
    barrel.pointInto(35, 0, p);
    const [x, y] = at(drape, 0.4, 0.3);
    barrel.pointInto(x, y, q);
    expect(Math.hypot(q[0]! - p[0]!, q[1]! - p[1]!, q[2]! - p[2]!)).toBeCloseTo(0.5, 4);
  });

  it('takes a free shape’s wrap and level for drape', () => {
    expect(getEffectiveLay(lay({ kind: 'wrap' }), dome)).toBe('drape');
    expect(getEffectiveLay(lay({ kind: 'project' }), dome)).toBe('project');
  });
});

describe('projection', () => {
  it('meets the surface more and more aslant, and says how much', () => {
    const map = createLayMap(lay({ kind: 'project' }), cylinder).about(40, 0);
    for (const deg of [0, 15, 30, 45, 60]) {
      const [, , facing] = at(map, 0, 20 * Math.sin((deg * Math.PI) / 180));
      expect(facing).toBeCloseTo(Math.cos((deg * Math.PI) / 180), 4);
    }
  });
  it('has no place for what misses the blank, nor for an anchor that faces away', () => {
    const out = new Float64Array(3);
    expect(
      createLayMap(lay({ kind: 'project' }), cylinder)
        .about(40, 0)
        .map(0, 21, out),
    ).toBe(false);
    const behind = createLayMap(lay({ kind: 'project', from: 'direction', turnDeg: 180 }), cylinder).about(40, 0);
    expect(behind.map(0, 0, out)).toBe(false);
    // From inside a tube: along the axis its wall is never faced.
    expect(
      createLayMap(lay({ kind: 'project', from: 'direction', tiltDeg: 90 }), cylinder)
        .about(40, 0)
        .map(0, 0, out),
    ).toBe(false);
  });
  it('has one direction for all, or each anchor’s own', () => {
    expect(getProjectionDirection(lay({ from: 'direction', turnDeg: 90 }), cylinder, 0, 0).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([
      -0, -1, -0,
    ]);
    const [, dy, dz] = getProjectionDirection(lay({ from: 'normal' }), cylinder, 0, (20 * Math.PI) / 4);
    expect(dy).toBeCloseTo(-Math.SQRT1_2, 9);
    expect(dz).toBeCloseTo(-Math.SQRT1_2, 9);
  });
  it('is a shadow: on a dome from above it is the sheet itself', () => {
    const map = createLayMap(lay({ kind: 'project', from: 'direction' }), dome).about(2, 3);
    expect(at(map, 5, -7)[0]).toBeCloseTo(7, 6);
    expect(at(map, 5, -7)[1]).toBeCloseTo(-4, 6);
  });
});

describe('createSmoothMap', () => {
  let asked = 0;
  const base: PlaneMap = {
    map(u, v, out) {
      asked++;
      out[0] = Math.sin(u / 5) + v / 7;
      out[1] = Math.cos(v / 4) * Math.exp(u / 30);
      out[2] = 1;
      return u < 3;
    },
  };
  it('agrees with what it reads within the tolerance, over tiles and their edges', () => {
    for (const tolerance of [1e-4, 1e-6, 1e-9]) {
      const map = createSmoothMap(base, 6, tolerance);
      const want = new Float64Array(3);
      let worst = 0;
      for (let k = 0; k < 900; k++) {
        const [u, v] = [-20 + (k % 31) * 0.7, -9 + k * 0.02];
        if (u >= 2.9) continue;
        base.map(u, v, want);
        const got = at(map, u, v);
        worst = Math.max(worst, Math.abs(got[0] - want[0]!), Math.abs(got[1] - want[1]!));
      }
      expect(worst).toBeLessThan(3 * tolerance);
    }
  });
  it('asks once for each tile, and straight where the map has a hole', () => {
    const map = createSmoothMap(base, 2, 1e-6);
    at(map, 0.1, 0.1);
    const once = asked;
    for (let k = 0; k < 50; k++) at(map, -0.9 + k * 0.03, 0.7 - k * 0.02);
    expect(asked).toBe(once);
    expect(at(map, 2.95, 0)[0]).toBeCloseTo(Math.sin(2.95 / 5), 9);
    expect(map.map(3.2, 0, new Float64Array(3))).toBe(false);
  });
});

describe('createRayMap', () => {
  const ball = createSurface({ ...createBlank('turned'), profile: createProfileNodes('ball', 60, 60) });
  /** The map of a surface about a place, counting walks begun and places asked one by one. */
  const about = (s: Surface, ax: number, ay: number, toleranceMm: number) => {
    const count = { walks: 0, asked: 0 };
    const base: PlaneMap = {
      map(u, v, out) {
        count.asked++;
        out[2] = 1;
        return s.expInto(ax, ay, u, v, out);
      },
    };
    const map = createRayMap(
      base,
      (du, dv) => {
        count.walks++;
        return s.walkFrom!(ax, ay, du, dv);
      },
      8,
      toleranceMm,
    );
    return { base, map, count };
  };

  it.each([
    ['barrel', barrel, 35],
    ['ball', ball, 30],
  ] as const)('agrees on a %s with each place walked to by itself, in every direction, by few walks', (_, s, ax) => {
    const { base, map, count } = about(s, ax, 4, 2e-5);
    const want = new Float64Array(3);
    let worst = 0,
      places = 0;
    for (let r = 0; r <= 20; r += 0.37) {
      for (let t = -Math.PI; t <= Math.PI; t += 0.041) {
        expect(s.expInto(ax, 4, r * Math.cos(t), r * Math.sin(t), want)).toBe(true);
        const got = at(map, r * Math.cos(t), r * Math.sin(t));
        worst = Math.max(worst, Math.abs(got[0] - want[0]!), Math.abs(got[1] - want[1]!));
        places++;
      }
    }
    expect(worst).toBeLessThan(4e-5);
    expect(count.walks + count.asked).toBeLessThan(places / 5);
    expect(base.map(0, 0, want)).toBe(true);
  });

  it('is as true to the shape that a mesh stands for as walking over its faces is', () => {
    const { base, map } = about(dome, 2, -3, 2 * dome.chordMm!);
    const R = 40,
      n = [2 / R, -3 / R, Math.sqrt(R * R - 13) / R];
    const e = [1 / Math.hypot(1, n[0]! / n[2]!), 0, -n[0]! / n[2]! / Math.hypot(1, n[0]! / n[2]!)];
    const w = [n[1]! * e[2]! - n[2]! * e[1]!, n[2]! * e[0]! - n[0]! * e[2]!, n[0]! * e[1]! - n[1]! * e[0]!];
    const out = new Float64Array(3);
    // Great circles of the ball, in closed form.
    const errors = (m: PlaneMap): number[] => {
      const all: number[] = [];
      for (let u = -18; u <= 18; u += 0.7) {
        for (let v = -18; v <= 18; v += 0.9) {
          if (!m.map(u, v, out)) continue;
          const d = Math.hypot(u, v),
            c = Math.cos(d / R),
            s = Math.sin(d / R) / d;
          all.push(Math.hypot(...[0, 1].map((k) => R * (c * n[k]! + s * (u * e[k]! + v * w[k]!)) - out[k]!)));
        }
      }
      return all.sort((p, q) => p - q);
    };
    const walked = errors(base),
      read = errors(map);
    expect(read.length).toBe(walked.length);
    for (const share of [0.5, 0.95, 0.9999])
      expect(read[Math.floor(share * read.length)]!).toBeLessThan(1.1 * walked[Math.floor(share * walked.length)]!);
  });

  it('ends where the surface ends, without asking of every place beyond', () => {
    const { base, map, count } = about(dome, 2, -3, 2 * dome.chordMm!);
    const out = new Float64Array(3);
    let differ = 0,
      places = 0;
    for (let u = -60; u <= 60; u += 1.7) {
      for (let v = -60; v <= 60; v += 1.9) {
        if (base.map(u, v, out) !== map.map(u, v, out)) differ++;
        places++;
      }
    }
    expect(differ).toBe(0);
    // Each was asked once to compare.
    expect(count.asked - places).toBeLessThan(4 * places);
    const before = count.asked;
    for (let k = 0; k < 1000; k++) expect(map.map(500 + k / 10, 300, out)).toBe(false);
    expect(count.asked - before).toBeLessThan(60);
  });

  it('says no to what is not a number or out of all reach, and does not count its way there', () => {
    const { map } = about(barrel, 35, 0, 2e-5);
    const out = new Float64Array(3);
    expect(map.map(NaN, 0, out)).toBe(false);
    expect(map.map(Infinity, 3, out)).toBe(false);
    const start = performance.now();
    map.map(1e7, 1e7, out);
    expect(performance.now() - start).toBeLessThan(500);
  });
});

describe('computeLayGrid', () => {
  it('is true everywhere on a wrapped cone, and grows with the bend where letters bend', () => {
    const wrap = computeLayGrid(createLayMap(lay({ kind: 'wrap' }), cone), cone, 40, 0, 2);
    expect(wrap.stretch.length).toBeGreaterThan(500);
    wrap.stretch.forEach((s) => expect(Math.abs(s - 1)).toBeLessThan(2e-3));
    const bent = computeLayGrid(createLayMap(lay({ kind: 'level', letters: 'bent' }), cone), cone, 40, 0, 2);
    // Width stretch at height u over the line: r(x + u) / r(x).
    bent.stretch.forEach((s, k) => {
      const x = (bent.corners[8 * k]! + bent.corners[8 * k + 2]! + bent.corners[8 * k + 4]! + bent.corners[8 * k + 6]!) / 4;
      expect(s).toBeCloseTo(cone.radiusAt(x, 0) / cone.radiusAt(40, 0), 6);
    });
  });
  it('ends where the projection ends', () => {
    const grid = computeLayGrid(createLayMap(lay({ kind: 'project' }), cylinder), cylinder, 40, 0, 1);
    expect(Math.max(...grid.stretch)).toBeGreaterThan(2);
    grid.facing.forEach((f) => expect(f).toBeGreaterThan(0));
  });
});

describe('findWidestGap', () => {
  it('finds the widest, over the start of the turn as well', () => {
    expect(findWidestGap([{ minY: -10, maxY: 10 }], 100)).toMatchObject({ widthMm: 80 });
    const gap = findWidestGap(
      [
        { minY: 20, maxY: 40 },
        { minY: 50, maxY: 90 },
      ],
      100,
    )!;
    expect(gap.widthMm).toBeCloseTo(30, 9);
    expect(((gap.middleY % 100) + 100) % 100).toBeCloseTo(5, 9);
  });
  it('has none where lettering goes all the way round, and the whole turn where there is none', () => {
    expect(findWidestGap([{ minY: 0, maxY: 100 }], 100)).toBeNull();
    expect(
      findWidestGap(
        [
          { minY: -60, maxY: 10 },
          { minY: 0, maxY: 45 },
        ],
        100,
      ),
    ).toBeNull();
    expect(findWidestGap([], 100)).toMatchObject({ widthMm: 100 });
  });
});

describe('describeLay', () => {
  it('says in one sentence what each keeps and bends, on every kind of blank', () => {
    for (const kind of LAY_KINDS)
      for (const s of [cylinder, cone, barrel, dome])
        for (const letters of ['rigid', 'bent'] as const) expect(describeLay(kind, letters, s)).toMatch(/^[A-Z].{30,}\.$/);
  });
});
