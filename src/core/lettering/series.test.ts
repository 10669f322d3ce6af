import { beforeAll, describe, expect, it } from 'vitest';
import { getLibrary } from '../../../tests/support';
import { createSeries } from '../job/defaults';
import { MAX_MARKS, type SeriesInscription } from '../job/schema';
import { mapRings } from '../base/rings';
import { createGlyphCache } from './glyphShapes';
import { computeMarks, countMarks, formatLabel } from './series';
import { computeSeries } from './seriesArtwork';
import type { Typeface } from './typeface';

let face: Typeface;
beforeAll(async () => {
  const found = (await getLibrary()).find({ id: 'hershey-sans' });
  if (!found.ok) throw new Error('no font');
  face = found.value;
});
const series = (patch: Partial<SeriesInscription> = {}): SeriesInscription => ({ ...createSeries('s', 'hershey-sans', 10), ...patch });
const marksOf = (s: SeriesInscription) => computeMarks(s).marks;
const labels = (patch: Partial<SeriesInscription['labels']>) => ({ ...series().labels, ...patch });

describe('computeMarks', () => {
  it('divides evenly, exactly to 1e-9, whatever the step', () => {
    const marks = marksOf(series({ from: 0, to: 3600, step: 1, minor: { every: 1, lengthMm: 1, widthMm: 0 } }));
    expect(marks).toHaveLength(3601);
    marks.forEach((m, k) => expect(Math.abs(m.share - k / 3600)).toBeLessThan(1e-12));
    expect(marksOf(series({ from: 0, to: 1, step: 0.1 }))).toHaveLength(11);
    expect(marksOf(series({ from: 5, to: -5, step: 1 })).map((m) => m.value)).toEqual([5, 4, 3, 2, 1, 0, -1, -2, -3, -4, -5]);
  });

  it('gives each mark the longest class that counts it', () => {
    expect(marksOf(series()).map((m) => m.lengthMm)).toEqual([4, 2, 2, 2, 2, 3, 2, 2, 2, 2, 4]);
  });

  it('does not double the first mark of a closed dial, but keeps the last of an open one', () => {
    const dial = series({ shape: 'dial', from: 0, to: 360, step: 30 });
    expect(marksOf(dial)).toHaveLength(12);
    expect(marksOf({ ...dial, spanDeg: 270 })).toHaveLength(13);
    expect(marksOf({ ...dial, from: 0, to: 100, step: 30 })).toHaveLength(4);
  });

  it('has no mark twice where a scale comes round on itself: with a table, and over two turns either way', () => {
    const table = [
      { value: 0, share: 0 },
      { value: 100, share: 0.3 },
      { value: 360, share: 1 },
    ];
    const dial = series({ shape: 'dial', from: 0, to: 360, step: 30, table });
    expect(marksOf(dial)).toHaveLength(12);
    expect(computeMarks(dial).doubled).toBe(0);
    for (const spanDeg of [720, -720]) {
      const twice = computeMarks({ ...dial, table: [], spanDeg });
      expect(twice.marks.map((m) => m.value)).toEqual([0, 30, 60, 90, 120, 150]);
      expect(twice.doubled).toBe(7);
    }
    // Two turns that do not fall on each other are left alone.
    expect(marksOf({ ...dial, table: [], to: 330, spanDeg: 690 })).toHaveLength(12);
  });

  it('says how many labels its list is short of', () => {
    expect(computeMarks(series({ labels: labels({ every: 5, list: ['JAN', 'FEB'] }) })).unlabelled).toBe(1);
    expect(computeMarks(series({ labels: labels({ every: 5, list: ['JAN', 'FEB', 'MAR'] }) })).unlabelled).toBe(0);
  });

  it('rounds labels as a person does, though 1.005 is no binary fraction', () => {
    const s = series({ labels: labels({ decimals: 2 }) });
    expect([1.005, -1.005, 2.675, 1.0049, 10.235].map((v) => formatLabel(s, v))).toEqual(['1.01', '-1.01', '2.68', '1.00', '10.24']);
  });

  it('labels every k marks, in a format or from a list, and skips some', () => {
    expect(
      marksOf(series({ labels: labels({ every: 5 }) }))
        .map((m) => m.label)
        .filter(Boolean),
    ).toEqual(['0', '5', '10']);
    expect(
      marksOf(series({ labels: labels({ every: 5, skip: [5] }) }))
        .map((m) => m.label)
        .filter(Boolean),
    ).toEqual(['0', '10']);
    expect(
      marksOf(series({ labels: labels({ every: 5, list: ['JAN', 'FEB', 'MAR'] }) }))
        .map((m) => m.label)
        .filter(Boolean),
    ).toEqual(['JAN', 'FEB', 'MAR']);
    expect(formatLabel(series({ labels: labels({ decimals: 1, plus: true, prefix: '~', suffix: ' m' }) }), 2.25)).toMatch(/^~\+2\.[23] m$/);
    expect(formatLabel(series({ labels: labels({ plus: true }) }), -0.2)).toBe('0');
  });

  it('follows a table between its values, and leaves out what lies beyond it', () => {
    const table = [
      { value: 0, share: 0 },
      { value: 4, share: 0.5 },
      { value: 10, share: 1 },
    ];
    const marks = marksOf(series({ table }));
    expect(marks.find((m) => m.value === 2)!.share).toBeCloseTo(0.25, 12);
    expect(marks.find((m) => m.value === 7)!.share).toBeCloseTo(0.75, 12);
    expect(marksOf(series({ table: table.slice(0, 2) })).at(-1)!.value).toBe(4);
  });

  it('counts before it works, so that a tiny step is refused at once', () => {
    expect(countMarks(series({ step: 1e-12 }))).toBeGreaterThan(MAX_MARKS);
    expect(computeSeries(series({ step: 1e-12 }), face, createGlyphCache(), 20, 0, 0, MAX_MARKS)).toBeNull();
  });
});

describe('computeSeries', () => {
  const draw = (patch: Partial<SeriesInscription>) => computeSeries(series(patch), face, createGlyphCache(), 20, 0, 0, MAX_MARKS)!;
  const points = (xy: ArrayLike<number>) => Array.from({ length: xy.length / 2 }, (_, i) => [xy[2 * i]!, xy[2 * i + 1]!] as const);

  it('sets a dial’s marks on its circle, towards the side asked for', () => {
    const radii = (marksTo: 'left' | 'right') =>
      points(
        draw({ shape: 'dial', radiusMm: 15, from: 0, to: 360, step: 10, marksTo, at: { xMm: 0, turnDeg: 0 } }).strokes.flatMap((m) => m.xy),
      ).map(([x, y]) => Math.hypot(x, y));
    expect(Math.max(...radii('left'))).toBeCloseTo(15, 9);
    expect(Math.min(...radii('right'))).toBeCloseTo(15, 9);
  });

  it('runs round the blank by degrees', () => {
    const ys = points(
      draw({ shape: 'round', from: 0, to: 90, step: 10, spanDeg: 90, at: { xMm: 0, turnDeg: 0 } }).strokes.flatMap((m) => m.xy),
    ).map(([, y]) => y);
    expect(Math.max(...ys)).toBeCloseTo((Math.PI / 2) * 20, 9);
  });

  it('draws marks with a width as areas, counter-clockwise', () => {
    const { areas, strokes } = draw({ minor: { every: 1, lengthMm: 2, widthMm: 0.2 } });
    expect(areas).toHaveLength(8);
    expect(strokes).toHaveLength(3);
    const r = areas[0]!.xy;
    expect(
      r[0]! * r[3]! - r[2]! * r[1]! + (r[2]! * r[5]! - r[4]! * r[3]!) + (r[4]! * r[7]! - r[6]! * r[5]!) + (r[6]! * r[1]! - r[0]! * r[7]!),
    ).toBeCloseTo(2 * 0.4, 9);
  });

  it('keeps labels clear of the marks by the gap, however they are turned', () => {
    for (const turn of ['upright', 'radial', 'tangential'] as const) {
      const shapes = draw({
        shape: 'dial',
        radiusMm: 30,
        from: 0,
        to: 12,
        step: 1,
        marksTo: 'right',
        at: { xMm: 0, turnDeg: 0 },
        labels: labels({ every: 1, side: 'right', gapMm: 1, turn }),
      });
      const least = Math.min(
        ...shapes.labels.flatMap((l) => points(mapRings(l.shape.rings, l.place).xy).map(([x, y]) => Math.hypot(x, y))),
      );
      expect(least).toBeGreaterThan(turn === 'upright' ? 33.2 : 34.5);
    }
  });

  it('mirrored, is the mirror image of itself as a whole: every label over where the image of its own falls', () => {
    for (const shape of ['along', 'round', 'dial'] as const) {
      for (const turn of ['upright', 'radial', 'tangential'] as const) {
        const own = { shape, rotationDeg: 20, spanDeg: 200, radiusMm: 20, at: { xMm: 0, turnDeg: 0 }, labels: labels({ every: 5, turn }) };
        const [a, b] = [draw(own), draw({ ...own, mirrored: true })];
        // The mirror that keeps the scale's line, or a dial's start, where it is.
        const axis =
          shape === 'round'
            ? [1, 0]
            : shape === 'along'
              ? [-Math.sin(Math.PI / 9), Math.cos(Math.PI / 9)]
              : [Math.cos(Math.PI / 9), Math.sin(Math.PI / 9)];
        const image = ([x, y]: readonly [number, number]): [number, number] => {
          const k = 2 * (x * axis[0]! + y * axis[1]!);
          return [k * axis[0]! - x, k * axis[1]! - y];
        };
        const of = (shapes: typeof a) => shapes.labels.flatMap((l) => points(mapRings(l.shape.rings, l.place).xy));
        const wanted = of(a).map(image);
        const found = of(b);
        expect(found).toHaveLength(wanted.length);
        for (const [x, y] of wanted) expect(Math.min(...found.map(([u, v]) => Math.hypot(u - x, v - y)))).toBeLessThan(1e-9);
        expect(b.labels.every(({ place: m }) => m.a * m.d - m.b * m.c < 0)).toBe(true);
      }
    }
  });

  it('lays out 3,600 marks with labels in well under a second', () => {
    const start = performance.now();
    const shapes = draw({ shape: 'dial', radiusMm: 100, from: 0, to: 3600, step: 1, labels: labels({ every: 100 }) });
    expect(shapes.marks).toHaveLength(3600);
    expect(performance.now() - start).toBeLessThan(500);
  });
});
