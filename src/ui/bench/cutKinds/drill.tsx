import type { CutOf } from '../../../core/job/schema';
import { ChoiceSlot, LengthSlot, NumberSlot, type CutSentence } from './sentence';

const PLACES = { middles: 'at the middles of shapes', starts: 'where lines begin' };
const THROUGH = { yes: 'going through', no: 'not going through' };

export const drill: CutSentence<CutOf<'drill'>> = {
  lead: 'Drill ',
  Slots: ({ cut, units, set }) => (
    <>
      {' '}
      <ChoiceSlot label="Holes" value={cut.at} options={PLACES} onValue={(at) => set({ at })} />
      {', '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
      {' deep, '}
      <ChoiceSlot label="Through" value={cut.through ? 'yes' : 'no'} options={THROUGH} onValue={(v) => set({ through: v === 'yes' })} />
      {', pecking, with '}
      <NumberSlot
        label="Stay, s"
        text={cut.dwellS > 0 ? `${cut.dwellS} s at the end of each peck` : 'no stay below'}
        value={cut.dwellS}
        onValue={(dwellS) => set({ dwellS })}
      />
    </>
  ),
};
