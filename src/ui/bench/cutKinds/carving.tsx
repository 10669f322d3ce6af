import type { CutOf } from '../../../core/job/schema';
import { useJob } from '../../state/benchStore';
import { NestedSlot } from './areaSlots';
import { ChoiceSlot, LengthSlot, type CutSentence } from './sentence';

const FROM = { surface: 'from the surface', floor: 'in a floor sunk by' };
/** Depth of a floor where no pocket says it, mm. */
const FLOOR_MM = 0.5;
const LAST = { no: 'with no last run', yes: 'run once more at full depth at the end' };

export const carving: CutSentence<CutOf<'v-carve'>> = {
  lead: 'V-carve ',
  Slots: function Slots({ cut, units, set }) {
    const { cuts } = useJob();
    const pocket = cuts.find((c) => c.kind === 'pocket' && c.enabled);
    const floorMm = pocket?.kind === 'pocket' ? pocket.depthMm : FLOOR_MM;
    return (
      <>
        {', '}
        <ChoiceSlot
          label="From"
          value={cut.sunkMm > 0 ? 'floor' : 'surface'}
          options={FROM}
          onValue={(v) => set({ sunkMm: v === 'floor' ? floorMm : 0 })}
        />
        {cut.sunkMm > 0 && (
          <>
            {' '}
            <LengthSlot label="Depth of the floor" value={cut.sunkMm} units={units} onValue={(sunkMm) => set({ sunkMm })} />
          </>
        )}
        <NestedSlot cut={cut} set={set} />
        {', down to the stroke’s own depth, at most '}
        <LengthSlot label="Depth limit" value={cut.maxDepthMm} units={units} onValue={(maxDepthMm) => set({ maxDepthMm })} />
        {', '}
        <ChoiceSlot label="Last run" value={cut.finishing ? 'yes' : 'no'} options={LAST} onValue={(v) => set({ finishing: v === 'yes' })} />
      </>
    );
  },
};
