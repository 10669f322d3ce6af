import { cutSchema, guideSchema, inscriptionSchema, jobSchema, type Job } from './schema';

/** Lists of a job of which an element can be checked by itself, as long as nothing is added, taken out or made to name something else. */
const LISTS = { inscriptions: inscriptionSchema, guides: guideSchema, cuts: cutSchema } as const;
type ListKey = keyof typeof LISTS;

/** What an element says of others: where that changes, the whole job is checked. */
const namesOf = (item: Job[ListKey][number]): string => {
  const { id } = item;
  const onGuide = 'onGuide' in item ? item.onGuide : null;
  const cut = 'toolId' in item ? [item.toolId, item.targets] : [];
  return JSON.stringify([id, onGuide?.guideId, onGuide?.topGuideId, cut]);
};

/**
 * Checks an edited job against the schema, given that it was sound before: where only elements of a list changed (a drag, a figure
 * typed), those alone; else all of it. O(what changed), or O(job).
 */
export function checkEdit(before: Job, after: Job): ReturnType<typeof jobSchema.safeParse> {
  const keys = Object.keys(after) as (keyof Job)[];
  const changed = keys.filter((k) => before[k] !== after[k]);
  const whole = (): ReturnType<typeof jobSchema.safeParse> => jobSchema.safeParse(after);
  if (keys.length !== Object.keys(before).length) return whole();
  for (const key of changed) {
    if (!(key in LISTS)) return whole();
    const [was, is] = [before[key as ListKey], after[key as ListKey]];
    if (was.length !== is.length) return whole();
    for (const [i, item] of is.entries()) {
      if (item === was[i]) continue;
      if (namesOf(item) !== namesOf(was[i]!) || !LISTS[key as ListKey].safeParse(item).success) return whole();
    }
  }
  return { success: true, data: after };
}
