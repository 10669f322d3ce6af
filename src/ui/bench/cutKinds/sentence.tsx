import type { FC } from 'react';
import Form from 'react-bootstrap/Form';
import type { Cut } from '../../../core/job/schema';
import { formatLengthUnit, type Units } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { Slot } from '../../common/Slot';

export interface SlotsProps<C extends Cut> {
  cut: C;
  units: Units;
  /** Changes the cut; says why if that is refused. */
  set(this: void, patch: Partial<C>): string | null;
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

interface ChoiceSlotProps<K extends string> {
  label: string;
  value: K;
  options: Record<K, string>;
  onValue(value: K): void;
}

/** One of a few words in a sentence. */
export function ChoiceSlot<K extends string>({ label, value, options, onValue }: ChoiceSlotProps<K>) {
  return (
    <Slot text={options[value]} label={label}>
      {(done) => (
        <Form.Select
          size="sm"
          autoFocus
          aria-label={label}
          value={value}
          onBlur={done}
          onChange={(e) => {
            onValue(e.target.value as K);
            done();
          }}
        >
          {(Object.entries(options) as [K, string][]).map(([k, name]) => (
            <option key={k} value={k}>
              {name}
            </option>
          ))}
        </Form.Select>
      )}
    </Slot>
  );
}

interface NumberSlotProps {
  label: string;
  text: string;
  value: number;
  kind?: 'number' | 'angle';
  onValue(value: number): string | null;
}

/** A share, an angle or a count in a sentence. */
export function NumberSlot({ label, text, value, kind = 'number', onValue }: NumberSlotProps) {
  return (
    <Slot text={text} label={label}>
      {(done) => <QuantityField kind={kind} value={value} units="mm" autoFocus ariaLabel={label} onDone={done} onValue={onValue} />}
    </Slot>
  );
}
