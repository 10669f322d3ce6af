import { describe, expect, it } from 'vitest';
import { computeFit, toSheetView, turnPixel, turnZoom, unturnZoom } from './sheetGeometry';

describe('a sheet turned by a quarter', () => {
  const screen = { width: 500, height: 400 };
  it('has its y to the right and its x down, and a pointer finds the place that is drawn under it', () => {
    const own = computeFit({ minX: 0, maxX: 60, minY: -70, maxY: 70 }, { width: screen.height, height: screen.width })!;
    const view = toSheetView(own);
    // As the placing draws it: translate(width, 0) rotate(90).
    const draw = (x: number, y: number) => ({ px: screen.width - view.toY(y), py: view.toX(x) });
    expect(draw(10, 20).px).toBeGreaterThan(draw(10, 0).px);
    expect(draw(30, 0).py).toBeGreaterThan(draw(10, 0).py);
    for (const [x, y] of [
      [0, 0],
      [12, -31],
      [60, 70],
    ] as const) {
      const { px, py } = draw(x, y);
      const back = turnPixel(px, py, screen.width);
      expect(view.fromX(back.px)).toBeCloseTo(x, 9);
      expect(view.fromY(back.py)).toBeCloseTo(y, 9);
    }
  });
  it('zooms about the pointer: the zoom of the screen and that of the sheet are one', () => {
    const zoom = { x: 31, y: -12, k: 3 };
    expect(unturnZoom(turnZoom(zoom, screen.width), screen.width)).toEqual(zoom);
    // A place drawn with the sheet's zoom lies where the screen's zoom takes it.
    const own = toSheetView(turnZoom(zoom, screen.width));
    const [x, y] = [7, 5];
    expect(screen.width - own.toY(y)).toBeCloseTo(zoom.x + zoom.k * y, 9);
    expect(own.toX(x)).toBeCloseTo(zoom.y + zoom.k * x, 9);
  });
});
