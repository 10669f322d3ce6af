import { describe, expect, it } from 'vitest';
import { asWork, leaningPlate, ringsOf } from '../../../tests/support';
import { createVProfile } from '../cut/profile';
import { createCylinder } from '../surface/cylinder';
import { createPlate } from '../surface/plate';
import { Outlines } from './outlines';

const box = (x0: number, y0: number, x1: number, y1: number): number[] => [x0, y0, x1, y0, x1, y1, x0, y1];
const plate = asWork(createPlate({ lengthMm: 100, widthMm: 60, thicknessMm: 5, inclineRad: 0, inclineTowards: 'x', shape: 'rectangle' }));
const R = 10;
const cylinder = asWork(createCylinder(2 * R, 80, 0, Math.PI));

describe('Outlines', () => {
  it('are filled by the even–odd rule, on a blank that closes at every turn', () => {
    const ring = ringsOf(box(10, -5, 30, 5), box(15, -2, 25, 2));
    const outlines = new Outlines(ring, true, plate);
    expect([12, 20, 28, 31].map((x) => outlines.isInside(x, 0))).toEqual([true, false, true, false]);
    const round = new Outlines(ring, true, cylinder);
    for (const turn of [-1, 0, 1, 2]) expect(round.isInside(12, turn * cylinder.periodMm!)).toBe(true);
  });

  it('are nearest by the distance beside the tool: on a cylinder R·sin φ, at the next turn too (geometry of a circle)', () => {
    const outlines = new Outlines(ringsOf(box(10, -3, 30, 3)), true, cylinder);
    const at = 5;
    const near = outlines.findNearest(20, at, 5)!;
    expect(near.lateralMm).toBeCloseTo(R * Math.sin((at - 3) / R), 4);
    expect([near.x, near.y]).toEqual([expect.closeTo(20, 6), expect.closeTo(3, 6)]);
    expect(outlines.findNearest(20, at + cylinder.periodMm!, 5)!.y).toBeCloseTo(3 + cylinder.periodMm!, 6);
    expect(outlines.findNearest(20, 8.5, 2)).toBeNull();
  });

  it('leave a V room by its half-width at their height', () => {
    const outlines = new Outlines(ringsOf(box(10, -5, 30, 5)), true, plate);
    const profile = createVProfile(60, 0.2);
    expect(outlines.findClearance(20, 4, 1, profile, 5)).toBeCloseTo(1 - (0.1 + Math.tan(Math.PI / 6)), 9);
    // The contact allows a depth at which the flank just meets it.
    expect(outlines.findContact(20, 4, profile, 5)!.leastMm).toBeCloseTo(profile.heightAt(1), 5);
  });

  it('may be asked something else while they are visited (regression: the places after that were those of another tool)', () => {
    const outlines = new Outlines(ringsOf(box(10, -5, 14, 5)), true, plate);
    const visit = (ask: boolean): number[] => {
      const out: number[] = [];
      outlines.visitNear(12, 0, 6, (x, y, lateral) => {
        out.push(x, y, lateral);
        if (ask) outlines.findNearest(90, 20, 100);
      });
      return out;
    };
    expect(visit(false).length).toBe(4 * 3);
    expect(visit(true)).toEqual(visit(false));
  });

  it('are found beside a tool that leans, which is farther on the surface (regression: at 27° those near its rim were missed)', () => {
    const leanDeg = 27;
    const work = leaningPlate(leanDeg);
    const edge = ringsOf(box(20, 0, 60, 20));
    const outlines = new Outlines(edge, true, work);
    const place = new Float64Array(3),
      onEdge = new Float64Array(3);
    work.pointInto(40, 0, onEdge);
    for (const y of [-0.4, -0.6, -0.7]) {
      work.pointInto(40, y, place);
      const lateral = Math.abs(place[1]! - onEdge[1]!);
      let least = Infinity;
      outlines.visitNear(40, y, lateral + 1e-6, (_, __, l) => (least = Math.min(least, l)));
      expect(least).toBeCloseTo(lateral, 5);
      expect(outlines.findNearest(40, y, lateral + 1e-6)!.lateralMm).toBeCloseTo(lateral, 5);
    }
  });
});
