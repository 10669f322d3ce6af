import { getMount } from '../job/blankText';
import type { Job } from '../job/schema';
import { getLayout } from './layouts/registry';

/** Where each of a machine's words is 0 for a job. */
export interface ZeroWord {
  letter: string;
  /** To go on after "X is zero": "at the datum end", "on the axis". */
  where: string;
}

/** Where the axes of a table that tilts meet, or pass each other, as words from the zero; null where none is, or is known. Plain ASCII. */
export function describeCentre(
  { machine, blank, zero }: Pick<Job, 'machine' | 'blank' | 'zero'>,
  length: (mm: number) => string,
): string | null {
  const { centreMm: c } = zero;
  if (machine.layout.kind !== 'table-table' || c === null) return null;
  const across = getMount(blank) === 'rotary' ? '' : `X${length(c.xMm)} Y${length(c.yMm)} `;
  const what =
    machine.layout.turnAsideMm === 0 ? 'the axes of the table meet' : 'the turning axis of the table is as high as the tilting one';
  return `${what} at ${across}Z${length(c.zMm)}, the table level`;
}

/** Where the words are 0, as the machine's layout has them. Plain ASCII. */
export const listZeroWords = ({ machine, blank, zero }: Pick<Job, 'machine' | 'blank' | 'zero'>): ZeroWord[] =>
  getLayout(machine.layout).zeroWords(machine.layout, blank, zero);
