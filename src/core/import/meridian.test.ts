import { describe, expect, it } from 'vitest';
import { createMeridian } from '../surface/meridian';
import { readDxf } from './dxf';
import { describeMeridianImport, toMeridian } from './meridian';
import { readSvg } from './svg';

const dxf = (...entities: string[]): string =>
  [
    '0',
    'SECTION',
    '2',
    'HEADER',
    '9',
    '$INSUNITS',
    '70',
    '4',
    '0',
    'ENDSEC',
    '0',
    'SECTION',
    '2',
    'ENTITIES',
    ...entities,
    '0',
    'ENDSEC',
    '0',
    'EOF',
  ].join('\n');
const line = (x0: number, y0: number, x1: number, y1: number): string =>
  ['0', 'LINE', '8', '0', '10', x0, '20', y0, '11', x1, '21', y1].join('\n');
const arc = (cx: number, cy: number, r: number, from: number, to: number): string =>
  ['0', 'ARC', '8', '0', '10', cx, '20', cy, '40', r, '50', from, '51', to].join('\n');
const take = (text: string) => {
  const read = readDxf(text, 1, 0.002, () => undefined);
  if (!read.ok) throw new Error(JSON.stringify(read.error));
  return toMeridian(read.value);
};
const made = (text: string) => {
  const taken = take(text);
  if (!taken.ok) throw new Error(describeMeridianImport(taken.error, 'x'));
  const m = createMeridian(taken.value.nodes);
  if (!m.ok) throw new Error(m.error.kind);
  return { ...taken.value, m: m.value };
};

describe('toMeridian', () => {
  it('joins lines and an arc whichever way they run; lines stay lines and the arc the very arc', () => {
    // A foot of Ø 40, a quarter round of radius 15 in to Ø 10, and a neck.
    const { nodes, m, notes } = made(dxf(line(10, 20, 0, 20), arc(10, 5, 15, 0, 90), line(25, 5, 60, 5)));
    expect(nodes.map((n) => [n.xMm, n.diameterMm].map((v) => Math.round(v * 1e6) / 1e6))).toEqual([
      [0, 40],
      [10, 40],
      [25, 10],
      [60, 10],
    ]);
    expect(nodes.map((n) => n.bulge !== 0)).toEqual([false, true, false, false]);
    // A quarter turn: the tangent of a quarter of it, outward.
    expect(nodes[1]!.bulge).toBeCloseTo(Math.tan(Math.PI / 8), 9);
    expect(m.lengthMm).toBeCloseTo(10 + (15 * Math.PI) / 2 + 35, 6);
    const k = new Float64Array(5);
    for (let a = 2; a < 90; a += 4) {
      const t = (a * Math.PI) / 180;
      const near = m.nearest(10 + 15 * Math.cos(t), 5 + 15 * Math.sin(t));
      expect(Math.abs(near.offMm)).toBeLessThan(1e-6);
      m.at(near.s, k);
      expect(k[4]).toBeCloseTo(1 / 15, 6);
    }
    expect(notes).toEqual([]);
  });
  it('keeps a hollow arc hollow, two arcs that run into each other apart, and arcs drawn from the other end', () => {
    // A cove of radius 8 into Ø 60, then a bead of radius 5 smoothly on: an ogee.
    const { nodes, m } = made(
      dxf(line(0, 30, 10, 30), arc(18, 30, 8, 180, 270), arc(18, 17, 5, 0, 90), line(23, 17, 23, 10), line(23, 10, 50, 10)),
    );
    const bulges = nodes.map((n) => n.bulge).filter((v) => v !== 0);
    expect(bulges.length).toBe(2);
    expect(bulges[0]).toBeCloseTo(-Math.tan(Math.PI / 8), 9);
    expect(bulges[1]).toBeCloseTo(Math.tan(Math.PI / 8), 9);
    expect(m.lengthMm).toBeCloseTo(10 + 4 * Math.PI + 2.5 * Math.PI + 7 + 27, 6);
  });
  it('takes an ellipse for no arc, and follows it by a spline', () => {
    const ellipse = ['0', 'ELLIPSE', '8', '0', '10', 30, '20', 0, '11', 30, '21', 0, '40', 0.5, '41', 0.5, '42', 2.6].join('\n');
    const { nodes, m } = made(dxf(ellipse));
    expect(nodes.every((n) => n.bulge === 0)).toBe(true);
    const x0 = 30 + 30 * Math.cos(2.6);
    for (let t = 0.55; t < 2.55; t += 0.1)
      expect(Math.abs(m.nearest(30 + 30 * Math.cos(t) - x0, 15 * Math.sin(t)).offMm)).toBeLessThan(0.02);
  });
  it('takes the longest line, turns one that lies below, and moves it to the datum end; says so', () => {
    const { nodes, notes } = made(dxf(line(5, -20, 45, -10), line(0, 50, 3, 50)));
    expect(nodes.map((n) => [n.xMm, n.diameterMm])).toEqual([
      [0, 40],
      [40, 20],
    ]);
    expect(notes.join()).toMatch(/longest was taken.*turned over.*moved by -5\.000 mm/);
  });
  it('keeps the arcs of an SVG, mirrored and scaled, the very arcs', () => {
    const read = readSvg(
      '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 120 80"><g transform="matrix(1 0 0 -1 0 80)"><path d="M0 20 L10 20 A 15 15 0 0 1 25 35 L 110 35" fill="none" stroke="#000"/></g></svg>',
      0.002,
      () => undefined,
    );
    const taken = read.ok ? toMeridian(read.value) : null;
    if (!taken?.ok) throw new Error('not read');
    const { nodes } = taken.value;
    expect(nodes.length).toBe(4);
    expect(Math.abs(nodes[1]!.bulge)).toBeCloseTo(Math.tan(Math.PI / 8), 9);
    expect(nodes[2]!.xMm - nodes[1]!.xMm).toBeCloseTo(7.5, 9);
  });
  it('reads an SVG as well, whose y points down', () => {
    const read = readSvg(
      '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40"><path d="M0 20 L30 10 L60 20" fill="none" stroke="#000"/></svg>',
      0.005,
      () => undefined,
    );
    expect(read.ok && toMeridian(read.value).ok).toBe(true);
  });
  it.each([
    [dxf(), 'noLine'],
    [dxf(line(0, 1, 0.1, 1)), 'tooShort'],
    [dxf(line(0, -5, 40, 5)), 'belowAxis'],
  ])('refuses drawing %#', (text, kind) => {
    const read = readDxf(text, 1, 0.002, () => undefined);
    const taken = read.ok ? toMeridian(read.value) : ({ ok: false, error: { kind: 'noLine' } } as const);
    expect(taken.ok).toBe(false);
    if (!taken.ok) {
      expect(taken.error.kind).toBe(kind);
      expect(describeMeridianImport(taken.error as never, 'a.dxf')).toMatch(/a\.dxf .*\./);
    }
  });
});
