import { getMount } from '../job/blankText';
import type { Job } from '../job/schema';
import { describeAcross, describeAlong, describeTurnZero } from '../job/zero';
import { getRotary } from './layouts/edit';
import { getLayout } from './layouts/registry';

/** Where each of a machine's words is 0 for a job. */
export interface ZeroWord {
  letter: string;
  /** To go on after "X is zero": "at the datum end", "on the axis". */
  where: string;
}

/** Where the words are 0: along, across where that was chosen, Z, and the rotary's. Plain ASCII. */
export function listZeroWords({ machine, blank, zero }: Pick<Job, 'machine' | 'blank' | 'zero'>): ZeroWord[] {
  const along = getLayout(machine.layout).along(machine.layout);
  const across = describeAcross(blank, zero);
  const rotary = getRotary(machine.layout);
  return [
    { letter: along, where: `at ${describeAlong(blank, zero)}` },
    ...(across === null ? [] : [{ letter: along === 'X' ? 'Y' : 'X', where: `at ${across}` }]),
    { letter: 'Z', where: `on the ${blank.zero}` },
    ...(rotary && getMount(blank) === 'rotary' ? [{ letter: rotary.letter, where: `at ${describeTurnZero(zero)}` }] : []),
  ];
}
