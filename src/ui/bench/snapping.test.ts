import { describe, expect, it } from 'vitest';
import { createCylinder } from '../../core/surface/cylinder';
import { collectSnapLines, snapBox } from './snapping';

const surface = createCylinder(40, 80, 0, Math.PI);
const box = (x: number, y: number) => ({ minX: x - 5, minY: y - 2, maxX: x + 5, maxY: y + 2 });

describe('snapBox', () => {
  it('jumps to the middle of the sheet, exactly', () => {
    const s = snapBox(box(40.3, 0.2), collectSnapLines(surface, [], [], 0, 0), 0.5);
    expect(s.x).toBe(40);
    expect(40.3 + s.dx!).toBe(40);
    expect(0.2 + s.dy!).toBeCloseTo(0, 12);
  });
  it('jumps to edges and middles of other lettering, and to guides', () => {
    const lines = collectSnapLines(surface, [{ kind: 'around', id: 'g', name: '', xMm: 61, startDeg: 0 }], [box(20, 30)], 0, 0);
    expect(snapBox(box(30.2, 10), lines, 0.5).x).toBe(25);
    expect(snapBox(box(61.4, 10), lines, 0.5).x).toBe(61);
    expect(snapBox(box(50, 30.1), lines, 0.5).y).toBe(30);
  });
  it('takes the grid only where nothing else is near, in mm or degrees', () => {
    expect(snapBox(box(33.1, 7), collectSnapLines(surface, [], [], 1, 0), 0.3).x).toBe(33);
    const s = snapBox(box(33.4, (10.2 * Math.PI * 20) / 180), collectSnapLines(surface, [], [], 0, 5), 0.2);
    expect(s.y! / ((Math.PI * 20) / 180)).toBeCloseTo(10, 9);
  });
  it('leaves alone what is near nothing', () => expect(snapBox(box(33.4, 7), collectSnapLines(surface, [], [], 0, 0), 0.2)).toEqual({}));
});
