import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createBlank } from '../job/defaults';
import { findApexMm, getTaper, withHalfAngle, withRatio, withSizes } from './coneSets';

const cone = createBlank('cone');

describe('cone sizes by any sufficient set', () => {
  it('says one taper three ways: 1:10 is 5.7248° whole, 2.8624° half', () => {
    const t = getTaper({ ...cone, datumDiameterMm: 20, farDiameterMm: 24, lengthMm: 40 });
    expect(t.ratioK).toBeCloseTo(10, 12);
    expect(t.taperDeg).toBeCloseTo(5.7248, 4);
    expect(t.halfAngleDeg).toBeCloseTo(2.8624, 4);
  });
  it('comes back to what was typed', () => {
    fc.assert(
      fc.property(fc.double({ min: -60, max: 60, noNaN: true }), fc.double({ min: 1, max: 100, noNaN: true }), (angle, k) => {
        expect(getTaper(withHalfAngle(cone, angle)).halfAngleDeg).toBeCloseTo(angle, 9);
        expect(getTaper(withRatio(cone, k)).ratioK).toBeCloseTo(k, 6);
      }),
      { seed: 8 },
    );
  });
  it('keeps the angle when diameter or length change, if the angle was given, and else both diameters', () => {
    const by = { ...cone, given: 'half-angle' as const };
    expect(getTaper(withSizes(by, { lengthMm: 20 })).halfAngleDeg).toBeCloseTo(getTaper(cone).halfAngleDeg, 12);
    expect(withSizes(cone, { lengthMm: 20 }).farDiameterMm).toBe(cone.farDiameterMm);
    expect(withSizes(by, { datumDiameterMm: 50 }).farDiameterMm).toBeCloseTo(70, 9);
  });
  it('knows where a narrowing cone comes to its point', () => {
    expect(findApexMm({ datumDiameterMm: 40, farDiameterMm: 20, lengthMm: 30 })).toBeCloseTo(60, 12);
    expect(findApexMm({ datumDiameterMm: 40, farDiameterMm: -20, lengthMm: 30 })).toBeCloseTo(20, 12);
    expect(findApexMm({ datumDiameterMm: 40, farDiameterMm: 60, lengthMm: 30 })).toBeNull();
  });
});
