import type { CutOf } from '../../../core/job/schema';
import { LengthSlot, type CutSentence } from './sentence';

export const centreLine: CutSentence<CutOf<'centre-line'>> = {
  lead: 'Engrave the centre-line of ',
  Slots: ({ cut, units, set }) => (
    <>
      {' at a depth of '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
    </>
  ),
};
