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

/** Marks of a round scale nearer than this fall on each other, degrees. */
const SAME_PLACE_DEG = 1e-6;

/** How many steps a series has, with its first mark, before it is worked out; huge for a step that is too small. */
export const countMarks = (s: SeriesInscription): number => Math.floor(Math.abs(s.to - s.from) / s.step + STEP_SLACK) + 1;

/** Marks that a scale has by its values, and how many of them are left out since they fall on one that stands there. */
export interface SeriesMarks {
  marks: SeriesMark[];
  doubled: number;
  /** Labels that its list is short of. */
  unlabelled: number;
}

/** Leaves out what comes round on to a mark that stands already: the end of a closed dial, the second turn of two. */
function dropDoubles(s: SeriesInscription, marks: readonly SeriesMark[]): SeriesMark[] {
  if (s.shape === 'along' || Math.abs(s.spanDeg) < 360 - SAME_PLACE_DEG) return [...marks];
  const taken = new Set<number>();
  const cells = Math.round(360 / SAME_PLACE_DEG);
  return marks.filter((mark) => {
    const deg = (((mark.share * s.spanDeg) % 360) + 360) % 360;
    const cell = Math.round(deg / SAME_PLACE_DEG) % cells;
    if ([cell - 1, cell, cell + 1].some((c) => taken.has((c + cells) % cells))) return false;
    taken.add(cell);
    return true;
  });
}

/** A value to so many decimals as it is written: 1.005 counts as what it says, not as the binary fraction just below. */
function roundHalfAway(value: number, decimals: number): number {
  const scale = 10 ** decimals;
  return (Math.sign(value) * Math.round(Number((Math.abs(value) * scale).toPrecision(13)))) / scale;
}

/** A value as the label of its mark. */
export function formatLabel(s: SeriesInscription, value: number): string {
  const { decimals, plus, prefix, suffix } = s.labels;
  const rounded = roundHalfAway(value, decimals);
  const sign = rounded < 0 ? '-' : plus && rounded > 0 ? '+' : '';
  return `${prefix}${sign}${Math.abs(rounded).toFixed(decimals)}${suffix}`;
}

/**
 * The marks of a series. The position of step k is k·step/range of the span, worked out from k, so that no error adds up; a
 * table's values in between are divided evenly.
 * @returns Marks in the order of the scale; those outside a table's values, and those that fall on others, are left out.
 * O(marks · log table).
 */
export function computeMarks(s: SeriesInscription): SeriesMarks {
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
  const single = dropDoubles(s, marks);
  // That the end of a full circle is its beginning goes without saying.
  const last = marks[marks.length - 1];
  const closes = last !== undefined && Math.abs(Math.abs(s.spanDeg) - 360) < SAME_PLACE_DEG && Math.abs(last.share - 1) < STEP_SLACK;
  const doubled = marks.length - single.length - (closes ? 1 : 0);
  return {
    marks: single,
    doubled: Math.max(0, doubled),
    unlabelled: s.labels.list.length ? Math.max(0, labelled - s.labels.list.length) : 0,
  };
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
