import { isCutMove } from '../../../core/lay/laidPaths';
import type { PlanView } from '../../../workers/planning.client';

/** What one step of the play is. */
export type StepUnit = 'block' | 'stroke' | 'level' | 'cut';
export const STEP_UNITS: readonly StepUnit[] = ['block', 'stroke', 'level', 'cut'];

/** Ends of the steps of a program, s, ascending; the last is its end. O(blocks). */
export function findStepEnds({ blocks, laid, timeS }: Pick<PlanView, 'blocks' | 'laid' | 'timeS'>, unit: StepUnit): number[] {
  const ends: number[] = [];
  for (let i = 1; i < blocks.count; i++) {
    const before = blocks.move[i - 1]!,
      now = blocks.move[i]!;
    const level = laid.run[before] !== laid.run[now] || laid.level[before] !== laid.level[now];
    const isEnd =
      unit === 'block'
        ? true
        : unit === 'stroke'
          ? isCutMove(laid.kind[before]!) && !isCutMove(laid.kind[now]!)
          : unit === 'level'
            ? level
            : laid.run[before] !== laid.run[now];
    const at = blocks.timesS[i - 1]!;
    if (isEnd && at > (ends[ends.length - 1] ?? 0)) ends.push(at);
  }
  if (timeS > (ends[ends.length - 1] ?? 0)) ends.push(timeS);
  return ends;
}

/** Closer than this two moments are one, s. */
const SAME_S = 1e-6;

/** The end of the step after a moment, or before it; the program's start is before all. */
export function findStep(ends: readonly number[], atS: number, back: boolean): number {
  let lo = 0,
    hi = ends.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (ends[mid]! <= atS + SAME_S) lo = mid + 1;
    else hi = mid;
  }
  if (!back) return ends[Math.min(lo, ends.length - 1)] ?? 0;
  while (lo > 0 && ends[lo - 1]! >= atS - SAME_S) lo--;
  return lo > 0 ? ends[lo - 1]! : 0;
}

/** Time spans in which a run cuts, s: from the first block that is its own to the last. */
export function findRunSpans({ blocks, laid }: Pick<PlanView, 'blocks' | 'laid'>): { run: number; fromS: number; toS: number }[] {
  const spans: { run: number; fromS: number; toS: number }[] = [];
  for (let i = 0; i < blocks.count; i++) {
    const run = laid.run[blocks.move[i]!]!;
    const last = spans[spans.length - 1];
    if (last?.run === run) last.toS = blocks.timesS[i]!;
    else spans.push({ run, fromS: i > 0 ? blocks.timesS[i - 1]! : 0, toS: blocks.timesS[i]! });
  }
  return spans;
}
