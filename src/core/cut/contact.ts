import type { Ground } from '../machine/stance';
import type { Outline } from '../medial/outline';
import { AllowedDepth } from './allowedDepth';
import { createPrintSpread, type DrawnOutline } from './printSpread';
import type { Profile } from './profile';
import { SegmentLeast } from './segmentLeast';

export type { DrawnOutline } from './printSpread';

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
/** A leaning rim may lie deeper than its share on a flat surface by this factor, on a curved one. */
const RIM_SLACK = 1.3;
/** A contact this near to a corner of the outline is on it, mm. */
const VERTEX_MM = 1e-6;
/** Step for the slope of a profile, mm. */
const SLOPE_STEP_MM = 1e-6;

const ON_SHEET: DrawnOutline = { plain: true, root: 1, tipRiseMm: 0 };

/**
 * Finds how deep the cutter may go at a place: the least that any point of the outline allows (see `AllowedDepth`).
 * One solver serves one plan at a time: it keeps scratch space.
 */
export interface ContactSolver {
  /** Sets the place over the tip; the tool stands there as the machine lets it. */
  moveTo(x: number, y: number): void;
  /** The least allowed depth found by walking downhill along the outline from a segment. */
  findContact(segment: number): Contact;
  /** The least allowed depth over all of the outline that the cutter could reach at `contact`'s depth; never more than it. */
  findLeast(contact: Contact): Contact;
  /** Whether the place lies in the ink, judged by what it touches first: beyond the outline depths mean nothing. */
  isInside(contact: Contact): boolean;
  /** Rise of the profile per lateral mm at a contact: what the allowed depth loses per mm moved towards it. */
  slopeAt(contact: Contact): number;
}

export function createContactSolver(o: Outline, ground: Ground, profile: Profile, drawn: DrawnOutline = ON_SHEET): ContactSolver {
  const depth = new AllowedDepth(ground, profile);
  const kinked = drawn.tipRiseMm > 0;
  const least = new SegmentLeast(o, depth, profile.flatMm, kinked);
  const spreadAt = createPrintSpread(ground, profile, drawn);
  const curvature = new Float64Array(2);
  let spread = 1;
  // A segment's least lies below the foot's depth by what the flat falls along its half, at the most, and a little for the curvature.
  const kinkSlack = RIM_SLACK * drawn.tipRiseMm;

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
      depth.moveTo(x, y);
      if (kinked) spread = spreadAt(depth);
    },
    findContact(start) {
      let segment = start;
      let best = least.find(segment, Infinity, spread);
      let share = least.share;
      for (let way = 0; way < 2; way++) {
        const forward = way === 0;
        const step = forward ? o.next : o.prev;
        for (let k = 0; k < MAX_WALK && (forward ? share >= 1 : share <= 0); k++) {
          const neighbour = step[segment]!;
          const d = least.find(neighbour, best, spread);
          if (!(d < best)) break;
          segment = neighbour;
          best = d;
          share = least.share;
        }
      }
      return contactOn(segment, share, best);
    },
    findLeast(contact) {
      // A convex surface only falls away, so nothing beyond the groove's half-width can be touched; a concave one rises
      // towards the cutter, by less than this margin while the groove is narrower than 0.4 of the radius.
      ground.curvatureInto(depth.x, depth.y, curvature);
      if (!kinked) spread = spreadAt(depth);
      const half = spread * Math.max(profile.flatMm, profile.halfWidthAt(Math.max(contact.depthMm, 0)));
      const reach = 1.3 * half * (1 + 2 * half * Math.max(0, -curvature[1]!)) + 0.005;
      // Where the chart is not true, or the tool leans, the least on a segment lies farther from the foot of its perpendicular.
      const footSlack = 1.15 * spread;
      let found = contact;
      for (const i of o.index!.search(depth.x - reach, depth.y - reach, depth.x + reach, depth.y + reach)) {
        if (i === contact.segment) continue;
        const j = o.next[i]!;
        const ax = o.xy[2 * i]!,
          ay = o.xy[2 * i + 1]!;
        const dx = o.xy[2 * j]! - ax,
          dy = o.xy[2 * j + 1]! - ay;
        const u = Math.min(1, Math.max(0, ((depth.x - ax) * dx + (depth.y - ay) * dy) / (dx * dx + dy * dy)));
        const footX = ax + u * dx,
          footY = ay + u * dy;
        if ((footX - depth.x) ** 2 + (footY - depth.y) ** 2 > reach * reach) continue;
        const foot = depth.to(footX, footY);
        if (foot > found.depthMm + (footSlack - 1) * Math.abs(found.depthMm) + kinkSlack + 1e-3) continue;
        const d = least.find(i, found.depthMm, spread);
        if (d < found.depthMm) found = contactOn(i, least.share, d);
      }
      return found;
    },
    isInside: (contact) => isLeftOf(o, contact, depth.x, depth.y),
    slopeAt(contact) {
      depth.to(contact.x, contact.y);
      const lateral = depth.lateralMm;
      const before = Math.max(0, lateral - SLOPE_STEP_MM);
      return (profile.heightAt(lateral + SLOPE_STEP_MM) - profile.heightAt(before)) / (lateral + SLOPE_STEP_MM - before);
    },
  };
}

/** Whether (x, y) lies on the ink's side of the outline at a contact; at a corner of less than half a turn, of both its segments. */
function isLeftOf(o: Outline, { segment, x: cx, y: cy }: Contact, x: number, y: number): boolean {
  const left = (i: number): boolean => {
    const j = o.next[i]!;
    const ax = o.xy[2 * i]!,
      ay = o.xy[2 * i + 1]!;
    return (o.xy[2 * j]! - ax) * (y - ay) - (o.xy[2 * j + 1]! - ay) * (x - ax) >= 0;
  };
  const touches = (v: number): boolean => Math.abs(cx - o.xy[2 * v]!) < VERTEX_MM && Math.abs(cy - o.xy[2 * v + 1]!) < VERTEX_MM;
  const corner = touches(segment) ? segment : touches(o.next[segment]!) ? o.next[segment]! : -1;
  if (corner < 0) return left(segment);
  const before = o.prev[corner]!,
    after = o.next[corner]!;
  const ux = o.xy[2 * corner]! - o.xy[2 * before]!,
    uy = o.xy[2 * corner + 1]! - o.xy[2 * before + 1]!;
  const vx = o.xy[2 * after]! - o.xy[2 * corner]!,
    vy = o.xy[2 * after + 1]! - o.xy[2 * corner + 1]!;
  const convex = ux * vy - uy * vx > 0;
  return convex ? left(before) && left(corner) : left(before) || left(corner);
}
