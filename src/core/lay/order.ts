import Flatbush from 'flatbush';
import { reverseStroke } from '../cut/stroke';

/** Ends looked at round each end; more found nothing shorter on lettering, fewer left crossings. */
const NEIGHBOURS = 12;
const MAX_ROUNDS = 40;
/** With more strokes the nearest is asked of the index. */
const MANY_STROKES = 4000;
/** Least that a change has to save, mm: below it rounding would go round in circles. */
const LEAST_GAIN_MM = 1e-9;

/**
 * Puts strokes into an order with little air travel: nearest neighbour, then 2-opt and moves of single strokes (or, where
 * strokes may not be reversed, moves alone), each over the nearest ends only. A heuristic: `npm run bench` compares it
 * with the best of many random starts.
 * @param strokes x, y, depth triples; not mutated.
 * @param reversible Whether a stroke may be run from its other end.
 * @param from Sheet point the tool comes from.
 * @returns New list, strokes turned round where that helps. O(n²) with a small constant for the first order of up to
 * `MANY_STROKES`, about O(n log n) above; then about O(n · neighbours) a round.
 */
export function orderStrokes(strokes: readonly Float64Array[], reversible: boolean, from: readonly [number, number]): Float64Array[] {
  const n = strokes.length;
  if (n === 0) return [];
  const tour = createTour(strokes, from);
  tour.startNearest(reversible);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    let improved = false;
    for (let i = 0; i < n; i++) {
      if (reversible && tour.reverseAt(i)) improved = true;
      if (tour.moveAt(i, reversible)) improved = true;
    }
    if (!improved) break;
  }
  return Array.from(tour.visits, (e) => (e & 1 ? reverseStroke(strokes[e >> 1]!) : strokes[e >> 1]!));
}

/**
 * An open tour through all strokes. Ends: 2k is the start of stroke k, 2k + 1 its end, 2n the place the tool comes from.
 * A visit is the end at which a stroke is entered; it is left at `visit ^ 1`. No closures in the loops: they run millions
 * of times.
 */
function createTour(strokes: readonly Float64Array[], from: readonly [number, number]) {
  const n = strokes.length;
  const start = 2 * n;
  const xs = new Float64Array(2 * n + 1),
    ys = new Float64Array(2 * n + 1);
  const index = new Flatbush(2 * n);
  for (let k = 0; k < n; k++) {
    const s = strokes[k]!;
    xs[2 * k] = s[0]!;
    ys[2 * k] = s[1]!;
    xs[2 * k + 1] = s[s.length - 3]!;
    ys[2 * k + 1] = s[s.length - 2]!;
    index.add(xs[2 * k]!, ys[2 * k]!);
    index.add(xs[2 * k + 1]!, ys[2 * k + 1]!);
  }
  index.finish();
  xs[start] = from[0];
  ys[start] = from[1];
  const visits = new Int32Array(n);
  const position = new Int32Array(n);
  const near: (number[] | undefined)[] = new Array(2 * n + 1);

  function gap(p: number, q: number): number {
    const dx = xs[p]! - xs[q]!,
      dy = ys[p]! - ys[q]!;
    return Math.sqrt(dx * dx + dy * dy);
  }
  function nearTo(end: number): number[] {
    return (near[end] ??= index.neighbors(xs[end]!, ys[end]!, NEIGHBOURS + 2));
  }
  /** The end at which the tool stands before position i, and the gap from there or, past the end of the tour, 0. */
  const leaving = (i: number): number => (i === 0 ? start : visits[i - 1]! ^ 1);
  const link = (p: number, i: number): number => (i >= n ? 0 : gap(p, visits[i]!));

  function reverse(i: number, j: number): void {
    for (let a = i, b = j; a <= b; a++, b--) {
      const swap = visits[a]! ^ 1;
      visits[a] = visits[b]! ^ 1;
      visits[b] = swap;
      position[visits[a]! >> 1] = a;
      position[visits[b]! >> 1] = b;
    }
  }

  /** 2-opt with a new way out of the end before position i, or a new way into position i. */
  function reverseAt(i: number): boolean {
    const a = leaving(i);
    const now = gap(a, visits[i]!);
    // A run i … j turned round: the tool goes from `a` to the end at which j was left.
    for (const c of nearTo(a)) {
      const fresh = gap(a, c);
      if (fresh >= now) break;
      const j = position[c >> 1]!;
      if (j < i || c !== (visits[j]! ^ 1)) continue;
      if (now + link(c, j + 1) - fresh - link(visits[i]!, j + 1) > LEAST_GAIN_MM) {
        reverse(i, j);
        return true;
      }
    }
    // A run h … i − 1 turned round: the tool comes into i from the end at which h was entered.
    for (const c of nearTo(visits[i]!)) {
      const fresh = gap(c, visits[i]!);
      if (fresh >= now) break;
      const h = position[c >> 1]!;
      if (h >= i || c !== visits[h]) continue;
      const before = leaving(h);
      if (now + gap(before, c) - fresh - gap(before, a) > LEAST_GAIN_MM) {
        reverse(h, i - 1);
        return true;
      }
    }
    return false;
  }

  function moveTo(i: number, at: number, visit: number): void {
    if (at > i) visits.copyWithin(i, i + 1, at + 1);
    else visits.copyWithin(at + 1, at, i);
    visits[at] = visit;
    for (let k = Math.min(i, at); k <= Math.max(i, at); k++) position[visits[k]! >> 1] = k;
  }

  /** Takes the stroke at position i out and puts it in beside one of the ends near its own, if that is shorter. */
  function moveAt(i: number, reversible: boolean): boolean {
    const e = visits[i]!;
    const before = leaving(i);
    const freed = gap(before, e) + link(e ^ 1, i + 1) - link(before, i + 1);
    if (freed <= LEAST_GAIN_MM) return false;
    let bestGain = LEAST_GAIN_MM,
      bestAt = -1,
      bestVisit = e;
    for (let side = 0; side < 2; side++) {
      const own = side === 0 ? e : e ^ 1;
      for (const c of nearTo(own)) {
        const q = position[c >> 1]!;
        if (q === i) continue;
        const entered = visits[q] === c;
        // Beside an entry the stroke comes before it and leaves by its own near end; beside an exit it comes after.
        const visit = entered ? own ^ 1 : own;
        if (!reversible && visit !== e) continue;
        const slot = entered ? q : q + 1;
        if (slot === i || slot === i + 1) continue;
        const p = leaving(slot);
        const gain = freed - (gap(p, visit) + link(visit ^ 1, slot) - link(p, slot));
        if (gain > bestGain) {
          bestGain = gain;
          bestAt = slot > i ? slot - 1 : slot;
          bestVisit = visit;
        }
      }
    }
    if (bestAt < 0) return false;
    moveTo(i, bestAt, bestVisit);
    return true;
  }

  /** Nearest neighbour by the index: where there are many strokes, looking at all of them each time would take longest. */
  function startByIndex(reversible: boolean): void {
    const done = new Uint8Array(n);
    const isFree = (e: number): boolean => !done[e >> 1] && (reversible || (e & 1) === 0);
    let at = start;
    for (let k = 0; k < n; k++) {
      const end = index.neighbors(xs[at]!, ys[at]!, 1, Infinity, isFree)[0]!;
      visits[k] = end;
      position[end >> 1] = k;
      done[end >> 1] = 1;
      at = end ^ 1;
    }
  }

  function startNearest(reversible: boolean): void {
    if (n > MANY_STROKES) return startByIndex(reversible);
    const left = Int32Array.from({ length: n }, (_, k) => k);
    let count = n;
    let at = start;
    for (let k = 0; k < n; k++) {
      const x = xs[at]!,
        y = ys[at]!;
      let best = 0,
        bestEnd = 2 * left[0]!,
        bestGap = Infinity;
      for (let m = 0; m < count; m++) {
        const s = 2 * left[m]!;
        const dx = xs[s]! - x,
          dy = ys[s]! - y;
        let g = dx * dx + dy * dy,
          end = s;
        if (reversible) {
          const ex = xs[s + 1]! - x,
            ey = ys[s + 1]! - y;
          const h = ex * ex + ey * ey;
          if (h < g) {
            g = h;
            end = s + 1;
          }
        }
        if (g < bestGap) {
          bestGap = g;
          best = m;
          bestEnd = end;
        }
      }
      visits[k] = bestEnd;
      position[bestEnd >> 1] = k;
      left[best] = left[--count]!;
      at = bestEnd ^ 1;
    }
  }
  return { visits, startNearest, reverseAt, moveAt };
}
