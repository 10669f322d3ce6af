import { ok, type Result } from '../base/result';
import { concatRings, type Rings } from '../base/rings';
import type { Steps } from '../base/steps';
import type { OutlineError } from '../medial/outline';
import { carvePiece, findCarveAxis, NOTHING_CARVED, type CarveAxis, type CarvedPiece } from './carvePiece';
import type { CutContext } from './kinds/kind';
import { moveStroke, planPieces } from './planPieces';

/** What end mills clear of a piece before the V comes, in the piece's own place on the sheet; `key` says what it depends on. */
export interface Clearing {
  key: string;
  find(piece: Rings): Steps<number, Rings>;
}

/**
 * V-carve: the cutter runs along the lettering's middle, as deep as lets both walls reach the outline on the real surface; where
 * that is deeper than the limit, along the outline's inside at the limit, and over the floor between, where nothing cleared it before.
 * Each connected piece is carved alone; equal pieces on a homogeneous surface are carved once.
 * @param regions Lettering on the sheet, mm; overlaps are united.
 * @returns All strokes (none for empty lettering), or `selfIntersecting`. Yields the share done, in [0, 1].
 * O(n log n + path points).
 */
export function* computeCarving(
  regions: readonly Rings[],
  maxDepthMm: number,
  context: Pick<CutContext, 'tool' | 'profile' | 'work' | 'engine' | 'pieces' | 'axes' | 'surfaceKey'>,
  clearing: Clearing | null = null,
): Steps<number, Result<CarvedPiece, OutlineError>> {
  const { tool, profile, work, engine, axes } = context;
  const cutter = ['carve', tool.kind, tool.includedDeg, tool.tipMm, tool.diameterMm];
  const common = JSON.stringify([...cutter, maxDepthMm, clearing?.key]);
  const made = yield* planPieces(concatRings(regions), context, common, function* (piece, keyOf) {
    const key = keyOf(JSON.stringify(cutter));
    // A middle does not depend on the limit: that one slot changed, it is not sought again.
    let axis = axes.get(key) as CarveAxis | undefined;
    if (!axis) {
      const found = findCarveAxis(piece, work, profile, engine);
      if (!found.ok) return found;
      axis = found.value;
      axes.set(key, axis);
    }
    return ok(carvePiece(axis, maxDepthMm, profile, clearing ? yield* clearing.find(piece) : null));
  });
  if (!made.ok) return made;
  const whole: CarvedPiece = { ...NOTHING_CARVED, strokes: [] };
  for (const { value: carved, dxMm, dyMm } of made.value) {
    for (const stroke of carved.strokes) whole.strokes.push(moveStroke(stroke, dxMm, dyMm));
    whole.deepestMm = Math.max(whole.deepestMm, carved.deepestMm);
    whole.wantedMm = Math.max(whole.wantedMm, carved.wantedMm);
    whole.tooSteep += carved.tooSteep;
  }
  return ok(whole);
}
