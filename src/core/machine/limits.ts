import { getMount } from '../job/blankText';
import type { Job } from '../job/schema';
import type { Kinematics } from './kinematics';
import { getRotary, getTable } from './layouts/edit';
import { getZeroMm } from './registry';

type OnMachine = Pick<Job, 'machine' | 'blank' | 'zero'>;

/** What the words of each of the machine's axes may be, as far as it is known where they stand: infinite where it is not. */
export function getWordLimits({ machine, blank, zero }: OnMachine, kinematics: Kinematics): Record<string, [least: number, most: number]> {
  const { standsAt, travelMm, layout } = machine;
  const out: Record<string, [number, number]> = {};
  for (const { letter, min, max } of (kinematics.machine ?? kinematics).axes) out[letter] = [min, max];
  const put = (letter: 'X' | 'Y', atMm: number | null, wordMm: number): void => {
    if (atMm !== null && travelMm[letter] > 0) out[letter] = [wordMm - atMm, wordMm - atMm + travelMm[letter]];
  };
  const table = getTable(layout);
  if (table && zero.centreMm) {
    const isRound = getMount(blank) === 'rotary';
    put('X', standsAt.xMm, isRound ? 0 : zero.centreMm.xMm);
    put('Y', standsAt.yMm, isRound ? 0 : zero.centreMm.yMm);
  } else if (getRotary(layout) && getMount(blank) === 'rotary') {
    // Across, a word is 0 over the rotary's axis.
    if (layout.wrappedAxis === 'Y') put('Y', standsAt.yMm, 0);
    else put('X', standsAt.xMm, 0);
  }
  return out;
}

/** How high Z's zero lies over the rotary's axis, over where the axes of a table meet, or over a plain table, mm. */
export function getZeroHeightMm({ machine, blank, zero }: OnMachine): number {
  if (getTable(machine.layout)) return -(zero.centreMm?.zMm ?? 0);
  if (getMount(blank) === 'rotary') return getZeroMm(blank);
  const thickMm = 'thicknessMm' in blank ? blank.thicknessMm : 0;
  return blank.zero === 'table' ? 0 : thickMm;
}
