import type { Box } from '../base/rings';
import { findOverlap, type Ink } from '../base/overlap';
import { isOutlineOnly } from '../cut/kinds/registry';
import { concatRings, getRing, isEmptyBox, packRings } from '../base/rings';
import { isRoundBlank, type Job } from '../job/schema';
import { getEffectiveLay } from '../lay/layMap';
import type { InscriptionArtwork } from '../lettering/artwork';
import { computeBounds } from '../shape/shapeMesh';
import type { Shapes } from '../surface/registry';
import { toTurnDeg as toDeg, type Surface } from '../surface/surface';
import { getTitle } from '../job/title';
import type { LetteringFault } from '../lettering/artwork';
import { makeFinding, type Finding, type Where } from './finding';

/** Less than this over an edge is the rounding of a size typed, mm. */
const EDGE_SLACK_MM = 1e-3;

/** Where a box sits, for a finding's place. */
const placeOf = (surface: Surface, box: Box) => ({ xMm: (box.minX + box.maxX) / 2, turnDeg: toDeg(surface, (box.minY + box.maxY) / 2) });

/** Findings on where lettering lies on the blank. O(inscriptions²). */
export function findLetteringFaults(
  job: Job,
  surface: Surface,
  artworks: readonly InscriptionArtwork[],
  fontName: (index: number) => string,
): Finding[] {
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
    if (art.mirrored) out.push(makeFinding('mirrored', at, { name, wanted: inscription.mirrored }));
    out.push(...findEdgeFaults(job, surface, art, at, name));
    out.push(...findStretchFaults(job, surface, art, at, name));
    if (isUpsideDown(art)) out.push(makeFinding('upside-down', at, { name }));
    if (periodMm === null) return;
    const round = art.box.maxY - art.box.minY;
    if (runsIntoItself(art, periodMm)) {
      out.push(makeFinding('wider-than-turn', at, { name, overDeg: toDeg(surface, round - periodMm) }));
    } else if (round <= periodMm) {
      // The seam repeats every turn; a box no longer than a turn can straddle at most one of its images.
      const seam = domain.minY + periodMm * Math.ceil((art.box.minY - domain.minY) / periodMm);
      const over = Math.min(art.box.maxY - seam, seam - art.box.minY);
      if (art.box.minY < seam - EDGE_SLACK_MM && over > EDGE_SLACK_MM) {
        out.push(makeFinding('crosses-seam', at, { name, overDeg: toDeg(surface, over) }));
      }
    }
  });
  out.push(...findOverlaps(job, surface, artworks));
  return out;
}

/** Lettering over the edges of the blank, and in zones that stay clear. */
function findEdgeFaults(job: Job, surface: Surface, art: InscriptionArtwork, at: Where, name: string): Finding[] {
  const out: Finding[] = [];
  const { domain, outline } = surface;
  const { box } = art;
  const over = (overMm: number, end: string, place: Partial<Where>) => {
    if (overMm > EDGE_SLACK_MM) out.push(makeFinding('off-blank', { ...at, ...place }, { name, overMm, end }));
  };
  if (outline) {
    // An edge of any shape: every point is checked, and the worst is reported.
    let worst = 0,
      x = 0,
      y = 0;
    for (const { xy } of [art.regions, art.chains]) {
      for (let i = 0; i < xy.length; i += 2) {
        if (xy[i]! >= domain.minX && xy[i]! <= domain.maxX && worst > 0 && i % 8 !== 0) continue;
        const off = surface.outsideMm(xy[i]!, xy[i + 1]!);
        if (off > worst) [worst, x, y] = [off, xy[i]!, xy[i + 1]!];
      }
    }
    over(worst, 'edge', { xMm: x, turnDeg: toDeg(surface, y) });
  } else {
    over(domain.minX - box.minX, 'datum end', { xMm: box.minX });
    over(box.maxX - domain.maxX, 'far end', { xMm: box.maxX });
    if (surface.periodMm === null) {
      over(domain.minY - box.minY, 'lower edge', { turnDeg: toDeg(surface, box.minY) });
      over(box.maxY - domain.maxY, 'upper edge', { turnDeg: toDeg(surface, box.maxY) });
    }
  }
  const { blank } = job;
  if (isRoundBlank(blank)) {
    const zone = (overMm: number, end: string, xMm: number) => {
      if (overMm > EDGE_SLACK_MM) out.push(makeFinding('in-clear-zone', { ...at, xMm }, { name, overMm, end }));
    };
    if (blank.clearDatumMm > 0) zone(domain.minX + blank.clearDatumMm - Math.max(domain.minX, box.minX), 'datum', box.minX);
    if (blank.clearFarMm > 0) zone(Math.min(domain.maxX, box.maxX) - domain.maxX + blank.clearFarMm, 'far', box.maxX);
  }
  return out;
}

/** A shape smaller or larger than this is likely in another unit than was thought, mm. */
export const SMALL_SHAPE_MM = 2;
export const LARGE_SHAPE_MM = 2000;

/** A letter that takes up more of a turn than this stands round a pole and not beside it, radians. */
const POLE_TURN_RAD = (2 * Math.PI) / 3;

/** Letters that come out longer or shorter than set, and letters round a pole. */
function findStretchFaults(job: Job, surface: Surface, art: InscriptionArtwork, at: Where, name: string): Finding[] {
  const out: Finding[] = [];
  const limit = job.lay.stretchLimitPercent;
  const names = (letters: readonly { char: string }[]) => [...new Set(letters.map((l) => l.char))];
  const stretched = art.letters.filter((l) => Math.abs(l.stretch - 1) * 100 > limit);
  if (stretched.length) {
    const worst = stretched.reduce((w, l) => (Math.abs(l.stretch - 1) > Math.abs(w - 1) ? l.stretch : w), 1);
    out.push(makeFinding('stretched', { ...at, station: 'lay' }, { name, letters: names(stretched), percent: (worst - 1) * 100, limit }));
  }
  for (const xMm of surface.edgesX ?? []) {
    const broken = art.letters.filter((l) => l.box.minX < xMm - EDGE_SLACK_MM && l.box.maxX > xMm + EDGE_SLACK_MM);
    if (broken.length) out.push(makeFinding('over-edge', { ...at, station: 'lay', xMm }, { name, letters: names(broken), xMm }));
  }
  if (surface.periodMm !== null) {
    const round = art.letters.filter(
      (l) =>
        (l.box.maxY - l.box.minY) / surface.mmPerRad > POLE_TURN_RAD &&
        Math.min(surface.radiusAt(l.box.minX, 0), surface.radiusAt(l.box.maxX, 0)) < 0.2 * surface.mmPerRad,
    );
    if (round.length) out.push(makeFinding('over-pole', { ...at, station: 'lay' }, { name, letters: names(round) }));
  }
  return out;
}

/** Findings on a free shape as a blank: whether it is there, and whole. */
export function findShapeFaults(job: Job, shapes: Shapes, surface: Surface): Finding[] {
  const { blank } = job;
  if (blank.kind !== 'free') return [];
  const where = { station: 'blank' as const, name: blank.source };
  const mesh = shapes.find(blank.shape);
  if (!mesh) return [makeFinding('shape-missing', where, { source: blank.source })];
  const out: Finding[] = [];
  if (surface.outline === null) out.push(makeFinding('patch-missing', where, { source: blank.source }));
  if (mesh.report.openEdges + mesh.report.crowdedEdges > 0)
    out.push(makeFinding('shape-open', where, { source: blank.source, edges: mesh.report.openEdges, crowded: mesh.report.crowdedEdges }));
  const { min, max } = computeBounds(mesh);
  const sizeMm = blank.unitMm * Math.max(...max.map((v, k) => v - min[k]!));
  if (sizeMm < SMALL_SHAPE_MM || sizeMm > LARGE_SHAPE_MM) out.push(makeFinding('shape-size', where, { source: blank.source, sizeMm }));
  if (getEffectiveLay(job.lay, surface) !== job.lay.kind) out.push(makeFinding('lay-as-drape', { station: 'lay' }, { lay: job.lay.kind }));
  return out;
}

/**
 * Whether lettering reads upside down to the operator, who stands at the machine with the blank's axis across and the
 * datum end at the left: lines that run along have their tops up round the blank, lines round it have them to the left.
 * Only clear cases: within 45° of the wrong way. Lettering that turns as it goes has no wrong way.
 */
function isUpsideDown(art: InscriptionArtwork): boolean {
  const ux = art.reading[4]!,
    uy = art.reading[5]!;
  if (ux === 0 && uy === 0) return false;
  return Math.abs(uy) >= Math.abs(ux) ? uy < -0.7 : ux > 0.7;
}

/** The finding of a fault that the lettering found in itself. */
function toFinding(fault: LetteringFault, where: Where, name: string): Finding {
  switch (fault.kind) {
    case 'unknown-word':
      return makeFinding('unknown-word', where, { name, words: fault.words });
    case 'guide-empty':
      return makeFinding('guide-empty', where, { name, guide: fault.guide });
    case 'off-guide':
      return makeFinding('off-guide', where, { name, overMm: fault.overMm });
    case 'letters-collide':
      return makeFinding('letters-collide', where, { name, pairs: fault.pairs });
    case 'too-many-marks':
      return makeFinding('too-many-marks', where, { name, count: fault.count, limit: fault.limit });
    case 'fit-missed':
      return makeFinding('fit-missed', where, { name, wantedMm: fault.wantedMm, gotMm: fault.gotMm, tight: fault.tight });
    case 'parts-overlap':
      return makeFinding('parts-overlap', where, { name, pairs: fault.pairs, first: fault.first });
    case 'marks-double':
      return makeFinding('marks-double', where, { name, count: fault.count });
    case 'labels-short':
      return makeFinding('labels-short', where, { name, count: fault.count });
    case 'outside-table':
      return makeFinding('outside-table', where, { name });
    case 'letters-miss':
      return makeFinding('letters-miss', { ...where, station: 'lay' }, { name, letters: fault.letters, from: fault.from });
    case 'too-steep':
      return makeFinding('too-steep', { ...where, station: 'lay' }, { name, letters: fault.letters, mostDeg: fault.mostDeg });
  }
}

/** Whether lettering that goes round by more than a turn comes to lie on itself: not so where it winds round without touching. */
function runsIntoItself(art: InscriptionArtwork, periodMm: number): boolean {
  const round = art.box.maxY - art.box.minY;
  for (let turns = 1; turns * periodMm < round - EDGE_SLACK_MM; turns++) if (findOverlap(art, art, turns * periodMm)) return true;
  return false;
}

/** What of an inscription marks the blank: of shapes that cuts only go round or drill, the outline alone. */
function inkOf({ cuts }: Job, { id, regions, chains }: InscriptionArtwork): Ink {
  if (!isOutlineOnly(cuts, id)) return { regions, chains };
  const loops = Array.from({ length: regions.starts.length - 1 }, (_, k) => {
    const ring = getRing(regions, k);
    return [...ring, ring[0]!, ring[1]!];
  });
  return { regions: packRings([]), chains: concatRings([chains, packRings(loops)]) };
}

/** Inscriptions that lie on each other, also where one reaches the other over the seam. O(inscriptions² + ink that shares a box). */
function findOverlaps(job: Job, surface: Surface, artworks: readonly InscriptionArtwork[]): Finding[] {
  const out: Finding[] = [];
  const { periodMm: period, domain } = surface;
  const nameOf = (i: number) => getTitle(job.inscriptions[i]!);
  const inks = artworks.map((art) => inkOf(job, art));
  /** Whole turns that a box lies from the sheet's own. */
  const turnsOf = (b: Box): number => (period === null ? 0 : Math.floor(((b.minY + b.maxY) / 2 - domain.minY) / period));
  for (let i = 0; i < artworks.length; i++) {
    for (let k = i + 1; k < artworks.length; k++) {
      const a = artworks[i]!.box,
        b = artworks[k]!.box;
      if (isEmptyBox(a) || isEmptyBox(b) || a.minX >= b.maxX || b.minX >= a.maxX) continue;
      const from = period === null ? 0 : Math.ceil((a.minY - b.maxY) / period),
        to = period === null ? 0 : Math.floor((a.maxY - b.minY) / period);
      for (let t = from; t <= to; t++) {
        const shared = findOverlap(inks[i]!, inks[k]!, t * (period ?? 0));
        if (!shared) continue;
        const where = { station: 'lettering' as const, id: artworks[i]!.id, name: nameOf(i), ...placeOf(surface, shared) };
        const data = { name: nameOf(i), other: nameOf(k), overDeg: toDeg(surface, shared.maxY - shared.minY), round: surface.round };
        // Said to stand a whole turn apart, or brought on to the sheet and meeting only across its seam: nobody means that as one drawing.
        const seam = t !== 0 || turnsOf(b) !== turnsOf(a);
        out.push(makeFinding(seam ? 'overlaps-at-seam' : 'overlaps', where, data));
        break;
      }
    }
  }
  return out;
}
