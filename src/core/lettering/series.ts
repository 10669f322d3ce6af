import type { SeriesInscription } from '../job/schema';

/** One mark of a series: its value, its place as a share of the span, and how it is drawn. */
export interface SeriesMark {
  index: number;
  value: number;
  /** In [0, 1]. */
  share: number;
  lengthMm: number;
  widthMm: number;
  /** Null for a mark without a label. */
  label: string | null;
}

/** Steps that a range is short of a whole number by less than this are whole. */
const STEP_SLACK = 1e-9;

/** Whether a scale comes round to where it began, so that its last mark would double its first. */
export const isClosedSeries = (s: SeriesInscription): boolean => s.shape !== 'along' && s.table.length === 0 && Math.abs(s.spanDeg) === 360;

/** How many marks a series would have, before it is worked out; huge for a step that is too small. */
export function countMarks(s: SeriesInscription): number {
  const steps = Math.floor(Math.abs(s.to - s.from) / s.step + STEP_SLACK);
  return steps + (isClosedSeries(s) && Math.abs(steps * s.step - Math.abs(s.to - s.from)) < STEP_SLACK * s.step ? 0 : 1);
}

/** A value as the label of its mark. */
export function formatLabel(s: SeriesInscription, value: number): string {
  const { decimals, plus, prefix, suffix } = s.labels;
  const rounded = Number(value.toFixed(decimals));
  const sign = rounded < 0 ? '-' : plus && rounded > 0 ? '+' : '';
  return `${prefix}${sign}${Math.abs(rounded).toFixed(decimals)}${suffix}`;
}

/**
 * The marks of a series. The position of step k is k·step/range of the span, worked out from k, so that no error adds up; a
 * table's values in between are divided evenly.
 * @returns Marks in the order of the scale; those outside a table's values are left out. O(marks · log table).
 */
export function computeMarks(s: SeriesInscription): SeriesMark[] {
  const range = s.to - s.from;
  const direction = Math.sign(range) || 1;
  const n = countMarks(s);
  const table = [...s.table].sort((a, b) => a.value - b.value);
  const marks: SeriesMark[] = [];
  let labelled = 0;
  for (let k = 0; k < n; k++) {
    const value = s.from + direction * k * s.step;
    const share = table.length ? findShare(table, value) : range === 0 ? 0 : (k * s.step) / Math.abs(range);
    const shape = [s.major, s.middle, s.minor].find((m) => m.every > 0 && k % m.every === 0);
    const wantsLabel = s.labels.every > 0 && k % s.labels.every === 0;
    const skipped = s.labels.skip.some((v) => Math.abs(v - value) < STEP_SLACK * Math.max(1, Math.abs(v)));
    const list = s.labels.list;
    const label = !wantsLabel || skipped ? null : list.length ? (list[labelled] ?? null) : formatLabel(s, value);
    if (wantsLabel) labelled++;
    if (share === null || (!shape && label === null)) continue;
    marks.push({ index: k, value, share, lengthMm: shape?.lengthMm ?? 0, widthMm: shape?.widthMm ?? 0, label });
  }
  return marks;
}

/** Where a table puts a value: between its neighbours, evenly; null outside the table. */
function findShare(table: readonly { value: number; share: number }[], value: number): number | null {
  const slack = STEP_SLACK * Math.max(1, Math.abs(value));
  if (value < table[0]!.value - slack || value > table[table.length - 1]!.value + slack) return null;
  let lo = 0,
    hi = table.length - 1;
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1;
    if (table[mid]!.value <= value) lo = mid;
    else hi = mid;
  }
  const a = table[lo]!,
    b = table[hi]!;
  return b.value === a.value ? a.share : a.share + ((value - a.value) / (b.value - a.value)) * (b.share - a.share);
}
