import Flatbush from 'flatbush';

/** Ends tried round each end; more found nothing shorter on lettering, fewer left crossings. */
const NEIGHBOURS = 12;
/** With more strokes the nearest is asked of the index. */
const MANY_STROKES = 4000;
/** Least that a change has to save, mm: below it rounding would go round in circles. */
const LEAST_GAIN_MM = 1e-9;

/**
 * An open tour through strokes. Ends: 2k is the start of stroke k, 2k + 1 its end, 2n the place the tool comes from.
 * A visit is the end at which a stroke is entered; it is left at `visit ^ 1`. No closures in the loops: they run millions
 * of times.
 */
export class Tour {
  /** The ends at which strokes are entered, in running order. */
  readonly visits: Int32Array;
  private readonly n: number;
  private readonly start: number;
  private readonly xs: Float64Array;
  private readonly ys: Float64Array;
  private readonly index: Flatbush;
  /** Place of each stroke in the tour. */
  private readonly position: Int32Array;
  private readonly near: (number[] | undefined)[];

  /** @param strokes x, y, depth triples. @param from Sheet point the tool comes from. */
  constructor(strokes: readonly Float64Array[], from: readonly [number, number]) {
    const n = strokes.length;
    this.n = n;
    this.start = 2 * n;
    this.xs = new Float64Array(2 * n + 1);
    this.ys = new Float64Array(2 * n + 1);
    this.index = new Flatbush(2 * n);
    for (let k = 0; k < n; k++) {
      const s = strokes[k]!;
      this.addEnd(2 * k, s[0]!, s[1]!);
      this.addEnd(2 * k + 1, s[s.length - 3]!, s[s.length - 2]!);
    }
    this.index.finish();
    this.xs[this.start] = from[0];
    this.ys[this.start] = from[1];
    this.visits = new Int32Array(n);
    this.position = new Int32Array(n);
    this.near = new Array(2 * n + 1);
  }

  /** A first tour: always on to the nearest end that is left. O(n²), by the index about O(n log n) where there are many. */
  startNearest(reversible: boolean): void {
    if (this.n > MANY_STROKES) this.startByIndex(reversible);
    else this.startByScan(reversible);
  }

  /** 2-opt with a new way out of the end before position i, or a new way into position i. @returns Whether it got shorter. */
  reverseAt(i: number): boolean {
    return this.reverseAfter(i) || this.reverseBefore(i);
  }

  /** Takes the stroke at position i out and puts it in beside one of the ends near its own, if that is shorter. */
  moveAt(i: number, reversible: boolean): boolean {
    const { visits, position } = this;
    const e = visits[i]!;
    const before = this.leaving(i);
    const freed = this.gap(before, e) + this.link(e ^ 1, i + 1) - this.link(before, i + 1);
    if (freed <= LEAST_GAIN_MM) return false;
    let bestGain = LEAST_GAIN_MM,
      bestAt = -1,
      bestVisit = e;
    for (let side = 0; side < 2; side++) {
      const own = side === 0 ? e : e ^ 1;
      for (const c of this.nearTo(own)) {
        const q = position[c >> 1]!;
        if (q === i) continue;
        const entered = visits[q] === c;
        // Beside an entry the stroke comes before it and leaves by its own near end; beside an exit it comes after.
        const visit = entered ? own ^ 1 : own;
        if (!reversible && visit !== e) continue;
        const slot = entered ? q : q + 1;
        if (slot === i || slot === i + 1) continue;
        const p = this.leaving(slot);
        const gain = freed - (this.gap(p, visit) + this.link(visit ^ 1, slot) - this.link(p, slot));
        if (gain > bestGain) {
          bestGain = gain;
          bestAt = slot > i ? slot - 1 : slot;
          bestVisit = visit;
        }
      }
    }
    if (bestAt < 0) return false;
    this.moveTo(i, bestAt, bestVisit);
    return true;
  }

  private addEnd(end: number, x: number, y: number): void {
    this.xs[end] = x;
    this.ys[end] = y;
    this.index.add(x, y);
  }

  private gap(p: number, q: number): number {
    const dx = this.xs[p]! - this.xs[q]!,
      dy = this.ys[p]! - this.ys[q]!;
    return Math.sqrt(dx * dx + dy * dy);
  }

  private nearTo(end: number): number[] {
    return (this.near[end] ??= this.index.neighbors(this.xs[end]!, this.ys[end]!, NEIGHBOURS + 2));
  }

  /** The end at which the tool stands before position i. */
  private leaving(i: number): number {
    return i === 0 ? this.start : this.visits[i - 1]! ^ 1;
  }

  /** The gap from an end to the stroke at position i or, past the end of the tour, 0. */
  private link(p: number, i: number): number {
    return i >= this.n ? 0 : this.gap(p, this.visits[i]!);
  }

  /** A run i … j turned round: the tool goes from where it stands before i to the end at which j was left. */
  private reverseAfter(i: number): boolean {
    const { visits, position } = this;
    const a = this.leaving(i);
    const now = this.gap(a, visits[i]!);
    for (const c of this.nearTo(a)) {
      const fresh = this.gap(a, c);
      if (fresh >= now) break;
      const j = position[c >> 1]!;
      if (j < i || c !== (visits[j]! ^ 1)) continue;
      if (now + this.link(c, j + 1) - fresh - this.link(visits[i]!, j + 1) > LEAST_GAIN_MM) {
        this.reverse(i, j);
        return true;
      }
    }
    return false;
  }

  /** A run h … i − 1 turned round: the tool comes into i from the end at which h was entered. */
  private reverseBefore(i: number): boolean {
    const { visits, position } = this;
    const a = this.leaving(i);
    const now = this.gap(a, visits[i]!);
    for (const c of this.nearTo(visits[i]!)) {
      const fresh = this.gap(c, visits[i]!);
      if (fresh >= now) break;
      const h = position[c >> 1]!;
      if (h >= i || c !== visits[h]) continue;
      const before = this.leaving(h);
      if (now + this.gap(before, c) - fresh - this.gap(before, a) > LEAST_GAIN_MM) {
        this.reverse(h, i - 1);
        return true;
      }
    }
    return false;
  }

  private reverse(i: number, j: number): void {
    const { visits, position } = this;
    for (let a = i, b = j; a <= b; a++, b--) {
      const swap = visits[a]! ^ 1;
      visits[a] = visits[b]! ^ 1;
      visits[b] = swap;
      position[visits[a]! >> 1] = a;
      position[visits[b]! >> 1] = b;
    }
  }

  private moveTo(i: number, at: number, visit: number): void {
    const { visits, position } = this;
    if (at > i) visits.copyWithin(i, i + 1, at + 1);
    else visits.copyWithin(at + 1, at, i);
    visits[at] = visit;
    for (let k = Math.min(i, at); k <= Math.max(i, at); k++) position[visits[k]! >> 1] = k;
  }

  /** By the index: where there are many strokes, a scan of all that are left would take longest. */
  private startByIndex(reversible: boolean): void {
    const done = new Uint8Array(this.n);
    const isFree = (e: number): boolean => !done[e >> 1] && (reversible || (e & 1) === 0);
    let at = this.start;
    for (let k = 0; k < this.n; k++) {
      const end = this.index.neighbors(this.xs[at]!, this.ys[at]!, 1, Infinity, isFree)[0]!;
      this.visits[k] = end;
      this.position[end >> 1] = k;
      done[end >> 1] = 1;
      at = end ^ 1;
    }
  }

  private startByScan(reversible: boolean): void {
    const { n, xs, ys } = this;
    const left = Int32Array.from({ length: n }, (_, k) => k);
    let count = n;
    let at = this.start;
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
      this.visits[k] = bestEnd;
      this.position[bestEnd >> 1] = k;
      left[best] = left[--count]!;
      at = bestEnd ^ 1;
    }
  }
}
