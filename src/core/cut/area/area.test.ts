import { describe, expect, it } from 'vitest';
import { asWork, leaningPlate, ringsOf } from '../../../../tests/support';
import { computeArea, subtractRings, thickenLines } from '../../base/boolean';
import type { Rings } from '../../base/rings';
import { runSteps } from '../../base/steps';
import { createCylinder } from '../../surface/cylinder';
import { createPlate } from '../../surface/plate';
import { createMillProfile, createVProfile } from '../profile';
import { clearArea, findWidestMm } from './areaPasses';
import { Clearance } from './clearance';
import { enterStroke } from './entry';
import { fillAlong, fillRows } from './fill';
import { leadInAndOut, measureWay, placeTabs, raiseOverTabs, type LengthOf, type Tabs } from './tabs';
import { loopCorners, passAlongWalls, passAround } from './wallPasses';

const box = (x0: number, y0: number, x1: number, y1: number): number[] => [x0, y0, x1, y0, x1, y1, x0, y1];
const hole = (x0: number, y0: number, x1: number, y1: number): number[] => [x0, y0, x0, y1, x1, y1, x1, y0];
const plate = asWork(createPlate({ lengthMm: 100, widthMm: 60, thicknessMm: 5, inclineRad: 0, inclineTowards: 'x', shape: 'rectangle' }));
const R = 10;
const cylinder = asWork(createCylinder(2 * R, 80, 0, Math.PI));
const mill = (radiusMm: number, stepMm: number) => ({ profile: createMillProfile(radiusMm, 0), radiusMm, stepMm });
const ALONG = { by: 'along', direction: 'climb' } as const;
const xyOf = (s: Float64Array): number[] => Array.from(s).filter((_, i) => i % 3 < 2);
const clear = (work: typeof plate, region: Rings, cutters: ReturnType<typeof mill>[], depth = 0.5) =>
  runSteps(clearArea(work, region, region, depth, cutters, ALONG));

describe('Clearance: how far a cutter stands from an outline', () => {
  const outline = ringsOf(box(-30, -5, 30, 5));

  it('on a plate is the distance less the cutter’s width', () => {
    const c = new Clearance(plate, outline, createVProfile(60, 0.2));
    const width = 0.1 + 0.6 * Math.tan(Math.PI / 6);
    expect(c.measure(0, 4.5, 0.6)).toBeCloseTo(0.5 - width, 9);
  });

  it('round a cylinder a flat end meets the surface at the lateral distance of its radius: R·asin(c/R) (geometry of a circle)', () => {
    const c = new Clearance(cylinder, outline, createMillProfile(3, 0));
    expect(c.measure(0, 5 - R * Math.asin(0.3), 2)).toBeCloseTo(0, 4);
    expect(c.measure(0, 5 - 3, 2)).toBeCloseTo(R * Math.sin(0.3) - 3, 4);
  });

  it('a V beside a line along a cylinder: lateral R·sin φ against (d − R(1 − cos φ))·tan β', () => {
    const [depth, phi] = [0.8, 0.06];
    const c = new Clearance(cylinder, outline, createVProfile(90, 0));
    const wanted = R * Math.sin(phi) - (depth - R * (1 - Math.cos(phi)));
    expect(c.measure(0, 5 - R * phi, depth, 2)).toBeCloseTo(wanted, 4);
  });

  it('settles places on the wall', () => {
    const c = new Clearance(cylinder, outline, createMillProfile(3, 0));
    const place = new Float64Array(2);
    expect(c.settle(3, 2.05, 2, place)).toBeCloseTo(6e-4, 4);
    expect(place[1]).toBeCloseTo(5 - R * Math.asin(0.3), 2);
    expect(place[1]).toBeLessThan(5 - R * Math.asin(0.3));
  });
});

describe('passes along walls', () => {
  const outline = ringsOf(box(20, -8, 60, 8));

  it('inside a box round a cylinder lie c in along it and R·asin(c/R) in round it', () => {
    const [pass] = passAlongWalls(cylinder, outline, 1, createMillProfile(2, 0), 'climb');
    const xs = xyOf(pass!).filter((_, i) => i % 2 === 0),
      ys = xyOf(pass!).filter((_, i) => i % 2 === 1);
    // Left clear by 0.6 µm, for what chords cut off.
    expect(Math.min(...xs)).toBeCloseTo(22.0006, 3);
    expect(Math.max(...ys)).toBeCloseTo(8 - R * Math.asin(0.2) - 6e-4, 3);
  });

  const areaOf = (pass: Float64Array): number =>
    computeArea({ xy: Float64Array.from(xyOf(pass).slice(0, -2)), starts: new Uint32Array([0, pass.length / 3 - 1]) });

  it('climb milling has the wall on the right: counter-clockwise inside, clockwise outside (facts of the trade, from memory)', () => {
    const profile = createMillProfile(1, 0);
    expect(areaOf(passAlongWalls(plate, outline, 1, profile, 'climb')[0]!)).toBeGreaterThan(0);
    expect(areaOf(passAlongWalls(plate, outline, 1, profile, 'conventional')[0]!)).toBeLessThan(0);
    expect(areaOf(passAround(plate, outline, 1, profile, 'climb', 'round')[0]!)).toBeLessThan(0);
  });

  it('outside, corners are rounded, run out, or passed and come into again', () => {
    const profile = createMillProfile(1, 0);
    const grown = 42 * 18;
    const round = passAround(plate, outline, 1, profile, 'conventional', 'round')[0]!;
    // 0.6 µm outside all the way round.
    expect(areaOf(round)).toBeCloseTo(grown - (4 - Math.PI) + 6e-4 * 120, 1);
    const sharp = passAround(plate, outline, 1, profile, 'conventional', 'sharp')[0]!;
    expect(areaOf(sharp)).toBeCloseTo(grown, 2);
    const looped = loopCorners(sharp, 2);
    expect(looped.length / 3).toBe(sharp.length / 3 + 3 * 4);
  });

  it.each(['round', 'sharp'] as const)(
    'under a V that leans by λ walls are met at d / (cot β − tan λ) uphill and d / (cot β + tan λ) downhill, corners %s (geometry)',
    (corners) => {
      const lean = (20 * Math.PI) / 180;
      const work = leaningPlate(20);
      expect(work.alongNormal).toBe(false);
      const square = ringsOf(box(30, -5, 50, 5));
      const ways = passAround(work, square, 0.6, createVProfile(90, 0), 'climb', corners);
      expect(ways).toHaveLength(1);
      const way = ways[0]!;
      const [edge, place] = [new Float64Array(3), new Float64Array(3)];
      /** How far beside the tool the walls along x are where the way passes them, above and below. */
      const beside = [5, -5].map((wallY) => {
        const found: number[] = [];
        for (let i = 3; i < way.length; i += 3) {
          const [ax, ay, bx, by] = [way[i - 3]!, way[i - 2]!, way[i]!, way[i + 1]!];
          for (const x of [31, 40, 49]) {
            const t = (x - ax) / (bx - ax);
            if (!(t >= 0 && t < 1) || Math.sign(ay) !== Math.sign(wallY) || Math.sign(by) !== Math.sign(wallY)) continue;
            work.pointInto(x, wallY, edge);
            work.pointInto(x, ay + t * (by - ay), place);
            found.push(Math.hypot(edge[0]! - place[0]!, edge[1]! - place[1]!));
          }
        }
        expect(found).toHaveLength(3);
        return found;
      });
      const depth = way[2]!;
      const wanted = [depth / (1 - Math.tan(lean)), depth / (1 + Math.tan(lean))].sort((a, b) => a - b);
      const sides = beside.sort((a, b) => a[0]! - b[0]!);
      sides.forEach((found, k) => found.forEach((v) => expect(v).toBeCloseTo(wanted[k]!, 2)));
      if (corners === 'sharp') {
        // It runs out to four points, each where the lines of two walls meet.
        const all = xyOf(way);
        const [xs, ys] = [all.filter((_, i) => i % 2 === 0), all.filter((_, i) => i % 2)];
        for (const x of [Math.min(...xs), Math.max(...xs)])
          for (const y of [Math.min(...ys), Math.max(...ys)])
            expect(Math.min(...xs.map((v, i) => Math.hypot(v - x, ys[i]! - y)))).toBeLessThan(0.02);
      }
    },
  );
});

describe('filling an area', () => {
  const ring = ringsOf(box(0, 0, 30, 20), hole(10, 8, 18, 12));
  const cover = (lines: readonly { xy: Float64Array }[], radius: number): number =>
    computeArea(
      subtractRings(
        ring,
        thickenLines(
          lines.map((l) => l.xy),
          radius,
          0.001,
        ),
      ),
    );

  it('every place is within a step of a pass, and links stay inside', () => {
    for (const step of [0.4, 0.9, 1.7]) {
      const lines = runSteps(fillAlong(ring, step, false));
      expect(cover(lines, step + 0.002)).toBeLessThan(1e-3);
      // A link across the island or out of the area would leave something of itself there.
      const out = subtractRings(
        thickenLines(
          lines.map((l) => l.xy),
          0.001,
          0.001,
        ),
        ring,
      );
      expect(computeArea(out)).toBeLessThan(0.002 * 1.1 * (100 + 24));
    }
  });

  it('rows at any angle cover it, walls and all', () => {
    for (const angleDeg of [0, 30, 90]) {
      const lines = runSteps(fillRows(ring, 0.8, angleDeg, false));
      expect(cover(lines, 0.8)).toBeLessThan(0.01);
    }
  });

  it('a smaller cutter goes only where the larger one could not: what both leave is what the smaller one cannot reach', () => {
    const star = ringsOf([0, 0, 14, 0, 14, 3, 20, 3, 20, 3.8, 14, 3.8, 14, 10, 0, 10]);
    const both = clear(plate, star, [mill(1.5, 1.2), mill(0.3, 0.25)]);
    const alone = clear(plate, star, [mill(0.3, 0.25)]);
    expect(computeArea(both.unreached)).toBeCloseTo(computeArea(alone.unreached), 1);
    const length = (strokes: Float64Array[]): number =>
      strokes.reduce((sum, s) => {
        for (let i = 3; i < s.length; i += 3) sum += Math.hypot(s[i]! - s[i - 3]!, s[i + 1]! - s[i - 2]!);
        return sum;
      }, 0);
    expect(length(both.strokes)).toBeLessThan(0.2 * length(alone.strokes));
    const swept = thickenLines(
      [
        ...clear(plate, star, [mill(1.5, 1.2)])
          .strokes.map(xyOf)
          .map((xy) => ({ xy, r: 1.5 })),
        ...both.strokes.map(xyOf).map((xy) => ({ xy, r: 0.3 })),
      ].map((l) => l.xy),
      0.3,
      0.001,
    );
    expect(computeArea(subtractRings(swept, star))).toBeLessThan(0.01);
  });

  it('finds the widest cutter that fits', () => {
    expect(findWidestMm(ringsOf(box(0, 0, 9, 4)))).toBeCloseTo(2, 2);
  });
});

describe('coming down, and tabs', () => {
  const onPaper: LengthOf = (ax, ay, bx, by) => Math.hypot(bx - ax, by - ay);
  const square = Float64Array.of(0, 0, 1, 10, 0, 1, 10, 10, 1, 0, 10, 1, 0, 0, 1);

  it('a ramp of γ drops L·tan γ over a length L: never steeper, and ends at the depth (closed form)', () => {
    const down = enterStroke(square, 0.4, { by: 'ramp', angleDeg: 2 });
    let steepest = 0;
    for (let i = 3; i < down.length; i += 3) {
      const l = Math.hypot(down[i]! - down[i - 3]!, down[i + 1]! - down[i - 2]!);
      if (l > 0) steepest = Math.max(steepest, (down[i + 2]! - down[i - 1]!) / l);
    }
    expect(down[2]).toBe(0.4);
    expect(down[down.length - 1]).toBe(1);
    // 40 mm round drop 1.397 at the most; 0.6 are wanted: one round.
    expect(steepest).toBeCloseTo(0.6 / 40, 9);
    expect(enterStroke(square, 0.4, { by: 'plunge' })).toBe(square);
  });

  it('by a helix goes round where there is room beside the stroke, on either side, at its angle', () => {
    const entry = { by: 'helix', angleDeg: 3, radiusMm: 2 } as const;
    const line = Float64Array.of(0, 0, 1, 9, 0, 1);
    for (const side of [1, -1]) {
      // Room for a circle of 3.1 mm across: 1.5 is the largest that is tried.
      const down = enterStroke(line, 0.2, entry, (_, y) => side * y > -1e-9 && side * y < 3.1);
      const way = down.subarray(0, down.length - 3);
      let widest = 0;
      for (let i = 0; i < way.length; i += 3) widest = Math.max(widest, side * way[i + 1]!);
      expect(widest).toBeCloseTo(3, 9);
      let turned = 0;
      for (let i = 3; i < way.length; i += 3) {
        const run = Math.hypot(way[i]! - way[i - 3]!, way[i + 1]! - way[i - 2]!);
        expect((way[i + 2]! - way[i - 1]!) / run).toBeLessThanOrEqual(Math.tan((3.01 * Math.PI) / 180));
        turned += run;
      }
      expect(turned).toBeGreaterThan(0.8 / Math.tan((3 * Math.PI) / 180));
      // It begins with the stroke's own direction, so that climb stays climb.
      expect(way[3]! - way[0]!).toBeGreaterThan(0);
      expect([...way.slice(-3)]).toEqual([0, 0, 1]);
    }
    // Without room, or with none said, it ramps.
    const ramp = enterStroke(line, 0, { by: 'ramp', angleDeg: 3 });
    expect(enterStroke(line, 0, entry, (_, y) => Math.abs(y) < 0.01)).toEqual(ramp);
    expect(enterStroke(line, 0, entry)).toEqual(ramp);
  });

  it('on its way down it stays over tabs', () => {
    const tabs: Tabs = { count: 2, spacingMm: null, lengthMm: 2, thicknessMm: 0.5, ramped: false };
    const way = raiseOverTabs(square, tabs, placeTabs(tabs, 40), 0.9, 0.5, onPaper);
    const down = enterStroke(way, 0.2, { by: 'ramp', angleDeg: 1 });
    const high = new Set<string>();
    for (let i = 0; i < way.length; i += 3) if (way[i + 2]! < 0.41) high.add(`${way[i]},${way[i + 1]}`);
    expect(high.size).toBeGreaterThan(2);
    for (let i = 0; i < down.length; i += 3) if (high.has(`${down[i]},${down[i + 1]}`)) expect(down[i + 2]).toBeLessThan(0.41);
  });

  it('over tabs the way is no deeper than leaves their thickness, and each is as long as asked beside the cutter', () => {
    const tabs: Tabs = { count: 3, spacingMm: null, lengthMm: 2, thicknessMm: 0.3, ramped: false };
    const way = raiseOverTabs(square, tabs, placeTabs(tabs, 40), 0.9, 0.5, onPaper);
    let high = 0;
    for (let i = 3; i < way.length; i += 3)
      if (way[i + 2]! < 0.61 && way[i - 1]! < 0.61) high += Math.hypot(way[i]! - way[i - 3]!, way[i + 1]! - way[i - 2]!);
    // Three tabs of 2 mm, and the cutter's width with each.
    expect(high).toBeCloseTo(3 * (2 + 1), 6);
    expect(Math.min(...Array.from(way).filter((_, i) => i % 3 === 2))).toBeCloseTo(0.6, 9);
    expect(placeTabs({ ...tabs, spacingMm: 15 }, 40)).toHaveLength(3);
  });

  it('tabs are as long on the blank as asked where the sheet is not as long as the blank', () => {
    const tabs: Tabs = { count: 3, spacingMm: null, lengthMm: 2, thicknessMm: 0.3, ramped: false };
    const lengthOf: LengthOf = (ax, ay, bx, by) => Math.hypot(0.8 * (bx - ax), 1.1 * (by - ay));
    const way = raiseOverTabs(square, tabs, placeTabs(tabs, measureWay(square, lengthOf)), 0.9, 0.5, lengthOf);
    let high = 0;
    for (let i = 3; i < way.length; i += 3)
      if (way[i + 2]! < 0.61 && way[i - 1]! < 0.61) high += lengthOf(way[i - 3]!, way[i - 2]!, way[i]!, way[i + 1]!);
    expect(high).toBeCloseTo(3 * (2 + 1), 6);
  });

  it('arcs in and out touch the way where it begins, and shrink where there is no room', () => {
    const lead = leadInAndOut(square, 2, Math.PI, 'right', () => true);
    expect(lead[0]).toBeCloseTo(-2, 9);
    expect(lead[1]).toBeCloseTo(-2, 9);
    expect(Array.from(lead.slice(-3, -1))).toEqual([expect.closeTo(-2, 9), expect.closeTo(-2, 9)]);
    const small = leadInAndOut(square, 2, Math.PI, 'right', (_, y) => y > -0.6);
    expect(small[1]).toBeCloseTo(-0.5, 9);
    expect(leadInAndOut(square, 2, Math.PI, 'right', () => false)).toBe(square);
  });
});
