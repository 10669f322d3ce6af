import { boxesOverlap, type Box } from '../base/rings';

/** Steps of the grid on which a free place is sought, each way. */
const STEPS = 40;

/**
 * The place nearest to the middle of an area at which a box fits without lying on others; the middle if there is none. O(others).
 * @param periodMm Length of a whole turn along y, where the area closes on itself; else null.
 * @returns Middle of the box, mm.
 */
export function findRoom(
  area: Box,
  others: readonly Box[],
  widthMm: number,
  heightMm: number,
  gapMm: number,
  periodMm: number | null,
): { xMm: number; yMm: number } {
  const middle = { xMm: (area.minX + area.maxX) / 2, yMm: (area.minY + area.maxY) / 2 };
  const all =
    periodMm === null ? others : others.flatMap((b) => [-periodMm, 0, periodMm].map((d) => ({ ...b, minY: b.minY + d, maxY: b.maxY + d })));
  const isFree = (x: number, y: number): boolean => {
    const own = {
      minX: x - widthMm / 2 - gapMm,
      maxX: x + widthMm / 2 + gapMm,
      minY: y - heightMm / 2 - gapMm,
      maxY: y + heightMm / 2 + gapMm,
    };
    const inside =
      own.minX >= area.minX && own.maxX <= area.maxX && (periodMm !== null || (own.minY >= area.minY && own.maxY <= area.maxY));
    return inside && !all.some((b) => boxesOverlap(own, b));
  };
  if (isFree(middle.xMm, middle.yMm)) return middle;
  let best = middle,
    nearest = Infinity;
  for (let i = 0; i <= STEPS; i++) {
    for (let k = 0; k <= STEPS; k++) {
      const x = area.minX + (i / STEPS) * (area.maxX - area.minX),
        y = area.minY + (k / STEPS) * (area.maxY - area.minY);
      const off = Math.hypot(x - middle.xMm, y - middle.yMm);
      if (off >= nearest || !isFree(x, y)) continue;
      nearest = off;
      best = { xMm: x, yMm: y };
    }
  }
  return best;
}
