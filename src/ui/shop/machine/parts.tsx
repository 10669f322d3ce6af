import type { ReactNode } from 'react';
import type { Machine } from '../../../core/job/schema';
import { QuantityField } from '../../common/QuantityField';
import type { QuantityKind } from '../../common/quantity';

export interface FormProps {
  machine: Machine;
  /** Changes it; says why if that is refused. */
  set(change: Partial<Machine>): string | null;
}

/** Fields under a title. */
export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="mb-3">
      <legend className="h6">{title}</legend>
      <div className="machine-fields">{children}</div>
    </fieldset>
  );
}

interface QuantityProps {
  label: string;
  kind: QuantityKind;
  value: number;
  put(value: number): string | null;
}

/** A figure of a machine, which is described in millimetres whatever a job is in. */
export const Quantity = ({ put, ...rest }: QuantityProps) => <QuantityField {...rest} units="mm" onValue={put} />;

/** A figure that a machine has by its own name. */
export type Figure = readonly [key: keyof Machine & string, label: string, kind: QuantityKind];

export const Figures = ({ of, machine, set }: FormProps & { of: readonly Figure[] }) =>
  of.map(([key, label, kind]) => (
    <Quantity key={key} label={label} kind={kind} value={machine[key] as number} put={(v) => set({ [key]: v } as Partial<Machine>)} />
  ));
