import type { Layout, LayoutOf, Machine } from '../../job/machineSchema';

export type Rotary = Layout['rotary'];
export type Head = LayoutOf<'rotary-tilting-head'>['head'];

/** The head of a machine that tilts, else null. */
export const getHead = (layout: Layout): Head | null => (layout.kind === 'rotary-tilting-head' ? layout.head : null);

/** The machine with its blank along the other axis. */
export const withWrappedAxis = (machine: Machine, wrappedAxis: Layout['wrappedAxis']): Machine => ({
  ...machine,
  layout: { ...machine.layout, wrappedAxis },
});

export const withRotary = (machine: Machine, patch: Partial<Rotary>): Machine => ({
  ...machine,
  layout: { ...machine.layout, rotary: { ...machine.layout.rotary, ...patch } },
});

/** The machine with a head that tilts, or without one. */
export function withHead(machine: Machine, head: Head | null): Machine {
  const { wrappedAxis, rotary } = machine.layout;
  return {
    ...machine,
    layout: head ? { kind: 'rotary-tilting-head', wrappedAxis, rotary, head } : { kind: 'rotary', wrappedAxis, rotary },
  };
}
