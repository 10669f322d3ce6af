import { ok, type Result } from '../base/result';
import { computeBox, concatRings, isEmptyRings, type Rings } from '../base/rings';
import type { Steps } from '../base/steps';
import { createOutline, type OutlineError } from '../medial/outline';
import type { CutContext } from './kinds/kind';
import { splitPieces } from './pieces';

/** A piece that goes round the blank more than this is not cut, turns. */
const MAX_TURNS = 1.5;

/** What was worked out for a piece, and how to move it to its place on the sheet, mm. */
export interface Placed<T> {
  value: T;
  dxMm: number;
  dyMm: number;
}

/**
 * Parts a region into connected pieces and plans each alone; equal pieces on a homogeneous surface are planned once, and all are kept.
 * @param region On the sheet, mm; overlaps are united. @param common What the plan depends on besides the piece and the surface.
 * @param plan Plans a piece; it may keep something of its own under a key that it is given.
 * @returns Pieces in place, or `selfIntersecting`. Yields the share done, in [0, 1].
 */
export function* planPieces<T extends object>(
  region: Rings,
  { work, pieces: cache, surfaceKey }: Pick<CutContext, 'work' | 'pieces' | 'surfaceKey'>,
  common: string,
  plan: (rings: Rings, keyOf: (common: string) => string) => Steps<number, Result<T, OutlineError>>,
): Steps<number, Result<Placed<T>[], OutlineError>> {
  if (isEmptyRings(region)) return ok([]);
  const made = createOutline(region);
  if (!made.ok) return made;
  const out: Placed<T>[] = [];
  let done = 0;
  for (const piece of splitPieces(made.value, work.homogeneous)) {
    const keyOf = (own: string): string => `${surfaceKey}|${own}|${piece.key}`;
    const key = keyOf(common);
    done += piece.rings.xy.length / 2;
    // A letter that goes round more than once, as beside a pole, cuts itself. Its inscription is reported as wider than a turn.
    const box = computeBox(piece.rings.xy);
    if (work.periodMm !== null && box.maxY - box.minY > MAX_TURNS * work.periodMm) continue;
    let value = cache.get(key) as T | undefined;
    if (!value) {
      const result = yield* plan(piece.rings, keyOf);
      if (!result.ok) return result;
      value = result.value;
      cache.set(key, value);
      yield done / made.value.segmentCount;
    }
    out.push({ value, dxMm: piece.dxMm, dyMm: piece.dyMm });
  }
  return ok(out);
}

/** What rings of placed pieces come to together, on the sheet. */
export const gatherRings = <T>(placed: readonly Placed<T>[], pick: (value: T) => Rings): Rings =>
  concatRings(
    placed.map(({ value, dxMm, dyMm }) => {
      const { xy, starts } = pick(value);
      return { xy: xy.map((v, i) => v + (i % 2 ? dyMm : dxMm)), starts };
    }),
  );

/** A stroke, x, y, depth triples, moved on the sheet. New array. */
export function moveStroke(points: Float64Array, dxMm: number, dyMm: number): Float64Array {
  const out = points.slice();
  for (let i = 0; i < out.length; i += 3) {
    out[i]! += dxMm;
    out[i + 1]! += dyMm;
  }
  return out;
}
