import { reverseStroke } from '../cut/stroke';
import type { Air } from './air';
import { Tour } from './tour';

const MAX_ROUNDS = 40;

/**
 * Puts strokes into an order in which the machine spends little time between them, lifting, crossing and plunging: always on to the
 * quickest, then 2-opt, moves of single strokes and the best ends for the order found (or, where strokes may not be reversed, moves
 * alone), over the nearest ends only. A heuristic: `npm run bench` compares it with the best of many random starts.
 * @param strokes x, y, depth triples; not mutated.
 * @param reversible Whether a stroke may be run from its other end.
 * @param from Sheet point the tool comes from.
 * @returns New list, strokes turned round where that helps. O(n²) with a small constant for the first order of up to
 * a thousand strokes, about O(n log n) above; then about O(n · neighbours) a round.
 */
export function orderStrokes(
  strokes: readonly Float64Array[],
  reversible: boolean,
  from: readonly [number, number],
  air: Air,
): Float64Array[] {
  const n = strokes.length;
  if (n === 0) return [];
  const tour = new Tour(strokes, from, air);
  tour.startNearest(reversible);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    let improved = false;
    for (let i = 0; i < n; i++) {
      if (reversible && tour.reverseAt(i)) improved = true;
      if (tour.moveAt(i, reversible)) improved = true;
    }
    if (reversible && tour.turnStrokes()) improved = true;
    if (!improved) break;
  }
  return Array.from(tour.visits, (e) => (e & 1 ? reverseStroke(strokes[e >> 1]!) : strokes[e >> 1]!));
}
