import Flatbush from 'flatbush';
import type { Rings } from '../base/rings';
import type { Setup } from '../pipeline/setup';
import { belowFloor, type Depths } from './field';
import type { Overcut } from './overcut';

/** The edge at the surface against the outline that was drawn. */
export interface FieldEdge {
  samples: number;
  maxOutsideUm: number;
  maxUncutUm: number;
  uncut95Um: number;
  /** In half of the places what is cut ends no farther outside than this, and no farther inside. */
  outsideMedianUm: number;
  uncutMedianUm: number;
  /** What is cut outside for certain: the farthest cell that is cut and lies outside, µm. */
  leastOutsideUm: number;
  outsideAt: [number, number];
  uncutAt: [number, number];
}

/** How far from an outline its edge is looked for, mm. */
const REACH_MM = 0.6;
/** A line nearer than this is the one that is stood on, mm. */
const ON_LINE_MM = 1e-3;
/** Deeper by more than this is another stroke's, mm. */
const RISE_MM = 0.002;
/** A wall less steep than this, depth over way, is no wall but a floor. */
const LEAST_SLOPE = 0.02;
/** Less than this is not cut, mm. */
const CUT_MM = 1e-4;

/** Finds where the depth comes to nothing across an outline. */
export class EdgeFinder {
  private readonly uncut: number[] = [];
  private readonly outside: number[] = [];
  private readonly edge: FieldEdge = {
    samples: 0,
    maxOutsideUm: 0,
    maxUncutUm: 0,
    uncut95Um: 0,
    outsideMedianUm: 0,
    uncutMedianUm: 0,
    leastOutsideUm: 0,
    outsideAt: [0, 0],
    uncutAt: [0, 0],
  };
  private readonly metric = new Float64Array(3);
  private readonly depths: Float64Array;
  private readonly reach: number;
  private readonly step: number;

  private field: Depths;

  constructor(
    private readonly setup: Setup,
    private readonly whole: Depths,
  ) {
    const field = (this.field = whole);
    this.step = Math.min(field.grid.cellX, field.grid.cellY);
    this.reach = Math.max(4, Math.ceil(REACH_MM / this.step));
    this.depths = new Float64Array(2 * this.reach + 1);
  }

  /** Distance of the cut edge beyond the outline at a place of it that runs along (tx, ty), region on the left, µm. */
  measure(x: number, y: number, tx: number, ty: number): number {
    const { metric: m, depths } = this;
    this.setup.work.metricInto(x, y, m);
    // Square to the outline on the surface, away from the region.
    let vx = m[1]! * tx + m[2]! * ty,
      vy = -(m[0]! * tx + m[1]! * ty);
    const true_ = Math.sqrt(m[0]! * vx * vx + 2 * m[1]! * vx * vy + m[2]! * vy * vy) || 1;
    vx /= true_;
    vy /= true_;
    depths.fill(NaN);
    this.origin = [x, y, vx * this.step, vy * this.step];
    let off = this.findOff();
    // Past the other side of a narrow place what is cut is not this stroke.
    if (off < -2 * this.step) off = Math.max(off, -this.widthInward(x, y, -vx, -vy), -this.nearestCut(x, y, -off));
    this.note(1000 * off, x, y);
    return 1000 * off;
  }

  private origin: [number, number, number, number] = [0, 0, 0, 0];

  /** Depth k steps along the line across the outline, which it crosses at the reach; most are never asked for. */
  private depthOn(k: number): number {
    const { depths, reach } = this;
    if (k < 0 || k > 2 * reach) return 0;
    if (Number.isNaN(depths[k]!)) {
      const [x, y, dx, dy] = this.origin;
      depths[k] = sampleDepth(this.field, x + (k - reach) * dx, y + (k - reach) * dy);
    }
    return depths[k]!;
  }

  /** Goes on to the outlines of an inscription, and to the floor that it is cut in. */
  enter(rings: Rings, floorMm = 0): void {
    this.field = belowFloor(this.whole, floorMm);
    const { xy, starts } = rings;
    const n = xy.length / 2;
    const ends = new Uint32Array(n);
    for (let k = 0; k + 1 < starts.length; k++)
      for (let i = starts[k]!; i < starts[k + 1]!; i++) ends[i] = i + 1 < starts[k + 1]! ? i + 1 : starts[k]!;
    this.index = new Flatbush(Math.max(1, n));
    for (let i = 0; i < n; i++) {
      const j = ends[i]!;
      const [ax, ay, bx, by] = [xy[2 * i]!, xy[2 * i + 1]!, xy[2 * j]!, xy[2 * j + 1]!];
      this.index.add(Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by));
    }
    if (n === 0) this.index.add(0, 0, 0, 0);
    this.index.finish();
    this.lines = { xy, ends };
  }

  private index: Flatbush | null = null;
  private lines: { xy: Float64Array; ends: Uint32Array } | null = null;

  /** How far the region goes on from an outline in a direction of true unit length, mm; at most the reach. */
  private widthInward(x: number, y: number, dx: number, dy: number): number {
    const far = this.reach * this.step;
    const { xy, ends } = this.lines!;
    let least = far;
    for (const i of this.index!.search(
      Math.min(x, x + far * dx),
      Math.min(y, y + far * dy),
      Math.max(x, x + far * dx),
      Math.max(y, y + far * dy),
    )) {
      const j = ends[i]!;
      const [ax, ay] = [xy[2 * i]! - x, xy[2 * i + 1]! - y];
      const [ex, ey] = [xy[2 * j]! - xy[2 * i]!, xy[2 * j + 1]! - xy[2 * i + 1]!];
      const det = dx * ey - dy * ex;
      if (det === 0) continue;
      const t = (ax * ey - ay * ex) / det,
        u = (ax * dy - ay * dx) / det;
      if (u >= 0 && u <= 1 && t > ON_LINE_MM && t < least) least = t;
    }
    return least;
  }

  /** Where what is cut ends, mm from the outline, positive beyond it. */
  private findOff(): number {
    const { reach, step } = this;
    const depthOn = (k: number): number => this.depthOn(k);
    // Sloping walls end where their slope comes to nothing; it is taken a cell inside, where no cell is half a cell.
    const wallFrom = (k: number): number => {
      const a = depthOn(k),
        b = depthOn(k - 1);
      const slope = (b - a) / step;
      return slope > LEAST_SLOPE && a > CUT_MM ? (k - reach) * step + a / slope : NaN;
    };
    // Nearer to the end than a cell the depth between cells is mixed with what is not cut: one further in says it better.
    const wallEnd = (k: number): number => {
      const near = wallFrom(k - 1);
      const far = near - (k - 1 - reach) * step < step ? wallFrom(k - 2) : NaN;
      return Number.isNaN(far) ? near : far;
    };
    const at = wallEnd(reach);
    if (Math.abs(at) <= step) return at;
    let k = reach;
    if (depthOn(k) > CUT_MM) {
      // A slope that goes on as it is cut at the outline ends where it comes to nothing, as far as is looked.
      const before = depthOn(reach - 1);
      if (at > 0 && at <= reach * step && Math.abs((before * at) / (at + step) - depthOn(k)) < 0.2 * depthOn(k)) {
        // No farther than where it gets deeper again: there another stroke begins, and the two have run together.
        let valley = reach;
        while (valley < 2 * reach && depthOn(valley) > CUT_MM && depthOn(valley + 1) <= depthOn(valley)) valley++;
        return Math.min(at, (valley - reach + 1) * step);
      }
      // A wall straight down ends where half of its depth is gone.
      let most = 0;
      for (let j = Math.max(0, reach - 8); j < reach; j++) most = Math.max(most, depthOn(j));
      const half = most / 2;
      // Where it gets deeper again another stroke begins.
      while (k < 2 * reach && depthOn(k + 1) > half && depthOn(k + 1) <= depthOn(k) + RISE_MM) k++;
      if (k === reach && !(depthOn(k) > half)) return Number.isNaN(at) ? 0 : Math.max(-step, Math.min(step, at));
      // Between this cell and the next, unless the next is deeper and another stroke's.
      const fall = depthOn(k) - depthOn(k + 1);
      return (k - reach) * step + (fall > 0 ? Math.min(1, (depthOn(k) - half) / fall) : 1) * step;
    }
    while (k > 0 && !(depthOn(k) > CUT_MM)) k--;
    if (!(depthOn(k) > CUT_MM)) return -reach * step;
    const last = (k - reach) * step;
    const end = wallEnd(k);
    return Number.isNaN(end) ? last + step / 2 : Math.max(last - step, Math.min(last + step, end));
  }

  /** Way to the nearest cell that is cut, mm; `mostMm` where none is nearer. */
  private nearestCut(x: number, y: number, mostMm: number): number {
    const { metric: m, field } = this;
    const { cellX, cellY, minX, minY } = field.grid;
    let least = mostMm;
    const reach = Math.ceil(mostMm / this.step);
    const [x0, y0] = [field.cellX(Math.floor((x - minX) / cellX)), field.cellY(Math.floor((y - minY) / cellY))];
    for (let j = -reach; j <= reach; j++)
      for (let i = -reach; i <= reach; i++) {
        const [dx, dy] = [x0 + i * cellX - x, y0 + j * cellY - y];
        const d = Math.sqrt(m[0]! * dx * dx + 2 * m[1]! * dx * dy + m[2]! * dy * dy);
        if (d < least && field.depthAt(x + dx, y + dy) > CUT_MM) least = d;
      }
    return least;
  }

  private note(off: number, x: number, y: number): void {
    const { edge } = this;
    edge.samples++;
    this.uncut.push(Math.max(0, -off));
    this.outside.push(Math.max(0, off));
    if (off > edge.maxOutsideUm) {
      edge.maxOutsideUm = off;
      edge.outsideAt = [x, y];
    }
    if (-off > edge.maxUncutUm) {
      edge.maxUncutUm = -off;
      edge.uncutAt = [x, y];
    }
  }

  /** Farther out than a cell the lines across outlines may have met another stroke: there cells alone decide. */
  finish(over: Overcut | null): FieldEdge | null {
    if (this.edge.samples === 0) return null;
    if (over) {
      this.edge.leastOutsideUm = over.leastUm;
      if (this.edge.maxOutsideUm > 1000 * this.step || over.reachUm > this.edge.maxOutsideUm) {
        this.edge.maxOutsideUm = over.reachUm;
        this.edge.outsideAt = over.at;
      }
    }
    const at = (list: number[], share: number): number =>
      list.sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(share * list.length))]!;
    this.edge.uncut95Um = at(this.uncut, 0.95);
    this.edge.uncutMedianUm = at(this.uncut, 0.5);
    this.edge.outsideMedianUm = at(this.outside, 0.5);
    return this.edge;
  }
}

/** Depth between four cells, mm. */
function sampleDepth(field: Depths, x: number, y: number): number {
  const { cellX, cellY, minX, minY } = field.grid;
  const fx = (x - minX) / cellX - 0.5,
    fy = (y - minY) / cellY - 0.5;
  const cx = Math.floor(fx),
    cy = Math.floor(fy);
  const tx = fx - cx,
    ty = fy - cy;
  const at = (c: number, r: number) => field.depthAt(minX + (c + 0.5) * cellX, minY + (r + 0.5) * cellY);
  return (1 - ty) * ((1 - tx) * at(cx, cy) + tx * at(cx + 1, cy)) + ty * ((1 - tx) * at(cx, cy + 1) + tx * at(cx + 1, cy + 1));
}
