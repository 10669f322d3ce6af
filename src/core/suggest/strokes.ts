import { computeArea } from '../base/boolean';
import { concatRings, isEmptyRings, type Rings } from '../base/rings';
import { computeMedialAxis, PRUNE_TOLERANCE_MM } from '../medial/medialAxis';
import { createOutline } from '../medial/outline';
import type { VoronoiEngine } from '../medial/voronoi';

/** How wide the strokes of lettering are: pieces of their middle lines, narrowest first. */
export interface StrokeWidths {
  /** Width across at a piece, and its length, mm. */
  widthMm: Float64Array;
  lengthMm: Float64Array;
  totalMm: number;
  areaMm2: number;
  widestMm: number;
  /** A twentieth of the length is narrower than this, mm. */
  narrowMm: number;
}

export const NO_STROKES: StrokeWidths = {
  widthMm: new Float64Array(0),
  lengthMm: new Float64Array(0),
  totalMm: 0,
  areaMm2: 0,
  widestMm: 0,
  narrowMm: 0,
};

/** Where the clearance falls off faster than this along the middle line it runs into a corner, and is no stroke. */
const CORNER_SLOPE = 0.6;
const NARROW_SHARE = 0.05;

/** Measures closed lettering by its medial axis on the sheet. O(n log n). */
export function measureStrokes(regions: readonly Rings[], engine: VoronoiEngine): StrokeWidths {
  const all = concatRings(regions);
  if (isEmptyRings(all)) return NO_STROKES;
  const made = createOutline(all);
  if (!made.ok || made.value.segmentCount === 0) return NO_STROKES;
  const axis = computeMedialAxis(made.value, engine, PRUNE_TOLERANCE_MM);
  const pieces: [width: number, length: number][] = [];
  let widest = 0;
  for (let k = 0; k < axis.a.length; k++) {
    const [a, b] = [axis.a[k]!, axis.b[k]!];
    const length = Math.hypot(axis.x[b]! - axis.x[a]!, axis.y[b]! - axis.y[a]!);
    widest = Math.max(widest, 2 * axis.r[a]!, 2 * axis.r[b]!);
    if (length > 0 && Math.abs(axis.r[a]! - axis.r[b]!) < CORNER_SLOPE * length) pieces.push([axis.r[a]! + axis.r[b]!, length]);
  }
  pieces.sort((p, q) => p[0] - q[0]);
  const total = pieces.reduce((sum, p) => sum + p[1], 0);
  let run = 0;
  const narrow = pieces.find(([, length]) => (run += length) >= NARROW_SHARE * total);
  return {
    widthMm: Float64Array.from(pieces, (p) => p[0]),
    lengthMm: Float64Array.from(pieces, (p) => p[1]),
    totalMm: total,
    areaMm2: computeArea(all),
    widestMm: widest,
    narrowMm: narrow?.[0] ?? widest,
  };
}

/** Length of strokes at least so wide, mm. */
export function lengthOver({ widthMm, lengthMm }: StrokeWidths, leastMm: number): number {
  let sum = 0;
  for (let k = 0; k < widthMm.length; k++) if (widthMm[k]! >= leastMm) sum += lengthMm[k]!;
  return sum;
}

/** Area of what of strokes is wider than a width on both sides of its middle: floors, mm². */
export function floorArea({ widthMm, lengthMm }: StrokeWidths, wallsMm: number): number {
  let sum = 0;
  for (let k = 0; k < widthMm.length; k++) sum += Math.max(0, widthMm[k]! - wallsMm) * lengthMm[k]!;
  return sum;
}
