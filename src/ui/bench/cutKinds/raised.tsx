import type { CutOf } from '../../../core/job/schema';
import { areaSlotsOf } from './areaSlots';
import { ChoiceSlot, LengthSlot, type CutSentence } from './sentence';

const FIELDS = { box: 'a box', offset: 'a field that follows the words', band: 'a band round the blank' };
const SIDES = { straight: 'straight', 'flat-top': 'sloped down from the outline', ridge: 'sloped up from the outline to a ridge' };

export const raised: CutSentence<CutOf<'raised'>> = {
  lead: 'Leave standing ',
  Slots: ({ cut, units, set }) => (
    <>
      {', clearing '}
      <ChoiceSlot label="Field" value={cut.field} options={FIELDS} onValue={(field) => set({ field })} />
      {', '}
      <LengthSlot label="Margin" value={cut.marginMm} units={units} onValue={(marginMm) => set({ marginMm })} />
      {' wider, '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
      {' deep, its sides '}
      <ChoiceSlot label="Sides" value={cut.sides} options={SIDES} onValue={(sides) => set({ sides })} />
      {areaSlotsOf({ cut, units, set })}
    </>
  ),
};
