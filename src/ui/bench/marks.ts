/**
 * Leaves a mark when new lettering stands in a view, or lettering was moved on the sheet, for `npm run bench` and for the
 * browser's own profiler.
 */
export function markDrawn(view: 'unrolled' | 'blank' | 'moved'): void {
  performance.clearMarks(`hobel:${view}`);
  performance.mark(`hobel:${view}`);
}
