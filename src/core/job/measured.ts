import { z } from 'zod';
import { finite, lengthMm } from './fields';

/** Most places along and round that are kept. */
export const MAX_PLACES = 400;

const growing = (what: string) =>
  z
    .array(finite)
    .min(1, 'must have at least one place')
    .max(MAX_PLACES, `must have no more than ${MAX_PLACES} places`)
    .refine((list) => list.every((v, i) => i === 0 || v > list[i - 1]!), `must grow from one ${what} to the next`);

/**
 * The blank as it was measured on the machine: how far its surface lies outside the drawn one at the places of a grid, along the tool, mm.
 * Between the places it is taken to run smoothly, round a closed blank as a periodic curve; past the first and the last it stays.
 */
export const measuredSchema = z
  .strictObject({
    /** Places along, as the sheet has them, mm. */
    xMm: growing('place along'),
    /** Turns, degrees (mm across where nothing turns); on a blank that closes on itself within one turn. */
    turnDeg: growing('turn'),
    /** One row for each place along, one entry for each turn. */
    mm: z.array(z.array(lengthMm(-50, 50))),
    /** Whether the passes follow it; else it is kept to look at. */
    follows: z.boolean(),
    /** What tells the blank that was measured from another. */
    blank: z.string().max(64),
  })
  .refine((m) => m.mm.length === m.xMm.length && m.mm.every((row) => row.length === m.turnDeg.length), {
    path: ['mm'],
    message: 'must have one row for each place along with one entry for each turn',
  });
export type Measured = z.infer<typeof measuredSchema>;
