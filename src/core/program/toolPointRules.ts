import type { ReadingRules } from './dialect';
import { rs274Rules } from './rs274Rules';

/**
 * What controls that keep the tool's point take besides the words of RS274/NGC: G43.4 with H calls a length and keeps the point until
 * G49. Common practice, no source. Nothing of the writer.
 */
export const toolPointRules: ReadingRules = {
  ...rs274Rules,
  groups: { ...rs274Rules.groups, 'G43.4': 'length offset' },
  keepsPoint: 'G43.4',
};
