import type { CutOf } from '../../../core/job/schema';
import { ChoiceSlot, LengthSlot, type CutSentence } from './sentence';

const OF = { lines: 'their own lines', middle: 'the middle of their strokes' };

export const centreLine: CutSentence<CutOf<'centre-line'>> = {
  lead: 'Engrave ',
  Slots: ({ cut, units, set }) => (
    <>
      {' along '}
      <ChoiceSlot label="Along" value={cut.of} options={OF} onValue={(of) => set({ of })} />
      {' at a depth of '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
    </>
  ),
};
