import { z } from 'zod';
import { createMeridian, describeMeridianError } from '../surface/meridian';
import { angleDeg, between, finite, label, lengthMm } from './fields';

const MAX_LENGTH_MM = 5000;
const MAX_DIAMETER_MM = 2000;

/** Where Z = 0 lies on a blank that turns: on the axis, or on the surface at its largest diameter (only if truly round). */
const turningZero = z.enum(['axis', 'surface']);
/** … and on one that lies on the table: on its face, or on the table. */
const lyingZero = z.enum(['surface', 'table']);

/** Shared by all blanks that close on themselves. */
const round = {
  /** Inside diameter of a tube; 0 for solid stock. */
  boreMm: lengthMm(0, MAX_DIAMETER_MM),
  zero: turningZero,
  /** Angle of the seam, degrees from the generator that faces the tool at turn 0. */
  seamDeg: angleDeg(-360, 360),
  /** Lengths at either end that stay clear of tool and lettering (chuck, shoulder), along the surface. */
  clearDatumMm: lengthMm(0, MAX_LENGTH_MM),
  clearFarMm: lengthMm(0, MAX_LENGTH_MM),
};

export const cylinderSchema = z
  .strictObject({
    kind: z.literal('cylinder'),
    diameterMm: lengthMm(0.5, MAX_DIAMETER_MM),
    lengthMm: lengthMm(0.5, MAX_LENGTH_MM),
    ...round,
  })
  .refine((b) => b.boreMm < b.diameterMm, { path: ['boreMm'], message: 'must be smaller than the diameter' });

export const coneSchema = z
  .strictObject({
    kind: z.literal('cone'),
    /** Diameters at the datum end and at the far end; one of them may be 0, the apex. */
    datumDiameterMm: lengthMm(0, MAX_DIAMETER_MM),
    farDiameterMm: lengthMm(0, MAX_DIAMETER_MM),
    lengthMm: lengthMm(0.5, MAX_LENGTH_MM),
    /** How its sizes are typed: both diameters, or one and the taper. The diameters here are what counts. */
    given: z.enum(['diameters', 'taper', 'half-angle', 'ratio']),
    ...round,
  })
  .refine((b) => Math.max(b.datumDiameterMm, b.farDiameterMm) >= 0.5, {
    path: ['farDiameterMm'],
    message: 'must leave one end at least 0.5 mm wide',
  })
  .refine((b) => b.boreMm === 0 || b.boreMm < Math.min(b.datumDiameterMm, b.farDiameterMm), {
    path: ['boreMm'],
    message: 'must be smaller than both diameters',
  });

export const MAX_PROFILE_NODES = 500;

export const turnedSchema = z
  .strictObject({
    kind: z.literal('turned'),
    /** The meridian, from one end to the other. */
    profile: z
      .array(
        z.strictObject({
          xMm: lengthMm(-MAX_LENGTH_MM, MAX_LENGTH_MM),
          diameterMm: lengthMm(0, MAX_DIAMETER_MM),
          join: z.enum(['corner', 'smooth']),
          /** Arc to the next place: tangent of a quarter of its sweep, positive outward; 0 for straight or spline. */
          bulge: between(-10, 10, 'between -10 and 10'),
        }),
      )
      .min(2, 'needs at least two places')
      .max(MAX_PROFILE_NODES, `must have at most ${MAX_PROFILE_NODES} places`),
    ...round,
  })
  .superRefine((b, ctx) => {
    const made = createMeridian(b.profile);
    if (!made.ok) return ctx.addIssue({ code: 'custom', path: ['profile'], message: describeMeridianError(made.error) });
    if (made.value.maxRadiusMm < 0.25)
      ctx.addIssue({ code: 'custom', path: ['profile'], message: 'must be at least 0.5 mm wide somewhere' });
    if (b.boreMm / 2 >= made.value.maxRadiusMm)
      ctx.addIssue({ code: 'custom', path: ['boreMm'], message: 'must be smaller than the largest diameter' });
  });

export const plateSchema = z.strictObject({
  kind: z.literal('plate'),
  shape: z.enum(['rectangle', 'disc']),
  /** Along x; the diameter of a disc. */
  lengthMm: lengthMm(0.5, MAX_LENGTH_MM),
  widthMm: lengthMm(0.5, MAX_LENGTH_MM),
  thicknessMm: lengthMm(0.05, 1000),
  /** How far its face is inclined, rising towards +x or +y. */
  inclineDeg: angleDeg(-80, 80),
  inclineTowards: z.enum(['x', 'y']),
  zero: lyingZero,
});

export const archedSchema = z
  .strictObject({
    kind: z.literal('arched'),
    side: z.enum(['convex', 'concave']),
    radiusMm: lengthMm(0.5, 20000),
    chordMm: lengthMm(0.5, MAX_LENGTH_MM),
    lengthMm: lengthMm(0.5, MAX_LENGTH_MM),
    thicknessMm: lengthMm(0.05, 1000),
    mount: z.enum(['table', 'rotary']),
    zero: z.enum(['surface', 'table', 'axis']),
  })
  .refine((b) => b.chordMm <= 2 * b.radiusMm, { path: ['chordMm'], message: 'must be at most twice the radius' })
  .refine((b) => b.side === 'convex' || b.mount === 'table', {
    path: ['mount'],
    message: 'must be the table for a hollow face: on a rotary the tool would come through the axis',
  });

/** A shape kept by the house, by the hash of its data, or (command line only) a file beside the job. */
export const shapeRefSchema = z.union([
  z.strictObject({ id: z.string().regex(/^[0-9a-f]{64}$/, 'must be a SHA-256 in hexadecimal') }),
  z.strictObject({ file: z.string().min(1).max(500) }),
]);
export type ShapeRef = z.infer<typeof shapeRefSchema>;

const triple = z.tuple([finite, finite, finite]);

export const freeSchema = z.strictObject({
  kind: z.literal('free'),
  source: label,
  shape: shapeRefSchema,
  /** What one unit of the file is in mm. */
  unitMm: between(0.0001, 1000, 'between 0.0001 and 1000 mm'),
  /** The place that was picked on the shape, and the normal there, in the file's own units and frame: lettering goes round it. */
  pick: triple,
  normal: triple.refine((n) => Math.hypot(...n) > 0.5, 'must be a direction'),
  /** Turn of the lettering's x about that normal. */
  turnDeg: angleDeg(-360, 360),
  /** The patch goes on over edges that bend by less than this. */
  creaseDeg: angleDeg(1, 179),
  mount: z.enum(['table', 'rotary']),
  /** On a rotary: how far its axis lies below the picked place. */
  axisBelowMm: lengthMm(0, MAX_LENGTH_MM),
  zero: z.enum(['surface', 'axis']),
});

export const blankSchema = z.discriminatedUnion('kind', [plateSchema, cylinderSchema, coneSchema, turnedSchema, archedSchema, freeSchema]);

export type Blank = z.infer<typeof blankSchema>;
export type BlankKind = Blank['kind'];
export type BlankOf<K extends BlankKind> = Extract<Blank, { kind: K }>;
export type RoundBlank = BlankOf<'cylinder' | 'cone' | 'turned'>;

export const isRoundBlank = (blank: Blank): blank is RoundBlank =>
  blank.kind === 'cylinder' || blank.kind === 'cone' || blank.kind === 'turned';
