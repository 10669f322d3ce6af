import type { Cut, CutKindId, CutOf } from '../../../core/job/schema';
import { centreLine } from './centreLine';
import { cutOut } from './cutOut';
import { drill } from './drill';
import { outline } from './outline';
import { pocket } from './pocket';
import { raised } from './raised';
import type { CutSentence } from './sentence';
import { carving } from './carving';

/** How every kind of cut reads on the screen. */
const CUT_SENTENCES: { [K in CutKindId]: CutSentence<CutOf<K>> } = {
  'v-carve': carving,
  'centre-line': centreLine,
  outline,
  pocket,
  raised,
  drill,
  'cut-out': cutOut,
};

/** The sentence of a cut, seen as one for any. */
export const getCutSentence = (cut: Cut): CutSentence<Cut> => CUT_SENTENCES[cut.kind] as unknown as CutSentence<Cut>;
