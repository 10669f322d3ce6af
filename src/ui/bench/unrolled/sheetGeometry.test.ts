import { describe, expect, it } from 'vitest';
import { createBlank } from '../../../core/job/defaults';
import { createSurface } from '../../../core/surface/registry';
import { computeFit, findInMarquee, findLetter, isOnSheet, toSheetView } from './sheetGeometry';

describe('toSheetView', () => {
  it('leads to the screen and back, y up', () => {
    const view = toSheetView({ x: 30, y: 200, k: 4 });
    expect([view.toX(5), view.toY(5)]).toEqual([50, 180]);
    expect([view.fromX(view.toX(7.25)), view.fromY(view.toY(-3.5))]).toEqual([7.25, -3.5]);
  });
});

describe('computeFit', () => {
  const size = { width: 600, height: 500 };
  it.each([
    ['a wide sheet', { minX: 0, maxX: 200, minY: -20, maxY: 20 }],
    ['a high one', { minX: -10, maxX: 10, minY: 0, maxY: 300 }],
  ])('shows all of %s beside the rulers, its middle in the middle of what is left', (_, domain) => {
    const fit = computeFit(domain, size)!;
    const view = toSheetView(fit);
    expect(view.toX(domain.minX)).toBeGreaterThanOrEqual(74);
    expect(view.toX(domain.maxX)).toBeLessThanOrEqual(600);
    // Below the buttons.
    expect(view.toY(domain.maxY)).toBeGreaterThanOrEqual(52);
    expect(view.toY(domain.minY)).toBeLessThanOrEqual(500);
    expect(view.toX((domain.minX + domain.maxX) / 2)).toBeCloseTo((74 + 600) / 2, 9);
    // One of the two ways is used to the full.
    const used = Math.max((fit.k * (domain.maxX - domain.minX)) / (600 - 94), (fit.k * (domain.maxY - domain.minY)) / (500 - 106));
    expect(used).toBeCloseTo(1, 9);
  });
  it('has none in a view too small to show anything', () => {
    expect(computeFit({ minX: 0, maxX: 1, minY: 0, maxY: 1 }, { width: 100, height: 500 })).toBeNull();
    expect(computeFit({ minX: 0, maxX: 1, minY: 0, maxY: 1 }, { width: 500, height: 70 })).toBeNull();
  });
});

describe('findInMarquee', () => {
  const view = toSheetView({ x: 0, y: 100, k: 1 });
  const lettering = [
    { id: 'low', box: { minX: 0, maxX: 10, minY: 0, maxY: 10 } },
    { id: 'high', box: { minX: 20, maxX: 30, minY: 50, maxY: 60 } },
    { id: 'empty', box: { minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity } },
  ];
  const at = (x: number, y: number) => ({ px: x, py: 100 - y });
  it.each([
    [at(-5, -5), at(5, 5), ['low']],
    [at(5, 5), at(-5, -5), ['low']],
    [at(-5, 70), at(25, -5), ['low', 'high']],
    [at(12, 12), at(18, 40), []],
  ])('takes what it touches, drawn either way (%#)', (from, to, ids) => expect(findInMarquee({ from, to }, view, lettering)).toEqual(ids));
});

describe('findLetter and isOnSheet', () => {
  it('find the letter under a place, and whether the place is drawn', () => {
    const letters = [{ char: 'A', box: { minX: 0, maxX: 2, minY: 0, maxY: 3 } }];
    expect(findLetter(letters, { x: 1, y: 3 })?.char).toBe('A');
    expect(findLetter(letters, { x: 2.1, y: 1 })).toBeUndefined();
    const surface = createSurface(createBlank('cylinder'));
    const { minX, maxX, minY, maxY } = surface.domain;
    expect(isOnSheet(surface, { x: (minX + maxX) / 2, y: (minY + maxY) / 2 })).toBe(true);
    // Round a cylinder all is material, but only one turn is drawn.
    expect(isOnSheet(surface, { x: (minX + maxX) / 2, y: maxY + 1 })).toBe(false);
    expect(isOnSheet(surface, { x: maxX + 1, y: minY + 1 })).toBe(false);
  });
});
