import type { Box } from '../../core/base/rings';
import type { Guide } from '../../core/job/schema';
import type { Surface } from '../../core/surface/surface';

/** Places that a dragged edge or middle jumps to, mm; and a grid, 0 for none. */
export interface SnapLines {
  xs: readonly number[];
  ys: readonly number[];
  gridXMm: number;
  gridYMm: number;
}

export interface Snap {
  /** What the drag is moved by, and the line it jumped to. */
  dx?: number;
  dy?: number;
  x?: number;
  y?: number;
}

/** Everything there is to snap to: the sheet's middle and edges, quarters and seam, guides, other lettering, the grid. */
export function collectSnapLines(
  surface: Surface,
  guides: readonly Guide[],
  others: readonly Box[],
  gridMm: number,
  gridDeg: number,
): SnapLines {
  const { domain } = surface;
  const xs = [domain.minX, (domain.minX + domain.maxX) / 2, domain.maxX];
  const ys = [-1, -0.5, 0, 0.5, 1].map((q) => q * Math.PI * surface.mmPerRad);
  ys.push(domain.minY, domain.maxY);
  for (const g of guides) {
    if (g.kind === 'line') {
      xs.push(g.from.xMm, g.to.xMm);
      ys.push(g.from.yMm, g.to.yMm);
    } else if (g.kind === 'arc') {
      xs.push(g.centre.xMm);
      ys.push(g.centre.yMm);
    } else if (g.kind === 'around') xs.push(g.xMm);
    else
      for (const n of g.nodes.slice(0, 100)) {
        xs.push(n.xMm);
        ys.push(n.yMm);
      }
  }
  for (const b of others) {
    xs.push(b.minX, (b.minX + b.maxX) / 2, b.maxX);
    ys.push(b.minY, (b.minY + b.maxY) / 2, b.maxY);
  }
  return { xs, ys, gridXMm: gridMm, gridYMm: gridDeg > 0 ? (gridDeg * Math.PI * surface.mmPerRad) / 180 : gridMm };
}

/** The nearest jump of a box's edges or middle, each way by itself, within reach. Middles win over edges that are as near. */
export function snapBox(box: Box, lines: SnapLines, reachMm: number): Snap {
  const along = nearest([(box.minX + box.maxX) / 2, box.minX, box.maxX], lines.xs, lines.gridXMm, reachMm);
  const round = nearest([(box.minY + box.maxY) / 2, box.minY, box.maxY], lines.ys, lines.gridYMm, reachMm);
  return { ...(along && { dx: along.by, x: along.to }), ...(round && { dy: round.by, y: round.to }) };
}

function nearest(own: readonly number[], lines: readonly number[], gridMm: number, reachMm: number): { by: number; to: number } | null {
  let best: { by: number; to: number } | null = null;
  const offer = (from: number, to: number) => {
    const by = to - from;
    if (Math.abs(by) <= reachMm && (best === null || Math.abs(by) < Math.abs(best.by) - 1e-9)) best = { by, to };
  };
  for (const from of own) for (const to of lines) offer(from, to);
  if (best === null && gridMm > 0) for (const from of own) offer(from, Math.round(from / gridMm) * gridMm);
  return best;
}
