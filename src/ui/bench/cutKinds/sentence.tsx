import type { FC } from 'react';
import type { Cut } from '../../../core/job/schema';
import { formatLengthUnit, type Units } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { Slot } from '../../common/Slot';

export interface SlotsProps<C extends Cut> {
  cut: C;
  units: Units;
  /** Changes the cut; says why if that is refused. */
  set(patch: Partial<C>): string | null;
}

/** How a kind of cut reads on the screen. A new kind is one file with a `CutSentence` and one line in `registry.ts`. */
export interface CutSentence<C extends Cut> {
  /** The words before the lettering it takes. */
  lead: string;
  /** What stands after the cutter: the kind's own words and slots. */
  Slots: FC<SlotsProps<C>>;
}

interface LengthSlotProps {
  label: string;
  value: number;
  units: Units;
  onValue(valueMm: number): string | null;
}

/** A length in a sentence that opens in place. */
export function LengthSlot({ label, value, units, onValue }: LengthSlotProps) {
  return (
    <Slot text={formatLengthUnit(value, units)} label={label}>
      {(done) => <QuantityField kind="length" value={value} units={units} autoFocus ariaLabel={label} onDone={done} onValue={onValue} />}
    </Slot>
  );
}
