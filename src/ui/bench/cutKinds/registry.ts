import type { Cut, CutKindId, CutOf } from '../../../core/job/schema';
import { centreLine } from './centreLine';
import type { CutSentence } from './sentence';
import { carving } from './carving';

/** How every kind of cut reads on the screen. */
const CUT_SENTENCES: { [K in CutKindId]: CutSentence<CutOf<K>> } = {
  'v-carve': carving,
  'centre-line': centreLine,
};

/** The sentence of a cut, seen as one for any. */
export const getCutSentence = (cut: Cut): CutSentence<Cut> => CUT_SENTENCES[cut.kind] as unknown as CutSentence<Cut>;
