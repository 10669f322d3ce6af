import type { Work } from '../machine/stance';
import type { Answerer } from './answerer';
import { answerArea } from './forms/area';
import { answerBand } from './forms/band';
import { answerFlank } from './forms/flank';
import { answerHoles } from './forms/holes';
import { answerMiddle } from './forms/middle';
import { answerRoof } from './forms/roof';
import type { Meaning } from './meaning';

/** Makes what one form of a meaning says of any place of the sheet. */
export function createAnswerer(meaning: Meaning, work: Work): Answerer {
  switch (meaning.form) {
    case 'area':
      return answerArea(meaning, work);
    case 'roof':
      return answerRoof(meaning, work);
    case 'band':
      return answerBand(meaning, work);
    case 'holes':
      return answerHoles(meaning, work);
    case 'middle':
      return answerMiddle(meaning, work);
    case 'flank':
      return answerFlank(meaning, work);
  }
}
