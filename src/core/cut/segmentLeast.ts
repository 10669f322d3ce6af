import type { Outline } from '../medial/outline';
import type { AllowedDepth } from './allowedDepth';

/** Search by sections: share kept by a golden one, how close it comes to the least, mm, and most steps. */
const GOLDEN = (Math.sqrt(5) - 1) / 2;
const GOLDEN_MM = 5e-5;
const MAX_SECTIONS = 60;
/** How near to the rim of a flat a place is taken to be on it, mm; steps to it, and how far beside it the depth is looked at, mm. */
const RIM_MM = 1e-6;
const MAX_RIM_STEPS = 6;
const RIM_PROBE_MM = 1e-4;
/** The lateral distance is least within this share of the flat from what it is at the foot. */
const FOOT_SLACK = 0.02;
/** Most by which a hollow surface sinks below the chord of a segment, mm. */
const DROP_SLACK_MM = 5e-4;
/**
 * A segment within this many half-widths of a leaning flat, measured in the chart, can come under it. On a flat surface nothing
 * lies farther off there than it does square to the tool (see `Chart`), so 1 would do.
 */
const KINK_SHARE = 1.2;
/**
 * A parabola's least is taken if it lies within this share of the clearance from the values it is made of: its error is of
 * second order in that, and the depth's of fourth, below 1e-6 of the clearance (checked against the swept cone in checks/).
 */
const CONTACT_PRECISION = 0.03;
const MAX_PARABOLAS = 4;

/** The least depth that any point of one outline segment allows. `share` then tells where on the segment it lies, in [0, 1]. */
export class SegmentLeast {
  share = 0;
  /** @param kinked Whether a flat tip leans: depth then falls along the flat and rises along the flank, with a kink between. */
  constructor(
    private readonly o: Outline,
    private readonly depth: AllowedDepth,
    private readonly flatMm: number,
    private readonly kinked: boolean,
  ) {}

  /**
   * The depth is a smooth, convex function along the segment, least near the foot of the perpendicular: a parabola through three
   * values round that place finds it, and is repeated only where its least lies far from them.
   * @param least A depth found elsewhere: a segment that cannot allow less may be answered roughly.
   * @param spread How far the print reaches here, over an upright tool's.
   */
  find(segment: number, least: number, spread: number): number {
    const { o, depth } = this;
    const j = o.next[segment]!;
    const ax = o.xy[2 * segment]!,
      ay = o.xy[2 * segment + 1]!;
    const dx = o.xy[2 * j]! - ax,
      dy = o.xy[2 * j + 1]! - ay;
    const lengthSquared = dx * dx + dy * dy;
    const u = Math.min(1, Math.max(0, ((depth.x - ax) * dx + (depth.y - ay) * dy) / lengthSquared));
    const ex = ax + u * dx - depth.x,
      ey = ay + u * dy - depth.y;
    const reachSquared = ex * ex + ey * ey;
    // The kink lies on the rim of the flat: segments well outside it do not meet it.
    if (this.kinked && reachSquared < (KINK_SHARE * spread * this.flatMm) ** 2) return this.findUnderFlat(ax, ay, dx, dy, least);
    return this.findSmooth(ax, ay, dx, dy, u, Math.sqrt(reachSquared));
  }

  /** The least of a smooth depth, by parabolas from a share on. @param reach Lateral distance there, in the chart. */
  private findSmooth(ax: number, ay: number, dx: number, dy: number, from: number, reach: number): number {
    const { depth } = this;
    const length = Math.hypot(dx, dy);
    let u = from;
    let best = depth.to(ax + u * dx, ay + u * dy);
    this.share = u;
    const h = Math.min(0.25, (0.02 * reach) / length);
    if (h < 1e-9) return best;
    if (u === 0 || u === 1) {
      // At an end: if it rises inward from there, the end is the least.
      const inner = u === 0 ? h : 1 - h;
      if (depth.to(ax + inner * dx, ay + inner * dy) >= best) return best;
    }
    for (let k = 0; k < MAX_PARABOLAS; k++) {
      const centre = Math.min(1 - h, Math.max(h, u));
      const before = depth.to(ax + (centre - h) * dx, ay + (centre - h) * dy);
      const here = k === 0 && centre === u ? best : depth.to(ax + centre * dx, ay + centre * dy);
      const after = depth.to(ax + (centre + h) * dx, ay + (centre + h) * dy);
      const bend = before - 2 * here + after;
      const shift = bend > 1e-18 ? (-h * (after - before)) / (2 * bend) : after < before ? 1 : -1;
      const nextU = Math.min(1, Math.max(0, centre + Math.max(-0.5, Math.min(0.5, shift))));
      const value = depth.to(ax + nextU * dx, ay + nextU * dy);
      if (value < best) {
        best = value;
        this.share = nextU;
      }
      const moved = Math.abs(nextU - centre) * length;
      u = nextU;
      if (moved <= CONTACT_PRECISION * reach) break;
    }
    return best;
  }

  /**
   * The least on a segment near the rim of a leaning flat. Under the flat depth is the drop alone, all but linear, so least at an end.
   * A segment across the rim is searched for its crossing and, failing that, by sections, if it can allow less than `least` at all:
   * nowhere is it below the lower end's drop.
   */
  private findUnderFlat(ax: number, ay: number, dx: number, dy: number, least: number): number {
    const { depth, flatMm } = this;
    const a = depth.to(ax, ay),
      dropA = depth.dropMm,
      insideA = depth.lateralMm <= flatMm;
    const b = depth.to(ax + dx, ay + dy),
      dropB = depth.dropMm,
      insideB = depth.lateralMm <= flatMm;
    this.share = a <= b ? 0 : 1;
    const end = Math.min(a, b);
    if ((insideA && insideB) || Math.min(dropA, dropB) - DROP_SLACK_MM > Math.min(least, end)) return end;
    const share = this.share;
    const lower = dropA < dropB ? 0 : 1;
    if (lower === 0 ? insideA : insideB) {
      // Where a hollow surface sinks in between, the drop is nowhere below both ends'; on a convex one it has one least place.
      const inward = lower + (1 - 2 * lower) * Math.min(0.5, RIM_PROBE_MM / Math.hypot(dx, dy));
      if (depth.to(ax + inward * dx, ay + inward * dy) >= (lower === 0 ? a : b)) return end;
    }
    const inner = this.findAcrossRim(ax, ay, dx, dy, insideA, insideB, lower) ?? this.findBySections(ax, ay, dx, dy);
    if (inner < end) return inner;
    this.share = share;
    return end;
  }

  /**
   * The least on a segment that the rim of the flat crosses, or that passes by it on the flank. Null where it is neither on the rim nor
   * plainly on the flank.
   * @param lower The end whose drop is less, 0 or 1.
   */
  private findAcrossRim(ax: number, ay: number, dx: number, dy: number, insideA: boolean, insideB: boolean, lower: number): number | null {
    const { depth, flatMm } = this;
    const foot = Math.min(1, Math.max(0, ((depth.x - ax) * dx + (depth.y - ay) * dy) / (dx * dx + dy * dy)));
    const atFoot = depth.to(ax + foot * dx, ay + foot * dy);
    const off = depth.lateralMm - flatMm;
    if (off > 0) {
      // Nothing of it comes under the flat, unless its nearest place is not quite the foot.
      if (insideA || insideB || off < FOOT_SLACK * flatMm) return null;
      return this.findSmooth(ax, ay, dx, dy, foot, depth.lateralMm);
    }
    const first = this.findAtRim(ax, ay, dx, dy, foot, off, atFoot, lower);
    return first ?? this.findAtRim(ax, ay, dx, dy, foot, off, atFoot, 1 - lower);
  }

  /**
   * The rim's crossing between the foot and an end, if depth is least there. The square of the lateral distance is all but a parabola about
   * the foot; from there on by chords.
   */
  private findAtRim(
    ax: number,
    ay: number,
    dx: number,
    dy: number,
    foot: number,
    offAtFoot: number,
    atFoot: number,
    end: number,
  ): number | null {
    if (foot === end) return null;
    const { depth, flatMm } = this;
    const square = flatMm * flatMm;
    let inside = foot,
      atInside = (flatMm + offAtFoot) ** 2 - square;
    depth.to(ax + end * dx, ay + end * dy);
    let outside = end,
      atOutside = depth.lateralMm ** 2 - square;
    if (!(atOutside > 0) || !(atInside < 0)) return null;
    let u = foot + (end - foot) * Math.sqrt(-atInside / (atOutside - atInside));
    let value = Infinity;
    for (let k = 0; k < MAX_RIM_STEPS; k++) {
      value = depth.to(ax + u * dx, ay + u * dy);
      const off = depth.lateralMm ** 2 - square;
      if (Math.abs(off) < 2 * flatMm * RIM_MM) break;
      if (off < 0) [inside, atInside] = [u, off];
      else [outside, atOutside] = [u, off];
      u = inside + (outside - inside) * (-atInside / (atOutside - atInside));
    }
    if (value > atFoot) return null;
    // On the one side of it the flat falls to it, on the other the flank rises: else the least is elsewhere.
    const step = Math.sign(end - foot) * Math.min(Math.abs(end - u), RIM_PROBE_MM / Math.hypot(dx, dy));
    if (depth.to(ax + (u + step) * dx, ay + (u + step) * dy) < value || depth.to(ax + (u - step) * dx, ay + (u - step) * dy) < value)
      return null;
    this.share = u;
    return value;
  }

  /** Brent's search without slopes: parabolas, and golden sections where those do not close in (Brent 1973, chapter 5, from memory). */
  private findBySections(ax: number, ay: number, dx: number, dy: number): number {
    const { depth } = this;
    const near = Math.min(0.05, GOLDEN_MM / 2 / Math.hypot(dx, dy));
    let lo = 0,
      hi = 1;
    // The best place so far, the second best, and the one before that.
    let x = 1 - GOLDEN,
      w = x,
      v = x;
    let atX = depth.to(ax + x * dx, ay + x * dy),
      atW = atX,
      atV = atX;
    let step = 0,
      before = 0;
    for (let k = 0; k < MAX_SECTIONS; k++) {
      const middle = (lo + hi) / 2;
      if (Math.abs(x - middle) <= 2 * near - (hi - lo) / 2) break;
      let parabola = false;
      if (Math.abs(before) > near) {
        const r = (x - w) * (atX - atV);
        let q = (x - v) * (atX - atW);
        let p = (x - v) * q - (x - w) * r;
        q = 2 * (q - r);
        if (q > 0) p = -p;
        q = Math.abs(q);
        if (Math.abs(p) < Math.abs((q * before) / 2) && p > q * (lo - x) && p < q * (hi - x)) {
          before = step;
          step = p / q;
          const u = x + step;
          if (u - lo < 2 * near || hi - u < 2 * near) step = Math.sign(middle - x) * near;
          parabola = true;
        }
      }
      if (!parabola) {
        before = (x >= middle ? lo : hi) - x;
        step = (1 - GOLDEN) * before;
      }
      const u = x + (Math.abs(step) >= near ? step : Math.sign(step) * near);
      const atU = depth.to(ax + u * dx, ay + u * dy);
      if (atU <= atX) {
        if (u >= x) lo = x;
        else hi = x;
        [v, atV, w, atW, x, atX] = [w, atW, x, atX, u, atU];
      } else {
        if (u < x) lo = u;
        else hi = u;
        if (atU <= atW || w === x) [v, atV, w, atW] = [w, atW, u, atU];
        else if (atU <= atV || v === x || v === w) [v, atV] = [u, atU];
      }
    }
    this.share = x;
    return atX;
  }
}
