import { z } from 'zod';
import { between, id, label, lengthMm } from './fields';

export const toolSchema = z.strictObject({
  id,
  name: label.min(1, 'must have a name'),
  kind: z.enum(['v', 'ball-v', 'flat']),
  /** Included angle of a V cutter, degrees; ignored for a flat end mill. */
  includedDeg: between(5, 170, 'between 5 and 170 degrees'),
  /** Flat tip width of a V, tip radius × 2 of a ball-tipped V, diameter of a flat end mill. */
  tipMm: lengthMm(0, 50),
  /** Largest diameter of the cutting part. */
  diameterMm: lengthMm(0.05, 100),
  fluteLengthMm: lengthMm(0.05, 300),
  /** Diameter of the shank above the flutes. */
  shankMm: lengthMm(0.05, 100),
  /** From the tip up to the holder. */
  stickOutMm: lengthMm(0.1, 500),
  /** Diameter and length of the holder; 0 where nothing is known of it. */
  holderMm: lengthMm(0, 300),
  holderLengthMm: lengthMm(0, 500),
  flutes: z.int('must be a whole number').min(1).max(12),
  number: z.int('must be a whole number').min(1, 'must be at least 1').max(999, 'must be at most 999'),
});

export type Tool = z.infer<typeof toolSchema>;
export type ToolKind = Tool['kind'];

/**
 * Why a tool's number is not taken into a list, or null: a program calls cutters by number alone. One that the list has already and
 * does not change may stay: a crib of an older version is not locked.
 */
export function refuseNumber(list: readonly Tool[], tool: Tool): string | null {
  const twin = list.find((other) => other.id !== tool.id && other.number === tool.number);
  if (!twin || list.find((t) => t.id === tool.id)?.number === tool.number) return null;
  return `T${tool.number} is ${twin.name}: give each cutter a number of its own`;
}
