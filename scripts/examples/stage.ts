import type { Stage } from '../../src/core/job/schema';

/** A mill that goes before a cut's own. */
export const stage = (toolId: string, stepMm: number, feedMmPerMin: number): Stage => ({
  ...{ toolId, levels: { by: 'step', stepMm, even: true, finishMm: 0 }, feedMmPerMin },
  ...{ plungeMmPerMin: 120, spindleRpm: 18000, stepOverShare: 0.45 },
});
