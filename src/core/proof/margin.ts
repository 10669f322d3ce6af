import Flatbush from 'flatbush';
import type { Profile } from '../cut/profile';
import { MOVE, type LaidPaths } from '../lay/laidPaths';
import type { Work } from '../machine/stance';

/** A margin is never reported below this: beyond it the cutter simply does not get there, mm. */
export const FAR_MM = 20;
/** A margin below this may come from a piece of the path whose box reaches the place and whose groove does not, mm. */
const NEAR_MM = 0.02;
/** Pieces of the path tried for a place that none cuts: short ones lie close together. */
const FAR_TRIES = 100;
/** A level piece whose foot is this much worse than the best cannot win, mm; where the sheet stretches or the tool leans feet say less. */
const WORTH_UPRIGHT_MM = 0.1;
const WORTH_MM = 2;
/** Between its places the stretch of the sheet is taken to change by no more than this share. */
const STRETCH_SLACK = 0.05;
/** Slowest fall of the margin along the surface that is used, mm per mm. */
const MIN_FALL = 1e-3;

/** By how much a cut is deeper than needed to touch a sheet point, mm: the most over all of its path. */
export interface Margin {
  (x: number, y: number): number;
  /** How fast the margin asked for last falls off along the surface, mm per mm. */
  fall(): number;
}

/** The margin of one run, from its laid path alone. Building is O(n log n). */
export function createMargin(laid: LaidPaths, run: number, work: Work, profile: Profile): Margin {
  const finder = new MarginFinder(laid, run, work, profile);
  return Object.assign((x: number, y: number) => finder.find(x, y), { fall: () => finder.fall() });
}

/** Pieces of a run's path by what their grooves reach on the sheet. */
function indexPieces(
  laid: LaidPaths,
  run: number,
  work: Work,
  profile: Profile,
): { index: Flatbush; pieces: number[]; boxes: Float64Array; stretch: Stretch } {
  const pieces: number[] = [];
  for (let i = 1; i < laid.count; i++) {
    if (laid.run[i] === run && (laid.kind[i] === MOVE.cut || laid.kind[i] === MOVE.plunge)) pieces.push(i);
  }
  const index = new Flatbush(Math.max(1, pieces.length));
  const boxes = new Float64Array(4 * pieces.length);
  const s = laid.sheet;
  const stretch: Stretch = { least: 1, most: 1 };
  const upright = work.isometric && work.alongNormal;
  for (const [k, i] of pieces.entries()) {
    const [ax, ay, bx, by] = [s[3 * i - 3]!, s[3 * i - 2]!, s[3 * i]!, s[3 * i + 1]!];
    const reach = 1.2 * profile.halfWidthAt(Math.max(s[3 * i - 1]!, s[3 * i + 2]!, 1e-6)) + 0.02;
    if (!work.isometric) widenStretch(work, (ax + bx) / 2, (ay + by) / 2, stretch);
    const [rx, ry] = upright ? [reach, reach] : findSheetReach(work, (ax + bx) / 2, (ay + by) / 2, reach, profile);
    const box = [Math.min(ax, bx) - rx, Math.min(ay, by) - ry, Math.max(ax, bx) + rx, Math.max(ay, by) + ry] as const;
    boxes.set(box, 4 * k);
    index.add(...box);
  }
  if (pieces.length === 0) index.add(0, 0, 0, 0);
  index.finish();
  return { index, pieces, boxes, stretch };
}

/** Least and most true length of a millimetre of the sheet over the whole path, in any direction. */
interface Stretch {
  least: number;
  most: number;
}

/** Takes a place into the bounds: the square roots of the metric's eigenvalues there. */
function widenStretch(work: Work, x: number, y: number, stretch: Stretch): void {
  const g = metric;
  work.metricInto(x, y, g);
  const mean = (g[0]! + g[2]!) / 2,
    half = Math.hypot((g[0]! - g[2]!) / 2, g[1]!);
  stretch.least = Math.min(stretch.least, (1 - STRETCH_SLACK) * Math.sqrt(Math.max(0, mean - half)));
  stretch.most = Math.max(stretch.most, (1 + STRETCH_SLACK) * Math.sqrt(mean + half));
}
const metric = new Float64Array(3);

class MarginFinder {
  private readonly index: Flatbush;
  private readonly pieces: number[];
  private readonly boxes: Float64Array;
  private readonly isUpright: boolean;
  private readonly stretch: Stretch;
  private readonly s: Float64Array;
  private readonly frame = new Float64Array(6);
  private readonly point = new Float64Array(3);
  private readonly normal = new Float64Array(6);
  /** The place asked for, and the piece with the share of it where the margin is largest; −1 if there is none. */
  private x = 0;
  private y = 0;
  private piece = -1;
  private share = 0;
  /** Lateral distance of the last margin, and the share of the piece at which the last climb ended. */
  private lateralMm = 0;
  private climbedTo = 0;

  constructor(
    laid: LaidPaths,
    run: number,
    private readonly work: Work,
    private readonly profile: Profile,
  ) {
    ({ index: this.index, pieces: this.pieces, boxes: this.boxes, stretch: this.stretch } = indexPieces(laid, run, work, profile));
    this.isUpright = work.isometric && work.alongNormal;
    this.s = laid.sheet;
  }

  find(x: number, y: number): number {
    this.x = x;
    this.y = y;
    this.piece = -1;
    this.work.pointInto(x, y, this.point);
    let best = -FAR_MM;
    if (this.pieces.length === 0) return best;
    const inReach = this.index.search(x, y, x, y);
    for (const k of inReach) {
      const here = this.climb(this.pieces[k]!, best);
      if (here > best) {
        best = here;
        this.piece = this.pieces[k]!;
        this.share = this.climbedTo;
      }
    }
    return best >= -NEAR_MM ? best : this.findNearest(best, inReach.length);
  }

  /**
   * Past the end of a groove, at a corner that a blunt tip cannot reach: the piece with the smallest lack of depth need not be the
   * nearest, for the same lack is farther off where the flank leans towards the surface.
   */
  private findNearest(found: number, inReach: number): number {
    let best = found;
    let nearest = -Infinity;
    for (const k of this.index.neighbors(this.x, this.y, inReach + FAR_TRIES, FAR_MM)) {
      // Grooves lie within their boxes, and boxes come in order of distance: no farther one can be nearer than what was found.
      if (this.stretch.least * this.boxDistance(k) > -nearest) break;
      const here = this.climb(this.pieces[k]!, Math.max(-FAR_MM, best));
      if (!(here > -FAR_MM)) continue;
      const off = here / this.fallAt(this.pieces[k]!, this.climbedTo);
      if (off <= nearest) continue;
      nearest = off;
      best = here;
      this.piece = this.pieces[k]!;
      this.share = this.climbedTo;
    }
    return best;
  }

  private boxDistance(k: number): number {
    const { boxes: b, x, y } = this;
    return Math.hypot(Math.max(0, b[4 * k]! - x, x - b[4 * k + 2]!), Math.max(0, b[4 * k + 1]! - y, y - b[4 * k + 3]!));
  }

  fall(): number {
    return this.piece < 0 ? this.profile.cotBeta || 1 : this.fallAt(this.piece, this.share);
  }

  /** The margin that the cutter leaves from share t of a piece. */
  private marginAt(i: number, t: number): number {
    const { s, frame: f, point: q } = this;
    const a = 3 * i - 3,
      b = 3 * i;
    const depth = s[a + 2]! + t * (s[b + 2]! - s[a + 2]!);
    // In the air on its way in; the low rim of a leaning flat cuts when its middle is still that much above.
    if (depth < -this.profile.flatMm) return -FAR_MM;
    this.work.poseInto(s[a]! + t * (s[b]! - s[a]!), s[a + 1]! + t * (s[b + 1]! - s[a + 1]!), f);
    const dx = q[0]! - f[0]!,
      dy = q[1]! - f[1]!,
      dz = q[2]! - f[2]!;
    const drop = -(dx * f[3]! + dy * f[4]! + dz * f[5]!);
    this.lateralMm = Math.sqrt(Math.max(0, dx * dx + dy * dy + dz * dz - drop * drop));
    return depth - drop - this.profile.heightAt(this.lateralMm);
  }

  /** The largest margin along a piece, climbed to from the foot of the place asked for, if it might be better than `best`. */
  private climb(i: number, best: number): number {
    const { s, profile } = this;
    const ax = s[3 * i - 3]!,
      ay = s[3 * i - 2]!;
    const dx = s[3 * i]! - ax,
      dy = s[3 * i + 1]! - ay;
    const lengthSquared = dx * dx + dy * dy;
    let t = lengthSquared > 0 ? Math.min(1, Math.max(0, ((this.x - ax) * dx + (this.y - ay) * dy) / lengthSquared)) : 1;
    let here = this.marginAt(i, t);
    // Where the depth slopes by m along the piece the best place lies m·ℓ/√(cot² − m²) beyond the foot, and is that much better.
    const slope = Math.min(1, Math.abs(s[3 * i + 2]! - s[3 * i - 1]!) / (profile.cotBeta * Math.sqrt(lengthSquared) || 1));
    const gain = this.lateralMm * profile.cotBeta * (1 - Math.sqrt(1 - slope * slope));
    // Where feet say less, no place of the piece is better than its foot by more than the margin can change over its length.
    const worthMm = this.isUpright
      ? WORTH_UPRIGHT_MM + gain
      : Math.min(
          WORTH_MM + gain,
          Math.abs(s[3 * i + 2]! - s[3 * i - 1]!) + (1 + profile.cotBeta) * this.stretch.most * Math.sqrt(lengthSquared),
        );
    if (here > best - worthMm && lengthSquared > 0) {
      // The margin rises towards one place along the piece, off the foot where the depth slopes or the tool leans: close in on it.
      for (let step = 0.25; step > 1e-4; step /= 2) {
        for (let way = -step; way <= step; way += 2 * step) {
          for (;;) {
            const next = Math.min(1, Math.max(0, t + way));
            const there = next === t ? -Infinity : this.marginAt(i, next);
            if (!(there > here)) break;
            here = there;
            t = next;
          }
        }
      }
    }
    this.climbedTo = t;
    return here;
  }

  /** How fast the margin from share t of a piece falls along the surface: the gradient of drop + h(lateral), its part along it. */
  private fallAt(i: number, t: number): number {
    this.marginAt(i, t);
    const { frame: f, point: q, normal, lateralMm } = this;
    const d = [0, 1, 2].map((k) => q[k]! - f[k]!);
    const drop = -(d[0]! * f[3]! + d[1]! * f[4]! + d[2]! * f[5]!);
    // On the flat or the ball of a tip the flank's slope still shows how far its edge is.
    const rise = this.profile.cotBeta || 1;
    const g = [0, 1, 2].map((k) => {
      const axis = f[3 + k]!;
      return -axis + rise * (lateralMm > 0 ? (d[k]! + drop * axis) / lateralMm : 0);
    });
    this.work.frameInto(this.x, this.y, normal);
    const out = g[0]! * normal[3]! + g[1]! * normal[4]! + g[2]! * normal[5]!;
    return Math.max(MIN_FALL, Math.hypot(...g.map((v, k) => v - out * normal[3 + k]!)));
  }
}

/** Farthest that a print of a given reach goes over the sheet along x and y, where the sheet stretches or the tool leans. */
function findSheetReach(work: Work, x: number, y: number, reachMm: number, profile: Profile): [number, number] {
  const g = new Float64Array(3),
    n = new Float64Array(6),
    a = new Float64Array(6);
  work.metricInto(x, y, g);
  work.frameInto(x, y, n);
  work.poseInto(x, y, a);
  const cos = Math.min(1, n[3]! * a[3]! + n[4]! * a[4]! + n[5]! * a[5]!);
  const sin = Math.sqrt(Math.max(0, 1 - cos * cos));
  // Where the flank opens away from the surface, the print runs out by 1 / (cos λ − sin λ·tan β).
  const opening = Math.max(0.1, cos - (profile.cotBeta > 0 ? sin / profile.cotBeta : 0));
  const det = Math.max(1e-12, g[0]! * g[2]! - g[1]! * g[1]!);
  return [(reachMm / opening) * Math.sqrt(g[2]! / det), (reachMm / opening) * Math.sqrt(g[0]! / det)];
}
