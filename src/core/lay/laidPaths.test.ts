import { asWork } from '../../../tests/support';
import { describe, expect, it } from 'vitest';
import { createBlank } from '../job/defaults';
import type { Blank } from '../job/schema';
import { createWork, PLAIN_STANCE, type Work } from '../machine/stance';
import { createCylinder } from '../surface/cylinder';
import { createProfileNodes } from '../surface/profileShapes';
import { createSurface } from '../surface/registry';
import { isFeedMove, layPaths, MOVE } from './laidPaths';

const surface = asWork(createCylinder(40, 80, 0, Math.PI));
const heights = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };
const motions = [
  { feedMmPerMin: 500, plungeMmPerMin: 100 },
  { feedMmPerMin: 300, plungeMmPerMin: 80 },
];
const stroke = (x: number, y: number) => Float64Array.from([x, y, 0.2, x + 3, y, 0.2]);

describe('layPaths', () => {
  const laid = layPaths(
    surface,
    [
      { run: 0, level: 0, strokes: [stroke(10, 0), stroke(10, 5)] },
      { run: 1, level: 0, strokes: [stroke(30, 5)] },
    ],
    motions,
    heights,
    3000,
  );
  const depth = (i: number) => laid.sheet[3 * i + 2]!;

  it('starts and ends at the park height, and parks between cuts', () => {
    expect(depth(0)).toBe(-25);
    expect(depth(laid.count - 1)).toBe(-25);
    const change = Array.from(laid.run).findIndex((c) => c === 1);
    expect(laid.kind[change - 1]).toBe(MOVE.park);
    expect(depth(change)).toBe(-25);
  });

  it('never crosses below the hop height, and never feeds down faster than the plunge', () => {
    for (let i = 1; i < laid.count; i++) {
      const across = Math.hypot(laid.sheet[3 * i]! - laid.sheet[3 * i - 3]!, laid.sheet[3 * i + 1]! - laid.sheet[3 * i - 2]!);
      if (!isFeedMove(laid.kind[i]!)) {
        if (across > 0) expect(Math.max(depth(i), depth(i - 1))).toBeLessThanOrEqual(-2);
        expect(depth(i)).toBeLessThanOrEqual(-0.5);
        expect(laid.feedMmPerMin[i]).toBe(0);
      } else if (laid.kind[i] === MOVE.plunge) {
        expect(across).toBe(0);
        expect(laid.feedMmPerMin[i]).toBe(motions[laid.run[i]!]!.plungeMmPerMin);
      } else expect(laid.feedMmPerMin[i]).toBe(motions[laid.run[i]!]!.feedMmPerMin);
    }
  });

  it('runs strokes that meet without lifting', () => {
    const joined = layPaths(surface, [{ run: 0, level: 0, strokes: [stroke(10, 0), stroke(13, 0)] }], motions, heights, 3000);
    expect(Array.from(joined.kind).filter((k) => k === MOVE.plunge)).toHaveLength(1);
  });

  it('lays tips below the surface along the normal', () => {
    for (let i = 0; i < laid.count; i++) {
      expect(Math.hypot(laid.tip[3 * i + 1]!, laid.tip[3 * i + 2]!)).toBeCloseTo(20 - depth(i), 9);
      expect(Math.hypot(...laid.axis.subarray(3 * i, 3 * i + 3))).toBeCloseTo(1, 12);
    }
  });

  it('is empty for nothing', () => expect(layPaths(surface, [], motions, heights, 3000).count).toBe(0));

  /** Levels of all tips: from the axis where the blank turns, else over z = 0. */
  const levels = (work: Work, strokes: Float64Array[]): number[] => {
    const out = layPaths(work, [{ run: 0, level: 0, strokes }], motions, heights, 3000);
    return Array.from({ length: out.count }, (_, i) => {
      const [, y, z] = out.tip.subarray(3 * i, 3 * i + 3);
      return work.stance.turns ? Math.hypot(y!, z!) : z!;
    });
  };

  it('starts and ends over the highest place of the blank, wherever it letters (regression: 42.5 over stock to 60)', () => {
    const cone = { ...createBlank('cone'), datumDiameterMm: 120, farDiameterMm: 20, lengthMm: 100 };
    const work = createWork(createSurface(cone), { ...PLAIN_STANCE, turns: true, tiltRad: null });
    const all = levels(work, [stroke(100, 0)]);
    expect(all[0]).toBeCloseTo(60 + 25, 9);
    expect(all.at(-1)).toBeCloseTo(60 + 25, 9);
  });

  it('crosses at one level that clears all that either way of running a rapid may pass (regression: slanted hops)', () => {
    const plate = { ...createBlank('plate'), inclineDeg: 30, inclineTowards: 'x' as const };
    const waist: Blank = { ...createBlank('turned'), profile: createProfileNodes('barrel', 40, 60) };
    for (const [blank, turns] of [
      [plate, false],
      [waist, true],
    ] as const) {
      const work = createWork(createSurface(blank), { ...PLAIN_STANCE, turns, tiltRad: null });
      const strokes = [stroke(5, -5), stroke(50, 6)];
      const laidOn = layPaths(work, [{ run: 0, level: 0, strokes }], motions, heights, 3000);
      const hop = Array.from(laidOn.kind).indexOf(MOVE.hop);
      const all = levels(work, strokes);
      // Up and down are Z alone, across is at one level.
      expect(all[hop]).toBeCloseTo(all[hop - 1]!, 9);
      const p = new Float64Array(3);
      let highest = -Infinity;
      for (let x = 8; x <= 50; x += 0.05) {
        for (const y of [-5, 0, 6]) {
          work.pointInto(x, y, p);
          highest = Math.max(highest, turns ? Math.hypot(p[1]!, p[2]!) : p[2]!);
        }
      }
      expect(all[hop]! - highest).toBeGreaterThan(2 - 1e-4);
      expect(all[hop]! - highest).toBeLessThan(2.05);
    }
  });

  it('sinks no faster than it plunges downhill of a tool that leans, at one depth: plunge / sin 30° (closed form)', () => {
    const plate = { ...createBlank('plate'), inclineDeg: 30, inclineTowards: 'x' as const };
    const work = createWork(createSurface(plate), { ...PLAIN_STANCE, turns: false, tiltRad: null });
    const feeds = [stroke(10, 0), stroke(13, 0).map((v, i) => (i % 3 === 0 ? 26 - v : v))].map((strokeTo) => {
      const out = layPaths(work, [{ run: 0, level: 0, strokes: [strokeTo] }], [{ ...motions[0]!, steepest: 0 }], heights, 3000);
      return out.feedMmPerMin[Array.from(out.kind).indexOf(MOVE.cut)]!;
    });
    expect(Math.min(...feeds)).toBeCloseTo(200, 6);
    expect(Math.max(...feeds)).toBe(500);
  });

  it('runs in and out at feed along a tool that tilts, where X and Z move at once', () => {
    const cone = { ...createBlank('cone'), datumDiameterMm: 20, farDiameterMm: 60, lengthMm: 40 };
    const work = createWork(createSurface(cone), { ...PLAIN_STANCE, turns: true, tiltRad: [-1.5, 1.5] });
    const out = layPaths(work, [{ run: 0, level: 0, strokes: [stroke(10, 0), stroke(30, 2)] }], motions, heights, 3000);
    const kinds = Array.from(out.kind);
    expect(kinds.filter((k) => k === MOVE.enter)).toHaveLength(2);
    expect(kinds.filter((k) => k === MOVE.leave)).toHaveLength(2);
    kinds.forEach((k, i) => {
      if (isFeedMove(k)) expect(out.feedMmPerMin[i]).toBe(k === MOVE.enter || k === MOVE.leave ? 3000 : out.feedMmPerMin[i]);
      else if (i > 0 && k !== MOVE.hop) {
        // A rapid that is no crossing moves straight up or down: x stays, and so does the turn.
        expect(Math.abs(out.tip[3 * i]! - out.tip[3 * i - 3]!)).toBeLessThan(1e-9);
      }
    });
  });
});
