import type { Inscription, Job } from '../../core/job/schema';
import type { Bench } from './benchStore';

/** Every inscription of the groups that any of these belong to, and these. */
export function withGroups(job: Job, ids: readonly string[]): string[] {
  const groups = new Set(job.inscriptions.filter((i) => i.group && ids.includes(i.id)).map((i) => i.group));
  return job.inscriptions.filter((i) => ids.includes(i.id) || (i.group && groups.has(i.group))).map((i) => i.id);
}

/** Selects inscriptions, their groups whole; the first of them is the one whose settings are shown. */
export function selectOnly(bench: Bench, ids: readonly string[]): void {
  const selection = withGroups(bench.document.getState().job, ids);
  bench.view.setState({ selected: ids[0] ?? null, selection, guide: null });
}

/** Adds to the selection, or takes out of it. */
export function toggleSelected(bench: Bench, id: string): void {
  const { selection } = bench.view.getState();
  const whole = withGroups(bench.document.getState().job, [id]);
  const next = selection.includes(id) ? selection.filter((s) => !whole.includes(s)) : [...selection, ...whole];
  bench.view.setState({ selection: next, selected: next.includes(id) ? id : (next[next.length - 1] ?? null), guide: null });
}

/** Changes every selected inscription that is not locked, as one step. */
export const changeEach =
  (ids: readonly string[], change: (i: Inscription) => Partial<Inscription>) =>
  (job: Job): Job => ({
    ...job,
    inscriptions: job.inscriptions.map((i) => (ids.includes(i.id) && !i.locked ? ({ ...i, ...change(i) } as Inscription) : i)),
  });
