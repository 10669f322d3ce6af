/** Leaves a mark when new lettering stands in a view, for `npm run bench` and for the browser's own profiler. */
export function markDrawn(view: 'unrolled' | 'blank'): void {
  performance.clearMarks(`hobel:${view}`);
  performance.mark(`hobel:${view}`);
}
