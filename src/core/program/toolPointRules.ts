import type { ReadingRules } from './dialect';
import { rs274Rules } from './rs274Rules';

/**
 * What controls that keep the tool's point take besides the words of RS274/NGC: G43.4 with H calls a length and keeps the point until
 * G49; G53 goes to a place of the machine itself (NISTIR 6556, 3.5.12, from memory). Common practice, no source. Nothing of the writer.
 */
export const toolPointRules: ReadingRules = {
  ...rs274Rules,
  groups: { ...rs274Rules.groups, 'G43.4': 'length offset', G53: 'machine coordinates' },
  keepsPoint: 'G43.4',
};
