import type { CutOf } from '../../../core/job/schema';
import { ChoiceSlot, LengthSlot, type CutSentence } from './sentence';

const SIDES = { on: 'on the outline', inside: 'inside the outline', outside: 'outside the outline' };
const CORNERS = { round: 'round', sharp: 'sharp', loop: 'looped' };
const DIRECTIONS = { climb: 'climb milling', conventional: 'conventional milling' };

export const outline: CutSentence<CutOf<'outline'>> = {
  lead: 'Follow ',
  Slots: ({ cut, units, set }) => (
    <>
      {' '}
      <ChoiceSlot label="Side" value={cut.side} options={SIDES} onValue={(side) => set({ side })} />
      {', '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
      {' deep'}
      {cut.side === 'outside' && (
        <>
          {', round corners '}
          <ChoiceSlot label="Corners" value={cut.corners} options={CORNERS} onValue={(corners) => set({ corners })} />
        </>
      )}
      {cut.side !== 'on' && (
        <>
          {', '}
          <ChoiceSlot label="Direction" value={cut.direction} options={DIRECTIONS} onValue={(direction) => set({ direction })} />
          {', leaving '}
          <LengthSlot label="Left on walls" value={cut.wallMm} units={units} onValue={(wallMm) => set({ wallMm })} />
        </>
      )}
    </>
  ),
};
