import { beforeAll, describe, expect, it } from 'vitest';
import { layerOn, getLibrary } from '../../../tests/support';
import { computeSignedArea, getRing } from '../base/rings';
import { createCylinder } from '../surface/cylinder';
import { createInscription } from '../job/defaults';
import { ANCHORS, createVariables, type TextInscription } from '../job/schema';
import { computeInscription, createGlyphCache, type LetteringContext } from './artwork';
import type { Typeface } from './typeface';

const faces: Record<string, Typeface> = {};
beforeAll(async () => {
  const library = await getLibrary();
  for (const id of ['dejavu-sans-bold', 'great-vibes', 'hershey-sans', 'dejavu-sans']) {
    const found = library.find({ id });
    if (!found.ok) throw new Error(id);
    faces[id] = found.value;
  }
});
const context = (): LetteringContext => ({
  find: (ref) => ('id' in ref ? (faces[ref.id] ?? null) : null),
  curve: () => null,
  layer: layerOn(createCylinder(40, 80, 0, Math.PI)),
  steepLimitDeg: 60,
  cache: createGlyphCache(),
  variables: createVariables(),
  todayIso: '2026-03-31',
});
const set = (text: string, patch: Partial<TextInscription> = {}, font = 'dejavu-sans-bold', own = context()) =>
  computeInscription({ ...createInscription('i', text, font, 0), ...patch }, own);
const size = (a: ReturnType<typeof set>) => [a.box.maxX - a.box.minX, a.box.maxY - a.box.minY];

describe('computeInscription', () => {
  it('has capitals of exactly the height asked for', () => {
    expect(size(set('H', { heightMm: 7 }))[1]).toBeCloseTo(7, 3);
    expect(size(set('H', { heightMm: 7 }, 'hershey-sans'))[1]).toBeCloseTo(7, 6);
  });

  it('takes a point size as the body', () => {
    // 24 pt = 24/72 in; the H of DejaVu Sans Bold stands 1493 of 2048 units.
    expect(size(set('H', { heightMm: (24 * 25.4) / 72, heightOf: 'body' }))[1]).toBeCloseTo((24 * 25.4 * 1493) / 72 / 2048, 3);
  });

  it('puts each anchor of the frame where it is told', () => {
    for (const anchor of ANCHORS) {
      const a = set('HOH', { anchor, at: { xMm: 12, turnDeg: (5 / 20) * (180 / Math.PI) } });
      const xs = [a.frame[0]!, a.frame[2]!],
        ys = [a.frame[1]!, a.frame[5]!];
      const x = anchor.includes('left') ? xs[0] : anchor.includes('right') ? xs[1] : (xs[0]! + xs[1]!) / 2;
      const y = anchor.includes('bottom') ? ys[0] : anchor.includes('top') ? ys[1] : (ys[0]! + ys[1]!) / 2;
      expect(x).toBeCloseTo(12, 9);
      expect(y).toBeCloseTo(5, 9);
      expect(a.box.maxX - a.box.minX).toBeCloseTo(xs[1]! - xs[0]!, 3);
    }
  });

  it('turns about its anchor and keeps its size', () => {
    const [w, h] = size(set('EEL'));
    const [tw, th] = size(set('EEL', { rotationDeg: 90 }));
    expect(tw).toBeCloseTo(h!, 3);
    expect(th).toBeCloseTo(w!, 3);
  });

  it('mirrors only where asked, and keeps the region on the left of its rings', () => {
    const area = (a: ReturnType<typeof set>) => {
      let sum = 0;
      for (let k = 0; k + 1 < a.regions.starts.length; k++) sum += computeSignedArea(getRing(a.regions, k));
      return sum;
    };
    const [plain, mirrored] = [set('F'), set('F', { mirrored: true })];
    expect(area(mirrored)).toBeCloseTo(area(plain), 6);
    expect(area(plain)).toBeGreaterThan(0);
    // The stem of F is its longest upright: at the left, and at the right when mirrored.
    const stemX = (a: ReturnType<typeof set>) => {
      const xy = a.regions.xy;
      let best = [0, 0];
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        if (Math.abs(xy[i]! - xy[j]!) < 1e-3 && Math.abs(xy[i + 1]! - xy[j + 1]!) > best[0]!)
          best = [Math.abs(xy[i + 1]! - xy[j + 1]!), xy[i]!];
      }
      return (best[1]! - a.box.minX) / (a.box.maxX - a.box.minX);
    };
    expect(stemX(plain)).toBeLessThan(0.01);
    expect(stemX(mirrored)).toBeGreaterThan(0.99);
  });

  it('spaces letters by the same amount and lines by the body', () => {
    expect(size(set('III', { letterSpacingMm: 1 }))[0]! - size(set('III'))[0]!).toBeCloseTo(2, 3);
    const two = set('H\nH', { heightMm: 5, lineSpacingRatio: 1.5, justify: 'left' });
    const body = (5 * 2048) / 1493;
    expect(size(two)[1]).toBeCloseTo(5 + 1.5 * body, 3);
  });

  it('justifies lines by their ink', () => {
    const left = set('H\nHHH', { justify: 'left' }),
      right = set('H\nHHH', { justify: 'right' });
    const top = (a: ReturnType<typeof set>) => a.letters.find((l) => l.cluster === 0)!.box;
    expect(top(left).minX).toBeCloseTo(left.box.minX, 3);
    expect(top(right).maxX).toBeCloseTo(right.box.maxX, 3);
  });

  it('merges letters that overlap, so that a joined script is one region', () => {
    const apart = set('mm', { letterSpacingMm: 3 }, 'great-vibes').regions.starts.length;
    expect(set('mm', {}, 'great-vibes').regions.starts.length).toBeLessThan(apart);
  });

  it('gives strokes for a stroke font and regions for an outline font', () => {
    expect(set('A', {}, 'hershey-sans').regions.xy).toHaveLength(0);
    expect(set('A', {}, 'hershey-sans').chains.xy.length).toBeGreaterThan(0);
    expect(set('A').chains.xy).toHaveLength(0);
  });

  it.each(['', ' ', '\n\n', '\u200b', '\t'])('has no ink and no complaint for %j', (text) => {
    const a = set(text);
    expect(a.box.minX).toBeGreaterThan(a.box.maxX);
    expect(a.missing).toEqual([]);
  });

  it('names what is missing, once each, and sets the rest', () => {
    const a = set('A🐟B🐟語');
    expect(a.missing).toEqual(['🐟', '語']);
    expect(a.letters.map((l) => l.char)).toEqual(['A', 'B']);
  });

  it('does not call marks missing that are never seen', () => expect(set('A\ufe0f\u200d').missing).toEqual([]));

  it('gives the same for a warm cache as for a cold one', () => {
    const own = context();
    const first = set('TWICE', {}, 'dejavu-sans-bold', own);
    expect(set('TWICE', {}, 'dejavu-sans-bold', own)).toEqual(first);
  });

  it('sets the longest wording allowed within a second', () => {
    const start = performance.now();
    const a = set('LONG TEXT '.repeat(200));
    expect(a.letters.length).toBe(1600);
    expect(performance.now() - start).toBeLessThan(1000);
  });
});
