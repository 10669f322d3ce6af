import type { Inscription } from '../job/schema';
import { computeImported } from './importedArtwork';
import type { InscriptionArtwork, LetteringContext } from './inscriptionArtwork';
import { computeMarks } from './marksArtwork';
import { computeText } from './textArtwork';

export { createGlyphCache } from './glyphShapes';
export { emptyArtwork, type InscriptionArtwork, type Letter, type LetteringContext, type LetteringFault } from './inscriptionArtwork';

/**
 * The lettering of one inscription, in place on the sheet.
 * @returns Clean regions and chains; letters that overlap are merged. O(n log n) in vertices.
 */
export function computeInscription(inscription: Inscription, context: LetteringContext): InscriptionArtwork {
  switch (inscription.kind) {
    case 'text':
      return computeText(inscription, context);
    case 'series':
      return computeMarks(inscription, context);
    case 'artwork':
      return computeImported(inscription, context);
  }
}
