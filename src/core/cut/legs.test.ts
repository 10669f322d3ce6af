import { describe, expect, it } from 'vitest';
import { joinLegs } from './legs';
import { computeStrokeLength } from './stroke';

const stroke = (...points: number[]): Float64Array => Float64Array.from(points);
/** A stem with a leg at its middle, which has a leg of its own, and one that hangs on nothing. */
const stem = stroke(0, 0, 0, 10, 0, 1, 20, 0, 1);
const leg = stroke(15, 0, 1, 15, 2, 0);
const own = stroke(15, 1, 0.5, 16, 1, 0);
const apart = stroke(0, 5, 0, 1, 5, 0.2);

describe('joinLegs', () => {
  it('runs short strokes out and back from where they hang, and theirs from them', () => {
    const joined = joinLegs([stem, leg, own, apart], 3);
    expect(joined).toHaveLength(2);
    const lengths = [stem, leg, own].map(computeStrokeLength);
    expect(computeStrokeLength(joined[0]!)).toBeCloseTo(lengths[0]! + 2 * lengths[1]! + 2 * lengths[2]!, 9);
    expect(joined[1]).toEqual(apart);
    // Every place of every stroke is passed at its depth.
    const places = new Set(Array.from({ length: joined[0]!.length / 3 }, (_, i) => joined[0]!.subarray(3 * i, 3 * i + 3).join()));
    for (const s of [stem, leg, own]) for (let i = 0; i < s.length; i += 3) expect(places).toContain(s.subarray(i, i + 3).join());
  });

  it('takes a leg from either of its ends, and from a host that runs either way', () => {
    const turned = stroke(15, 2, 0, 15, 0, 1);
    expect(joinLegs([stem, turned], 3)).toHaveLength(1);
    const [joined] = joinLegs([turned, stem, stroke(15, 2, 0, 16, 3, 0)], 3);
    expect(joined!.subarray(0, 3).join()).toBe('0,0,0');
    expect(computeStrokeLength(joined!)).toBeCloseTo(computeStrokeLength(stem) + 2 * computeStrokeLength(turned) + 2 * Math.SQRT2, 9);
  });

  it('leaves long ones, and those at another depth, as they are', () => {
    expect(joinLegs([stem, leg], 1)).toEqual([stem, leg]);
    const deeper = stroke(15, 0, 1.2, 15, 2, 0);
    expect(joinLegs([stem, deeper], 3)).toEqual([stem, deeper]);
  });

  it('a ring of legs that hang on each other hangs on one of them', () => {
    const ring = [stroke(0, 0, 1, 1, 0, 1), stroke(1, 0, 1, 1, 1, 1), stroke(1, 1, 1, 0, 0, 1)];
    expect(joinLegs(ring, 5)).toHaveLength(1);
  });
});
