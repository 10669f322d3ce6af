/** Where a program's load is greatest and least while it cuts. */
export interface LoadPeaks {
  fullest: { timeS: number; value: number };
  /** The longest stay below a twentieth of the fullest, at feed. */
  emptiest: { timeS: number; seconds: number } | null;
}

/** A rate below this share of the fullest is empty. */
const EMPTY_SHARE = 0.05;
/** A stay shorter than this is not worth naming, s. */
const LEAST_S = 1;

/**
 * Names the fullest and the emptiest place of a program.
 * @param timesS End of each span. @param values Its load.
 * @returns Null if nothing is taken. O(motions).
 */
export function findLoadPeaks(timesS: ArrayLike<number>, values: ArrayLike<number>): LoadPeaks | null {
  let most = 0,
    at = 0;
  for (let i = 1; i < timesS.length; i++) if (values[i]! > most) [most, at] = [values[i]!, i];
  if (most === 0) return null;
  let emptiest: LoadPeaks['emptiest'] = null;
  let start = -1;
  for (let i = 1; i < timesS.length; i++) {
    const empty = values[i]! < EMPTY_SHARE * most;
    if (empty && start < 0) start = i - 1;
    if ((!empty || i + 1 === timesS.length) && start >= 0) {
      const seconds = timesS[empty ? i : i - 1]! - timesS[start]!;
      if (seconds > Math.max(LEAST_S, emptiest?.seconds ?? 0)) emptiest = { timeS: timesS[start]!, seconds };
      start = -1;
    }
  }
  return { fullest: { timeS: timesS[at]!, value: most }, emptiest };
}

/**
 * The load as the outline of an area, highest in every column of pixels.
 * @param x Time to pixels. @param y Share of the fullest to pixels.
 */
export function toLoadPath(
  timesS: ArrayLike<number>,
  values: ArrayLike<number>,
  x: (s: number) => number,
  y: (share: number) => number,
): string {
  let most = 0;
  for (let i = 0; i < values.length; i++) most = Math.max(most, values[i]!);
  if (most === 0) return '';
  const columns = new Map<number, number>();
  for (let i = 1; i < timesS.length; i++) {
    const v = values[i]!;
    const from = Math.round(x(timesS[i - 1]!)),
      to = Math.round(x(timesS[i]!));
    for (let c = from; c <= to; c++) if (v > (columns.get(c) ?? 0)) columns.set(c, v);
  }
  const first = Math.round(x(0)),
    last = Math.round(x(timesS[timesS.length - 1] ?? 0));
  let data = `M${first} ${y(0).toFixed(1)}`;
  for (let c = first; c <= last; c++) data += `L${c} ${y((columns.get(c) ?? 0) / most).toFixed(1)}`;
  return `${data}L${last} ${y(0).toFixed(1)}Z`;
}
