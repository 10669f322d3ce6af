import { invertMatrix } from '../base/matrix';

/** How a map goes on past what was touched: as a surface of the second degree through the nearest places, as a plane, or level. */
const BASES: readonly { least: number; of(u: number, v: number): number[] }[] = [
  { least: 8, of: (u, v) => [1, u, v, u * u, u * v, v * v] },
  { least: 3, of: (u, v) => [1, u, v] },
  { least: 1, of: () => [1] },
];
/** Places that are asked, the nearest ones. */
const NEAREST = 12;
/** It goes no farther out or in than this times the range of what was touched: what is far from all places is not known. */
const MOST_OUT = 1;
/** What the places do not tell, as of a way across a line of them, is taken to be level: by this share of their weight. */
const LEVEL = 1e-10;

/**
 * Fills the entries of a grid that nobody touched (NaN) from the nearest that were: by weighted least squares, the nearer the more.
 * @param xs, ys Places of the grid, mm. @param mm A row for each x with one entry for each y. O(unknown · places · log places).
 */
export function goOnPast(xs: readonly number[], ys: readonly number[], mm: readonly (readonly number[])[]): number[][] {
  const known = mm.flatMap((row, i) => row.flatMap((v, j) => (Number.isNaN(v) ? [] : [{ x: xs[i]!, y: ys[j]!, v }])));
  if (known.length === 0) return mm.map((row) => row.map(() => 0));
  const [least, most] = [Math.min(...known.map((k) => k.v)), Math.max(...known.map((k) => k.v))];
  const out = MOST_OUT * (most - least);
  const fill = (x: number, y: number): number => {
    const near = known
      .map((k) => ({ ...k, away: Math.hypot(k.x - x, k.y - y) }))
      .sort((a, b) => a.away - b.away)
      .slice(0, NEAREST);
    const scale = near[near.length - 1]!.away;
    const { of } = BASES.find((b) => near.length >= b.least)!;
    const rows = near.map((k) => ({ at: of((k.x - x) / scale, (k.y - y) / scale), weight: (scale / k.away) ** 2, v: k.v }));
    const total = rows.reduce((sum, { weight }) => sum + weight, 0);
    const terms = rows[0]!.at.map((_, t) => t);
    const normal = terms.map((r) =>
      terms.map((c) => rows.reduce((sum, { at, weight }) => sum + weight * at[r]! * at[c]!, r === c && r > 0 ? LEVEL * total : 0)),
    );
    const right = terms.map((r) => rows.reduce((sum, { at, weight, v }) => sum + weight * at[r]! * v, 0));
    // The surface's own value at the place: the first coefficient. The weight on level keeps the matrix from being singular.
    const value = invertMatrix(normal)![0]!.reduce((sum, f, c) => sum + f * right[c]!, 0);
    return Math.min(most + out, Math.max(least - out, value));
  };
  return mm.map((row, i) => row.map((v, j) => (Number.isNaN(v) ? fill(xs[i]!, ys[j]!) : v)));
}
