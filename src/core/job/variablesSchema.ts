import { z } from 'zod';
import { count } from './fields';

export const MAX_TABLE_ROWS = 5000;
export const MAX_TABLE_COLUMNS = 50;

/** What the words in braces stand for, piece by piece. */
export const variablesSchema = z.strictObject({
  /** The piece that is shown and planned, from 1. */
  piece: count(1, 1_000_000),
  serial: z.strictObject({ start: count(0, 1_000_000_000), step: count(-1_000_000, 1_000_000), width: count(0, 20) }),
  /** ISO date written for {date}; empty for the day it is planned. */
  date: z.union([z.literal(''), z.iso.date('must be a date like 2026-03-31, or empty')]),
  dateFormat: z.enum(['2026-03-31', '31.03.2026', '03/2026', '2026']),
  /** A table with one row a piece; its columns are words too. */
  columns: z.array(z.string().min(1).max(60)).max(MAX_TABLE_COLUMNS),
  rows: z.array(z.array(z.string().max(500)).max(MAX_TABLE_COLUMNS)).max(MAX_TABLE_ROWS),
});
export type Variables = z.infer<typeof variablesSchema>;

export const createVariables = (): Variables => ({
  piece: 1,
  serial: { start: 1, step: 1, width: 3 },
  date: '',
  dateFormat: '2026-03-31',
  columns: [],
  rows: [],
});
