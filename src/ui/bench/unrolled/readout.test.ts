import { describe, expect, it } from 'vitest';
import { createDomeBlank, domeShapes } from '../../../../tests/support';
import { createBlank } from '../../../core/job/defaults';
import { createSurface } from '../../../core/surface/registry';
import { describePlace, describeSheet } from './readout';

const cylinder = createSurface({ ...createBlank('cylinder'), diameterMm: 42, lengthMm: 60 });
const cone = createSurface({ ...createBlank('cone'), datumDiameterMm: 20, farDiameterMm: 60, lengthMm: 40 });

describe('describePlace', () => {
  it('tells x, turn, arc, radius and depth on a round blank, and the letter', () => {
    expect(describePlace(cylinder, { x: 12.5, y: 21 * (Math.PI / 2) }, 'mm', 0.25, 'R')).toBe(
      'x 12.5 · 90° · arc 32.99 · r 21 · depth 0.25 mm · R',
    );
    // Half-way up the cone the sheet is true; at its datum end arc and radius are smaller.
    expect(describePlace(cone, { x: 0, y: 20 }, 'mm', null, null)).toBe('x 0 · 57.3° · arc 10 · r 10 mm');
  });
  it('tells x and y where nothing turns, in inches with a digit more', () => {
    const dome = createSurface(createDomeBlank(), domeShapes());
    expect(describePlace(dome, { x: 25.4, y: -2.54 }, 'in', null, null)).toBe('x 1 · y -0.1 in');
  });
});

describe('describeSheet', () => {
  it('says how large it is, and what it is true to', () => {
    expect(describeSheet(cylinder, 'mm')).toBe('unrolled 60 × 131.95 mm, 2.7284° per mm');
    expect(describeSheet(cylinder, 'in')).toBe('unrolled 2.362 × 5.195 in, 69.3006° per in');
    expect(describeSheet(cone, 'mm')).toBe('slant 44.72 mm; round, the sheet is true at Ø 40');
    expect(describeSheet(createSurface(createBlank('turned')), 'mm')).toMatch(/^profile .* true at Ø 50$/);
    expect(describeSheet(createSurface(createBlank('plate')), 'mm')).toBe('sheet 120 × 60 mm');
  });
});
