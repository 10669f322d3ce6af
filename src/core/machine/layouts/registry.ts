import type { Layout, LayoutKind, LayoutOf } from '../../job/machineSchema';
import type { MachineLayout } from './layout';
import { plainTable, rotary, rotaryTiltingHead } from './rotary';
import { tableTable } from './tableTable';

/** Every layout of a machine, by its name in stored machines. */
export const LAYOUTS: { [K in LayoutKind]: MachineLayout<LayoutOf<K>> } = {
  table: plainTable,
  rotary: rotary,
  'rotary-tilting-head': rotaryTiltingHead,
  'table-table': tableTable,
};

/** The layout of a machine, seen as one that takes any. */
export const getLayout = (layout: Layout): MachineLayout<Layout> => LAYOUTS[layout.kind] as MachineLayout<Layout>;
