import type { Finding } from '../findings/finding';
import { makeFinding } from '../findings/finding';
import { findLetteringFaults } from '../findings/letteringFindings';
import type { FontRef, Inscription, Job } from '../job/schema';
import type { Result } from '../base/result';
import { emptyRings } from '../base/rings';
import { computeInscription, createGlyphCache, type GlyphCache, type InscriptionArtwork } from '../lettering/artwork';
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

const nothing = (inscription: Inscription): InscriptionArtwork => ({
  id: inscription.id,
  regions: emptyRings(),
  chains: emptyRings(),
  letters: [],
  missing: [],
  box: { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity },
  frame: new Float64Array(8),
  mirrored: inscription.mirrored,
});

/** A letterer that keeps glyph shapes and the inscriptions of the job it set last. */
export function createLetterer(library: Library): Letterer {
  const glyphs: GlyphCache = createGlyphCache();
  let memo = new Map<string, InscriptionArtwork>();
  return {
    compute(job) {
      const surface = createSurface(job.blank);
      const findings: Finding[] = [];
      const next = new Map<string, InscriptionArtwork>();
      const families: string[] = [];
      const artworks = job.inscriptions.map((inscription) => {
        const found = library.find(inscription.font);
        const name = inscription.name || inscription.text;
        if (!found.ok) {
          families.push(fontLabel(inscription.font));
          findings.push(makeFinding('font-missing', { station: 'lettering', id: inscription.id, name },
            { name, font: fontLabel(inscription.font), why: WHY[found.error.kind] }));
          return nothing(inscription);
        }
        families.push(found.value.family);
        const yMm = (inscription.at.turnDeg * Math.PI * surface.mmPerRad) / 180;
        const key = JSON.stringify([inscription, yMm]);
        const art = memo.get(key) ?? computeInscription(inscription, found.value, yMm, glyphs);
        next.set(key, art);
        return art;
      });
      memo = next;
      findings.push(...findLetteringFaults(job, surface, artworks, (i) => families[i]!)
        .filter((f) => f.code !== 'empty-lettering' || !findings.some((g) => g.where.id === f.where.id)));
      return { artworks, findings };
    },
  };
}
