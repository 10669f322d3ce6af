import Flatbush from 'flatbush';
import { unionRings } from '../base/boolean';
import { regionsMayMeet } from '../base/meet';
import { findOverlap } from '../base/overlap';
import { boxesOverlap, computeBox, concatRings, emptyRings, isEmptyBox, joinBoxes, type Box, type Rings } from '../base/rings';
import type { Inscription } from '../job/schema';
import type { InscriptionArtwork, Letter, LetteringContext, LetteringFault } from './inscriptionArtwork';
import type { LaidPiece } from './layPieces';
import { EMPTY_BOX } from './setting';

/** A letter, mark or drawing as it was laid on the sheet. */
export interface PlacedPiece {
  char: string;
  cluster: number;
  /** Which instance of a repeated wording, or which label of a series, it belongs to. */
  group: number;
  laid: LaidPiece;
  closed: boolean;
}

/** Faults of pieces that the lay does not bring on to the surface, or too much from the side. */
function findLayFaults(pieces: readonly PlacedPiece[], context: LetteringContext): LetteringFault[] {
  const out: LetteringFault[] = [];
  const names = (list: readonly PlacedPiece[]) => [...new Set(list.map((p) => p.char))];
  const lost = pieces.filter((p) => !p.laid.lands);
  if (lost.length) out.push({ kind: 'letters-miss', letters: names(lost), from: lost.length === pieces.length ? 'behind' : 'outside' });
  const least = Math.cos((context.steepLimitDeg * Math.PI) / 180);
  const steep = pieces.filter((p) => p.laid.lands && p.laid.facing < least);
  if (steep.length)
    out.push({
      kind: 'too-steep',
      letters: names(steep),
      mostDeg: (Math.acos(Math.max(0, Math.min(...steep.map((p) => p.laid.facing)))) * 180) / Math.PI,
    });
  return out;
}

/** Instances or labels that lie on others. O(letters log letters + pairs of boxes that meet). */
function findGroupOverlaps(pieces: readonly PlacedPiece[]): LetteringFault[] {
  const inked = pieces.filter((p) => p.laid.lands && p.laid.rings.xy.length > 0);
  if (new Set(inked.map((p) => p.group)).size < 2) return [];
  const boxes = inked.map((p) => computeBox(p.laid.rings.xy));
  const index = new Flatbush(boxes.length);
  for (const b of boxes) index.add(b.minX, b.minY, b.maxX, b.maxY);
  index.finish();
  const ink = (p: PlacedPiece) =>
    p.closed ? { regions: p.laid.rings, chains: emptyRings() } : { regions: emptyRings(), chains: p.laid.rings };
  const pairs = new Set<string>();
  let first: [string, string] | null = null;
  for (const [i, p] of inked.entries()) {
    const b = boxes[i]!;
    for (const k of index.search(b.minX, b.minY, b.maxX, b.maxY)) {
      const q = inked[k]!;
      const key = `${Math.min(p.group, q.group)} ${Math.max(p.group, q.group)}`;
      if (k <= i || q.group === p.group || pairs.has(key) || !findOverlap(ink(p), ink(q))) continue;
      pairs.add(key);
      const wordOf = (own: PlacedPiece): string => [...new Set(inked.filter((o) => o.group === own.group))].map((o) => o.char).join('');
      first ??= [wordOf(p), wordOf(q)];
    }
  }
  return first ? [{ kind: 'parts-overlap', pairs: pairs.size, first }] : [];
}

/** Whether any letter came out as its mirror image; marks and drawings look alike, and go by their setting. */
function isMirrored(inscription: Inscription, pieces: readonly PlacedPiece[]): boolean {
  const letters = pieces.filter((p) => p.cluster >= 0 && p.laid.rings.xy.length > 0);
  return letters.length > 0 ? letters.some((p) => p.laid.mirrored) : inscription.mirrored;
}

/** What an inscription comes to from its laid pieces. */
export function finishArtwork(
  inscription: Inscription,
  context: LetteringContext,
  all: readonly PlacedPiece[],
  regions: Rings[],
  chains: Rings[],
  frame: Float64Array | null,
  reading: Float64Array,
  rest: Pick<InscriptionArtwork, 'missing' | 'fallbacks' | 'faults'>,
): InscriptionArtwork {
  const faults = [...rest.faults, ...findLayFaults(all, context), ...findGroupOverlaps(all)];
  // What does not land has no place to be cut in: it is named above, and left out.
  const pieces = all.filter((p) => p.laid.lands);
  const closed = pieces.filter((p) => p.closed);
  const open = pieces.filter((p) => !p.closed);
  const letters: Letter[] = pieces.map((p) => ({
    char: p.char,
    cluster: p.cluster,
    box: computeBox(p.laid.rings.xy),
    stretch: p.laid.stretch,
  }));
  const closedBoxes = letters.filter((_, i) => pieces[i]!.closed).map((l) => l.box);
  const allRegions = concatRings([
    mergeOverlapping(
      closed.map((p) => p.laid.rings),
      closedBoxes,
    ),
    ...regions,
  ]);
  const allChains = concatRings([...open.map((p) => p.laid.rings), ...chains]);
  const box = [computeBox(allRegions.xy), computeBox(allChains.xy)].reduce(joinBoxes, EMPTY_BOX);
  return {
    id: inscription.id,
    regions: allRegions,
    chains: allChains,
    letters: letters.filter((l) => !isEmptyBox(l.box)),
    ...rest,
    faults,
    box,
    frame:
      frame ??
      (isEmptyBox(box)
        ? new Float64Array(8)
        : Float64Array.from([box.minX, box.minY, box.maxX, box.minY, box.maxX, box.maxY, box.minX, box.maxY])),
    reading,
    mirrored: isMirrored(inscription, pieces),
    offMm: closed.reduce((most, p) => Math.max(most, p.laid.offMm), 0),
  };
}

/** Unites only the glyphs that meet (joined scripts, marks); the others are clean already, and stay equal to the last digit. */
function mergeOverlapping(placed: readonly Rings[], boxes: readonly Box[]): Rings {
  const order = placed
    .map((_, i) => i)
    .filter((i) => !isEmptyBox(boxes[i]!))
    .sort((a, b) => boxes[a]!.minX - boxes[b]!.minX);
  const touching = new Set<number>();
  order.forEach((i, k) => {
    for (let m = k + 1; m < order.length && boxes[order[m]!]!.minX <= boxes[i]!.maxX; m++) {
      if (touching.has(i) && touching.has(order[m]!)) continue;
      if (boxesOverlap(boxes[i]!, boxes[order[m]!]!) && regionsMayMeet(placed[i]!, placed[order[m]!]!)) {
        touching.add(i);
        touching.add(order[m]!);
      }
    }
  });
  const alone = order.filter((i) => !touching.has(i)).map((i) => placed[i]!);
  const together = order.filter((i) => touching.has(i)).map((i) => placed[i]!);
  return concatRings(together.length ? [...alone, unionRings(concatRings(together))] : alone);
}
