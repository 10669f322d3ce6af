import { sharedRings } from './boolean';
import { linesMayMeet } from './meet';
import { boxesOverlap, computeBox, isEmptyBox, joinBoxes, mapRings, type Box, type Chains, type Rings } from './rings';

/** What marks a sheet: areas, and lines. */
export interface Ink {
  regions: Rings;
  chains: Chains;
}

/** Areas that share less than this, or a strip narrower than that, only touch: places lie on a grid of 0.1 µm. mm², mm. */
const TOUCH_MM2 = 1e-3;
const TOUCH_MM = 1e-3;

/** Box of the ink. */
const boxOf = ({ regions, chains }: Ink): Box => joinBoxes(computeBox(regions.xy), computeBox(chains.xy));

/**
 * Where one ink lies on another: areas on areas by what they share, lines on lines and areas by whether they meet.
 * @param dy By how much the second is moved along y first, mm.
 * @returns A box that holds what they share; null where they share nothing. O(edges in both boxes).
 */
export function findOverlap(a: Ink, b: Ink, dy = 0): Box | null {
  const move = (r: Rings): Rings => (dy === 0 || r.xy.length === 0 ? r : mapRings(r, { a: 1, b: 0, c: 0, d: 1, e: 0, f: dy }));
  const moved: Ink = { regions: move(b.regions), chains: move(b.chains) };
  const [p, q] = [boxOf(a), boxOf(moved)];
  if (isEmptyBox(p) || isEmptyBox(q) || !boxesOverlap(p, q)) return null;
  const shared = sharedRings(a.regions, moved.regions);
  if (shared.areaMm2 > TOUCH_MM2) {
    const box = computeBox(shared.rings.xy);
    if (Math.min(box.maxX - box.minX, box.maxY - box.minY) > TOUCH_MM) return box;
  }
  const meets =
    linesMayMeet(a.chains, moved.chains, 'lines') ||
    linesMayMeet(a.chains, moved.regions, 'areas') ||
    linesMayMeet(moved.chains, a.regions, 'areas');
  if (!meets) return null;
  return { minX: Math.max(p.minX, q.minX), minY: Math.max(p.minY, q.minY), maxX: Math.min(p.maxX, q.maxX), maxY: Math.min(p.maxY, q.maxY) };
}
