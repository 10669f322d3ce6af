import { roundTo } from '../../../core/base/round';
import type { CutOf } from '../../../core/job/schema';
import type { Units } from '../../common/format';
import { useJob } from '../../state/benchStore';
import { ChoiceSlot, LengthSlot, NumberSlot, type SlotsProps } from './sentence';

type AreaCut = CutOf<'pocket'> | CutOf<'raised'>;
type Shared = Pick<AreaCut, 'pattern' | 'stepOverShare' | 'direction' | 'entry' | 'keepDown'>;

const PATTERNS = { along: 'along the walls', rows: 'in straight rows' };
const DIRECTIONS = { climb: 'climb milling', conventional: 'conventional milling' };
export const WAY_ENTRIES = { plunge: 'a plunge', ramp: 'a ramp' };
const ENTRIES = { ...WAY_ENTRIES, helix: 'a helix' };
const LINKS = { lift: 'lifting between passes', stay: 'staying down between passes' };
const START_ENTRIES = {
  plunge: { by: 'plunge' },
  ramp: { by: 'ramp', angleDeg: 3 },
  helix: { by: 'helix', angleDeg: 3, radiusMm: 0.5 },
} as const;

interface Props {
  cut: Shared;
  units: Units;
  set(this: void, patch: Partial<Shared>): string | null;
}

/** How an area is gone over: pattern, distance of passes, direction, way down. */
export function AreaSlots({ cut, units, set }: Props) {
  const { pattern, entry } = cut;
  return (
    <>
      {', '}
      <ChoiceSlot
        label="Pattern"
        value={pattern.by}
        options={PATTERNS}
        onValue={(by) => set({ pattern: by === 'along' ? { by } : { by, angleDeg: 0 } })}
      />
      {pattern.by === 'rows' && (
        <>
          {' at '}
          <NumberSlot
            label="Angle of the rows"
            kind="angle"
            text={`${roundTo(pattern.angleDeg, 2)}°`}
            value={pattern.angleDeg}
            onValue={(angleDeg) => set({ pattern: { by: 'rows', angleDeg } })}
          />
        </>
      )}
      {', passes '}
      <NumberSlot
        label="Step-over, per cent of the diameter"
        text={`${roundTo(100 * cut.stepOverShare, 2)} %`}
        value={roundTo(100 * cut.stepOverShare, 4)}
        onValue={(v) => set({ stepOverShare: v / 100 })}
      />
      {' of the cutter apart, '}
      <ChoiceSlot label="Direction" value={cut.direction} options={DIRECTIONS} onValue={(direction) => set({ direction })} />
      {', going in by '}
      <EntrySlots entry={entry} units={units} ways={ENTRIES} set={(own) => set({ entry: own })} />
      {', '}
      <ChoiceSlot
        label="Between passes"
        value={cut.keepDown ? 'stay' : 'lift'}
        options={LINKS}
        onValue={(v) => set({ keepDown: v === 'stay' })}
      />
    </>
  );
}

const NESTED = { stands: 'standing', one: 'cut as one' };

/** What becomes of shapes that lie in shapes: said where a cut takes more than one thing, or was told. */
export function NestedSlot({
  cut,
  set,
}: {
  cut: CutOf<'pocket'> | CutOf<'v-carve'>;
  set(this: void, patch: Pick<CutOf<'pocket'>, 'nested'>): string | null;
}) {
  const { inscriptions } = useJob();
  const taken = cut.targets === 'all' ? inscriptions.length : cut.targets.length;
  if (taken < 2 && cut.nested === 'stands') return null;
  return (
    <>
      {', shapes in shapes '}
      <ChoiceSlot label="Shapes in shapes" value={cut.nested} options={NESTED} onValue={(nested) => set({ nested })} />
    </>
  );
}

type Entry = Shared['entry'];

/** How the cutter comes down to a level. */
interface EntryProps<E extends Entry> {
  entry: E;
  units: Units;
  /** The ways down that there are. */
  ways: Partial<Record<E['by'], string>>;
  set(this: void, entry: E): string | null;
}

export function EntrySlots<E extends Entry>({ entry: own, units, ways, set: put }: EntryProps<E>) {
  const entry: Entry = own;
  const set = (next: Entry) => put(next as E);
  return (
    <>
      <ChoiceSlot label="Way down" value={entry.by} options={ways as typeof ENTRIES} onValue={(by) => set(START_ENTRIES[by])} />
      {entry.by === 'helix' && (
        <>
          {' of '}
          <LengthSlot
            label="Radius of the helix"
            value={entry.radiusMm}
            units={units}
            onValue={(radiusMm) => set({ ...entry, radiusMm })}
          />
        </>
      )}
      {entry.by !== 'plunge' && (
        <>
          {entry.by === 'helix' ? ' at ' : ' of '}
          <NumberSlot
            label="Ramp angle"
            kind="angle"
            text={`${roundTo(entry.angleDeg, 2)}°`}
            value={entry.angleDeg}
            onValue={(angleDeg) => set({ ...entry, angleDeg })}
          />
        </>
      )}
    </>
  );
}

/** The area slots of a cut that has them among others. */
export const areaSlotsOf = <C extends AreaCut>({ cut, units, set }: SlotsProps<C>) => (
  <AreaSlots cut={cut} units={units} set={(patch) => set(patch as Partial<C>)} />
);
