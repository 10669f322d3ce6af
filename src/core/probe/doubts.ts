/**
 * Touches that stand out of those beside them: dirt, a chip, or a probe that tripped by itself. The residual of a place is what it differs
 * by from the median of its neighbours along and round; those beyond a robust spread (median of absolute residuals) are doubted, the worst
 * first, and each is left out before the next is looked for. A place with one neighbour says nothing. Statistics: Rousseeuw and Leroy,
 * "Robust Regression and Outlier Detection", chapter 1 (from memory).
 */

/** Less than this is never doubted, mm: a saw mark, a weld, a chip of bark. */
const LEAST_MM = 0.3;
/** … nor what differs by less than so many spreads. */
const MOST_SPREADS = 8;
/** Makes a spread of the median of absolute residuals, where those are normal. */
const SPREAD_OF_MEDIAN = 1.4826;
/** Of more than this share of all places it cannot be told which of them are wrong. */
const MOST_SHARE = 0.25;

export interface Doubt {
  along: number;
  round: number;
  /** By how much it stands out of its neighbours, mm. */
  byMm: number;
}

const median = (list: readonly number[]): number => {
  const sorted = [...list].sort((a, b) => a - b);
  const n = sorted.length;
  return n === 0 ? 0 : (sorted[(n - 1) >> 1]! + sorted[n >> 1]!) / 2;
};

/**
 * @param mm By place along and round; NaN where nothing was touched. @param isRing Whether the last round lies beside the first.
 * @param isAccepted Places that are never doubted. @returns The worst first. O(places · doubts).
 */
export function findDoubts(
  mm: readonly (readonly number[])[],
  isRing: boolean,
  isAccepted: (along: number, round: number) => boolean = () => false,
): Doubt[] {
  const [nx, ny] = [mm.length, mm[0]?.length ?? 0];
  const out: Doubt[] = [];
  const left = mm.map((row) => [...row]);
  const valueAt = (i: number, j: number): number => left[i]?.[isRing ? (j + ny) % ny : j] ?? NaN;
  const residualAt = (i: number, j: number): number | null => {
    const beside = [valueAt(i - 1, j), valueAt(i + 1, j), ...(ny > 1 ? [valueAt(i, j - 1), valueAt(i, j + 1)] : [])].filter(
      Number.isFinite,
    );
    return beside.length < 2 ? null : left[i]![j]! - median(beside);
  };
  const touched = mm.flat().filter(Number.isFinite).length;
  while (out.length <= MOST_SHARE * touched) {
    const residuals: Doubt[] = [];
    for (let i = 0; i < nx; i++)
      for (let j = 0; j < ny; j++) {
        const byMm = Number.isFinite(left[i]![j]!) ? residualAt(i, j) : null;
        if (byMm !== null) residuals.push({ along: i, round: j, byMm });
      }
    const spread = SPREAD_OF_MEDIAN * median(residuals.map((r) => Math.abs(r.byMm)));
    const limit = Math.max(LEAST_MM, MOST_SPREADS * spread);
    const worst = residuals
      .filter((r) => !isAccepted(r.along, r.round) && Math.abs(r.byMm) > limit)
      .reduce<Doubt | null>((a, b) => (a && Math.abs(a.byMm) >= Math.abs(b.byMm) ? a : b), null);
    if (!worst) break;
    out.push(worst);
    left[worst.along]![worst.round] = NaN;
  }
  return out;
}
