import { beforeAll, describe, expect, it } from 'vitest';
import { asWork, carveJob, carveRings, getEngines, planJob, rect, ringsOf } from '../../../tests/support';
import { createOutline } from '../medial/outline';
import type { VoronoiEngine } from '../medial/voronoi';
import { createCylinder } from '../surface/cylinder';
import { createTool } from '../crib/starterTools';
import { splitPieces } from './pieces';
import { computeStrokeLength, getDeepest } from './stroke';
import { createPieceCache } from './pieceCache';

const tool = createTool('t', 1, 't', 'v', { diameterMm: 12, fluteLengthMm: 6 });
const DEEP_MM = 5;
const surface = asWork(createCylinder(40, 80, 0, Math.PI));
let engine: VoronoiEngine;
beforeAll(async () => {
  engine = (await getEngines()).voronoi;
});
const carve = (parts: number[][], maxDepthMm = DEEP_MM, t = tool, work = surface) =>
  carveRings([ringsOf(...parts)], maxDepthMm, { tool: t, work, engine });

describe('computeCarving', () => {
  it('runs up into every corner of a rectangle, to depth zero', () => {
    const { strokes } = carve([rect(10, -2, 20, 2)]);
    const ends = strokes.flatMap((s) => [
      [s[0]!, s[1]!, s[2]!],
      [s.at(-3)!, s.at(-2)!, s.at(-1)!],
    ]);
    for (const [x, y] of [
      [10, -2],
      [20, -2],
      [20, 2],
      [10, 2],
    ]) {
      expect(ends.some((e) => Math.hypot(e[0]! - x!, e[1]! - y!) < 2e-4 && Math.abs(e[2]!) < 2e-4)).toBe(true);
    }
  });

  it('stays within the depth limit, with a pass along the wall and passes over the floor', () => {
    const full = carve([rect(10, -4, 30, 4)]);
    const flat = carve([rect(10, -4, 30, 4)], 0.5);
    expect(full.deepestMm).toBeGreaterThan(3.9);
    expect(flat.deepestMm).toBe(0.5);
    expect(flat.wantedMm).toBeCloseTo(full.deepestMm, 9);
    expect(Math.max(...flat.strokes.map(getDeepest))).toBeLessThanOrEqual(0.5 + 1e-12);
    const closed = flat.strokes.filter((s) => s[0] === s.at(-3) && s[1] === s.at(-2));
    expect(closed.length).toBeGreaterThan(3);
    expect(Math.max(...closed.map(computeStrokeLength))).toBeGreaterThan(45);
  });

  it('a blunt tip does not go where it does not fit', () => {
    const blunt = { ...tool, tipMm: 1 };
    // 0.8 wide under a tip of 1: no deeper than the blank falls away at the sides, 4 µm.
    expect(carve([rect(10, -0.4, 20, 0.4)], DEEP_MM, blunt).deepestMm).toBeCloseTo(20 * (1 - Math.cos(0.4 / 20)), 6);
    expect(carve([rect(10, -0.8, 20, 0.8)], DEEP_MM, blunt).deepestMm).toBeGreaterThan(0.25);
  });

  it('carves equal letters alike, moved, and as it would each alone', () => {
    const one = carve([rect(10, -2, 20, 2)]).strokes;
    const two = carve([rect(10, -2, 20, 2), rect(40, 3, 50, 7)]).strokes.sort((p, q) => Number(p[0]! > 35) - Number(q[0]! > 35));
    expect(two).toHaveLength(2 * one.length);
    one.forEach((s, k) => {
      const [a, b] = [two[k]!, two[k + one.length]!];
      for (let i = 0; i < s.length; i += 3) {
        expect(a[i]).toBeCloseTo(s[i]!, 9);
        expect(b[i]! - a[i]!).toBeCloseTo(30, 9);
        expect(b[i + 1]! - a[i + 1]!).toBeCloseTo(5, 9);
        expect(b[i + 2]).toBe(a[i + 2]);
      }
    });
  });

  it('keeps pieces in a cache only for the same surface, cutter and limit', () => {
    const cache = createPieceCache();
    const depth = (work: typeof surface, surfaceKey: string, maxDepthMm = DEEP_MM) =>
      carveRings([ringsOf(rect(10, -2, 20, 2))], maxDepthMm, { tool, work, engine, pieces: cache, surfaceKey }).deepestMm;
    const on40 = depth(surface, '40');
    expect(depth(asWork(createCylinder(10, 80, 0, 0)), '10')).toBeGreaterThan(on40 + 0.1);
    expect(depth(surface, '40')).toBe(on40);
    expect(depth(surface, '40', 1)).toBe(1);
  });

  it('is the same whether pieces may be moved to the origin or not', async () => {
    const job = carveJob('ABBA');
    const { lettering } = await planJob(job);
    const regions = lettering.artworks[0]!.regions;
    const run = (homogeneous: 'everywhere' | 'nowhere') =>
      carveRings([regions], DEEP_MM, { tool, work: { ...surface, homogeneous }, engine });
    const [moved, still] = [run('everywhere'), run('nowhere')];
    expect(moved.deepestMm).toBeCloseTo(still.deepestMm, 6);
    const length = (p: typeof moved) => p.strokes.reduce((sum, s) => sum + computeStrokeLength(s), 0);
    expect(length(moved) / length(still)).toBeCloseTo(1, 4);
  });

  it('takes nothing, a sliver, and a region of one letter on a tiny blank', () => {
    expect(carve([]).strokes).toEqual([]);
    expect(carve([[10, 0, 20, 0.0002, 20, 0.0004]]).strokes).toEqual([]);
    expect(carve([rect(1, -0.2, 2, 0.2)], DEEP_MM, tool, asWork(createCylinder(0.5, 5, 0, 0))).deepestMm).toBeGreaterThan(0.2);
  });
});

describe('splitPieces', () => {
  const pieces = (...parts: number[][]) => {
    const made = createOutline(ringsOf(...parts));
    if (!made.ok) throw new Error(made.error.kind);
    return splitPieces(made.value, 'everywhere');
  };
  it('gives equal keys to equal pieces wherever they are, and others to others', () => {
    const keys = pieces(rect(0, 0, 2, 1), rect(30.1234, -7.5, 32.1234, -6.5), rect(50, 0, 52, 1.0001)).map((p) => p.key);
    expect(keys).toHaveLength(3);
    expect(new Set(keys).size).toBe(2);
  });
  it('keeps holes with their ring, and an island in a hole apart', () => {
    const found = pieces(rect(0, 0, 10, 10), [2, 2, 2, 8, 8, 8, 8, 2], rect(4, 4, 6, 6));
    expect(found.map((p) => p.rings.starts.length - 1).sort()).toEqual([1, 2]);
  });
});
