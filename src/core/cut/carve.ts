import { ok, type Result } from '../base/result';
import { computeBox, concatRings, isEmptyRings, type Rings } from '../base/rings';
import type { Steps } from '../base/steps';
import { createOutline, type OutlineError } from '../medial/outline';
import { carvePiece, NOTHING_CARVED, type CarvedPiece } from './carvePiece';
import type { CutContext } from './kinds/kind';
import { splitPieces } from './pieces';

/** A piece that goes round the blank more than this is not carved, turns. */
const MAX_TURNS = 1.5;

/**
 * V-carve: the cutter runs along the lettering's middle, as deep as lets both walls reach the outline on the real surface; where
 * that is deeper than the limit, along the outline's inside at the limit, and over the floor between.
 * Each connected piece is carved alone; equal pieces on a homogeneous surface are carved once.
 * @param regions Lettering on the sheet, mm; overlaps are united.
 * @returns All strokes (none for empty lettering), or `selfIntersecting`. Yields the share done, in [0, 1].
 * O(n log n + path points).
 */
export function* computeCarving(
  regions: readonly Rings[],
  maxDepthMm: number,
  { tool, profile, work, engine, pieces: cache, surfaceKey }: CutContext,
): Steps<number, Result<CarvedPiece, OutlineError>> {
  const all = concatRings(regions);
  if (isEmptyRings(all)) return ok({ ...NOTHING_CARVED });
  const made = createOutline(all);
  if (!made.ok) return made;
  const pieces = splitPieces(made.value, work.homogeneous);
  const common = JSON.stringify([surfaceKey, tool.kind, tool.includedDeg, tool.tipMm, tool.diameterMm, maxDepthMm]);
  const whole: CarvedPiece = { ...NOTHING_CARVED, strokes: [] };
  const total = made.value.segmentCount;
  let done = 0;
  for (const piece of pieces) {
    const key = `${common}|${piece.key}`;
    done += piece.rings.xy.length / 2;
    // A letter that goes round more than once, as beside a pole, cuts itself. Its inscription is reported as wider than a turn.
    const box = computeBox(piece.rings.xy);
    if (work.periodMm !== null && box.maxY - box.minY > MAX_TURNS * work.periodMm) continue;
    let carved = cache.get(key);
    if (!carved) {
      const result = carvePiece(piece.rings, maxDepthMm, work, profile, engine);
      if (!result.ok) return result;
      carved = result.value;
      cache.set(key, carved);
      yield done / total;
    }
    for (const stroke of carved.strokes) whole.strokes.push(moveStroke(stroke, piece.dxMm, piece.dyMm));
    whole.deepestMm = Math.max(whole.deepestMm, carved.deepestMm);
    whole.wantedMm = Math.max(whole.wantedMm, carved.wantedMm);
    whole.tooSteep += carved.tooSteep;
  }
  return ok(whole);
}

function moveStroke(points: Float64Array, dx: number, dy: number): Float64Array {
  const out = points.slice();
  for (let i = 0; i < out.length; i += 3) {
    out[i]! += dx;
    out[i + 1]! += dy;
  }
  return out;
}
