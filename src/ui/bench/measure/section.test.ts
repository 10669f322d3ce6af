import { describe, expect, it } from 'vitest';
import { createBlank } from '../../../core/job/defaults';
import { createCellGrid } from '../../../core/removal/cellGrid';
import { DepthField } from '../../../core/removal/field';
import { removeStretch } from '../../../core/removal/stretches';
import { PICTURE_CELLS, ReliefPainter } from '../../../core/removal/relief';
import { createSurface } from '../../../core/surface/registry';
import { computeSection, depthOf, findCrossings } from './section';

const surface = createSurface({ ...createBlank('cylinder'), diameterMm: 20, lengthMm: 40 } as never);

/** A groove along the blank, 0.5 mm deep and 1 mm wide round it, as pictures. */
function grooved() {
  const field = new DepthField(createCellGrid(surface, 0.05), surface);
  const { rows, columns } = field.grid;
  for (let r = 0; r < rows; r++) {
    if (Math.abs(field.cellY(r)) > 0.5) continue;
    for (let c = 0; c < columns; c++) removeStretch(field.touch(c >> 5, r >> 5), (r & 31) * 32 + (c & 31), 0, 0.5, 0);
  }
  const painter = new ReliefPainter(field);
  const look = new Uint8Array(4 * PICTURE_CELLS * field.tiles.length),
    depth = new Float32Array(PICTURE_CELLS * field.tiles.length);
  field.tiles.forEach((tile, k) =>
    painter.paint(tile, 1, look.subarray(4 * PICTURE_CELLS * k), depth.subarray(PICTURE_CELLS * k, PICTURE_CELLS * (k + 1))),
  );
  return { grid: field.grid, slots: new Map(field.tiles.map((t, k) => [t.key, k])), depth } as never;
}

describe('a cut through the piece', () => {
  it('is true to scale on the curved surface: the arc, the groove and its width', () => {
    const section = computeSection({ x0: 20, y0: -4, x1: 20, y1: 4 }, grooved(), surface, []);
    const n = section.skin.length / 2;
    // The chord of an arc of 8 mm on R 10, and its rise.
    expect(section.skin[2 * n - 2]!).toBeCloseTo(2 * 10 * Math.sin(0.4), 3);
    expect(section.skin[2 * (n >> 1) + 1]!).toBeCloseTo(10 * (1 - Math.cos(0.4)), 3);
    expect(section.deepestMm).toBeCloseTo(0.5, 5);
    expect(section.cutSpans).toHaveLength(1);
    const [from, to] = section.cutSpans[0]!;
    expect(to - from).toBeGreaterThan(0.95);
    expect(to - from).toBeLessThan(1.1);
    const middle = n >> 1;
    expect(section.skin[2 * middle + 1]! - section.cut[2 * middle + 1]!).toBeCloseTo(0.5, 4);
  });

  it('knows the depth over the seam and outside the sheet', () => {
    const piece = grooved();
    expect(depthOf(piece, 20, surface.periodMm!)).toBeCloseTo(0.5, 5);
    expect(depthOf(piece, -5, 0)).toBe(0);
  });

  it('finds what is drawn along a line, counters left out', () => {
    const regions = { xy: Float64Array.from([0, 0, 6, 0, 6, 6, 0, 6, 2, 2, 2, 4, 4, 4, 4, 2]), starts: Uint32Array.from([0, 4, 8]) };
    expect(findCrossings({ x0: -2, y0: 3, x1: 8, y1: 3 }, [{ regions } as never], null)).toEqual([
      [expect.closeTo(0.2, 9), expect.closeTo(0.4, 9)],
      [expect.closeTo(0.6, 9), expect.closeTo(0.8, 9)],
    ]);
  });
});
