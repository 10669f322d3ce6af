import { describe, expect, it } from 'vitest';
import { asWork, createRandom, getEngines, rect, ringsOf } from '../../../tests/support';
import { computeMedialAxis } from '../medial/medialAxis';
import { createOutline, type Outline } from '../medial/outline';
import { createCylinder } from '../surface/cylinder';
import { createContactSolver } from './contact';
import { computeFloor } from './floor';
import { findGrooveHalfWidths } from './grooveWidth';
import { keepToAllowed } from './keepToAllowed';
import { createBallVProfile, createProfile, createVProfile, type Profile } from './profile';
import { computeTrails } from './trails';
import { computeTrueAxis } from './trueAxis';
import { STARTER_TOOLS } from '../crib/starterTools';

const outline = (...parts: number[][]): Outline => {
  const made = createOutline(ringsOf(...parts));
  if (!made.ok) throw new Error(made.error.kind);
  return made.value;
};
const L = [10, -6, 16, -6, 16, -2, 13, -2, 13, 6, 10, 6];

/** The allowed depth by looking at close places along the whole outline. */
function bruteDepth(o: Outline, R: number, profile: Profile, x: number, y: number): number {
  const at = (u: number, v: number) => [u, R * Math.sin(v / R), R * Math.cos(v / R)] as const;
  const s = at(x, y);
  const n = [0, Math.sin(y / R), Math.cos(y / R)];
  let least = Infinity;
  for (let i = 0; i < o.segmentCount; i++) {
    const j = o.next[i]!;
    // 3 µm apart: places between them allow less by at most 1e-5 at this clearance.
    const n0 = Math.ceil(Math.hypot(o.xy[2 * j]! - o.xy[2 * i]!, o.xy[2 * j + 1]! - o.xy[2 * i + 1]!) / 0.003);
    for (let k = 0; k <= n0; k++) {
      const p = at(
        o.xy[2 * i]! + (k / n0) * (o.xy[2 * j]! - o.xy[2 * i]!),
        o.xy[2 * i + 1]! + (k / n0) * (o.xy[2 * j + 1]! - o.xy[2 * i + 1]!),
      );
      const q = p.map((v, c) => v - s[c]!);
      const drop = -(q[0]! * n[0]! + q[1]! * n[1]! + q[2]! * n[2]!);
      const lateral = Math.hypot(...q.map((v, c) => v + drop * n[c]!));
      least = Math.min(least, drop + profile.heightAt(lateral));
    }
  }
  return least;
}

describe('createContactSolver', () => {
  const o = outline(L);
  const R = 8;
  const surface = asWork(createCylinder(2 * R, 60, 0, Math.PI));
  it.each([
    ['a sharp V', createVProfile(90, 0)],
    ['a blunt V', createVProfile(60, 0.3)],
    ['a ball V', createBallVProfile(60, 0.2)],
  ])('finds the least allowed depth for %s, as close places along the outline do', (_, profile) => {
    const solver = createContactSolver(o, surface, profile);
    const random = createRandom(12);
    for (let n = 0; n < 40; n++) {
      const [x, y] = [10.2 + random() * 2.6, -5.8 + random() * 11.6];
      solver.moveTo(x, y);
      const contact = solver.findLeast(solver.findContact(o.index!.neighbors(x, y, 1)[0]!));
      const brute = bruteDepth(o, R, profile, x, y);
      expect(contact.depthMm).toBeLessThan(brute + 1e-5);
      expect(contact.depthMm).toBeGreaterThan(brute - 2e-5);
    }
  });

  it('tells ink from what is beside it, at corners of either kind as well', () => {
    const solver = createContactSolver(o, surface, createVProfile(90, 0));
    const random = createRandom(7);
    const inL = (x: number, y: number): boolean => x > 10 && y > -6 && y < 6 && (x < 13 || (x < 16 && y < -2));
    let inside = 0;
    for (let n = 0; n < 600; n++) {
      // A third of them close to the corner that goes inward.
      const [x, y] = n % 3 ? [9 + 8 * random(), -7 + 14 * random()] : [13 + 0.2 * (random() - 0.5), -2 + 0.2 * (random() - 0.5)];
      solver.moveTo(x, y);
      const told = solver.isInside(solver.findLeast(solver.findContact(o.index!.neighbors(x, y, 1)[0]!)));
      expect(told, `${x}, ${y}`).toBe(inL(x, y));
      if (told) inside++;
    }
    expect(inside).toBeGreaterThan(150);
    expect(inside).toBeLessThan(450);
  });
  it('parts a path where it would go deeper than is allowed, and where only a quarter of it would', () => {
    const profile = createVProfile(90, 0);
    const solver = createContactSolver(o, surface, profile);
    // Along the upright, from its middle over to one wall and back to the other.
    for (const path of [
      [11.5, 5, 1.2, 12.6, 4, 1.2],
      [10.6, 5, 0.5, 12.4, -1, 0.5],
      [11.5, 5, 0.9, 11.5, -5, 0.9],
    ]) {
      const kept = keepToAllowed(Float64Array.from(path), solver, o);
      // All but the first and the last piece, whose outer ends are taken as they are.
      for (let i = 6; i < kept.length - 3; i += 3) {
        for (const t of [0.25, 0.5, 0.75]) {
          const [x, y, d] = [0, 1, 2].map((c) => kept[i - 3 + c]! + t * (kept[i + c]! - kept[i - 3 + c]!)) as [number, number, number];
          expect(d).toBeLessThan(bruteDepth(o, R, profile, x, y) + 0.003);
        }
      }
    }
    expect(keepToAllowed(Float64Array.from([11.5, 5, 1.2, 12.6, 4, 1.2]), solver, o).length).toBeGreaterThan(6);
    expect([...keepToAllowed(Float64Array.from([11.5, 4, 0.9, 11.5, 0, 0.9]), solver, o)]).toEqual([11.5, 4, 0.9, 11.5, 0, 0.9]);
  });

  it('tells how fast the depth falls towards a contact', () => {
    const solver = createContactSolver(o, surface, createVProfile(90, 0));
    solver.moveTo(11, 0);
    expect(solver.slopeAt(solver.findContact(o.index!.neighbors(11, 0, 1)[0]!))).toBeCloseTo(1, 3);
  });
});

describe('profiles', () => {
  it('have height and half-width as inverses of each other', () => {
    for (const p of [createVProfile(60, 0.2), createVProfile(90, 0), createBallVProfile(45, 0.4)]) {
      for (const h of [0.01, 0.1, 0.5, 3]) expect(p.heightAt(p.halfWidthAt(h))).toBeCloseTo(h, 9);
      expect(p.heightAt(0)).toBe(0);
      expect(p.halfWidthAt(-1)).toBe(0);
    }
  });
  it.each([
    [0, 0],
    [180, 0],
    [60, -1],
    [NaN, 0],
  ])('refuse an angle of %d or a tip of %d', (angle, tip) => expect(() => createVProfile(angle, tip)).toThrow('createVProfile'));
  it('come from every tool of the drawer', () =>
    STARTER_TOOLS.forEach((t) => expect(createProfile(t).halfWidthAt(0.1)).toBeGreaterThan(0)));
});

describe('computeTrueAxis and computeTrails', () => {
  it('use every edge of the axis once, in few strokes, none deeper than the outline allows', async () => {
    const o = outline(L);
    const surface = asWork(createCylinder(16, 60, 0, Math.PI));
    const profile = createVProfile(90, 0);
    const m = computeMedialAxis(o, (await getEngines()).voronoi, 0.002);
    const axis = computeTrueAxis(o, m, surface, createContactSolver(o, surface, profile));
    const trails = computeTrails(m, axis);
    const points = axis.edgePoints.reduce((sum, p) => sum + p.length / 3 - 1, 0);
    expect(trails.reduce((sum, t) => sum + t.length / 3 - 1, 0)).toBe(points);
    expect(trails.length).toBeLessThan(m.a.length);
    for (const t of trails)
      for (let i = 0; i < t.length; i += 3) expect(t[i + 2]!).toBeLessThan(bruteDepth(o, 8, profile, t[i]!, t[i + 1]!) + 2e-5);
  });
});

describe('computeFloor', () => {
  const surface = asWork(createCylinder(16, 60, 0, Math.PI));
  const profile = createVProfile(90, 0);
  it('has a groove wider along the cylinder than round it at one depth', () => {
    const [along, round] = findGrooveHalfWidths(surface, profile, 0.5, 20, 0);
    expect(along).toBeCloseTo(0.5, 6);
    expect(round).toBeLessThan(along);
    // Closed form: R(1 − cos φ) + R sin φ = depth.
    const phi = round / 8;
    expect(8 * (1 - Math.cos(phi)) + 8 * Math.sin(phi)).toBeCloseTo(0.5, 6);
  });
  it('runs along the wall where exactly the depth is allowed, and closes every pass', () => {
    const o = outline(rect(10, -5, 22, 5));
    const solver = createContactSolver(o, surface, profile);
    const passes = computeFloor(o, surface, profile, solver, 0.5);
    expect(passes.length).toBeGreaterThan(10);
    for (const p of passes) expect([p[0], p[1]]).toEqual([p.at(-3), p.at(-2)]);
    for (let i = 0; i < passes[0]!.length; i += 3) {
      const allowed = bruteDepth(o, 8, profile, passes[0]![i]!, passes[0]![i + 1]!);
      expect(passes[0]![i + 2]!).toBeLessThan(allowed + 1e-4);
      expect(allowed).toBeLessThan(0.52);
    }
  });
  it('has none where nothing is wide enough', () => {
    const o = outline(rect(10, -0.3, 22, 0.3));
    expect(computeFloor(o, surface, profile, createContactSolver(o, surface, profile), 0.5)).toEqual([]);
  });
});
