import type { Box } from '../../../core/base/rings';
import type { Surface } from '../../../core/surface/surface';
import { LEFT, TOP } from '../Rulers';
import type { SheetView } from '../sheetView';

/** Room kept free round a sheet that is shown whole, px: at the right, above for the buttons, and below for what stands there. */
const RIGHT_ROOM = 20;
const UPPER_ROOM = 30;
const LOWER_ROOM = 54;
const MIDDLE_ROOM = 24;
/** A view smaller than this shows nothing that could be fitted, px. */
const MIN_WIDTH = 120;
const MIN_HEIGHT = 80;

/** A zoom: view px = (x + k · sheet x, y − k · sheet y). */
export interface SheetZoom {
  x: number;
  y: number;
  k: number;
}

/** The view of a zoom. */
export const toSheetView = ({ x, y, k }: SheetZoom): SheetView => ({
  k,
  toX: (sheetX) => x + k * sheetX,
  toY: (sheetY) => y - k * sheetY,
  fromX: (px) => (px - x) / k,
  fromY: (py) => (y - py) / k,
});

/**
 * A sheet turned by a quarter, so that what runs round the blank reads straight: its y then runs to the right on the screen and its x
 * down. Everything is drawn in the sheet's own view, as if upright, and turned as a whole.
 * @param width Of the screen's view, px.
 */
export const turnPixel = (px: number, py: number, width: number): { px: number; py: number } => ({ px: py, py: width - px });
/** A zoom of the screen's view as one of the turned sheet's own, and back. */
export const turnZoom = ({ x, y, k }: SheetZoom, width: number): SheetZoom => ({ k, x: y, y: width - x });
export const unturnZoom = ({ x, y, k }: SheetZoom, width: number): SheetZoom => ({ k, x: width - y, y: x });

/** The zoom that shows a whole sheet between the rulers; null in a view too small for it. */
export function computeFit({ minX, maxX, minY, maxY }: Surface['domain'], size: { width: number; height: number }): SheetZoom | null {
  if (size.width < MIN_WIDTH || size.height < MIN_HEIGHT) return null;
  const k = Math.min((size.width - LEFT - RIGHT_ROOM) / (maxX - minX), (size.height - TOP - UPPER_ROOM - LOWER_ROOM) / (maxY - minY));
  return {
    k,
    x: LEFT + (size.width - LEFT - k * (maxX - minX)) / 2 - k * minX,
    y: TOP + UPPER_ROOM + (size.height - TOP - UPPER_ROOM - MIDDLE_ROOM - k * (maxY - minY)) / 2 + k * maxY,
  };
}

/** A rectangle drawn in the view, px. */
export interface Marquee {
  from: { px: number; py: number };
  to: { px: number; py: number };
}

/** Ids of the lettering whose ink a marquee touches. */
export function findInMarquee({ from, to }: Marquee, view: SheetView, lettering: readonly { id: string; box: Box }[]): string[] {
  const x0 = view.fromX(Math.min(from.px, to.px)),
    x1 = view.fromX(Math.max(from.px, to.px)),
    y0 = view.fromY(Math.max(from.py, to.py)),
    y1 = view.fromY(Math.min(from.py, to.py));
  return lettering.filter(({ box }) => box.minX <= x1 && box.maxX >= x0 && box.minY <= y1 && box.maxY >= y0).map((i) => i.id);
}

/** The letter under a sheet place. */
export const findLetter = <T extends { box: Box }>(letters: readonly T[], { x, y }: { x: number; y: number }): T | undefined =>
  letters.find(({ box }) => x >= box.minX && x <= box.maxX && y >= box.minY && y <= box.maxY);

/** Whether a sheet place lies on the part of the sheet that is drawn. */
export const isOnSheet = (surface: Surface, { x, y }: { x: number; y: number }): boolean =>
  y >= surface.domain.minY && y <= surface.domain.maxY && surface.outsideMm(x, y) === 0;
