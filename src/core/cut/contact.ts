import type { Outline } from '../medial/outline';
import type { Work } from '../machine/stance';
import type { Chart } from './chart';
import type { Profile } from './profile';

/** How far a cutter may go down at a place before it touches the outline there, and where it touches. */
export interface Contact {
  /** Outline segment touched. */
  segment: number;
  /** Sheet point touched, mm. */
  x: number;
  y: number;
  /** Allowed depth along the tool axis below the surface, mm. */
  depthMm: number;
}

/** Steps along the outline before a walk gives up; on letters flattened to 5 µm it takes one or two. */
const MAX_WALK = 200;
/** Golden section: share kept a step, and how near it comes to the least, mm. */
const GOLDEN = (Math.sqrt(5) - 1) / 2;
const GOLDEN_MM = 5e-5;
/** Most by which a hollow surface sinks below the chord of a segment, mm. */
const DROP_SLACK_MM = 5e-4;
/** A leaning rim may lie deeper than its share on a flat surface by this factor, on a curved one. */
const RIM_SLACK = 1.3;
/**
 * Within this many half-widths of the flat a segment can come under it, drawn as far apart as it may be on the chart. On a flat
 * surface nothing lies farther off there than it does square to the tool (see `Chart`), so 1 would do.
 */
const KINK_SHARE = 1.2;
/**
 * A parabola's least is taken if it lies within this share of the clearance from the values it is made of: its error is of
 * second order in that, and the depth's of fourth, below 1e-6 of the clearance (checked against the swept cone in checks/).
 */
const CONTACT_PRECISION = 0.03;

/**
 * Finds how deep the cutter may go at a sheet point on the real surface: for a tip below S₀ with tool axis a, an outline
 * point P allows d(P) = δ + h(ℓ) with q = P − S₀, drop δ = −q·a, lateral distance ℓ = |q + δa| and h the cutter's
 * profile; the allowed depth is the least d(P). Source: derived in docs/architecture.md, "True depth".
 * One solver serves one plan at a time: it keeps scratch space.
 */
export interface ContactSolver {
  /** Sets the place under the tip; the tool stands there as the machine lets it. */
  moveTo(x: number, y: number): void;
  /** The least allowed depth found by walking downhill along the outline from a segment. */
  findContact(segment: number): Contact;
  /** The least allowed depth over all of the outline that the cutter could reach at `contact`'s depth; never more than it. */
  findLeast(contact: Contact): Contact;
  /** Whether the place lies in the ink, as told by what it touches first: beyond the outline depths mean nothing. */
  isInside(contact: Contact): boolean;
  /** Rise of the profile per lateral mm at a contact: what the allowed depth loses per mm moved towards it. */
  slopeAt(contact: Contact): number;
}

/** How the outline is drawn (see `Chart`), and how far the low rim of a leaning flat lies deeper than its middle, mm. */
export type DrawnOutline = Pick<Chart, 'plain' | 'root' | 'tipRiseMm'>;
const ON_SHEET: DrawnOutline = { plain: true, root: 1, tipRiseMm: 0 };
/** A contact this near to a corner of the outline is on it, mm. */
const VERTEX_MM = 1e-6;
/** Step for derivatives, mm. */
const STEP_MM = 1e-4;
/** The print is not taken to be longer than an upright tool's by more than this. */
const MAX_SPREAD = 30;

export function createContactSolver(o: Outline, surface: Work, profile: Profile, lean: DrawnOutline = ON_SHEET): ContactSolver {
  const tanBeta = profile.cotBeta > 0 ? 1 / profile.cotBeta : 0;
  const normal = new Float64Array(6),
    px = new Float64Array(3),
    py = new Float64Array(3);
  /** How far the print reaches in the chart here, over the half-width of an upright tool's on a true sheet. */
  let spread = 1;
  const findSpread = (): void => {
    if (lean.plain) return;
    surface.frameInto(atX, atY, normal);
    const cos = Math.max(0.02, frame[3]! * normal[3]! + frame[4]! * normal[4]! + frame[5]! * normal[5]!);
    const tt = (Math.sqrt(Math.max(0, 1 - cos * cos)) / cos) * tanBeta;
    const root = cos * Math.sqrt(Math.max(1e-4, 1 - tt * tt));
    // Least true length for a length of the chart, taken as the middle's own shortening leaves it.
    surface.pointInto(atX + STEP_MM, atY, px);
    surface.pointInto(atX, atY + STEP_MM, py);
    let e = 0,
      f = 0,
      g = 0;
    for (let k = 0; k < 3; k++) {
      const du = ((px[k]! - frame[k]!) / STEP_MM) * lean.root,
        dv = (py[k]! - frame[k]!) / STEP_MM;
      e += du * du;
      f += du * dv;
      g += dv * dv;
    }
    const least = Math.sqrt(Math.max(1e-6, (e + g) / 2 - Math.hypot((e - g) / 2, f)));
    spread = Math.min(MAX_SPREAD, ((cos / root) * (1 + tt) * Math.max(1, lean.root / root)) / Math.min(1, least));
  };
  const frame = new Float64Array(6);
  const curvature = new Float64Array(2);
  const p = new Float64Array(3);
  let atX = 0;
  let atY = 0;
  let lastLateral = 0,
    lastDrop = 0;

  const depthTo = (x: number, y: number): number => {
    surface.pointInto(x, y, p);
    const qx = p[0]! - frame[0]!,
      qy = p[1]! - frame[1]!,
      qz = p[2]! - frame[2]!;
    const drop = -(qx * frame[3]! + qy * frame[4]! + qz * frame[5]!);
    const lx = qx + drop * frame[3]!,
      ly = qy + drop * frame[4]!,
      lz = qz + drop * frame[5]!;
    lastDrop = drop;
    lastLateral = Math.sqrt(lx * lx + ly * ly + lz * lz);
    return drop + profile.heightAt(lastLateral);
  };

  // The least depth on one segment. It is a smooth, convex function there, least near the foot of the perpendicular: a
  // parabola through three values round that place finds it; again only where it lies far from them.
  let bestShare = 0;
  // Under a leaning flat tip depth falls along the flat and rises along the flank: convex, but with a kink that no parabola finds.
  const kinked = lean.tipRiseMm > 0;
  // A segment's least lies below the foot's depth by what the flat falls along its half, at the most, and a little for the curvature.
  const kinkSlack = RIM_SLACK * lean.tipRiseMm;
  const leastByHalving = (ax: number, ay: number, dx: number, dy: number): number => {
    let lo = 0,
      hi = 1,
      a = 1 - GOLDEN,
      b = GOLDEN;
    let atA = depthTo(ax + a * dx, ay + a * dy),
      atB = depthTo(ax + b * dx, ay + b * dy);
    const near = Math.min(0.1, GOLDEN_MM / Math.hypot(dx, dy));
    while (hi - lo > near) {
      if (atA < atB) {
        hi = b;
        b = a;
        atB = atA;
        a = hi - GOLDEN * (hi - lo);
        atA = depthTo(ax + a * dx, ay + a * dy);
      } else {
        lo = a;
        a = b;
        atA = atB;
        b = lo + GOLDEN * (hi - lo);
        atB = depthTo(ax + b * dx, ay + b * dy);
      }
    }
    bestShare = (lo + hi) / 2;
    return depthTo(ax + bestShare * dx, ay + bestShare * dy);
  };
  /**
   * The least on a segment near the rim of a leaning flat. Under the flat depth is the drop alone, all but linear: least at an end.
   * Across the rim it is sought by halving, if it can be less than `least` there: nowhere is it below the lower end's drop.
   */
  const leastUnderFlat = (ax: number, ay: number, dx: number, dy: number, least: number): number => {
    const a = depthTo(ax, ay),
      dropA = lastDrop,
      insideA = lastLateral <= profile.flatMm;
    const b = depthTo(ax + dx, ay + dy),
      dropB = lastDrop,
      insideB = lastLateral <= profile.flatMm;
    bestShare = a <= b ? 0 : 1;
    const end = Math.min(a, b);
    if ((insideA && insideB) || Math.min(dropA, dropB) - DROP_SLACK_MM > Math.min(least, end)) return end;
    const share = bestShare;
    const inner = leastByHalving(ax, ay, dx, dy);
    if (inner < end) return inner;
    bestShare = share;
    return end;
  };
  /** @param least What it is sought for: a segment that cannot allow less may be told only roughly. */
  const leastOnSegment = (i: number, least = Infinity): number => {
    const j = o.next[i]!;
    const ax = o.xy[2 * i]!,
      ay = o.xy[2 * i + 1]!;
    const dx = o.xy[2 * j]! - ax,
      dy = o.xy[2 * j + 1]! - ay;
    const lengthSquared = dx * dx + dy * dy;
    const length = Math.sqrt(lengthSquared);
    let u = Math.min(1, Math.max(0, ((atX - ax) * dx + (atY - ay) * dy) / lengthSquared));
    // The kink lies on the rim of the flat: segments well outside it do not see it.
    if (kinked && (ax + u * dx - atX) ** 2 + (ay + u * dy - atY) ** 2 < (KINK_SHARE * spread * profile.flatMm) ** 2)
      return leastUnderFlat(ax, ay, dx, dy, least);
    let best = depthTo(ax + u * dx, ay + u * dy);
    bestShare = u;
    const ex = ax + u * dx - atX,
      ey = ay + u * dy - atY;
    const reach = Math.sqrt(ex * ex + ey * ey);
    const h = Math.min(0.25, (0.02 * reach) / length);
    if (h < 1e-9) return best;
    if (u === 0 || u === 1) {
      // At an end: if it rises inward from there, the end is the least.
      const inner = u === 0 ? h : 1 - h;
      if (depthTo(ax + inner * dx, ay + inner * dy) >= best) return best;
    }
    for (let k = 0; k < 4; k++) {
      const centre = Math.min(1 - h, Math.max(h, u));
      const before = depthTo(ax + (centre - h) * dx, ay + (centre - h) * dy);
      const here = k === 0 && centre === u ? best : depthTo(ax + centre * dx, ay + centre * dy);
      const after = depthTo(ax + (centre + h) * dx, ay + (centre + h) * dy);
      const bend = before - 2 * here + after;
      const shift = bend > 1e-18 ? (-h * (after - before)) / (2 * bend) : after < before ? 1 : -1;
      const nextU = Math.min(1, Math.max(0, centre + Math.max(-0.5, Math.min(0.5, shift))));
      const value = depthTo(ax + nextU * dx, ay + nextU * dy);
      if (value < best) {
        best = value;
        bestShare = nextU;
      }
      const moved = Math.abs(nextU - centre) * length;
      u = nextU;
      if (moved <= CONTACT_PRECISION * reach) break;
    }
    return best;
  };

  const contactOn = (segment: number, share: number, depthMm: number): Contact => {
    const j = o.next[segment]!;
    return {
      segment,
      x: o.xy[2 * segment]! + share * (o.xy[2 * j]! - o.xy[2 * segment]!),
      y: o.xy[2 * segment + 1]! + share * (o.xy[2 * j + 1]! - o.xy[2 * segment + 1]!),
      depthMm,
    };
  };

  return {
    moveTo(x, y) {
      atX = x;
      atY = y;
      surface.poseInto(x, y, frame);
      if (kinked) findSpread();
    },
    findContact(start) {
      let segment = start;
      let depth = leastOnSegment(segment);
      let share = bestShare;
      for (let way = 0; way < 2; way++) {
        const forward = way === 0;
        const step = forward ? o.next : o.prev;
        for (let k = 0; k < MAX_WALK && (forward ? share >= 1 : share <= 0); k++) {
          const neighbour = step[segment]!;
          const d = leastOnSegment(neighbour, depth);
          if (!(d < depth)) break;
          segment = neighbour;
          depth = d;
          share = bestShare;
        }
      }
      return contactOn(segment, share, depth);
    },
    findLeast(contact) {
      // A convex surface only falls away, so nothing beyond the groove's half-width can be touched; a concave one rises
      // towards the cutter, by less than this margin while the groove is narrower than 0.4 of the radius.
      surface.curvatureInto(atX, atY, curvature);
      if (!kinked) findSpread();
      const half = spread * Math.max(profile.flatMm, profile.halfWidthAt(Math.max(contact.depthMm, 0)));
      const reach = 1.3 * half * (1 + 2 * half * Math.max(0, -curvature[1]!)) + 0.005;
      // Where the chart is not true, or the tool leans, the least on a segment lies farther from the foot of its perpendicular.
      const footSlack = 1.15 * spread;
      let least = contact;
      for (const i of o.index!.search(atX - reach, atY - reach, atX + reach, atY + reach)) {
        const j = o.next[i]!;
        const ax = o.xy[2 * i]!,
          ay = o.xy[2 * i + 1]!;
        const dx = o.xy[2 * j]! - ax,
          dy = o.xy[2 * j + 1]! - ay;
        const u = Math.min(1, Math.max(0, ((atX - ax) * dx + (atY - ay) * dy) / (dx * dx + dy * dy)));
        const foot = depthTo(ax + u * dx, ay + u * dy);
        if (foot > least.depthMm + (footSlack - 1) * Math.abs(least.depthMm) + kinkSlack + 1e-3) continue;
        const d = leastOnSegment(i, least.depthMm);
        if (d < least.depthMm) least = contactOn(i, bestShare, d);
      }
      return least;
    },
    isInside({ segment, x, y }) {
      const left = (i: number): boolean => {
        const j = o.next[i]!;
        const ax = o.xy[2 * i]!,
          ay = o.xy[2 * i + 1]!;
        return (o.xy[2 * j]! - ax) * (atY - ay) - (o.xy[2 * j + 1]! - ay) * (atX - ax) >= 0;
      };
      // The region is on the left of every segment; at a corner of less than half a turn it is on the left of both.
      const atVertex = (v: number): boolean => Math.abs(x - o.xy[2 * v]!) < VERTEX_MM && Math.abs(y - o.xy[2 * v + 1]!) < VERTEX_MM;
      const v = atVertex(segment) ? segment : atVertex(o.next[segment]!) ? o.next[segment]! : -1;
      if (v < 0) return left(segment);
      const u = o.prev[v]!,
        w = o.next[v]!;
      const convex =
        (o.xy[2 * v]! - o.xy[2 * u]!) * (o.xy[2 * w + 1]! - o.xy[2 * v + 1]!) -
          (o.xy[2 * v + 1]! - o.xy[2 * u + 1]!) * (o.xy[2 * w]! - o.xy[2 * v]!) >
        0;
      return convex ? left(u) && left(v) : left(u) || left(v);
    },
    slopeAt(contact) {
      depthTo(contact.x, contact.y);
      const e = 1e-6;
      return (profile.heightAt(lastLateral + e) - profile.heightAt(Math.max(0, lastLateral - e))) / (e + Math.min(e, lastLateral));
    },
  };
}
