import type { CutOf } from '../../../core/job/schema';
import { LengthSlot, type CutSentence } from './sentence';

export const carving: CutSentence<CutOf<'v-carve'>> = {
  lead: 'V-carve ',
  Slots: ({ cut, units, set }) => (
    <>
      {' down to the stroke’s own depth, at most '}
      <LengthSlot label="Depth limit" value={cut.maxDepthMm} units={units} onValue={(maxDepthMm) => set({ maxDepthMm })} />
    </>
  ),
};
