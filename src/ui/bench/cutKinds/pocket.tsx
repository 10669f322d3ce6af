import type { CutOf } from '../../../core/job/schema';
import { areaSlotsOf, NestedSlot } from './areaSlots';
import { LengthSlot, type CutSentence } from './sentence';

export const pocket: CutSentence<CutOf<'pocket'>> = {
  lead: 'Pocket ',
  Slots: ({ cut, units, set }) => (
    <>
      {', '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
      {' deep'}
      <NestedSlot cut={cut} set={set} />
      {areaSlotsOf({ cut, units, set })}
      {', leaving '}
      <LengthSlot label="Left on walls" value={cut.wallMm} units={units} onValue={(wallMm) => set({ wallMm })} />
      {' on walls and '}
      <LengthSlot label="Left on the floor" value={cut.floorMm} units={units} onValue={(floorMm) => set({ floorMm })} />
      {' on the floor, the last pass along walls taking '}
      <LengthSlot label="Finishing pass (0 for none)" value={cut.finishMm} units={units} onValue={(finishMm) => set({ finishMm })} />
    </>
  ),
};
