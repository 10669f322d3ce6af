import type { ProgramView } from '../../workers/planning.client';

/** Lines of all parts of a program together. */
export const countLines = (program: Pick<ProgramView, 'parts'>): number => program.parts.reduce((sum, part) => sum + part.lines, 0);
