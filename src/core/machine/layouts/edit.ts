import type { Layout, LayoutKind, LayoutOf, Machine } from '../../job/machineSchema';

/** A layout that has a rotary along the blank. */
export type RotaryLayout = Extract<Layout, { rotary: unknown }>;
export type Rotary = RotaryLayout['rotary'];
export type TurningMachine = Machine & { layout: RotaryLayout };
export type TableTable = LayoutOf<'table-table'>;
export type Head = LayoutOf<'rotary-tilting-head'>['head'];

/** The rotary along the blank, else null. */
export const getRotary = (layout: Layout): Rotary | null => ('rotary' in layout ? layout.rotary : null);

/** The table that tilts and turns, else null. */
export const getTable = (layout: Layout): TableTable | null => (layout.kind === 'table-table' ? layout : null);

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

/** Which side of a table goes up as its tilt's word grows, seen by who stands before the machine: X to the right, Y away. */
export function describeTilt({ letter, sense }: Pick<TableTable['tilt'], 'letter' | 'sense'>): string {
  // Right-handed about X the far side goes up, about Y the left one.
  if (letter === 'A') return sense > 0 ? 'the side away from you goes up' : 'the side towards you goes up';
  return sense > 0 ? 'the left side goes up' : 'the right side goes up';
}

/** Which way round a table turns as its word grows, seen from above. */
export const describeTableTurn = ({ sense }: Pick<TableTable['turn'], 'sense'>): string =>
  sense > 0 ? 'it turns against the clock' : 'it turns with the clock';

/** The machine with its rotary changed; as it is where it has none. */
export const withRotary = (machine: Machine, patch: Partial<Rotary>): Machine =>
  'rotary' in machine.layout ? { ...machine, layout: { ...machine.layout, rotary: { ...machine.layout.rotary, ...patch } } } : machine;

/** What a machine begins with where it gets axes that it had not. */
export interface Fresh {
  rotary: Rotary;
  head: Head;
  table: Omit<TableTable, 'kind' | 'wrappedAxis'>;
}

/** The machine built up otherwise; axes that both have stay as they are. */
export function withLayoutKind(machine: Machine, kind: LayoutKind, fresh: Fresh): Machine {
  const { wrappedAxis } = machine.layout;
  const rotary = getRotary(machine.layout) ?? fresh.rotary;
  if (kind === 'table') return { ...machine, layout: { kind, wrappedAxis } };
  if (kind === 'table-table') return { ...machine, layout: { kind, wrappedAxis, ...fresh.table } };
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

/** The machine with its table changed; as it is where it has none that tilts. */
export const withTable = (machine: Machine, patch: Partial<Omit<TableTable, 'kind'>>): Machine =>
  machine.layout.kind === 'table-table' ? { ...machine, layout: { ...machine.layout, ...patch } } : machine;
