import type { DialectId } from '../job/machineSchema';
import type { Dialect } from './dialect';
import { rs274 } from './rs274';

/** Every dialect, by its name in stored machines. */
export const DIALECTS: Record<DialectId, Dialect> = { rs274 };
