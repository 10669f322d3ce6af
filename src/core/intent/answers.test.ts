import { describe, expect, it } from 'vitest';
import { asWork, leaningPlate, ringsOf } from '../../../tests/support';
import { createTool } from '../crib/starterTools';
import { createProfile, createVProfile } from '../cut/profile';
import { createPlate } from '../surface/plate';
import type { Depths } from './answerer';
import { createAnswerer } from './answers';
import type { BandMeaning, Meaning } from './meaning';

const box = (x0: number, y0: number, x1: number, y1: number): number[] => [x0, y0, x1, y0, x1, y1, x0, y1];
const plate = asWork(createPlate({ lengthMm: 100, widthMm: 60, thicknessMm: 5, inclineRad: 0, inclineTowards: 'x', shape: 'rectangle' }));
const SLACK_MM = 0.01;
const mill = (diameterMm: number) => createTool('m', 1, 'mill', 'flat', { diameterMm, fluteLengthMm: 20 });
const bars = ringsOf(box(10, -1, 50, 1));
const ask = (meaning: Meaning, x: number, y: number, foundMm = 0, work = plate): Depths => {
  const out = { mustMm: NaN, mayMm: NaN };
  createAnswerer(meaning, work).ask(x, y, SLACK_MM, out, foundMm);
  return out;
};

describe('what a place of the piece must and may be', () => {
  it('under a V-carve is the roof of the outline, up to its limit', () => {
    const meaning: Meaning = {
      ...{ form: 'roof', region: bars, profile: createVProfile(90, 0), limitMm: 0.6 },
      ...{ sunkMm: 0, beginMm: 0, millFlatMm: 0 },
    };
    for (const [y, depth] of [
      [0.9, 0.1],
      [0.7, 0.3],
      [0.2, 0.6],
    ] as const) {
      const { mustMm, mayMm } = ask(meaning, 30, y, depth);
      expect(mustMm).toBeLessThanOrEqual(depth);
      expect(mayMm).toBeGreaterThanOrEqual(depth);
      expect(mayMm - mustMm).toBeLessThan(0.09);
    }
    expect(ask(meaning, 30, 1.1, 1)).toEqual({ mustMm: 0, mayMm: 0 });
    // On a floor that another cut sinks it is as much deeper.
    expect(ask({ ...meaning, sunkMm: 0.5 }, 30, 0.9, 0.6).mayMm - ask(meaning, 30, 0.9, 0.1).mayMm).toBeCloseTo(0.5, 6);
  });

  it('in a pocket is its floor as far as a cutter reaches; one before a finishing pass keeps off the walls', () => {
    const pocket = (...cutters: { tool: ReturnType<typeof mill>; wallMm: number }[]): Meaning => ({
      ...{ form: 'area', region: ringsOf(box(10, -5, 50, 5)), depthMm: 1, wallMm: 0, cutters },
    });
    const whole = pocket({ tool: mill(3), wallMm: 0 });
    expect(ask(whole, 30, 0).mustMm).toBeGreaterThan(0.95);
    expect(ask(whole, 30, 4.95).mustMm).toBeGreaterThan(0.95);
    // 3 mm leave a corner as far as r·(√2 − 1) from it: 0.62.
    expect(ask(whole, 10.1, 4.9).mustMm).toBe(0);
    expect(ask(whole, 10.1, 4.9).mayMm).toBeGreaterThanOrEqual(1);
    expect(ask(pocket({ tool: mill(3), wallMm: 0.3 }), 30, 4.9).mustMm).toBe(0);
    expect(ask(pocket({ tool: mill(3), wallMm: 0.3 }, { tool: mill(1), wallMm: 0 }), 30, 4.9).mustMm).toBeGreaterThan(0.95);
    expect(ask(pocket({ tool: mill(12), wallMm: 0 }), 30, 0).mustMm).toBe(0);
  });

  it('under a mill that leans may be deeper by its rim, and must be deep as far as all of its end is', () => {
    const [leanDeg, depthMm] = [10, 1];
    const pocket: Meaning = {
      ...{ form: 'area', region: ringsOf(box(10, -8, 50, 8)), depthMm, wallMm: 0, cutters: [{ tool: mill(3), wallMm: 0 }] },
    };
    const rim = 1.5 * Math.tan((leanDeg * Math.PI) / 180);
    const { mustMm, mayMm } = ask(pocket, 30, 0, depthMm + rim, leaningPlate(leanDeg));
    expect(mayMm).toBeGreaterThanOrEqual(depthMm + rim);
    expect(mayMm).toBeLessThan(depthMm + rim + 0.01);
    expect(mustMm).toBeLessThan(depthMm - 2 * rim + 0.01);
  });

  const band = (patch: Partial<BandMeaning>): BandMeaning => ({
    ...{ form: 'band', lines: ringsOf(box(10, -5, 50, 5)), isClosed: true, side: 'outside', depthMm: 0.5, leastMm: 0.5, wallMm: 0 },
    ...{ profile: createProfile(mill(2)), radiusMm: 1, spreadMm: 0, isSharp: false },
    ...patch,
  });
  it('beside an outline is the groove on its side, and nothing on the other', () => {
    expect(ask(band({}), 30, 6, 0.5).mustMm).toBeGreaterThan(0.45);
    expect(ask(band({}), 30, 6.97, 0.5).mayMm).toBeGreaterThanOrEqual(0.5);
    expect(ask(band({}), 30, 7.1, 0.5)).toEqual({ mustMm: 0, mayMm: 0 });
    expect(ask(band({}), 30, 4.9, 0.5)).toEqual({ mustMm: 0, mayMm: 0 });
    expect(ask(band({ side: 'inside' }), 30, 4, 0.5).mustMm).toBeGreaterThan(0.45);
    expect(ask(band({ side: 'inside' }), 30, 5.1, 0.5)).toEqual({ mustMm: 0, mayMm: 0 });
  });

  it('beside an outline under a V that leans begins at it, uphill and downhill', () => {
    const work = leaningPlate(20);
    const meaning = band({ profile: createVProfile(90, 0), radiusMm: 3 });
    const deepest = (from: number, to: number): number => {
      let [best, most] = [0, 0];
      for (let k = 0; k <= 200; k++) {
        const y = from + (k / 200) * (to - from);
        const { mustMm } = ask(meaning, 30, y, 5, work);
        if (mustMm > most) [best, most] = [y, mustMm];
      }
      return best;
    };
    // Its way lies 0.5 / (1 ± tan 20°) beside the tool from the outline: 0.37 mm uphill of it and 0.79 mm downhill.
    const ways = [deepest(5, 6.5) - 5, -5 - deepest(-5, -6.5)].sort((a, b) => a - b);
    expect(ways[1]! / ways[0]!).toBeGreaterThan(1.5);
  });

  it('on a line is the cutter’s own groove', () => {
    const meaning = band({ side: 'on', isClosed: false, lines: ringsOf([10, 0, 50, 0]), profile: createVProfile(60, 0), radiusMm: 3 });
    for (const y of [0, 0.1, 0.2]) {
      const depth = 0.5 - y / Math.tan(Math.PI / 6);
      const { mustMm, mayMm } = ask(meaning, 30, y, Math.max(0, depth));
      expect(mustMm).toBeLessThanOrEqual(depth);
      expect(mayMm).toBeGreaterThanOrEqual(depth);
      expect(mayMm - mustMm).toBeLessThan(0.05);
    }
    expect(ask(meaning, 30, 0.32, 0.1)).toEqual({ mustMm: 0, mayMm: 0 });
  });

  it('of holes is the drill’s own shape', () => {
    const drill = createTool('d', 1, 'drill', 'drill', { diameterMm: 2, includedDeg: 118, fluteLengthMm: 20 });
    const meaning: Meaning = { form: 'holes', places: [[20, 0]], depthMm: 3, profile: createProfile(drill), radiusMm: 1 };
    expect(ask(meaning, 20, 0, 3).mustMm).toBeGreaterThan(2.9);
    const flank = 3 - 0.8 / Math.tan((59 * Math.PI) / 180);
    expect(ask(meaning, 20.8, 0, flank).mustMm).toBeLessThanOrEqual(flank);
    expect(ask(meaning, 20.8, 0, flank).mayMm).toBeGreaterThanOrEqual(flank);
    expect(ask(meaning, 21.1, 0, 1).mayMm).toBeLessThan(0.003);
  });
});
