import type { Job } from '../job/schema';
import { getLayout } from './layouts/registry';

/** Where each of a machine's words is 0 for a job. */
export interface ZeroWord {
  letter: string;
  /** To go on after "X is zero": "at the datum end", "on the axis". */
  where: string;
}

/** Where the words are 0, as the machine's layout has them. Plain ASCII. */
export const listZeroWords = ({ machine, blank, zero }: Pick<Job, 'machine' | 'blank' | 'zero'>): ZeroWord[] =>
  getLayout(machine.layout).zeroWords(machine.layout, blank, zero);
