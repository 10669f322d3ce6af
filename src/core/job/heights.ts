import type { Machine } from './machineSchema';
import type { Job } from './schema';

type Heights = Machine['heights'];

/** Heights of a job that is put on another machine: the new machine's where they were the old one's, else as they were set by hand. */
export function takeHeights({ motion, machine }: Pick<Job, 'motion' | 'machine'>, next: Pick<Machine, 'heights'>): Heights {
  const taken = (key: keyof Heights): number => (motion[key] === machine.heights[key] ? next.heights[key] : motion[key]);
  return { parkHeightMm: taken('parkHeightMm'), hopHeightMm: taken('hopHeightMm'), approachGapMm: taken('approachGapMm') };
}
