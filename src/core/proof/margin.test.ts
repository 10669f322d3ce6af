import { describe, expect, it } from 'vitest';
import { asWork, createRandom, tiltingMachine } from '../../../tests/support';
import { createBallVProfile, createVProfile, type Profile } from '../cut/profile';
import { createBlank, DEFAULT_MACHINE, DEFAULT_MOTION } from '../job/defaults';
import { createZero } from '../job/zero';
import type { Blank, Machine } from '../job/schema';
import { layPaths } from '../lay/laidPaths';
import { getStance } from '../machine/registry';
import { createWork, type Work } from '../machine/stance';
import { createCylinder } from '../surface/cylinder';
import { createSurface } from '../surface/registry';
import { createMargin, FAR_MM } from './margin';

const heights = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };
const onBlank = (blank: Blank, machine: Machine = DEFAULT_MACHINE): Work =>
  createWork(createSurface(blank), getStance({ machine: machine, blank: blank, zero: createZero(), motion: DEFAULT_MOTION }));
const cone = { ...createBlank('cone'), datumDiameterMm: 30, farDiameterMm: 60, lengthMm: 50 };

/** The largest margin over close places of the path, and how fast it falls there: no code is shared with the finder. */
function bruteMargin(path: readonly number[], work: Work, profile: Profile, x: number, y: number): { margin: number; fall: number } {
  const q = new Float64Array(3),
    f = new Float64Array(6),
    n = new Float64Array(6);
  const at = (i: number, t: number, px: number, py: number): number => {
    const [sx, sy, sd] = [0, 1, 2].map((k) => path[i + k]! + t * (path[i + 3 + k]! - path[i + k]!)) as [number, number, number];
    work.poseInto(sx, sy, f);
    work.pointInto(px, py, q);
    const d = [0, 1, 2].map((k) => q[k]! - f[k]!);
    const along = d[0]! * f[3]! + d[1]! * f[4]! + d[2]! * f[5]!;
    const lateral = Math.hypot(...d.map((v, k) => v - along * f[3 + k]!));
    return sd + along - profile.heightAt(lateral);
  };
  let margin = -Infinity,
    best: [number, number] = [0, 0];
  for (let i = 0; i + 3 < path.length; i += 3) {
    for (let s = 0; s <= 1500; s++) {
      const here = at(i, s / 1500, x, y);
      if (here > margin) [margin, best] = [here, [i, s / 1500]];
    }
  }
  // Gradient over the surface by differences, in true lengths.
  const e = 1e-4;
  const g = new Float64Array(3);
  const [dx, dy] = [(at(...best, x + e, y) - at(...best, x - e, y)) / (2 * e), (at(...best, x, y + e) - at(...best, x, y - e)) / (2 * e)];
  work.metricInto(x, y, g);
  work.frameInto(x, y, n);
  const det = g[0]! * g[2]! - g[1]! * g[1]!;
  return { margin, fall: Math.sqrt((g[2]! * dx * dx - 2 * g[1]! * dx * dy + g[0]! * dy * dy) / det) };
}

describe('createMargin', () => {
  const cases: [string, Work, Profile][] = [
    ['a sharp V on a cylinder', asWork(createCylinder(24, 60, 0, Math.PI)), createVProfile(90, 0)],
    ['a V that leans on a cone', onBlank(cone), createVProfile(60, 0)],
    ['a blunt V that leans on a cone', onBlank(cone), createVProfile(60, 0.2)],
    ['a ball along the normal of a cone', onBlank(cone, tiltingMachine()), createBallVProfile(60, 0.2)],
    ['a V on an inclined plate', onBlank({ ...createBlank('plate'), inclineDeg: 25, inclineTowards: 'y' }), createVProfile(90, 0)],
  ];
  it.each(cases)('is that of the best of all places along the path, and falls as fast: %s', (_, work, profile) => {
    // Runs level, deepens, and rises to nothing at a bend.
    const path = [20, 0, 0.4, 24, 0.3, 0.4, 27, 1.2, 0.8, 28, 2.4, 0];
    const laid = layPaths(
      work,
      [{ run: 0, level: 0, strokes: [Float64Array.from(path)] }],
      [{ feedMmPerMin: 500, plungeMmPerMin: 100 }],
      heights,
      3000,
    );
    const margin = createMargin(laid, 0, work, profile);
    const random = createRandom(8);
    let near = 0;
    for (let n = 0; n < 200; n++) {
      const [x, y] = [19.3 + 9 * random(), -0.9 + 3.6 * random()];
      const brute = bruteMargin(path, work, profile, x, y);
      // Far from the path only its sign counts.
      if (Math.abs(brute.margin) > 0.3) {
        expect(Math.sign(margin(x, y))).toBe(Math.sign(brute.margin));
        continue;
      }
      near++;
      expect(Math.abs(margin(x, y) - brute.margin)).toBeLessThan(5e-5);
      // On a blunt tip the flank's slope is taken: there the profile's own is nothing.
      if (profile.flatMm === 0 && profile.ballRadiusMm === 0) expect(margin.fall() / brute.fall).toBeCloseTo(1, 2);
    }
    expect(near).toBeGreaterThan(15);
  });

  it('knows the print of a plunge alone, and nothing of the way through the air', () => {
    const work = asWork(createCylinder(24, 60, 0, Math.PI));
    const dots = [Float64Array.from([20, 0, 0.5]), Float64Array.from([30, 0, 0.5])];
    const laid = layPaths(work, [{ run: 0, level: 0, strokes: dots }], [{ feedMmPerMin: 500, plungeMmPerMin: 100 }], heights, 3000);
    const margin = createMargin(laid, 0, work, createVProfile(90, 0));
    expect(margin(20.3, 0)).toBeCloseTo(0.2, 4);
    expect(margin(25, 0)).toBeLessThan(-0.5);
    expect(createMargin(laid, 1, work, createVProfile(90, 0))(20, 0)).toBe(-FAR_MM);
  });
});
