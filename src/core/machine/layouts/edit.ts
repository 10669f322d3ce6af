import type { Layout, LayoutKind, LayoutOf, Machine } from '../../job/machineSchema';

/** A layout that has a rotary along the blank. */
export type RotaryLayout = Extract<Layout, { rotary: unknown }>;
export type Rotary = RotaryLayout['rotary'];
export type TurningMachine = Machine & { layout: RotaryLayout };
export type Head = LayoutOf<'rotary-tilting-head'>['head'];

/** The rotary along the blank, else null. */
export const getRotary = (layout: Layout): Rotary | null => ('rotary' in layout ? layout.rotary : null);

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

/** The machine with its rotary changed; as it is where it has none. */
export const withRotary = (machine: Machine, patch: Partial<Rotary>): Machine =>
  'rotary' in machine.layout ? { ...machine, layout: { ...machine.layout, rotary: { ...machine.layout.rotary, ...patch } } } : machine;

/** The machine built up otherwise; axes that both have stay as they are. */
export function withLayoutKind(machine: Machine, kind: LayoutKind, fresh: { rotary: Rotary; head: Head }): Machine {
  const { wrappedAxis } = machine.layout;
  const rotary = getRotary(machine.layout) ?? fresh.rotary;
  if (kind === 'table') return { ...machine, layout: { kind, wrappedAxis } };
  if (kind === 'rotary') return { ...machine, layout: { kind, wrappedAxis, rotary } };
  const own = getHead(machine.layout) ?? fresh.head;
  const head = own.letter === rotary.letter ? { ...own, letter: (['B', 'A', 'C'] as const).find((l) => l !== rotary.letter)! } : own;
  return { ...machine, layout: { kind, wrappedAxis, rotary, head } };
}

/** The machine with its tilting head changed; as it is where it has none. */
export const withHead = (machine: Machine, patch: Partial<Head>): Machine =>
  machine.layout.kind === 'rotary-tilting-head'
    ? { ...machine, layout: { ...machine.layout, head: { ...machine.layout.head, ...patch } } }
    : machine;
