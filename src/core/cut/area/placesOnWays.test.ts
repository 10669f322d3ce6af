import { describe, expect, it } from 'vitest';
import { computeStrokeLength } from '../stroke';
import { beginWaysAt, findNearestOnWays, getPlaceOnWay, placeOnWays } from './placesOnWays';

const square = (x: number, y: number, side: number): Float64Array =>
  Float64Array.from([x, y, 1, x + side, y, 1, x + side, y + side, 1, x, y + side, 1, x, y, 1]);
const ways = [square(0, 0, 10), square(20, 0, 10)];

describe('places on ways', () => {
  it('lie on the nearest way, at their share of it', () => {
    expect(findNearestOnWays(ways, 5, -1)).toEqual({ way: 0, share: 0.125 });
    expect(findNearestOnWays(ways, 31, 5)).toEqual({ way: 1, share: 0.375 });
    expect(findNearestOnWays([], 0, 0)).toBeNull();
    expect(getPlaceOnWay(ways[1]!, 0.375)).toEqual({ x: 30, y: 5 });
    expect(
      placeOnWays(ways, [
        { x: 9, y: 12 },
        { x: 4, y: -2 },
      ]),
    ).toEqual([[0.1, 0.525], []]);
  });

  it('are where a closed way begins, as long as before and closed; others stay', () => {
    const open = ways[1]!.slice(0, 9);
    const [begun, other] = beginWaysAt([ways[0]!, open], [{ x: 10.4, y: 4 }]);
    expect([...begun!.subarray(0, 3)]).toEqual([10, 4, 1]);
    expect([...begun!.slice(-3)]).toEqual([10, 4, 1]);
    expect(computeStrokeLength(begun!)).toBeCloseTo(40, 12);
    // The same way round, and no corner lost: the shoelace area is what it was.
    let area = 0;
    for (let i = 3; i < begun!.length; i += 3) area += (begun![i - 3]! * begun![i + 1]! - begun![i]! * begun![i - 2]!) / 2;
    expect(area).toBeCloseTo(100, 9);
    expect(begun!.length / 3).toBe(6);
    expect(other).toBe(open);
  });

  it('take the depth between its neighbours where that changes', () => {
    const way = square(0, 0, 10);
    way[5] = 3;
    const [begun] = beginWaysAt([way], [{ x: 2.5, y: -1 }]);
    expect([...begun!.subarray(0, 3)]).toEqual([2.5, 0, 1.5]);
    expect([...begun!.slice(-3)]).toEqual([2.5, 0, 1.5]);
  });

  it('on a corner make no point twice', () => {
    const [begun] = beginWaysAt([ways[0]!], [{ x: 10, y: 10 }]);
    expect(begun!.length / 3).toBe(5);
    expect([...begun!.subarray(0, 2)]).toEqual([10, 10]);
  });
});
