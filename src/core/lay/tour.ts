import Flatbush from 'flatbush';
import { computeRestToRestS, type Air } from './air';

/** Ends tried round each end; more found nothing shorter on lettering, fewer left crossings. */
const NEIGHBOURS = 12;
/** With more strokes the nearest is asked of the index. */
const MANY_STROKES = 1000;
/** Least that a change has to save, s: below it rounding would go round in circles. */
const LEAST_GAIN_S = 1e-9;
/** Axes and depths stand on a grid, in their own units: what another computer rounds otherwise in the last digit gets the same order. */
const GRID = 1e-5;

/**
 * An open tour through strokes, as short as the machine takes it, s. Ends: 2k is the start of stroke k, 2k + 1 its end, 2n the place the
 * tool comes from. A visit is the end at which a stroke is entered; it is left at `visit ^ 1`. No closures in the loops: they run millions
 * of times.
 */
export class Tour {
  /** The ends at which strokes are entered, in running order; as they came until a first tour is made. */
  readonly visits: Int32Array;
  private readonly n: number;
  private readonly start: number;
  /** By end: axis values, level and depth; `stride` numbers each. */
  private readonly axisCount: number;
  private readonly stride: number;
  private readonly values: Float64Array;
  private readonly perS: Float64Array;
  private readonly perS2: Float64Array;
  private readonly turn: Float64Array;
  /** The two axes that are slowest across: the index has the ends by them, each on the scale of its acceleration. */
  private readonly shown: readonly [number, number];
  private readonly index: Flatbush;
  /** The end that each place of the index is: where an axis may go either way round, an end has a copy a turn to either side. */
  private readonly endOf: number[] = [];
  /** Place of each stroke in the tour. */
  private readonly position: Int32Array;
  private readonly near: (Int32Array | undefined)[];

  /** @param strokes x, y, depth triples. @param from Sheet point the tool comes from. */
  constructor(
    strokes: readonly Float64Array[],
    from: readonly [number, number],
    private readonly air: Air,
  ) {
    const n = strokes.length;
    this.n = n;
    this.start = 2 * n;
    this.axisCount = air.axes.length;
    this.stride = this.axisCount + 2;
    this.values = new Float64Array((2 * n + 1) * this.stride);
    this.perS = Float64Array.from(air.axes, (a) => a.perS);
    this.perS2 = Float64Array.from(air.axes, (a) => a.perS2);
    this.turn = Float64Array.from(air.axes, (a) => a.turn);
    for (let k = 0; k < n; k++) {
      const s = strokes[k]!;
      this.addEnd(2 * k, s[0]!, s[1]!, s[2]!);
      this.addEnd(2 * k + 1, s[s.length - 3]!, s[s.length - 2]!, s[s.length - 1]!);
    }
    this.addEnd(this.start, from[0], from[1], -air.hopHeightMm);
    this.shown = this.findSlowest();
    this.index = this.buildIndex();
    this.visits = Int32Array.from({ length: n }, (_, k) => 2 * k);
    this.position = new Int32Array(n);
    this.near = new Array(2 * n + 1);
  }

  /** A first tour: always on to the quickest end that is left. O(n²), by the index about O(n log n) where there are many. */
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
    if (freed <= LEAST_GAIN_S) return false;
    let bestGain = LEAST_GAIN_S,
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

  /** Seconds between all strokes, in the order and by the ends they have. */
  computeSeconds(): number {
    let seconds = 0;
    for (let i = 0; i < this.n; i++) seconds += this.gap(this.leaving(i), this.visits[i]!);
    return seconds;
  }

  /** Turns strokes round in their places so that the whole takes least: for this order no better choice of ends exists. O(n). */
  turnStrokes(): boolean {
    const { n, visits } = this;
    // Least seconds to have come into each end of the stroke at hand, and the end of the stroke before that this came from.
    const from = new Uint8Array(2 * n);
    let kept = 0,
      turned = 0;
    for (let i = 0; i < n; i++) {
      const e = visits[i]!;
      const ways = [e, e ^ 1].map((own, side) => {
        if (i === 0) return this.gap(this.start, own);
        const before = visits[i - 1]!;
        const a = kept + this.gap(before ^ 1, own),
          b = turned + this.gap(before, own);
        from[2 * i + side] = b < a - LEAST_GAIN_S ? 1 : 0;
        return Math.min(a, b);
      });
      [kept, turned] = [ways[0]!, ways[1]!];
    }
    let side = turned < kept - LEAST_GAIN_S ? 1 : 0;
    let changed = false;
    for (let i = n - 1; i >= 0; i--) {
      const next = from[2 * i + side]!;
      if (side === 1) {
        visits[i] = visits[i]! ^ 1;
        changed = true;
      }
      side = next;
    }
    return changed;
  }

  private addEnd(end: number, x: number, y: number, depth: number): void {
    const at = this.values.subarray(end * this.stride, (end + 1) * this.stride);
    this.air.placeInto(x, y, at);
    at[this.axisCount + 1] = depth;
    for (let k = 0; k < at.length; k++) at[k] = Math.round(at[k]! / GRID) * GRID;
  }

  /** The two axes that take longest from end to end of all places. */
  private findSlowest(): [number, number] {
    const spans = Array.from({ length: this.axisCount }, (_, k) => {
      let min = Infinity,
        max = -Infinity;
      for (let e = 0; e < 2 * this.n; e++) {
        min = Math.min(min, this.values[e * this.stride + k]!);
        max = Math.max(max, this.values[e * this.stride + k]!);
      }
      return { k, s2: (max - min) / this.perS2[k]! };
    }).sort((a, b) => b.s2 - a.s2);
    return [spans[0]!.k, spans[1]!.k];
  }

  private buildIndex(): Flatbush {
    const [xs, ys] = this.shown.map((k) => {
      const turn = this.turn[k]! / this.perS2[k]!;
      return turn > 0 ? [0, turn, -turn] : [0];
    }) as [number[], number[]];
    const index = new Flatbush(Math.max(1, 2 * this.n * xs.length * ys.length));
    for (let e = 0; e < 2 * this.n; e++) {
      for (const dx of xs) {
        for (const dy of ys) {
          index.add(this.shownAt(e, 0) + dx, this.shownAt(e, 1) + dy);
          this.endOf.push(e);
        }
      }
    }
    index.finish();
    return index;
  }

  private shownAt(e: number, i: 0 | 1): number {
    const k = this.shown[i];
    return this.values[e * this.stride + k]! / this.perS2[k]!;
  }

  /** Seconds from leaving one end to having entered another: 0 where the cut goes on without lifting. */
  private gap(p: number, q: number): number {
    const { values, axisCount, air } = this;
    const a = p * this.stride,
      b = q * this.stride;
    let across = 0;
    for (let k = 0; k < axisCount; k++) {
      let way = Math.abs(values[a + k]! - values[b + k]!);
      const turn = this.turn[k]!;
      if (turn > 0) {
        if (way > turn) way %= turn;
        if (2 * way > turn) way = turn - way;
      }
      const v = this.perS[k]!,
        g = this.perS2[k]!;
      const own = way * g < v * v ? 2 * Math.sqrt(way / g) : way / v + v / g;
      if (own > across) across = own;
    }
    const from = values[a + axisCount]!,
      to = values[b + axisCount]!;
    const depthFrom = values[a + axisCount + 1]!,
      depthTo = values[b + axisCount + 1]!;
    if (across === 0 && depthFrom === depthTo) return 0;
    const top = Math.max(from, to) + air.hopHeightMm;
    const up = computeRestToRestS(air.z, Math.max(0, top - from + depthFrom));
    const down = computeRestToRestS(air.z, Math.max(0, top - to - air.approachGapMm));
    return up + across + down + (air.approachGapMm + depthTo) / air.plungeMmPerS;
  }

  /** By how much the gap from p to q is longer than the one back: the way across is the same, and only lifts and plunges differ. */
  private gapBeyondBack(p: number, q: number): number {
    const { values, axisCount, air } = this;
    const a = p * this.stride + axisCount,
      b = q * this.stride + axisCount;
    const from = values[a]!,
      to = values[b]!;
    const depthFrom = values[a + 1]!,
      depthTo = values[b + 1]!;
    if (from === to && depthFrom === depthTo) return 0;
    const top = Math.max(from, to) + air.hopHeightMm;
    const lift = (level: number, depth: number): number => computeRestToRestS(air.z, Math.max(0, top - level + depth));
    const drop = (level: number): number => computeRestToRestS(air.z, Math.max(0, top - level - air.approachGapMm));
    const drops = from === to ? 0 : drop(to) - drop(from);
    return lift(from, depthFrom) - lift(to, depthTo) + drops + (depthTo - depthFrom) / air.plungeMmPerS;
  }

  private nearTo(end: number): Int32Array {
    return (this.near[end] ??= Int32Array.from(
      this.index.neighbors(this.shownAt(end, 0), this.shownAt(end, 1), NEIGHBOURS + 2),
      (at) => this.endOf[at]!,
    ));
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
    for (const c of this.nearTo(a)) {
      const j = position[c >> 1]!;
      if (j < i || c !== (visits[j]! ^ 1)) continue;
      if (this.reverseIfShorter(i, j)) return true;
    }
    return false;
  }

  /** A run h … i − 1 turned round: the tool comes into i from the end at which h was entered. */
  private reverseBefore(i: number): boolean {
    const { visits, position } = this;
    for (const c of this.nearTo(visits[i]!)) {
      const h = position[c >> 1]!;
      if (h >= i || c !== visits[h]) continue;
      if (this.reverseIfShorter(h, i - 1)) return true;
    }
    return false;
  }

  /** Turns the run i … j round if that is shorter: at its two ends, and inside, since going in takes longer where it is deep. */
  private reverseIfShorter(i: number, j: number): boolean {
    const { visits } = this;
    const a = this.leaving(i);
    const first = visits[i]!,
      last = visits[j]! ^ 1;
    let gain = this.gap(a, first) + this.link(last, j + 1) - this.gap(a, last) - this.link(first, j + 1);
    if (gain <= LEAST_GAIN_S) return false;
    for (let k = i; k < j; k++) gain += this.gapBeyondBack(visits[k]! ^ 1, visits[k + 1]!);
    if (gain <= LEAST_GAIN_S) return false;
    this.reverse(i, j);
    return true;
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
    const { endOf } = this;
    const isFree = (at: number): boolean => !done[endOf[at]! >> 1] && (reversible || (endOf[at]! & 1) === 0);
    let at = this.start;
    for (let k = 0; k < this.n; k++) {
      const found = this.index.neighbors(this.shownAt(at, 0), this.shownAt(at, 1), 1, Infinity, isFree)[0]!;
      const end = endOf[found]!;
      this.visits[k] = end;
      this.position[end >> 1] = k;
      done[end >> 1] = 1;
      at = end ^ 1;
    }
  }

  private startByScan(reversible: boolean): void {
    const { n } = this;
    const left = Int32Array.from({ length: n }, (_, k) => k);
    let count = n;
    let at = this.start;
    for (let k = 0; k < n; k++) {
      let best = 0,
        bestEnd = 2 * left[0]!,
        bestGap = Infinity;
      for (let m = 0; m < count; m++) {
        for (let end = 2 * left[m]!; end <= 2 * left[m]! + (reversible ? 1 : 0); end++) {
          const gap = this.gap(at, end);
          if (gap >= bestGap) continue;
          bestGap = gap;
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
