import type { Machine, Tool } from '../job/schema';

type Drawer = Machine['drawer'];

/** The cutters of the crib that a machine has, by the numbers that its control knows. O(cutters). */
export function listDrawer({ drawer }: Pick<Machine, 'drawer'>, crib: readonly Tool[]): Tool[] {
  if (drawer === null) return [...crib];
  const numbers = new Map(drawer.map((d) => [d.toolId, d.number]));
  return crib.flatMap((tool) => {
    const number = numbers.get(tool.id);
    return number === undefined ? [] : [number === tool.number ? tool : { ...tool, number }];
  });
}

/**
 * A machine's drawer with a cutter put in under a number, or taken out (null). One that had all of the crib has the others of it on.
 * @returns In words why it cannot be, if another cutter has the number.
 */
export function putInDrawer(
  { drawer }: Pick<Machine, 'drawer'>,
  crib: readonly Tool[],
  toolId: string,
  number: number | null,
): { drawer: NonNullable<Drawer> } | { refusal: string } {
  // What is no more in the crib is no more in the drawer.
  const there = drawer?.filter((d) => crib.some((t) => t.id === d.toolId)) ?? crib.map((t) => ({ toolId: t.id, number: t.number }));
  if (number === null) return { drawer: there.filter((d) => d.toolId !== toolId) };
  const twin = there.find((d) => d.number === number && d.toolId !== toolId);
  if (twin) return { refusal: `T${number} is ${crib.find((t) => t.id === twin.toolId)!.name} on this machine: take another number` };
  const next = { toolId, number };
  return { drawer: there.some((d) => d.toolId === toolId) ? there.map((d) => (d.toolId === toolId ? next : d)) : [...there, next] };
}

/** The first number that no cutter of a machine has, from a wanted one on. */
export function findFreeNumber(tools: readonly Pick<Tool, 'number'>[], wanted: number): number {
  const taken = new Set(tools.map((t) => t.number));
  let number = wanted;
  while (taken.has(number)) number++;
  return number;
}
