import type { CutOf } from '../../../core/job/schema';
import { EntrySlots, WAY_ENTRIES } from './areaSlots';
import { ChoiceSlot, LengthSlot, NumberSlot, type CutSentence, type SlotsProps } from './sentence';

type CutOut = CutOf<'cut-out'>;

const WAYS = { shapes: 'round the shapes', place: 'once round the blank' };
const DIRECTIONS = { climb: 'climb milling', conventional: 'conventional milling' };
const TABS = { none: 'no tabs', count: 'tabs by number', spacing: 'tabs by distance' };
const RISES = { ramped: 'ramped', straight: 'straight' };
const START_TABS = { count: 4, spacingMm: null, lengthMm: 3, thicknessMm: 0.5, ramped: true, at: [] };

export const cutOut: CutSentence<CutOut> = {
  lead: 'Cut out ',
  Slots: ({ cut, units, set }) => (
    <>
      {' '}
      <ChoiceSlot
        label="Way"
        value={cut.along.by}
        options={WAYS}
        onValue={(by) => set({ along: by === 'shapes' ? { by } : { by, xMm: 5 } })}
      />
      {cut.along.by === 'place' && (
        <>
          {' at '}
          <LengthSlot label="Place along" value={cut.along.xMm} units={units} onValue={(xMm) => set({ along: { by: 'place', xMm } })} />
        </>
      )}
      {', '}
      <LengthSlot label="Depth" value={cut.depthMm} units={units} onValue={(depthMm) => set({ depthMm })} />
      {' deep, with '}
      <TabSlots cut={cut} units={units} set={set} />
      {', '}
      <ChoiceSlot label="Direction" value={cut.direction} options={DIRECTIONS} onValue={(direction) => set({ direction })} />
      {', going in by '}
      <EntrySlots entry={cut.entry} units={units} ways={WAY_ENTRIES} set={(entry) => set({ entry })} />
      {cut.along.by === 'shapes' && (
        <>
          {' and an arc of '}
          <LengthSlot label="Radius of the lead" value={cut.leadRadiusMm} units={units} onValue={(leadRadiusMm) => set({ leadRadiusMm })} />
          {' over '}
          <LengthSlot label="Length of the lead" value={cut.leadMm} units={units} onValue={(leadMm) => set({ leadMm })} />
        </>
      )}
    </>
  ),
};

function TabSlots({ cut, units, set }: SlotsProps<CutOut>) {
  const { tabs } = cut;
  const by = tabs ? (tabs.spacingMm === null ? 'count' : 'spacing') : 'none';
  const choose = (next: keyof typeof TABS) =>
    set({ tabs: next === 'none' ? null : { ...(tabs ?? START_TABS), spacingMm: next === 'spacing' ? 30 : null, at: [] } });
  const change = (patch: Partial<NonNullable<CutOut['tabs']>>) => set({ tabs: tabs && { ...tabs, ...patch } });
  return (
    <>
      <ChoiceSlot label="Tabs" value={by} options={TABS} onValue={choose} />
      {tabs && (
        <>
          {tabs.spacingMm === null ? (
            <>
              {', '}
              <NumberSlot
                label="Number of tabs"
                text={String(tabs.count)}
                value={tabs.count}
                onValue={(count) => change({ count, at: [] })}
              />
              {' of them'}
            </>
          ) : (
            <>
              {' of at most '}
              <LengthSlot
                label="Distance of tabs"
                value={tabs.spacingMm}
                units={units}
                onValue={(spacingMm) => change({ spacingMm, at: [] })}
              />
            </>
          )}
          {', '}
          <LengthSlot label="Length of a tab" value={tabs.lengthMm} units={units} onValue={(lengthMm) => change({ lengthMm })} />
          {' long, '}
          <LengthSlot
            label="Thickness of a tab"
            value={tabs.thicknessMm}
            units={units}
            onValue={(thicknessMm) => change({ thicknessMm })}
          />
          {' thick, '}
          <ChoiceSlot
            label="Ends of tabs"
            value={tabs.ramped ? 'ramped' : 'straight'}
            options={RISES}
            onValue={(v) => change({ ramped: v === 'ramped' })}
          />
        </>
      )}
    </>
  );
}
