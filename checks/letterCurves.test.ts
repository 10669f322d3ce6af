import { describe, expect, it } from 'vitest';
import { carveJob, getEngines, getLibrary, planJob } from '../tests/support';
import type { Rings } from '../src/core/base/rings';
import { toPathLines } from '../src/core/export/report';
import { createInscription } from '../src/core/job/defaults';
import { createSurface } from '../src/core/surface/registry';
import type { TextInscription } from '../src/core/job/schema';
import { createSweep, locate } from './sweep';

/**
 * What is cut against the curves of the font itself, not against the outline that the planner made of them: the curves are taken from
 * HarfBuzz and followed by de Casteljau's construction (from any book on curves), in steps that leave them by less than 0.01 µm.
 */
async function curvesOf(text: string, font: string, scale: number, shape: (x: number, y: number) => [number, number]): Promise<Rings> {
  const face = (await getLibrary()).find({ id: font });
  if (!face.ok) throw new Error('no font');
  const rings: number[][] = [];
  let pen = 0;
  for (const g of face.value.shapeLine(text, { kerning: true, ligatures: true })) {
    let ring: number[] = [];
    const put = (x: number, y: number) => {
      const [u, v] = shape((pen + x) * scale, y * scale);
      const repeats = [ring.slice(0, 2), ring.slice(-2)].some((p) => Math.hypot(p[0]! - u, p[1]! - v) < 1e-9);
      if (!repeats) ring.push(u, v);
    };
    let [x, y] = [0, 0];
    for (const { type, values } of face.value.drawGlyph(g.glyph)) {
      if (type === 'M') ring = [];
      if (type === 'Z') rings.push(ring);
      if (type === 'M' || type === 'L') put(values[0]!, values[1]!);
      if (type === 'Q' || type === 'C') {
        const points = [x, y, ...values];
        for (let k = 1; k <= 200; k++) {
          let level = points;
          while (level.length > 2) level = level.slice(0, -2).map((v, i) => v + (k / 200) * (level[i + 2]! - v));
          put(level[0]!, level[1]!);
        }
      }
      if (values.length) [x, y] = values.slice(-2) as [number, number];
    }
    pen += g.advance;
  }
  const starts = [0];
  for (const r of rings) starts.push(starts.at(-1)! + r.length / 2);
  return { xy: Float64Array.from(rings.flat()), starts: Uint32Array.from(starts) };
}

/** Largest distance of one outline's points, and of the middles between them, from the other's. */
function findGap(a: Rings, b: Rings): number {
  let worst = 0;
  for (let k = 0; k + 1 < a.starts.length; k++) {
    const [from, to] = [a.starts[k]!, a.starts[k + 1]!];
    for (let i = from; i < to; i++) {
      const j = i + 1 < to ? i + 1 : from;
      for (const t of [0, 0.5]) {
        const x = a.xy[2 * i]! + t * (a.xy[2 * j]! - a.xy[2 * i]!),
          y = a.xy[2 * i + 1]! + t * (a.xy[2 * j + 1]! - a.xy[2 * i + 1]!);
        worst = Math.max(worst, locate(b, x, y).distance);
      }
    }
  }
  return worst;
}

describe('letters against the curves of their font', () => {
  it.each([
    ['great-vibes', 'Gq', 12, {}],
    ['cinzel-bold', 'RS', 6, {}],
    ['dejavu-sans-bold', 'S8', 3, { slantDeg: 45 }],
    ['dejavu-sans-bold', 'QB', 10, { widthRatio: 1.8 }],
  ] as const)(
    '%s "%s" at %d mm keeps to them within 2 µm, slanted and widened too',
    async (font, text, heightMm, patch: Partial<TextInscription>) => {
      const words = { ...createInscription('w', text, font, 40), heightMm, rotationDeg: 0, ...patch };
      const { lettering } = await planJob(carveJob(text, { words, job: { cuts: [] } }));
      const art = lettering.artworks[0]!;
      const face = (await getLibrary()).find({ id: font });
      if (!face.ok) throw new Error('no font');
      const scale = heightMm / face.value.capHeight;
      const slant = Math.tan((words.slantDeg * Math.PI) / 180);
      const own = await curvesOf(text, font, scale, (x, y) => [x * words.widthRatio + y * slant, y]);
      // Where the layout put them: the boxes' lower left corners.
      const low = (xy: Float64Array, k: number) => xy.reduce((m, v, i) => (i % 2 === k ? Math.min(m, v) : m), Infinity);
      const [dx, dy] = [0, 1].map((k) => low(art.regions.xy, k) - low(own.xy, k)) as [number, number];
      const moved = { ...own, xy: own.xy.map((v, i) => v + (i % 2 ? dy : dx)) };
      const gap = findGap(art.regions, moved);
      expect(1000 * gap).toBeLessThan(1000 * art.offMm + 0.4);
      expect(art.offMm).toBeLessThanOrEqual(0.0017);
      expect(1000 * gap).toBeGreaterThan(0.3);
    },
  );

  it('cut with a sharp tip: at most 2 µm outside the curves and 5 µm left, and so the proof says', async () => {
    await getEngines();
    const job = carveJob('SO', { words: { heightMm: 6, rotationDeg: 0 }, blank: { diameterMm: 60, lengthMm: 60 } });
    const planned = await planJob(job);
    const face = (await getLibrary()).find({ id: 'dejavu-sans-bold' });
    if (!face.ok) throw new Error('no font');
    const art = planned.lettering.artworks[0]!;
    const own = await curvesOf('SO', 'dejavu-sans-bold', 6 / face.value.capHeight, (x, y) => [x, y]);
    const box = (xy: Float64Array, k: number) => xy.reduce((m, v, i) => (i % 2 === k ? Math.min(m, v) : m), Infinity);
    const moved = {
      ...own,
      // A ring of a TrueType font runs clockwise; the sweep wants the area on the left.
      xy: own.xy.map((v, i) => v + box(art.regions.xy, i % 2) - box(own.xy, i % 2)),
    };
    const sweep = createSweep([...toPathLines(planned.setup, planned.plan)], 45);
    const swept = sweep.measureEdge(reverse(thin(moved, 8)), createSurface(job.blank), 0.11);
    const { edge } = planned.proof;
    console.info(
      'against the curves, µm:',
      (1000 * swept.outside).toFixed(2),
      (1000 * swept.uncut).toFixed(2),
      JSON.stringify(edge),
      JSON.stringify(swept),
    );
    expect(swept.outside).toBeLessThanOrEqual(0.002);
    expect(swept.uncut).toBeLessThanOrEqual(0.005);
    expect(1000 * swept.outside).toBeLessThanOrEqual(edge!.outsideCurvesUm + 0.5);
    expect(1000 * swept.uncut).toBeLessThanOrEqual(edge!.leftCurvesUm + 0.5);
  }, 120_000);
});

/** Corners, and every n-th point: 25 chords a curve leave it by 0.1 µm at this size. */
function thin(rings: Rings, n: number): Rings {
  const out: number[][] = [];
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring: number[] = [];
    for (let i = rings.starts[k]!; i < rings.starts[k + 1]!; i++) {
      const [x, y] = [rings.xy[2 * i]!, rings.xy[2 * i + 1]!];
      const from = rings.starts[k]!,
        n1 = rings.starts[k + 1]! - from;
      const [h, j] = [from + ((i - from + n1 - 1) % n1), from + ((i - from + 1) % n1)];
      const [ax, ay] = [x - rings.xy[2 * h]!, y - rings.xy[2 * h + 1]!];
      const [bx, by] = [rings.xy[2 * j]! - x, rings.xy[2 * j + 1]! - y];
      const turns = Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) > 0.1;
      if ((i - from) % n === 0 || turns || Math.max(Math.hypot(ax, ay), Math.hypot(bx, by)) > 0.05) ring.push(x, y);
    }
    out.push(ring);
  }
  const starts = [0];
  for (const r of out) starts.push(starts.at(-1)! + r.length / 2);
  return { xy: Float64Array.from(out.flat()), starts: Uint32Array.from(starts) };
}

function reverse(rings: Rings): Rings {
  const xy = rings.xy.slice();
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const [from, to] = [rings.starts[k]!, rings.starts[k + 1]!];
    for (let i = from; i < to; i++) {
      xy[2 * i] = rings.xy[2 * (to - 1 - (i - from))]!;
      xy[2 * i + 1] = rings.xy[2 * (to - 1 - (i - from)) + 1]!;
    }
  }
  return { xy, starts: rings.starts };
}
