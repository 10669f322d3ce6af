import { beforeAll, describe, expect, it } from 'vitest';
import { layerOn, getLibrary } from '../../../tests/support';
import { createCylinder } from '../surface/cylinder';
import { createCurve } from '../guide/curve';
import { createInscription, createOnGuide } from '../job/defaults';
import { createVariables, type Guide, type OnGuide, type TextInscription } from '../job/schema';
import { computeInscription, createGlyphCache, type LetteringContext } from './artwork';
import { formatSerial, resolveWords } from './words';
import type { Library } from '../pipeline/lettering';

const R = 20;
const surface = createCylinder(2 * R, 80, 0, Math.PI);
let library: Library;
beforeAll(async () => {
  library = await getLibrary();
});
const set = (text: string, patch: Partial<TextInscription> = {}, guides: Guide[] = [], variables = createVariables()) => {
  const context: LetteringContext = {
    find: (ref) => {
      const found = library.find(ref);
      return found.ok ? found.value : null;
    },
    curve: (id) => {
      const guide = guides.find((g) => g.id === id);
      return guide ? createCurve(guide, surface) : null;
    },
    layer: layerOn(surface),
    steepLimitDeg: 60,
    cache: createGlyphCache(),
    variables,
    todayIso: '2026-03-31',
  };
  return computeInscription({ ...createInscription('i', text, 'dejavu-sans-bold', 0), ...patch }, context);
};
const width = (a: ReturnType<typeof set>) => a.box.maxX - a.box.minX;
const height = (a: ReturnType<typeof set>) => a.box.maxY - a.box.minY;

describe('fitting', () => {
  it('fills a box, and shrinks into one but never grows', () => {
    const box = { to: 'box' as const, widthMm: 30, heightMm: 20 };
    expect(width(set('HELM', { fit: { ...box, how: 'fill' } }))).toBeCloseTo(30, 2);
    expect(width(set('H', { fit: { ...box, widthMm: 3, how: 'shrink' } }))).toBeCloseTo(3, 2);
    expect(width(set('H', { fit: { ...box, how: 'shrink' } }))).toBeCloseTo(width(set('H')), 6);
  });

  it('wraps lines at its width, and full lines are exactly that wide', () => {
    const wrapped = set('THE TIDE IS HIGH AT THE NORTH QUAY', {
      fit: { to: 'box', widthMm: 40, heightMm: 50, how: 'wrap' },
      justify: 'full',
    });
    expect(width(wrapped)).toBeCloseTo(40, 2);
    expect(height(wrapped)).toBeGreaterThan(20);
  });

  it.each(['spacing', 'scale'] as const)('comes to a length by %s', (by) => {
    const a = set('HARBOUR', { fit: { to: 'length', lengthMm: 70, by } });
    expect(width(a)).toBeCloseTo(70, 2);
    if (by === 'spacing') expect(height(a)).toBeCloseTo(height(set('HARBOUR')), 6);
    else expect(height(a) / height(set('HARBOUR'))).toBeCloseTo(70 / width(set('HARBOUR')), 3);
  });

  it('spans an angle, and the whole turn but for a gap', () => {
    expect(height(set('ROUND', { rotationDeg: 90, fit: { to: 'angle', angleDeg: 90, by: 'spacing' } }))).toBeCloseTo((Math.PI / 2) * R, 2);
    expect(height(set('ROUND', { rotationDeg: 90, fit: { to: 'turn', gapMm: 5, by: 'scale' } }))).toBeCloseTo(2 * Math.PI * R - 5, 1);
  });

  it('condenses, slants, weighs and spaces', () => {
    expect(width(set('H', { widthRatio: 0.5 })) / width(set('H'))).toBeCloseTo(0.5, 3);
    expect(width(set('I', { slantDeg: 45 })) - width(set('I'))).toBeCloseTo(6, 1);
    expect(width(set('I', { weightMm: 0.3 })) - width(set('I'))).toBeCloseTo(0.3, 3);
    expect(width(set('II', { letterSpacingPercent: 50 })) - width(set('II'))).toBeCloseTo(3, 3);
    expect(width(set('I I', { wordSpacingMm: 2 })) - width(set('I I'))).toBeCloseTo(2, 3);
  });

  it('takes a second font only where it is told to, and says for which characters', () => {
    expect(set('A→B', { font: { id: 'cinzel-bold' } }).missing).toEqual(['→']);
    const both = set('A→B', { font: { id: 'cinzel-bold' }, fallbackFont: { id: 'dejavu-sans' } });
    expect(both.missing).toEqual([]);
    expect(both.fallbacks).toEqual(['→']);
    expect(both.letters.map((l) => l.char)).toEqual(['A', '→', 'B']);
  });
});

describe('on a guide', () => {
  const circle: Guide = { kind: 'arc', id: 'c', name: '', centre: { xMm: 0, yMm: 0 }, radiusMm: 30, startDeg: 180, sweepDeg: -180 };
  const on = (patch: Partial<OnGuide> = {}, id = 'c') => ({ onGuide: { ...createOnGuide(id), ...patch } });
  const radii = (a: ReturnType<typeof set>) => {
    const all: number[] = [];
    for (let i = 0; i < a.regions.xy.length; i += 2) all.push(Math.hypot(a.regions.xy[i]!, a.regions.xy[i + 1]!));
    return [Math.min(...all), Math.max(...all)] as const;
  };

  it('keeps each turned letter undistorted: its area is what it is on a line', () => {
    const area = (a: ReturnType<typeof set>) => {
      let sum = 0;
      for (let k = 0; k + 1 < a.regions.starts.length; k++)
        for (let i = a.regions.starts[k]!, j = a.regions.starts[k + 1]! - 1; i < a.regions.starts[k + 1]!; j = i++)
          sum += a.regions.xy[2 * j]! * a.regions.xy[2 * i + 1]! - a.regions.xy[2 * i]! * a.regions.xy[2 * j + 1]!;
      return sum / 2;
    };
    expect(area(set('ARC', on(), [circle]))).toBeCloseTo(area(set('ARC')), 3);
  });

  it('bends letters so that baseline and tops lie on circles', () => {
    const [low, high] = radii(set('HHH', on({ letters: 'bent' }), [circle]));
    expect(low).toBeCloseTo(30, 2);
    expect(high).toBeCloseTo(36, 2);
    expect(radii(set('HHH', on({ letters: 'bent', side: 'below' }), [circle]))[1]).toBeCloseTo(30, 2);
    expect(radii(set('HHH', on({ letters: 'bent', offsetMm: 2 }), [circle]))[0]).toBeCloseTo(32, 2);
  });

  it('stands at the start, the middle or the end, or a distance from there', () => {
    const line: Guide = { kind: 'line', id: 'c', name: '', from: { xMm: 0, yMm: 0 }, to: { xMm: 100, yMm: 0 } };
    expect(set('IT', on({ from: 'start', distanceMm: 5 }), [line]).box.minX).toBeCloseTo(5, 3);
    const mid = set('IT', on({ from: 'middle' }), [line]).box;
    expect((mid.minX + mid.maxX) / 2).toBeCloseTo(50, 3);
    expect(set('IT', on({ from: 'end' }), [line]).box.maxX).toBeCloseTo(100, 3);
    const back = set('IT', on({ from: 'start', reversed: true }), [line]);
    expect(back.box.maxX).toBeCloseTo(100, 3);
    expect(back.box.maxY).toBeLessThan(0.01);
  });

  it('fits the whole guide but for a gap', () => {
    const line: Guide = { kind: 'line', id: 'c', name: '', from: { xMm: 0, yMm: 0 }, to: { xMm: 100, yMm: 0 } };
    for (const by of ['spacing', 'scale'] as const)
      expect(width(set('FIT', { ...on(), fit: { to: 'guide', gapMm: 10, by } }, [line]))).toBeCloseTo(90, 2);
  });

  it('is bent between two guides, its height following their distance', () => {
    const low: Guide = { kind: 'line', id: 'c', name: '', from: { xMm: 0, yMm: 0 }, to: { xMm: 60, yMm: 0 } };
    const high: Guide = { kind: 'line', id: 'h', name: '', from: { xMm: 0, yMm: 4 }, to: { xMm: 60, yMm: 12 } };
    const a = set('HHHHHHH', { ...on({ topGuideId: 'h' }), fit: { to: 'guide', gapMm: 0, by: 'scale' } }, [low, high]);
    expect(a.box.minY).toBeCloseTo(0, 3);
    expect(a.box.maxY).toBeCloseTo(12, 1);
    expect(a.letters[0]!.box.maxY).toBeLessThan(6);
  });

  it('keeps upright letters upright', () => {
    const a = set('H', on({ letters: 'upright', from: 'start' }), [circle]);
    expect(a.box.maxY - a.box.minY).toBeCloseTo(6, 3);
  });

  it('says how far it runs over, which letters collide, and that a guide is empty', () => {
    expect(set('LONG', on(), [{ ...circle, sweepDeg: -5 }]).faults[0]).toMatchObject({ kind: 'off-guide' });
    expect(set('HMHM', on({ side: 'below' }), [{ ...circle, radiusMm: 8 }]).faults.map((f) => f.kind)).toContain('letters-collide');
    expect(set('HMHM', on(), [circle]).faults).toEqual([]);
    expect(set('X', on({}, 'gone')).faults).toEqual([{ kind: 'guide-empty', guide: 'gone' }]);
  });
});

describe('repeating', () => {
  it('goes evenly round, each with its own words', () => {
    const a = set('N', {
      rotationDeg: 90,
      repeat: { roundCount: 4, roundPitchDeg: 0, alongCount: 1, alongPitchMm: 0, words: { kind: 'numbers', start: 1, step: 1 } },
    });
    expect(a.letters.map((l) => l.char)).toEqual(['1', '2', '3', '4']);
    const middles = a.letters.map((l) => (l.box.minY + l.box.maxY) / 2);
    expect(middles[3]! - middles[2]!).toBeCloseTo((Math.PI / 2) * R, 0);
  });
  it('goes along by its pitch, and takes a list', () => {
    const a = set('-', {
      repeat: { roundCount: 1, roundPitchDeg: 0, alongCount: 3, alongPitchMm: 15, words: { kind: 'list', texts: ['E', 'E'] } },
    });
    expect(a.letters.map((l) => l.char)).toEqual(['E', 'E', '-']);
    expect(a.letters[1]!.box.minX - a.letters[0]!.box.minX).toBeCloseTo(15, 9);
  });
});

describe('resolveWords', () => {
  const v = {
    ...createVariables(),
    columns: ['owner', 'town'],
    rows: [
      ['A. Reed', 'Port'],
      ['B. Moss', 'Quay'],
    ],
  };
  it('puts in serial, date and columns', () => {
    expect(resolveWords('No. {serial} {date}', v, 12, '2026-03-31').text).toBe('No. 012 2026-03-31');
    expect(resolveWords('{owner}, { town }', v, 2, '').text).toBe('B. Moss, Quay');
    expect(resolveWords('{date}', { ...v, date: '2025-12-01', dateFormat: '03/2026' }, 1, '').text).toBe('12/2025');
    expect(formatSerial({ ...v, serial: { start: 100, step: -5, width: 0 } }, 3)).toBe('90');
  });
  it('leaves and names what stands for nothing, and minds no other braces', () => {
    expect(resolveWords('{ownr} {}', v, 1, '')).toMatchObject({ text: '{ownr} {}', unknown: ['ownr'], varies: true });
    expect(resolveWords('{owner}', v, 3, '').unknown).toEqual(['owner']);
    expect(resolveWords('plain', v, 1, '')).toEqual({ text: 'plain', unknown: [], varies: false });
  });
});
