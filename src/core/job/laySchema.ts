import { z } from 'zod';
import { angleDeg, between } from './fields';

export const LAY_KINDS = ['wrap', 'level', 'project', 'drape'] as const;

/** How lettering goes on to the blank. Settings of the other lays are kept, so that one can switch back and forth. */
export const laySchema = z.strictObject({
  kind: z.enum(LAY_KINDS),
  /** On a level line: each letter whole, or bent with the line. */
  letters: z.enum(['rigid', 'bent']),
  /** A projection goes along the normal at each inscription's anchor, or along one direction for all. */
  from: z.enum(['normal', 'direction']),
  /** That direction: seen from this turn round the axis, leaning this much towards the far end (±90: along the axis). */
  turnDeg: angleDeg(-360, 360),
  tiltDeg: angleDeg(-90, 90),
  /** Angle between projection and normal above which letters are reported as too steep. */
  steepLimitDeg: angleDeg(1, 89),
  /** Stretch above which letters are named. */
  stretchLimitPercent: between(0.01, 1000, 'between 0.01 and 1000 percent'),
});
export type Lay = z.infer<typeof laySchema>;

export const createLay = (): Lay => ({
  kind: 'wrap',
  letters: 'rigid',
  from: 'normal',
  turnDeg: 0,
  tiltDeg: 0,
  steepLimitDeg: 60,
  stretchLimitPercent: 3,
});
