import { z } from 'zod';

/** Building blocks of the job's schema: numbers with limits that say themselves. */
export const finite = z.number({ error: 'must be a number' }).refine(Number.isFinite, 'must be a finite number');
export const between = (min: number, max: number, what: string) => finite.refine((v) => v >= min && v <= max, `must be ${what}`);
export const lengthMm = (min: number, max: number) => between(min, max, `between ${min} and ${max} mm`);
export const angleDeg = (min: number, max: number) => between(min, max, `between ${min} and ${max} degrees`);
export const count = (min: number, max: number) =>
  z.int('must be a whole number').refine((v) => v >= min && v <= max, `must be between ${min} and ${max}`);
export const id = z.string().regex(/^[A-Za-z0-9_-]{1,64}$/, 'must be 1 to 64 letters, digits, - or _');
export const label = z.string().max(120, 'must be at most 120 characters');
export const pointMm = z.strictObject({ xMm: lengthMm(-20000, 20000), yMm: lengthMm(-20000, 20000) });
