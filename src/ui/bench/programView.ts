import type { Program } from '../../core/program/dialect';
import type { ProgramView } from '../../workers/planning.client';

/** Lines of all parts of a program together. */
export const countLines = (program: Pick<ProgramView, 'parts'>): number => program.parts.reduce((sum, part) => sum + part.lines, 0);

/** A program as the core has it, from what the page shows of it. */
export const toProgram = ({ parts, ...places }: ProgramView): Program => ({
  ...places,
  parts: parts.map(({ text }) => ({ suffix: '', toolNumber: 0, cut: '', lines: text.trimEnd().split('\n') })),
});
