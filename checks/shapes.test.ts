import { describe, expect, it } from 'vitest';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import type { BufferGeometry, Mesh } from 'three';
import { createBlank } from '../src/core/job/defaults';
import { healSoup } from '../src/core/shape/heal';
import { readObj } from '../src/core/shape/obj';
import { readShape } from '../src/core/shape/readShape';
import { readStl, writeStl } from '../src/core/shape/stl';
import { createSolid } from '../src/core/surface/solid';
import { loadStepReader } from '../src/server/resources/shapes';
import { stepBlock, stepCylinder } from '../tests/stepFile';

/** Readers of a general-purpose library (three.js) beside ours, on files that ours wrote and on texts. */
const corners = (g: BufferGeometry): number[] => {
  const p = g.getAttribute('position');
  return Array.from({ length: p.count }, (_, i) => [p.getX(i), p.getY(i), p.getZ(i)]).flat();
};
const solid = createSolid({ ...createBlank('cone'), boreMm: 12 }, 0.01);
const volume = (soup: ArrayLike<number>): number => {
  const made = healSoup({ corners: Float64Array.from(soup) });
  if (!made.ok) throw new Error(made.error.kind);
  expect(made.value.report.openEdges).toBe(0);
  return made.value.report.volume;
};
// Frustum less its bore: elementary.
const exact = (Math.PI * 70 * (40 * 40 + 40 * 60 + 60 * 60)) / 12 - Math.PI * 36 * 70;

describe('shapes against a reference reader', () => {
  it('an STL that we write is read alike by both, and has the volume of its solid', () => {
    const bytes = writeStl(solid.positions, solid.triangles, 'cone');
    const own = readStl(bytes);
    if (!own.ok) throw new Error(own.error.kind);
    const other = corners(new STLLoader().parse(bytes.buffer as ArrayBuffer));
    expect([...own.value.corners]).toEqual(other);
    expect(Math.abs(volume(own.value.corners) / exact - 1)).toBeLessThan(1e-3);
  });
  it('a text STL as well', () => {
    let text = 'solid part\n';
    for (let i = 0; i < 300; i += 3) {
      text += 'facet normal 0 0 1\nouter loop\n';
      for (let k = 0; k < 3; k++)
        text += `vertex ${[0, 1, 2].map((c) => solid.positions[3 * solid.triangles[i + k]! + c]!.toExponential(7)).join(' ')}\n`;
      text += 'endloop\nendfacet\n';
    }
    text += 'endsolid part\n';
    const own = readStl(new TextEncoder().encode(text));
    if (!own.ok) throw new Error(own.error.kind);
    const other = corners(new STLLoader().parse(text));
    own.value.corners.forEach((v, i) => expect(v).toBeCloseTo(other[i]!, 4));
  });
  it('an OBJ with quads and negative indices', () => {
    const text = 'v 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nv 5 5 8\nf 4 3 2 1\nf 1 2 -1\nf 2 3 5\nf 3 4 5\nf 4 1 5\n';
    const own = readObj(text);
    if (!own.ok) throw new Error(own.error.kind);
    const other = corners((new OBJLoader().parse(text).children[0] as Mesh).geometry);
    expect(other.length).toBe(own.value.corners.length);
    // A pyramid: a third of its base times its height.
    expect(volume(own.value.corners)).toBeCloseTo(800 / 3, 9);
    expect(volume(other)).toBeCloseTo(800 / 3, 3);
  });
  it.each([
    ['block', stepBlock(20, 30, 40), 24_000, 5200, 1e-9],
    ['cylinder', stepCylinder(12, 50), Math.PI * 144 * 50, 2 * Math.PI * 12 * (12 + 50), 2e-3],
  ] as const)('STEP, a %s: volume and area', async (_, text, v, a, share) => {
    const made = await readShape(new TextEncoder().encode(text), 'x.step', loadStepReader);
    if (!made.ok) throw new Error(made.error.kind);
    expect(Math.abs(made.value.report.volume / v - 1)).toBeLessThan(share);
    expect(Math.abs(made.value.report.area / a - 1)).toBeLessThan(share);
  });
});
