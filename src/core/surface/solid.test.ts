import { describe, expect, it } from 'vitest';
import { createDomeBlank, domeShapes } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import type { Blank } from '../job/schema';
import { healSoup } from '../shape/heal';
import { createProfileNodes } from './profileShapes';
import { countSectors, createSolid, type Solid } from './solid';

const heal = (solid: Solid) => {
  const made = healSoup({
    corners: Float64Array.from(solid.triangles, (_, i) => i).reduce(
      (out, i) => {
        out.set(solid.positions.subarray(3 * solid.triangles[i]!, 3 * solid.triangles[i]! + 3), 3 * i);
        return out;
      },
      new Float64Array(3 * solid.triangles.length),
    ),
  });
  if (!made.ok) throw new Error(made.error.kind);
  return made.value.report;
};
const cone = (d0: number, d1: number, h: number) => (Math.PI * h * (d0 * d0 + d0 * d1 + d1 * d1)) / 12;

describe('createSolid', () => {
  // Volumes: elementary.
  const cases: [string, Blank, number][] = [
    ['cylinder', createBlank('cylinder'), Math.PI * 20 * 20 * 80],
    ['tube', { ...createBlank('cylinder'), boreMm: 30 }, Math.PI * (20 * 20 - 15 * 15) * 80],
    ['frustum', createBlank('cone'), cone(40, 60, 70)],
    ['whole cone', { ...createBlank('cone'), datumDiameterMm: 0 }, cone(0, 60, 70)],
    [
      'ball without necks',
      { ...createBlank('turned'), profile: createProfileNodes('ball', 30, 30) },
      ((reach) => Math.PI * (15 * 15 * 2 * reach - (2 / 3) * reach ** 3))(Math.sqrt(15 * 15 - 4.5 * 4.5)),
    ],
    ['plate', createBlank('plate'), 120 * 60 * 5],
    ['inclined plate', { ...createBlank('plate'), inclineDeg: 30 }, 120 * 60 * 5],
    ['disc', { ...createBlank('plate'), shape: 'disc', lengthMm: 60 }, Math.PI * 900 * 5],
    ['arch', createBlank('arched'), 100 * Math.asin(0.5) * (60 * 60 - 56 * 56)],
    ['trough', { ...createBlank('arched'), side: 'concave' }, 100 * Math.asin(0.5) * (64 * 64 - 60 * 60)],
  ];
  it.each(cases)('%s is closed, outside out, and has its volume within the chord error', (_, blank, volume) => {
    const solid = createSolid(blank, 0.002);
    const report = heal(solid);
    expect(report.openEdges).toBe(0);
    expect(report.crowdedEdges).toBe(0);
    expect(report.flipped).toBe(0);
    expect(Math.abs(report.volume / volume - 1)).toBeLessThan(5e-4);
    solid.normals.forEach((v) => expect(Number.isFinite(v)).toBe(true));
  });

  it('keeps to the chord error asked for, and no finer', () => {
    for (const chord of [0.5, 0.05, 0.005]) {
      const n = countSectors(40, chord);
      expect(40 * (1 - Math.cos(Math.PI / n))).toBeLessThanOrEqual(chord);
      if (n > 24) expect(40 * (1 - Math.cos(Math.PI / (n - 2)))).toBeGreaterThan(chord);
    }
  });

  it('draws a free shape smooth over its dome and sharp at its foot', () => {
    const solid = createSolid(createDomeBlank(), 0.1, domeShapes());
    expect(solid.triangles.length / 3).toBe(48 * 96 * 2 - 96 + 96);
    let smooth = 0;
    for (let i = 0; i < solid.positions.length; i += 3) {
      const up = solid.positions[i + 2]! + 40;
      const l = Math.hypot(solid.positions[i]!, solid.positions[i + 1]!, up);
      const along =
        (solid.normals[i]! * solid.positions[i]! + solid.normals[i + 1]! * solid.positions[i + 1]! + solid.normals[i + 2]! * up) / l;
      if (along > 0.9995) smooth++;
    }
    expect(smooth / (solid.positions.length / 3)).toBeGreaterThan(0.95);
  });
});
