import type { CellGrid } from '../shape/patch';

/** Finds triangles over sheet places and keeps the weights of their corners; the one found last is tried first. */
export function createLocator(p: Float64Array, t: Uint32Array, grid: CellGrid) {
  let last = -1;
  let w0 = 0,
    w1 = 0,
    w2 = 0;
  /** Whether triangle f holds (x, y), within rounding; sets the weights of its corners. */
  const holds = (f: number, x: number, y: number, slack: number): boolean => {
    const a = 3 * t[3 * f]!,
      b = 3 * t[3 * f + 1]!,
      c = 3 * t[3 * f + 2]!;
    const ax = p[a]! - x,
      ay = p[a + 1]! - y,
      bx = p[b]! - x,
      by = p[b + 1]! - y,
      cx = p[c]! - x,
      cy = p[c + 1]! - y;
    const ab = ax * by - ay * bx,
      bc = bx * cy - by * cx,
      ca = cx * ay - cy * ax;
    const sum = ab + bc + ca;
    if (!(Math.abs(sum) > 1e-18)) return false;
    w0 = bc / sum;
    w1 = ca / sum;
    w2 = ab / sum;
    return w0 >= -slack && w1 >= -slack && w2 >= -slack;
  };
  const height = (f: number): number => w0 * p[3 * t[3 * f]! + 2]! + w1 * p[3 * t[3 * f + 1]! + 2]! + w2 * p[3 * t[3 * f + 2]! + 2]!;
  const cellOf = (x: number, y: number): number => {
    const c = Math.floor((x - grid.minX) / grid.cellMm),
      r = Math.floor((y - grid.minY) / grid.cellMm);
    return c < 0 || r < 0 || c >= grid.columns || r >= grid.rows ? -1 : r * grid.columns + c;
  };
  /** The highest triangle over (x, y), below `ceiling`, or −1. */
  const find = (x: number, y: number, ceiling: number): number => {
    if (ceiling === Infinity && last >= 0 && holds(last, x, y, 1e-12)) return last;
    const cell = cellOf(x, y);
    if (cell < 0) return -1;
    let best = -Infinity,
      found = -1;
    for (let i = grid.start[cell]!; i < grid.start[cell + 1]!; i++) {
      const f = grid.list[i]!;
      if (!holds(f, x, y, 1e-9)) continue;
      const z = height(f);
      if (z > best && z < ceiling) {
        best = z;
        found = f;
      }
    }
    if (found >= 0) {
      holds(found, x, y, 1e-9);
      if (ceiling === Infinity) last = found;
    }
    return found;
  };
  /** Where there is none: the triangle nearest to the place, whose plane goes on. */
  const findNear = (x: number, y: number): number => {
    const c0 = Math.min(grid.columns - 1, Math.max(0, Math.floor((x - grid.minX) / grid.cellMm)));
    const r0 = Math.min(grid.rows - 1, Math.max(0, Math.floor((y - grid.minY) / grid.cellMm)));
    let best = Infinity,
      found = -1,
      extra = 1;
    for (let ring = 0; ring < Math.max(grid.columns, grid.rows) && extra >= 0; ring++) {
      if (found >= 0) extra--;
      for (let r = r0 - ring; r <= r0 + ring; r++) {
        if (r < 0 || r >= grid.rows) continue;
        const step = r === r0 - ring || r === r0 + ring ? 1 : 2 * ring || 1;
        for (let c = c0 - ring; c <= c0 + ring; c += step) {
          if (c < 0 || c >= grid.columns) continue;
          const cell = r * grid.columns + c;
          for (let i = grid.start[cell]!; i < grid.start[cell + 1]!; i++) {
            const f = grid.list[i]!;
            const a = 3 * t[3 * f]!,
              b = 3 * t[3 * f + 1]!,
              d = 3 * t[3 * f + 2]!;
            const dx = (p[a]! + p[b]! + p[d]!) / 3 - x,
              dy = (p[a + 1]! + p[b + 1]! + p[d + 1]!) / 3 - y;
            const away = dx * dx + dy * dy;
            if (away < best) {
              best = away;
              found = f;
            }
          }
        }
      }
    }
    if (found >= 0) holds(found, x, y, Infinity);
    return found;
  };
  return { find, findNear, height, weights: () => [w0, w1, w2] as const, w: (k: number) => (k === 0 ? w0 : k === 1 ? w1 : w2) };
}

export type Locator = ReturnType<typeof createLocator>;
