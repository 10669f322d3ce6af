import type { FeedProgress } from './feeder';
import type { RunnerStatus } from './protocol';

/** What the page is told of the simulated machine. */
export interface RunnerNews {
  /** Whether it answers; if not, why. */
  link: 'up' | 'down';
  why: string | null;
  status: RunnerStatus | null;
  feed: (FeedProgress & { name: string; fileLine: number }) | null;
  /** Words at which a probe tripped, in their order, since the program began. */
  touches: string[];
}
