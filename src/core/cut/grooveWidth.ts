import type { Ground } from '../machine/stance';
import { AllowedDepth } from './allowedDepth';
import type { Profile } from './profile';

/** A leaning cutter's groove is searched for up to so many doublings of an upright one's. */
const MAX_DOUBLINGS = 8;
const BISECTIONS = 60;

/**
 * Half-width of the groove at a depth, along x and along y through its middle, mm, in the ground's coordinates. A leaning tool
 * stands beside that middle, along x.
 */
export function findGrooveHalfWidths(ground: Ground, profile: Profile, depthMm: number, x: number, y: number): [number, number] {
  const depth = new AllowedDepth(ground, profile);
  depth.moveTo(x, y);
  const solve = (fromX: number, ux: number, uy: number): number => {
    const allowed = (w: number): number => depth.to(x + fromX + w * ux, y + w * uy);
    let lo = 0;
    let hi = 2 * profile.halfWidthAt(depthMm) + 1e-6;
    for (let k = 0; k < MAX_DOUBLINGS && allowed(hi) <= depthMm; k++) {
      lo = hi;
      hi *= 2;
    }
    for (let k = 0; k < BISECTIONS; k++) {
      const w = (lo + hi) / 2;
      if (allowed(w) > depthMm) hi = w;
      else lo = w;
    }
    return (lo + hi) / 2;
  };
  const ahead = solve(0, 1, 0),
    behind = solve(0, -1, 0);
  const middle = (ahead - behind) / 2;
  return [(ahead + behind) / 2, (solve(middle, 0, 1) + solve(middle, 0, -1)) / 2];
}
