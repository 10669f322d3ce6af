import { getRing, type Rings } from './rings';

export interface PathDataOptions {
  closed: boolean;
  /** Decimals kept; all if left out. */
  decimals?: number;
  /** Whether y is turned down, as SVG has it. */
  yDown?: boolean;
}

/** SVG path data of a line through points, x y in turn. O(n). */
export function lineToPathData(xy: ArrayLike<number>, { closed, decimals, yDown = false }: PathDataOptions): string {
  const scale = decimals === undefined ? 0 : 10 ** decimals;
  const f = (v: number): number => (scale === 0 ? v : Math.round(v * scale) / scale);
  let out = '';
  for (let i = 0; i + 1 < xy.length; i += 2) out += `${i === 0 ? 'M' : 'L'}${f(xy[i]!)} ${f(yDown ? -xy[i + 1]! : xy[i + 1]!)}`;
  return closed && out ? `${out}Z` : out;
}

/** SVG path data of packed rings or chains. O(n). */
export function ringsToPathData(rings: Rings, options: PathDataOptions): string {
  let out = '';
  for (let k = 0; k + 1 < rings.starts.length; k++) out += lineToPathData(getRing(rings, k), options);
  return out;
}
