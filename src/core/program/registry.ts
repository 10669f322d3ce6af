import type { DialectId } from '../job/machineSchema';
import type { Dialect } from './dialect';
import { iso6983 } from './iso6983';
import { rs274 } from './rs274';
import { shortLines } from './shortLines';
import { toolPoint } from './toolPoint';

/** Every dialect, by its name in stored machines. */
export const DIALECTS: Record<DialectId, Dialect> = { rs274, iso6983, 'short-lines': shortLines, 'tool-point': toolPoint };
