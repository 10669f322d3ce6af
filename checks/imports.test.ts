import { describe, expect, it } from 'vitest';
import { svgPathProperties } from 'svg-path-properties';
import { readSvg } from '../src/core/import/svg';
import { flattenBulge } from '../src/core/import/flattenCurves';
import { fillRings } from '../src/core/base/boolean';
import { createCurve } from '../src/core/guide/curve';
import { createRandom, ringsOf } from '../tests/support';
import { locate } from './sweep';

describe('SVG paths against a reference library', () => {
  // Source: svg-path-properties (npm), arc lengths by its own quadrature.
  it.each([
    'M10 10 C 20 20, 40 20, 50 10',
    'M10 80 Q 52.5 10, 95 80 T 180 80',
    'M10 80 C 40 10, 65 10, 95 80 S 150 150, 180 80',
    'M10 10 h 50 v 20 l -10 -5 H 5',
    'M6 10 A 6 4 10 1 0 14 10',
    'M50 100 A 20 50 30 0 1 90 40',
    'm5 5 c1 1 2 0 3 3 s 4 4 5-9 q1 1 4 4 t5 5',
  ])('%s', (d) => {
    const read = readSvg(
      `<svg width="1000mm" height="1000mm" viewBox="0 0 1000 1000"><path fill="none" stroke="#000" d="${d}"/></svg>`,
      0.0002,
    );
    if (!read.ok) throw new Error(read.error.kind);
    const xy = read.value.lines[0]!.xy;
    let length = 0;
    for (let i = 2; i < xy.length; i += 2) length += Math.hypot(xy[i]! - xy[i - 2]!, xy[i + 1]! - xy[i - 1]!);
    const reference = new svgPathProperties(d);
    expect(length / reference.getTotalLength()).toBeCloseTo(1, 3);
    // Box: the reference's points, close together.
    const box = [Infinity, Infinity, -Infinity, -Infinity];
    for (let k = 0; k <= 2000; k++) {
      const { x, y } = reference.getPointAtLength((reference.getTotalLength() * k) / 2000);
      box[0] = Math.min(box[0]!, x);
      box[1] = Math.min(box[1]!, y);
      box[2] = Math.max(box[2]!, x);
      box[3] = Math.max(box[3]!, y);
    }
    const xs = xy.filter((_, i) => i % 2 === 0),
      ys = xy.filter((_, i) => i % 2 === 1).map((y) => 1000 - y);
    [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].forEach((v, k) =>
      expect(Math.abs(v - box[k]!)).toBeLessThan(0.05),
    );
  });
});

describe('DXF bulge arcs against the closed form', () => {
  // Source: the bulge is tan(θ/4) of the arc's angle (DXF Reference, group 42; from memory); sagitta = bulge · half chord.
  it.each([1, 0.5, 0.1, -0.3, -1, 2.5])('bulge %d', (bulge) => {
    const xy: number[] = [0, 0];
    flattenBulge(xy, { x: 0, y: 0 }, { x: 10, y: 0 }, bulge, 1e-5);
    const half = 5,
      sagitta = bulge * half;
    const radius = (half * half + sagitta * sagitta) / (2 * Math.abs(sagitta));
    const cy = -Math.sign(bulge) * (Math.abs(sagitta) - radius);
    let deepest = 0,
      length = 0;
    for (let i = 0; i < xy.length; i += 2) {
      expect(Math.hypot(xy[i]! - 5, xy[i + 1]! - cy)).toBeCloseTo(radius, 8);
      if (Math.abs(xy[i + 1]!) > Math.abs(deepest)) deepest = xy[i + 1]!;
      if (i) length += Math.hypot(xy[i]! - xy[i - 2]!, xy[i + 1]! - xy[i - 1]!);
    }
    // A positive bulge runs counter-clockwise from start to end: to the right of the chord.
    expect(deepest).toBeCloseTo(-sagitta, 3);
    expect(length).toBeCloseTo(radius * 4 * Math.atan(Math.abs(bulge)), 3);
  });
});

describe('fill rules against a raster of the same shape', () => {
  // Source: the definition of the two rules (SVG 1.1, 11.3; from memory): parity and sum of crossings of a ray.
  it.each([1, 2, 3])('a star drawn at random (%d)', (seed) => {
    const random = createRandom(seed);
    const star = Array.from({ length: 24 }, () => random() * 10);
    const crossings = (x: number, y: number): [number, number] => {
      let count = 0,
        winding = 0;
      for (let i = 0, j = star.length - 2; i < star.length; j = i, i += 2) {
        const [x0, y0, x1, y1] = [star[j]!, star[j + 1]!, star[i]!, star[i + 1]!];
        if (y0 > y === y1 > y || x >= ((x1 - x0) * (y - y0)) / (y1 - y0) + x0) continue;
        count++;
        winding += y1 > y0 ? 1 : -1;
      }
      return [count, winding];
    };
    for (const rule of ['evenodd', 'nonzero'] as const) {
      const filled = fillRings(ringsOf(star), rule);
      let wrong = 0;
      for (let k = 0; k < 900; k++) {
        const [x, y] = [random() * 10, random() * 10];
        const at = locate(filled, x, y);
        if (at.distance < 2e-4) continue;
        const [count, winding] = crossings(x, y);
        if (at.inside !== (rule === 'evenodd' ? count % 2 === 1 : winding !== 0)) wrong++;
      }
      expect(wrong).toBe(0);
    }
  });
});

describe('guides by arc length against closed forms', () => {
  const sheet = { mmPerRad: 1, periodMm: null };
  const at = new Float64Array(4);
  it('a circle: s = rθ', () => {
    const c = createCurve({ kind: 'arc', id: 'c', name: '', centre: { xMm: 1, yMm: 2 }, radiusMm: 7, startDeg: 30, sweepDeg: 300 }, sheet)!;
    for (const s of [0, 3.3, 11, 30]) {
      c.at(s, at);
      const a = Math.PI / 6 + s / 7;
      expect(at[0]).toBeCloseTo(1 + 7 * Math.cos(a), 12);
      expect(at[3]).toBeCloseTo(Math.cos(a), 12);
    }
  });
  it('a parabola: s = (u√(1+u²) + asinh u)/4·…, to 1e-9', () => {
    // y = x² from 0 to 2 as a quadratic Bezier raised to a cubic; its length to x is (2x√(1 + 4x²) + asinh 2x)/4.
    const c = createCurve(
      {
        kind: 'path',
        id: 'p',
        name: '',
        closed: false,
        nodes: [
          { xMm: 0, yMm: 0, inMm: { xMm: 0, yMm: 0 }, outMm: { xMm: 2 / 3, yMm: 0 } },
          { xMm: 2, yMm: 4, inMm: { xMm: -2 / 3, yMm: -8 / 3 }, outMm: { xMm: 0, yMm: 0 } },
        ],
      },
      sheet,
    )!;
    const length = (x: number) => (2 * x * Math.sqrt(1 + 4 * x * x) + Math.asinh(2 * x)) / 4;
    expect(c.lengthMm).toBeCloseTo(length(2), 9);
    for (const x of [0.1, 0.5, 1, 1.7]) {
      c.at(length(x), at);
      expect(at[0]).toBeCloseTo(x, 9);
      expect(at[1]).toBeCloseTo(x * x, 9);
      expect(at[3]! / at[2]!).toBeCloseTo(2 * x, 8);
    }
  });
});
