import { computeArea, fillRings, sharedRings, unionRings } from './boolean';
import { boxesOverlap, computeBox, computeSignedArea, concatRings, getRing, isInsideRings, packRings, type Box, type Rings } from './rings';

/** Regions that share less than this share nothing, mm²; and of one that lies in another, so much may be outside. */
const NOTHING_MM2 = 1e-6;

/** One connected shape: an outer ring with its holes. */
interface Shape {
  rings: Rings;
  box: Box;
  areaMm2: number;
}

/** What shapes inside shapes come to. */
export interface Nested {
  /** Filled by the even–odd rule, clean. */
  region: Rings;
  /** Whether any shape lies in the material of another. */
  isNested: boolean;
}

/**
 * Shapes that lie inside shapes stand in them, and what lies in those is cut again (even–odd). Shapes that overlap without one holding the
 * other are united first, so that letters which cross do not cancel.
 * @param sets Clean regions, one a drawing or an inscription, mm. O(pairs of boxes that meet · n log n).
 */
export function nestRings(sets: readonly Rings[]): Nested {
  const shapes = sets.flatMap(splitShapes);
  const links = shapes.map((_, i) => i);
  const rootOf = (i: number): number => (links[i] === i ? i : (links[i] = rootOf(links[i]!)));
  let isNested = false;
  for (let i = 0; i < shapes.length; i++)
    for (let j = i + 1; j < shapes.length; j++) {
      const [a, b] = [shapes[i]!, shapes[j]!];
      if (!boxesOverlap(a.box, b.box)) continue;
      const shared = sharedRings(a.rings, b.rings).areaMm2;
      if (shared < NOTHING_MM2) continue;
      // Whole in the other's material: it stands. Else they cross.
      if (shared > Math.min(a.areaMm2, b.areaMm2) - NOTHING_MM2 && Math.abs(a.areaMm2 - b.areaMm2) > NOTHING_MM2) isNested = true;
      else links[rootOf(i)] = rootOf(j);
    }
  if (!isNested) return { region: unionRings(concatRings(sets)), isNested };
  const groups = new Map<number, Rings[]>();
  shapes.forEach((s, i) => groups.set(rootOf(i), [...(groups.get(rootOf(i)) ?? []), s.rings]));
  const united = [...groups.values()].map((own) => (own.length > 1 ? unionRings(concatRings(own)) : own[0]!));
  return { region: fillRings(concatRings(united), 'evenodd'), isNested };
}

/** Parts a clean region into its outer rings, each with the holes that lie in it. */
function splitShapes(rings: Rings): Shape[] {
  const parts = Array.from({ length: rings.starts.length - 1 }, (_, k) => getRing(rings, k)).filter((r) => r.length >= 6);
  const outers = parts
    .filter((r) => computeSignedArea(r) > 0)
    .map((ring) => ({ ring, box: computeBox(ring), holes: [] as Float64Array[] }));
  for (const hole of parts.filter((r) => computeSignedArea(r) < 0)) {
    const holders = outers.filter((o) => isInsideRings(packRings([o.ring]), hole[0]!, hole[1]!));
    const least = holders.reduce<(typeof outers)[number] | null>(
      (best, o) => (best && computeSignedArea(best.ring) <= computeSignedArea(o.ring) ? best : o),
      null,
    );
    least?.holes.push(hole);
  }
  return outers.map(({ ring, box, holes }) => {
    const own = packRings([ring, ...holes]);
    return { rings: own, box, areaMm2: computeArea(own) };
  });
}
