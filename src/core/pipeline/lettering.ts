import type { Finding } from '../findings/finding';
import { makeFinding } from '../findings/finding';
import { findLetteringFaults } from '../findings/letteringFindings';
import type { FontRef, Inscription, Job } from '../job/schema';
import { getTitle } from '../job/title';
import type { Result } from '../base/result';
import { createCurve } from '../guide/curve';
import { computeInscription, emptyArtwork, createGlyphCache, type InscriptionArtwork } from '../lettering/artwork';
import type { FontError, Typeface } from '../lettering/typeface';
import { createSurface } from '../surface/registry';

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
const fontsOf = (i: Inscription): FontRef[] => (i.kind === 'artwork' ? [] : i.kind === 'text' && i.fallbackFont ? [i.font, i.fallbackFont] : [i.font]);

/** Guides that an inscription follows. */
const guidesOf = (i: Inscription): string[] => (i.kind === 'text' && i.onGuide ? [i.onGuide.guideId, ...(i.onGuide.topGuideId ? [i.onGuide.topGuideId] : [])] : []);

/**
 * A letterer that keeps glyph shapes and the inscriptions of the job it set last.
 * @param todayIso The day for {date} where a job leaves it open, as 2026-03-31; '' if it is not to be known.
 */
export function createLetterer(library: Library, todayIso: () => string = () => ''): Letterer {
  const cache = createGlyphCache();
  let memo = new Map<string, InscriptionArtwork>();
  return {
    compute(job) {
      const surface = createSurface(job.blank);
      const findings: Finding[] = [];
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
          if (kept && found.value.sha256 && found.value.sha256 !== kept) findings.push(makeFinding('font-changed', where, { name, font: found.value.family }));
        }
        families.push(family);
        if (inscription.hidden) return emptyArtwork(inscription);
        const key = JSON.stringify([inscription, surface.mmPerRad, surface.periodMm, guidesOf(inscription).map((id) => guides.get(id)),
          inscription.kind === 'text' && JSON.stringify([inscription.text, inscription.repeat]).includes('{') ? [job.variables, today] : null]);
        const art = memo.get(key) ?? computeInscription(inscription, {
          find: (ref) => {
            const found = library.find(ref);
            return found.ok ? found.value : null;
          },
          curve: (id) => {
            const guide = guides.get(id);
            return guide ? createCurve(guide, surface) : null;
          },
          surface, cache, variables: job.variables, todayIso: today,
        });
        next.set(key, art);
        return art;
      });
      memo = next;
      findings.push(...findLetteringFaults(job, surface, artworks, (i) => families[i]!)
        .filter((f) => f.code !== 'empty-lettering' || !findings.some((g) => g.where.id === f.where.id && g.severity === 'spoils')));
      return { artworks, findings };
    },
  };
}
