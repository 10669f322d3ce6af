import type { DialectId, Machine } from '../job/machineSchema';
import type { Dialect, ReadingRules } from './dialect';
import { iso6983 } from './iso6983';
import { rs274 } from './rs274';
import { shortLines } from './shortLines';
import { toolPoint } from './toolPoint';

/** Every dialect, by its name in stored machines. */
export const DIALECTS: Record<DialectId, Dialect> = { rs274, iso6983, 'short-lines': shortLines, 'tool-point': toolPoint };

/** The rules by which a machine's programs are read: its dialect's, and lines no longer than it takes itself. */
export function getRules({ dialect, longestLine }: Pick<Machine, 'dialect' | 'longestLine'>): ReadingRules {
  const { rules } = DIALECTS[dialect];
  return longestLine > 0 ? { ...rules, longestLine: Math.min(longestLine, rules.longestLine ?? Infinity) } : rules;
}
