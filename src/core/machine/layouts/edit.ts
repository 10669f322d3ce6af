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

/**
 * Where the top of the blank goes when the rotary's word grows, seen by who stands in front of the machine: X to the right, Y away, Z up.
 * A right-handed turn about X brings +Z to −Y, and one about Y brings +Z to +X.
 */
export function describeTurn(wrappedAxis: Layout['wrappedAxis'], sense: Rotary['sense']): string {
  if (wrappedAxis === 'Y') return sense > 0 ? 'towards you' : 'away from you';
  return sense > 0 ? 'to the right' : 'to the left';
}

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
