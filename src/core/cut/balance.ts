import { getSiteSegment, getSiteVertex, isPointSite, type Site } from '../medial/medialAxis';
import type { Outline } from '../medial/outline';
import type { Contact, ContactSolver } from './contact';

/** Two contacts closer than this are one. */
const SAME_PLACE_MM = 1e-7;
/** Two depths this close are equal, mm. */
const BALANCE_MM = 2e-6;
/** A point moves sideways by less than this share of its clearance; more is a sign that it lost its sides. */
const MAX_SHIFT_SHARE = 0.8;
const MAX_NODE_SHIFT_SHARE = 0.5;
/** Longest step, as a share of the clearance. */
const MAX_STEP_SHARE = 0.3;
const MAX_TWO_STEPS = 8;
const MAX_THREE_STEPS = 10;

/** Moves points of the axis sideways until the cutter touches what it lies between at equal depth. Results go to `out`: x, y, depth. */
export interface Balance {
  /** No moving: the depth that one site allows at the place. */
  stay(x: number, y: number, site: Site, out: Float64Array): void;
  /** Moves from (x, y) until two sites allow equal depth. @param r Clearance there, mm. */
  two(x: number, y: number, r: number, s0: Site, s1: Site, out: Float64Array): void;
  /** Moves a branching until three contacts allow equal depth. @returns Whether they pin it down. */
  three(x: number, y: number, r: number, sites: readonly Site[], out: Float64Array): boolean;
}

/** @param lowestMm Least depth, ≤ 0: see `computeTrueAxis`. */
export function createBalance(o: Outline, solver: ContactSolver, lowestMm: number): Balance {
  const isAtVertex = (c: Contact, v: number): boolean => c.x === o.xy[2 * v] && c.y === o.xy[2 * v + 1];

  /** Where a site touches first: a segment alone, a corner with either of its two segments. */
  const contactFor = (site: Site): Contact => {
    if (!isPointSite(site)) return solver.findContact(getSiteSegment(site));
    const v = getSiteVertex(o, site);
    const one = solver.findContact(v);
    // It looked on beyond the corner by itself, if that is where it came to.
    if (one.segment === o.prev[v] || isAtVertex(one, v)) return one;
    const two = solver.findContact(o.prev[v]!);
    return two.depthMm < one.depthMm ? two : one;
  };

  /** What the depth allowed by a contact loses for each mm moved in direction (ux, uy). */
  const approach = (px: number, py: number, c: Contact, ux: number, uy: number): number => {
    const ex = c.x - px,
      ey = c.y - py;
    const away = Math.hypot(ex, ey);
    return away > 0 ? (solver.slopeAt(c) * (ex * ux + ey * uy)) / away : 0;
  };

  return {
    stay(x, y, site, out) {
      solver.moveTo(x, y);
      out[0] = x;
      out[1] = y;
      out[2] = Math.max(0, contactFor(site).depthMm);
    },

    two(x, y, r, s0, s1, out) {
      let px = x,
        py = y;
      solver.moveTo(px, py);
      let c0 = contactFor(s0);
      let c1 = contactFor(s1);
      for (let k = 0; k < MAX_TWO_STEPS; k++) {
        const difference = c0.depthMm - c1.depthMm;
        if (Math.abs(difference) < BALANCE_MM) break;
        const gx = c0.x - c1.x,
          gy = c0.y - c1.y;
        const apart = Math.hypot(gx, gy);
        if (apart < SAME_PLACE_MM) break;
        const rate = approach(px, py, c0, gx / apart, gy / apart) - approach(px, py, c1, gx / apart, gy / apart);
        if (!(rate > 1e-6)) break;
        const step = Math.max(-MAX_STEP_SHARE * r, Math.min(MAX_STEP_SHARE * r, difference / rate));
        px += (step * gx) / apart;
        py += (step * gy) / apart;
        // Two sides that are no longer the ones beside it lead it astray: then it stays where it was.
        const astray = Math.hypot(px - x, py - y) > MAX_SHIFT_SHARE * r;
        if (astray) [px, py] = [x, y];
        solver.moveTo(px, py);
        c0 = contactFor(s0);
        c1 = contactFor(s1);
        if (astray) break;
      }
      let least = solver.findLeast(c0.depthMm < c1.depthMm ? c0 : c1);
      if (!solver.isInside(least)) {
        // Beyond the outline depths mean nothing: back to where it began.
        [px, py] = [x, y];
        solver.moveTo(px, py);
        least = solver.findLeast(contactFor(s0));
      }
      out[0] = px;
      out[1] = py;
      out[2] = Math.max(lowestMm, least.depthMm);
    },

    three(x, y, r, sites, out) {
      let px = x,
        py = y;
      for (let k = 0; k < MAX_THREE_STEPS; k++) {
        solver.moveTo(px, py);
        const contacts = spreadThree(px, py, sites.map(contactFor));
        if (!contacts) return false;
        const [c0, c1, c2] = contacts;
        const f1 = c0.depthMm - c1.depthMm,
          f2 = c0.depthMm - c2.depthMm;
        if (Math.abs(f1) < BALANCE_MM && Math.abs(f2) < BALANCE_MM) {
          out[0] = px;
          out[1] = py;
          out[2] = Math.max(lowestMm, solver.findLeast(c0).depthMm);
          return true;
        }
        const a11 = approach(px, py, c0, 1, 0) - approach(px, py, c1, 1, 0);
        const a12 = approach(px, py, c0, 0, 1) - approach(px, py, c1, 0, 1);
        const a21 = approach(px, py, c0, 1, 0) - approach(px, py, c2, 1, 0);
        const a22 = approach(px, py, c0, 0, 1) - approach(px, py, c2, 0, 1);
        const determinant = a11 * a22 - a12 * a21;
        if (Math.abs(determinant) < 1e-3) return false;
        const dx = (f1 * a22 - f2 * a12) / determinant;
        const dy = (a11 * f2 - a21 * f1) / determinant;
        const length = Math.hypot(dx, dy);
        const share = Math.min(1, (MAX_STEP_SHARE * r) / Math.max(length, 1e-12));
        px += share * dx;
        py += share * dy;
        if (Math.hypot(px - x, py - y) > MAX_NODE_SHIFT_SHARE * r) return false;
      }
      return false;
    },
  };
}

/** The three contacts whose directions are spread widest, or null if they all lie on one side. */
function spreadThree(px: number, py: number, contacts: readonly Contact[]): [Contact, Contact, Contact] | null {
  let best: [Contact, Contact, Contact] | null = null;
  let widest = 1e-3;
  const turn = contacts.map((c) => Math.atan2(c.y - py, c.x - px));
  for (let i = 0; i < contacts.length; i++) {
    for (let j = i + 1; j < contacts.length; j++) {
      for (let k = j + 1; k < contacts.length; k++) {
        const area = Math.abs(Math.sin(turn[j]! - turn[i]!) + Math.sin(turn[k]! - turn[j]!) + Math.sin(turn[i]! - turn[k]!));
        if (area > widest) {
          widest = area;
          best = [contacts[i]!, contacts[j]!, contacts[k]!];
        }
      }
    }
  }
  return best;
}
