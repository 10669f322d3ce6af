import type { Outline } from '../medial/outline';
import type { ContactSolver } from './contact';

/** Most by which the middle of a straight piece may lie deeper than is allowed there, mm, and how often a piece is split for it. */
const DEEPER_MM = 0.0005;
const MAX_SPLITS = 8;
/** Pieces longer than this are checked in their halves as well, mm: a bend to and fro does not show in the middle. */
const LONG_PIECE_MM = 0.12;

/**
 * Puts points in where a piece's middle would lie deeper than is allowed there: between two points of a path the outline that is
 * touched first may change, which neither of them shows.
 * @param points x, y, depth triples. O(pieces · near segments).
 */
export function keepToAllowed(points: Float64Array, solver: ContactSolver, o: Outline): Float64Array {
  const out: number[] = [points[0]!, points[1]!, points[2]!];
  const split = (x0: number, y0: number, d0: number, x1: number, y1: number, d1: number, depth: number): void => {
    const x = (x0 + x1) / 2,
      y = (y0 + y1) / 2,
      d = (d0 + d1) / 2;
    const length = Math.hypot(x1 - x0, y1 - y0);
    if (depth === 0 || Math.max(d0, d1) <= 0 || length < 4 * DEEPER_MM) return;
    solver.moveTo(x, y);
    const contact = solver.findLeast(solver.findContact(o.index!.neighbors(x, y, 1)[0]!));
    const allowed = solver.isInside(contact) ? contact.depthMm : Math.min(0, contact.depthMm);
    const fine = d <= allowed + DEEPER_MM;
    if (fine && length < LONG_PIECE_MM) return;
    split(x0, y0, d0, x, y, fine ? d : allowed, depth - 1);
    if (!fine) out.push(x, y, allowed);
    split(x, y, fine ? d : allowed, x1, y1, d1, depth - 1);
  };
  for (let i = 3; i < points.length; i += 3) {
    split(points[i - 3]!, points[i - 2]!, points[i - 1]!, points[i]!, points[i + 1]!, points[i + 2]!, MAX_SPLITS);
    out.push(points[i]!, points[i + 1]!, points[i + 2]!);
  }
  return Float64Array.from(out);
}
