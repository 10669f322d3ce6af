import type { CutOf } from '../../../core/job/schema';
import { ChoiceSlot, LengthSlot, type CutSentence } from './sentence';

const LAST = { no: 'with no last run', yes: 'run once more at full depth at the end' };

export const carving: CutSentence<CutOf<'v-carve'>> = {
  lead: 'V-carve ',
  Slots: ({ cut, units, set }) => (
    <>
      {' down to the stroke’s own depth, at most '}
      <LengthSlot label="Depth limit" value={cut.maxDepthMm} units={units} onValue={(maxDepthMm) => set({ maxDepthMm })} />
      {', '}
      <ChoiceSlot label="Last run" value={cut.finishing ? 'yes' : 'no'} options={LAST} onValue={(v) => set({ finishing: v === 'yes' })} />
    </>
  ),
};
