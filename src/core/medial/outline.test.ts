import { describe, expect, it } from 'vitest';
import { createRandom, rect, ringsOf } from '../../../tests/support';
import { computeWinding, createOutline, findCrossing } from './outline';
import { GRID_MM } from '../base/boolean';

const outlineOf = (...parts: number[][]) => {
  const made = createOutline(ringsOf(...parts));
  if (!made.ok) throw new Error(made.error.kind);
  return made.value;
};

describe('createOutline', () => {
  it('unites what overlaps', () => {
    const o = outlineOf(rect(0, 0, 2, 2), rect(1, 1, 3, 3));
    expect(o.segmentCount).toBe(8);
    expect(findCrossing(o)).toBe(-1);
  });

  it('links every vertex to the next and back', () => {
    const o = outlineOf(rect(0, 0, 5, 5), rect(4, 1, 1, 4).reverse());
    for (let i = 0; i < o.segmentCount; i++) expect(o.prev[o.next[i]!]).toBe(i);
  });

  it('cleans crossings of any kind: bow ties, doubled rings, random stars', () => {
    const random = createRandom(17);
    const star = Array.from({ length: 120 }, () => random() * 10);
    for (const parts of [[[0, 0, 2, 2, 2, 0, 0, 2]], [rect(0, 0, 1, 1), rect(0, 0, 1, 1)], [star], [[0, 0, 1, 0, 2, 0, 2, 0, 0, 0]]]) {
      expect(findCrossing(outlineOf(...parts))).toBe(-1);
    }
  });

  it.each([[[]], [[[]]], [[[1, 1, 1, 1, 1, 1]]], [[[0, 0, 1, 0, 2, 0]]]])('is empty for %j', (parts) => {
    expect(outlineOf(...(parts as number[][])).segmentCount).toBe(0);
  });

  it('winds once inside, not in a hole', () => {
    const o = outlineOf(rect(0, 0, 5, 5), [1, 1, 1, 4, 4, 4, 4, 1]);
    expect(computeWinding(o, 0.5 / GRID_MM, 0.5 / GRID_MM)).toBe(1);
    expect(computeWinding(o, 2 / GRID_MM, 2 / GRID_MM)).toBe(0);
    expect(computeWinding(o, -1 / GRID_MM, 2 / GRID_MM)).toBe(0);
  });
});
