import { beforeAll, describe, expect, it } from 'vitest';
import { computeInscription, createGlyphCache } from '../src/core/lettering/artwork';
import { createInscription } from '../src/core/job/defaults';
import { createVariables } from '../src/core/job/schema';
import { computeMedialAxis, interpolateEdge, PRUNE_TOLERANCE_MM, type MedialAxis } from '../src/core/medial/medialAxis';
import { createOutline, type Outline } from '../src/core/medial/outline';
import { createContactSolver } from '../src/core/cut/contact';
import { createVProfile } from '../src/core/cut/profile';
import { computeTrueAxis } from '../src/core/cut/trueAxis';
import { createCylinder } from '../src/core/surface/cylinder';
import { layerOn, asWork, getEngines, getLibrary } from '../tests/support';
import type { Rings } from '../src/core/base/rings';
import { locate } from './sweep';

/**
 * The definition of a medial axis (Blum, 1967): its points are the centres of the largest discs that fit, and the union
 * of those discs is the shape. Distances are found here by brute force over all edges of the outline.
 */
describe.each([
  ['BOLD', 'dejavu-sans-bold'],
  ['Rag', 'cinzel-bold'],
  ['Quay', 'great-vibes'],
  ['8&%', 'dejavu-serif-bold'],
])('medial axis of %s in %s', (text, font) => {
  let rings: Rings, o: Outline, m: MedialAxis;
  beforeAll(async () => {
    const found = (await getLibrary()).find({ id: font });
    if (!found.ok) throw new Error(font);
    const art = computeInscription(
      { ...createInscription('i', text, font, 20), heightMm: 6 },
      {
        find: () => found.value,
        curve: () => null,
        layer: layerOn(createCylinder(40, 40, 0, Math.PI)),
        steepLimitDeg: 60,
        cache: createGlyphCache(),
        variables: createVariables(),
        todayIso: '',
      },
    );
    const made = createOutline(art.regions);
    if (!made.ok) throw new Error(made.error.kind);
    o = made.value;
    const starts: number[] = [];
    for (let i = 0; i < o.segmentCount; i++) if (o.prev[i]! >= i) starts.push(i);
    rings = { xy: o.xy, starts: Uint32Array.from([...starts, o.segmentCount]) };
    m = computeMedialAxis(o, (await getEngines()).voronoi, PRUNE_TOLERANCE_MM);
  });

  it('every node lies inside, and its radius is its distance to the outline to 1e-6 mm', () => {
    let worst = 0;
    for (const v of new Set([...m.a, ...m.b])) {
      const at = locate(rings, m.x[v]!, m.y[v]!);
      worst = Math.max(worst, Math.abs(at.distance - m.r[v]!));
      if (m.r[v]! > 1e-6) expect(at.inside).toBe(true);
    }
    expect(m.a.length).toBeGreaterThan(20);
    expect(worst).toBeLessThan(1e-6);
  });

  it('every point of the outline lies within the prune tolerance of the union of its discs', () => {
    const discs: [number, number, number][] = [];
    const out = new Float64Array(2);
    for (let k = 0; k < m.a.length; k++) {
      const n = Math.max(2, Math.ceil(Math.hypot(m.x[m.a[k]!]! - m.x[m.b[k]!]!, m.y[m.a[k]!]! - m.y[m.b[k]!]!) / 0.02));
      for (let s = 0; s <= n; s++) {
        interpolateEdge(o, m, k, s / n, out);
        discs.push([out[0]!, out[1]!, locate(rings, out[0]!, out[1]!).distance]);
      }
    }
    let worst = 0;
    for (let i = 0; i < o.segmentCount; i++) {
      let least = Infinity;
      for (const [x, y, r] of discs) least = Math.min(least, Math.hypot(o.xy[2 * i]! - x, o.xy[2 * i + 1]! - y) - r);
      worst = Math.max(worst, least);
    }
    // Discs stand 0.02 mm apart, which leaves gaps of 0.02² / 8r along a smooth side.
    expect(worst).toBeLessThan(PRUNE_TOLERANCE_MM + 0.0005);
  });

  it('the path of a V on flat stock never goes deeper than the outline allows: overshoot at most 2 µm', () => {
    // So large a cylinder is flat to 1e-6 mm under one word.
    const surface = asWork(createCylinder(2000, 100, 0, Math.PI));
    const profile = createVProfile(90, 0);
    const axis = computeTrueAxis(o, m, surface, createContactSolver(o, surface, profile));
    let over = 0;
    for (const points of axis.edgePoints) {
      for (let i = 3; i < points.length; i += 3)
        for (const t of [0, 0.25, 0.5, 0.75, 1]) {
          const [x, y, d] = [0, 1, 2].map((k) => points[i - 3 + k]! + t * (points[i + k]! - points[i - 3 + k]!)) as [
            number,
            number,
            number,
          ];
          over = Math.max(over, d - locate(rings, x, y).distance);
        }
    }
    expect(over).toBeLessThan(0.002);
  });
});
