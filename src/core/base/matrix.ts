/** A pivot smaller than this share of the largest entry is none: the matrix cannot be inverted. */
const SINGULAR = 1e-12;

/** Inverts a square matrix, row by row, by elimination with row pivots; null where it is singular. O(n³). */
export function invertMatrix(rows: readonly (readonly number[])[]): number[][] | null {
  const n = rows.length;
  const a = rows.map((row, r) => [...row, ...Array.from({ length: n }, (_, c) => (c === r ? 1 : 0))]);
  const largest = Math.max(...rows.flat().map(Math.abs));
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let r = k; r < n; r++) if (Math.abs(a[r]![k]!) > Math.abs(a[best]![k]!)) best = r;
    [a[k], a[best]] = [a[best]!, a[k]!];
    const pivot = a[k]![k]!;
    if (!(Math.abs(pivot) > SINGULAR * largest)) return null;
    for (let c = 0; c < 2 * n; c++) a[k]![c]! /= pivot;
    for (let r = 0; r < n; r++) {
      if (r === k) continue;
      const f = a[r]![k]!;
      for (let c = 0; c < 2 * n; c++) a[r]![c]! -= f * a[k]![c]!;
    }
  }
  return a.map((row) => row.slice(n));
}
