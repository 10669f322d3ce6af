import type { Box } from '../base/rings';
import { isEmptyBox } from '../base/rings';
import type { Job } from '../job/schema';
import type { InscriptionArtwork } from '../lettering/artwork';
import type { Surface } from '../surface/surface';
import { getTitle } from '../job/title';
import type { LetteringFault } from '../lettering/artwork';
import { makeFinding, type Finding, type Where } from './finding';

/** Less than this over an edge is the rounding of a size typed, mm. */
const EDGE_SLACK_MM = 1e-3;

/** Degrees round the blank that a sheet length stands for. */
const toDeg = (surface: Surface, mm: number): number => ((mm / surface.mmPerRad) * 180) / Math.PI;

/** Where a box sits, for a finding's place. */
const placeOf = (surface: Surface, box: Box) => ({ xMm: (box.minX + box.maxX) / 2, turnDeg: toDeg(surface, (box.minY + box.maxY) / 2) });

/** Findings on where lettering lies on the blank. O(inscriptions²). */
export function findLetteringFaults(job: Job, surface: Surface, artworks: readonly InscriptionArtwork[], fontName: (index: number) => string): Finding[] {
  const out: Finding[] = [];
  const { domain, periodMm } = surface;
  artworks.forEach((art, i) => {
    const inscription = job.inscriptions[i]!;
    const name = getTitle(inscription);
    if (inscription.hidden) return;
    const where = { station: 'lettering' as const, id: art.id, name };
    if (art.missing.length) out.push(makeFinding('glyph-missing', where, { name, glyphs: art.missing, font: fontName(i) }));
    if (art.fallbacks.length) out.push(makeFinding('glyph-fallback', where, { name, glyphs: art.fallbacks }));
    for (const fault of art.faults) out.push(toFinding(fault, where, name));
    if (isEmptyBox(art.box)) {
      if (!art.missing.length && !art.faults.length) out.push(makeFinding('empty-lettering', where, { name }));
      return;
    }
    const at = { ...where, ...placeOf(surface, art.box) };
    if (art.mirrored) out.push(makeFinding('mirrored', at, { name }));
    if (art.box.minX < domain.minX - EDGE_SLACK_MM) {
      out.push(makeFinding('off-blank', { ...at, xMm: art.box.minX }, { name, overMm: domain.minX - art.box.minX, end: 'datum' }));
    }
    if (art.box.maxX > domain.maxX + EDGE_SLACK_MM) {
      out.push(makeFinding('off-blank', { ...at, xMm: art.box.maxX }, { name, overMm: art.box.maxX - domain.maxX, end: 'far' }));
    }
    if (isUpsideDown(art)) out.push(makeFinding('upside-down', at, { name }));
    if (periodMm === null) return;
    const round = art.box.maxY - art.box.minY;
    if (round > periodMm) {
      out.push(makeFinding('wider-than-turn', at, { name, overDeg: toDeg(surface, round - periodMm) }));
    } else {
      // The seam repeats every turn; a box no longer than a turn can straddle at most one of its images.
      const seam = domain.minY + periodMm * Math.ceil((art.box.minY - domain.minY) / periodMm);
      const over = Math.min(art.box.maxY - seam, seam - art.box.minY);
      if (art.box.minY < seam - EDGE_SLACK_MM && over > EDGE_SLACK_MM) {
        out.push(makeFinding('crosses-seam', at, { name, overDeg: toDeg(surface, over) }));
      }
    }
  });
  if (periodMm !== null) out.push(...findSeamOverlaps(job, surface, artworks, periodMm));
  return out;
}

/**
 * Whether lettering reads upside down to the operator, who stands at the machine with the blank's axis across and the
 * datum end at the left: lines that run along have their tops up round the blank, lines round it have them to the left.
 * Only clear cases: within 45° of the wrong way. Lettering on a full circle has no wrong way.
 */
function isUpsideDown(art: InscriptionArtwork): boolean {
  const ux = art.reading[4]!, uy = art.reading[5]!;
  if (art.onCurve || (ux === 0 && uy === 0)) return false;
  return Math.abs(uy) >= Math.abs(ux) ? uy < -0.7 : ux > 0.7;
}

/** The finding of a fault that the lettering found in itself. */
function toFinding(fault: LetteringFault, where: Where, name: string): Finding {
  switch (fault.kind) {
    case 'unknown-word': return makeFinding('unknown-word', where, { name, words: fault.words });
    case 'guide-empty': return makeFinding('guide-empty', where, { name, guide: fault.guide });
    case 'off-guide': return makeFinding('off-guide', where, { name, overMm: fault.overMm });
    case 'letters-collide': return makeFinding('letters-collide', where, { name, pairs: fault.pairs });
    case 'too-many-marks': return makeFinding('too-many-marks', where, { name, count: fault.count, limit: fault.limit });
    case 'outside-table': return makeFinding('outside-table', where, { name });
  }
}

/** Inscriptions that meet only because the sheet closes on itself: one overlaps another's image a turn away. */
function findSeamOverlaps(job: Job, surface: Surface, artworks: readonly InscriptionArtwork[], period: number): Finding[] {
  const out: Finding[] = [];
  const nameOf = (i: number) => getTitle(job.inscriptions[i]!);
  for (let i = 0; i < artworks.length; i++) {
    for (let k = i + 1; k < artworks.length; k++) {
      const a = artworks[i]!.box, b = artworks[k]!.box;
      if (isEmptyBox(a) || isEmptyBox(b) || a.minX >= b.maxX || b.minX >= a.maxX) continue;
      const turns = Math.round((a.minY + a.maxY - b.minY - b.maxY) / 2 / period);
      for (const t of new Set([turns - 1, turns, turns + 1])) {
        if (t === 0) continue;
        const over = Math.min(a.maxY, b.maxY + t * period) - Math.max(a.minY, b.minY + t * period);
        if (over <= EDGE_SLACK_MM) continue;
        out.push(makeFinding('overlaps-at-seam', { station: 'lettering', id: artworks[i]!.id, name: nameOf(i), ...placeOf(surface, a) },
          { name: nameOf(i), other: nameOf(k), overDeg: toDeg(surface, over) }));
      }
    }
  }
  return out;
}
