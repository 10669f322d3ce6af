import { describe, expect, it } from 'vitest';
import { asWork } from '../../../tests/support';
import type { Run } from '../pipeline/setup';
import { createCellGrid } from '../removal/cellGrid';
import { TILE } from '../removal/tile';
import { createCylinder } from '../surface/cylinder';
import { createPlate } from '../surface/plate';
import type { Work } from '../machine/stance';
import type { Intent } from './intent';
import { findLooseParts } from './loose';

const WALL_MM = 2;
const plate = asWork(
  createPlate({ lengthMm: 64, widthMm: 64, thicknessMm: WALL_MM, inclineRad: 0, inclineTowards: 'x', shape: 'rectangle' }),
);
const pocket = { kind: {}, cutIndex: 0 } as Run;

/** Cells of a mm, cut through where it is said: only tiles in which something is gone are there, as in a depth field. */
function cutThrough(work: Work, isGone: (column: number, row: number) => boolean) {
  const grid = createCellGrid(work, 1);
  const tiles = Array.from({ length: grid.tilesAlong * grid.tilesRound }, (_, key) => {
    const [c0, r0] = [(key % grid.tilesAlong) * TILE, Math.floor(key / grid.tilesAlong) * TILE];
    return {
      key,
      depth: Float32Array.from({ length: TILE * TILE }, (__, i) => (isGone(c0 + (i % TILE), r0 + Math.floor(i / TILE)) ? 99 : 0)),
    };
  }).filter((t) => t.depth.some((d) => d > 0));
  const cellX = (column: number): number => grid.minX + (column + 0.5) * grid.cellX,
    cellY = (row: number): number => grid.minY + (row + 0.5) * grid.cellY;
  return { grid, tiles, cellX, cellY };
}

/** A cut that goes through everywhere. */
const through = (run: Run, tabs: Intent['tabs'] = []): Pick<Intent, 'layers' | 'tabs'> => {
  const ask = (_x: number, _y: number, _s: number, out: { mustMm: number; mayMm: number }): void => {
    out.mayMm = 99;
  };
  const box = { minX: -99, maxX: 99, minY: -99, maxY: 99 };
  return { layers: [{ box, ask, run }] as unknown as Intent['layers'], tabs };
};

/** On the frame of a square about the middle, over the borders of all four tiles: 20 cells wide inside. */
const onFrame = (c: number, r: number): boolean => Math.max(Math.abs(c - 31.5), Math.abs(r - 31.5)) === 10.5;

describe('parts that nothing holds', () => {
  it('are those inside a closed way through the wall, with their area', () => {
    const [part, ...more] = findLooseParts({ work: plate }, through(pocket), cutThrough(plate, onFrame));
    expect(more).toEqual([]);
    expect(part!.kind).toBe('loose');
    expect(part!.run).toBe(pocket);
    expect(part!.areaMm2).toBeCloseTo(20 * 20, 6);
  });

  it('are held by one cell over its side, and not by a corner', () => {
    const held = (hole: [number, number]) =>
      findLooseParts(
        { work: plate },
        through(pocket),
        cutThrough(plate, (c, r) => onFrame(c, r) && !(c === hole[0] && r === hole[1])),
      );
    expect(held([42, 30])).toEqual([]);
    // The corner of the frame touches the inside over a corner alone.
    expect(held([42, 42])).toHaveLength(1);
  });

  it('are found round a blank that closes on itself: a ring cut off is the smaller part', () => {
    const tube = asWork(createCylinder(20, 64, 16, Math.PI));
    const cut = (gap: number) =>
      findLooseParts(
        { work: tube },
        through(pocket),
        cutThrough(tube, (c, r) => c === 50 && r !== gap),
      );
    expect(cut(-1)).toHaveLength(1);
    expect(cut(-1)[0]!.at[0]).toBeGreaterThan(50);
    expect(cut(7)).toEqual([]);
  });

  it('are meant where a cut frees them and asks for no tabs, and only there', () => {
    const free = { kind: { frees: true }, cutIndex: 0 } as Run;
    const field = cutThrough(plate, onFrame);
    expect(findLooseParts({ work: plate }, through(free), field)).toEqual([]);
    const tabs = [{ run: free }] as unknown as Intent['tabs'];
    expect(findLooseParts({ work: plate }, through(free, tabs), field)).toHaveLength(1);
  });

  it('are none where nobody knows how thick the blank is, on a free shape', () => {
    const free: Work = { ...plate, wallAt: () => 0 };
    // A ring of tiles about one that is whole.
    expect(findLooseParts({ work: free }, through(pocket), cutThrough(free, onFrame))).toEqual([]);
    const wide = asWork(
      createPlate({ lengthMm: 160, widthMm: 160, thicknessMm: 2, inclineRad: 0, inclineTowards: 'x', shape: 'rectangle' }),
    );
    const ring = cutThrough({ ...wide, wallAt: () => 0 }, (c, r) => Math.max(Math.abs(c - 79.5), Math.abs(r - 79.5)) === 30.5);
    expect(findLooseParts({ work: { ...wide, wallAt: () => 0 } }, through(pocket), ring)).toEqual([]);
  });
});
