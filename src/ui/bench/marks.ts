/**
 * Leaves a mark when new lettering stands in a view, lettering was moved on the sheet, a plan was made, or its piece drawn, for
 * `npm run bench` and for the browser's own profiler.
 */
export function markDrawn(view: 'unrolled' | 'blank' | 'moved' | 'planned' | 'piece'): void {
  performance.clearMarks(`hobel:${view}`);
  performance.mark(`hobel:${view}`);
}
