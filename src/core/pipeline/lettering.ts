import type { Finding } from '../findings/finding';
import { makeFinding } from '../findings/finding';
import { findLetteringFaults, findShapeFaults } from '../findings/letteringFindings';
import type { FontRef, Inscription, Job } from '../job/schema';
import { getTitle } from '../job/title';
import type { Result } from '../base/result';
import { createCurve, toTrueCurve } from '../guide/curve';
import { computeInscription, emptyArtwork, createGlyphCache, type InscriptionArtwork } from '../lettering/artwork';
import type { FontError, Typeface } from '../lettering/typeface';
import { createLayMap, type LayMap } from '../lay/layMap';
import { createPieceLayer, type PieceLayer } from '../lettering/layPieces';
import { createSurface, NO_SHAPES, type Shapes } from '../surface/registry';
import type { Surface } from '../surface/surface';

export type FontLookupError = FontError | { kind: 'fontUnknown'; name: string };

/** Where typefaces come from: the type case, or files beside a job on the command line. */
export interface Library {
  find(ref: FontRef): Result<Typeface, FontLookupError>;
}

/** Lettering of a whole job, with what is wrong with it. */
export interface Lettering {
  artworks: InscriptionArtwork[];
  findings: Finding[];
}

/** Sets lettering again and again, paying only for inscriptions that changed. */
export interface Letterer {
  compute(job: Job): Lettering;
}

const fontLabel = (ref: FontRef): string => ('id' in ref ? ref.id : ref.file);

const WHY: Record<FontLookupError['kind'], string> = {
  fontUnknown: 'it is not in the type case',
  fontNotRecognised: 'the file is no TrueType or OpenType font',
  fontEmpty: 'the file has no letters with outlines',
  fontTooLarge: 'the file is larger than 32 MB',
};

/** Fonts that an inscription is set in. */
const fontsOf = (i: Inscription): FontRef[] =>
  i.kind === 'artwork' ? [] : i.kind === 'text' && i.fallbackFont ? [i.font, i.fallbackFont] : [i.font];

/** Whether its words hold variables. */
const hasBraces = (i: Inscription): boolean =>
  (i.kind === 'text' && JSON.stringify([i.text, i.repeat?.words]).includes('{', 1)) ||
  (i.kind === 'series' && [i.labels.prefix, i.labels.suffix, ...i.labels.list].some((t) => t.includes('{')));

/** Guides that an inscription follows. */
const guidesOf = (i: Inscription): string[] =>
  i.kind === 'text' && i.onGuide ? [i.onGuide.guideId, ...(i.onGuide.topGuideId ? [i.onGuide.topGuideId] : [])] : [];

/**
 * A letterer that keeps glyph shapes and the inscriptions of the job it set last.
 * @param todayIso The day for {date} where a job leaves it open, as 2026-03-31; '' if it is not to be known.
 */
export function createLetterer(library: Library, todayIso: () => string = () => '', shapes: Shapes = NO_SHAPES): Letterer {
  const cache = createGlyphCache();
  let memo = new Map<string, InscriptionArtwork>();
  let laying: { surface: Surface; key: string; layer: PieceLayer } | null = null;
  /** The lay of a job on its surface, kept while both stay: it holds the letters it has laid. */
  const layerOf = (job: Job, surface: Surface): PieceLayer => {
    const key = JSON.stringify(job.lay);
    if (laying?.surface !== surface || laying.key !== key) {
      memo = new Map();
      const lay: LayMap = createLayMap(job.lay, surface);
      laying = { surface, key, layer: createPieceLayer(lay, surface) };
    }
    return laying.layer;
  };
  return {
    compute(job) {
      const surface = createSurface(job.blank, shapes);
      const layer = layerOf(job, surface);
      const findings: Finding[] = findShapeFaults(job, shapes, surface);
      const next = new Map<string, InscriptionArtwork>();
      const families: string[] = [];
      const today = todayIso();
      const guides = new Map(job.guides.map((g) => [g.id, g]));
      const artworks = job.inscriptions.map((inscription) => {
        const name = getTitle(inscription);
        const where = { station: 'lettering' as const, id: inscription.id, name };
        let family = '';
        for (const ref of fontsOf(inscription)) {
          const found = library.find(ref);
          if (!found.ok) {
            families.push(fontLabel(ref));
            findings.push(makeFinding('font-missing', where, { name, font: fontLabel(ref), why: WHY[found.error.kind] }));
            return emptyArtwork(inscription);
          }
          family ||= found.value.family;
          const kept = inscription.kind !== 'artwork' && ref === inscription.font ? inscription.fontSha256 : '';
          if (kept && found.value.sha256 && found.value.sha256 !== kept)
            findings.push(makeFinding('font-changed', where, { name, font: found.value.family }));
        }
        families.push(family);
        if (inscription.hidden) return emptyArtwork(inscription);
        const key = JSON.stringify([
          inscription,
          guidesOf(inscription).map((id) => guides.get(id)),
          hasBraces(inscription) ? [job.variables, today] : null,
        ]);
        const art =
          memo.get(key) ??
          computeInscription(inscription, {
            find: (ref) => {
              const found = library.find(ref);
              return found.ok ? found.value : null;
            },
            curve: (id) => {
              const guide = guides.get(id);
              const curve = guide ? createCurve(guide, surface) : null;
              return curve && !layer.lay.plain ? toTrueCurve(curve, surface) : curve;
            },
            layer,
            steepLimitDeg: job.lay.steepLimitDeg,
            cache,
            variables: job.variables,
            todayIso: today,
          });
        next.set(key, art);
        return art;
      });
      memo = next;
      findings.push(
        ...findLetteringFaults(job, surface, artworks, (i) => families[i]!).filter(
          (f) => f.code !== 'empty-lettering' || !findings.some((g) => g.where.id === f.where.id && g.severity === 'spoils'),
        ),
      );
      return { artworks, findings };
    },
  };
}
