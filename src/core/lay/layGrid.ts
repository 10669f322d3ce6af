import { computeStretches } from '../surface/metric';
import type { Surface } from '../surface/surface';
import type { LayMap } from './layMap';

/** The lettering plane's own squares as a lay puts them on the surface, with their stretch: the honest map. */
export interface LayGrid {
  /** Four sheet corners a square, x y in turn, counter-clockwise. */
  corners: Float64Array;
  /** Largest stretch in the middle of each square: 1 where it is true. */
  stretch: Float64Array;
  /** Smallest cosine between projection and normal in each square; 1 for the other lays. */
  facing: Float64Array;
}

/**
 * Lays squares of the lettering plane about an anchor, as far as they land on the blank: all the sheet once round.
 * @param cellMm Side of a square, mm; > 0. O(squares).
 */
export function computeLayGrid(lay: LayMap, surface: Surface, ax: number, ay: number, cellMm: number): LayGrid {
  const { domain, periodMm } = surface;
  const map = lay.aboutExactly(ax, ay);
  const reachU = domain.maxX - domain.minX;
  const round = surface.radiusAt(ax, ay) / surface.mmPerRad;
  const reachV = (periodMm ?? domain.maxY - domain.minY) * (surface.round ? Math.max(1, round) : 1);
  const nu = Math.ceil(reachU / cellMm),
    nv = Math.ceil(reachV / cellMm);
  const corners: number[] = [],
    stretch: number[] = [],
    facing: number[] = [];
  const at = new Float64Array(3),
    j = new Float64Array(4),
    sigma = new Float64Array(3);
  const seen = new Map<number, readonly [number, number, number] | null>();
  const node = (i: number, k: number): readonly [number, number, number] | null => {
    const key = (i + nu + 1) * (2 * nv + 3) + k + nv + 1;
    let found = seen.get(key);
    if (found === undefined) {
      found = map.map(i * cellMm, k * cellMm, at) ? [at[0]!, at[1]!, at[2]!] : null;
      seen.set(key, found);
    }
    return found;
  };
  const inside = (p: readonly [number, number, number]): boolean =>
    p[0] >= domain.minX - 1e-6 &&
    p[0] <= domain.maxX + 1e-6 &&
    (periodMm === null ? p[1] >= domain.minY - 1e-6 && p[1] <= domain.maxY + 1e-6 : Math.abs(p[1] - ay) <= periodMm / 2);
  for (let i = -nu; i < nu; i++) {
    for (let k = -nv; k < nv; k++) {
      const q = [node(i, k), node(i + 1, k), node(i + 1, k + 1), node(i, k + 1)];
      if (q.some((p) => p === null || !inside(p))) continue;
      const [a, b, c, d] = q as [
        readonly [number, number, number],
        readonly [number, number, number],
        readonly [number, number, number],
        readonly [number, number, number],
      ];
      const x = (a[0] + b[0] + c[0] + d[0]) / 4,
        y = (a[1] + b[1] + c[1] + d[1]) / 4;
      if (surface.outline && surface.outsideMm(x, y) > 0) continue;
      j[0] = (b[0] + c[0] - a[0] - d[0]) / 2 / cellMm;
      j[1] = (b[1] + c[1] - a[1] - d[1]) / 2 / cellMm;
      j[2] = (c[0] + d[0] - a[0] - b[0]) / 2 / cellMm;
      j[3] = (c[1] + d[1] - a[1] - b[1]) / 2 / cellMm;
      computeStretches(surface, x, y, j, sigma);
      corners.push(a[0], a[1], b[0], b[1], c[0], c[1], d[0], d[1]);
      stretch.push(Math.abs(Math.log(sigma[0]!)) >= Math.abs(Math.log(Math.max(1e-9, sigma[1]!))) ? sigma[0]! : sigma[1]!);
      facing.push(Math.min(a[2], b[2], c[2], d[2]));
    }
  }
  return { corners: Float64Array.from(corners), stretch: Float64Array.from(stretch), facing: Float64Array.from(facing) };
}

/** Widest gap round the blank that no lettering covers: its middle and width in sheet mm; null where nothing is free. */
export function findWidestGap(
  boxes: readonly { minY: number; maxY: number }[],
  periodMm: number,
): { middleY: number; widthMm: number } | null {
  if (boxes.length === 0) return { middleY: 0, widthMm: periodMm };
  // Each box as a stretch from its start, within one turn; those that go over it stand twice.
  const parts = boxes
    .map((b) => {
      const from = ((b.minY % periodMm) + periodMm) % periodMm;
      return [from, from + Math.min(periodMm, b.maxY - b.minY)] as const;
    })
    .flatMap(([from, to]) =>
      to > periodMm
        ? ([
            [from, periodMm],
            [0, to - periodMm],
          ] as const)
        : ([[from, to]] as const),
    )
    .sort((a, b) => a[0] - b[0]);
  let best: { middleY: number; widthMm: number } | null = null;
  let end = parts[0]![0];
  const offer = (from: number, to: number) => {
    if (to - from > (best?.widthMm ?? 1e-9)) best = { middleY: (from + to) / 2, widthMm: to - from };
  };
  for (const [from, to] of parts) {
    offer(end, from);
    end = Math.max(end, to);
  }
  // Over the start of the turn, from the last end to the first beginning.
  offer(end, parts[0]![0] + periodMm);
  return best;
}
