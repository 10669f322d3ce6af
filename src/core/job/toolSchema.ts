import { z } from 'zod';
import { MATERIALS } from './materials';
import { between, id, label, lengthMm } from './fields';

/** Speeds of a cutter in one material. */
export const cuttingDataSchema = z.strictObject({
  material: z.enum(MATERIALS),
  spindleRpm: between(1, 200000, 'between 1 and 200000 rev/min'),
  feedMmPerMin: between(0.1, 60000, 'between 0.1 and 60000 mm/min'),
  plungeMmPerMin: between(0.1, 60000, 'between 0.1 and 60000 mm/min'),
  stepDownMm: lengthMm(0.005, 50),
  /** Distance between neighbouring passes over its diameter at work. */
  stepOverShare: between(0.01, 1, 'between 0.01 and 1'),
});
export type CuttingData = z.infer<typeof cuttingDataSchema>;

export const toolSchema = z.strictObject({
  id,
  name: label.min(1, 'must have a name'),
  kind: z.enum(['v', 'ball-v', 'taper-ball', 'ball', 'flat', 'bull', 'drill', 'centre-drill', 'half-round', 'drag']),
  /** Included angle of what is a cone at its tip, degrees; of no matter for a ball or an end mill. */
  includedDeg: between(5, 170, 'between 5 and 170 degrees'),
  /** Width of a flat tip, diameter of a ball tip; of no matter for an end mill. */
  tipMm: lengthMm(0, 50),
  /** Radius of a bull nose’s corner; of no matter for others. */
  cornerMm: lengthMm(0, 50),
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
  /** What it is made of, as the drawer says it. */
  made: label,
  /** Speeds by material, in no order. */
  cuttingData: z.array(cuttingDataSchema).max(20),
  flutes: z.int('must be a whole number').min(1).max(12),
  number: z.int('must be a whole number').min(1, 'must be at least 1').max(999, 'must be at most 999'),
});

export type Tool = z.infer<typeof toolSchema>;
export type ToolKind = Tool['kind'];

/** A cutter that is dragged along with the spindle still. */
export const isStill = (tool: Pick<Tool, 'kind'>): boolean => tool.kind === 'drag';

/**
 * Why a tool's number is not taken into a list, or null: a program calls cutters by number alone. One that the list has already and
 * does not change may stay: a crib of an older version is not locked.
 */
export function refuseNumber(list: readonly Tool[], tool: Tool): string | null {
  const twin = list.find((other) => other.id !== tool.id && other.number === tool.number);
  if (!twin || list.find((t) => t.id === tool.id)?.number === tool.number) return null;
  return `T${tool.number} is ${twin.name}: give each cutter a number of its own`;
}
