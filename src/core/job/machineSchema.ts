import { z } from 'zod';
import { angleDeg, between, id, label, lengthMm } from './fields';

const letter = z.enum(['A', 'B', 'C']);

/** An axis that turns. */
const rotaryAxis = {
  letter,
  /** +1 if a growing word turns the way the layout says, else −1. */
  sense: z.union([z.literal(1), z.literal(-1)]),
  maxDegPerMin: between(1, 1000000, 'between 1 and 1000000 degrees/min'),
  accelerationDegPerS2: between(1, 500000, 'between 1 and 500000 degrees/s²'),
};

/** How far the words of an axis that turns blanks may go; null where it goes round without end. */
const range = z
  .strictObject({ minDeg: angleDeg(-100000, 0), maxDeg: angleDeg(0, 100000) })
  .refine((r) => r.maxDeg - r.minDeg >= 360, 'must reach once round: 360 degrees or more in all')
  .nullable();

/** The linear axis that the rotary takes the place of, or would; the other one of X and Y runs along the blank. */
const wrappedAxis = z.enum(['X', 'Y']);

/** What every machine with a rotary along the blank has. */
const rotaryLayout = {
  wrappedAxis,
  /** Sense +1 if a growing word turns the blank right-handed about the axis along it. */
  rotary: z.strictObject({
    ...rotaryAxis,
    /** Diameter of the chuck, which reaches over the blank's clear zone at the datum end; 0 where nothing is known of it. */
    chuckMm: lengthMm(0, 1000),
    /** Diameter of the tailstock over the clear zone at the far end; 0 where there is none. */
    tailstockMm: lengthMm(0, 1000),
    range,
  }),
};

/** How a machine's axes are built up. A new layout is one schema here, one file in `core/machine/layouts/` and one line in its registry. */
export const layoutSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('table'), wrappedAxis }),
  z.strictObject({ kind: z.literal('rotary'), ...rotaryLayout }),
  z
    .strictObject({
      kind: z.literal('rotary-tilting-head'),
      ...rotaryLayout,
      /** A head that tilts the tool in the plane of the blank's axis and Z. Sense +1 if a growing word leans the tool to the far end. */
      head: z.strictObject({
        ...rotaryAxis,
        minDeg: angleDeg(-120, 0),
        maxDeg: angleDeg(0, 120),
        /** From the tilt axis to the tip; 0 where the controller keeps the tip in place by itself. */
        pivotMm: lengthMm(0, 2000),
      }),
    })
    .refine((l) => l.head.letter !== l.rotary.letter, { path: ['head', 'letter'], message: 'must be another letter than the rotary has' }),
  z.strictObject({
    kind: z.literal('table-table'),
    /** A blank that lies on the table lies along the other one of X and Y at rotary zero. */
    wrappedAxis,
    /**
     * The table tilts about X (A) or Y (B), its words within limits. Sense +1 if a growing word tilts it right-handed about that axis.
     */
    tilt: z.strictObject({ ...rotaryAxis, letter: z.enum(['A', 'B']), minDeg: angleDeg(-120, 0), maxDeg: angleDeg(0, 120) }),
    /** On it the table turns, about Z while the tilt is 0. Sense +1 if a growing word turns it right-handed about Z. */
    turn: z.strictObject({
      ...rotaryAxis,
      letter: z.literal('C'),
      range,
      /** Diameter of the chuck that stands on the table and holds round blanks up to their clear zone; 0 where nothing is known of it. */
      chuckMm: lengthMm(0, 1000),
    }),
    /** How far the turn's axis stands beyond the tilt's with the table level, along Y (A) or X (B), mm; 0 where they meet. */
    turnAsideMm: lengthMm(-500, 500),
    /** The table's diameter, 0 where nothing is known of it, and how high its face lies over the axis that it tilts about. */
    tableMm: lengthMm(0, 2000),
    faceMm: lengthMm(-1000, 1000),
  }),
]);

/** What placeholders stand for in blocks of the machine's own. */
export const PLACEHOLDERS = {
  number: 'the number of the cutter that comes',
  tool: 'its name, in letters that any control reads',
  rpm: 'its spindle speed',
  job: 'the name of the job',
  park: 'the height at which the tool waits, in the program’s unit',
} as const;
export type Placeholder = keyof typeof PLACEHOLDERS;

const ownBlock = z
  .string()
  .max(2000, 'must have no more than 2000 characters')
  .refine((text) => [...text.matchAll(/\{([^{}]*)\}/g)].every(([, name]) => name! in PLACEHOLDERS), {
    message: `may have the placeholders ${Object.keys(PLACEHOLDERS)
      .map((name) => `{${name}}`)
      .join(', ')} alone`,
  });
/** What placeholders in the name of a program's file stand for. */
export const NAME_PLACEHOLDERS = {
  job: 'the name of the job',
  part: 'which file of how many, and its cutter; nothing where there is one alone',
  number: 'the number of its first cutter',
  cut: 'the name of its first cut',
  machine: 'the machine',
  hash: 'eight digits that tell this job from any other',
} as const;
export type NamePlaceholder = keyof typeof NAME_PLACEHOLDERS;

const fileName = z
  .string()
  .min(1, 'must have a name')
  .max(100, 'must have no more than 100 characters')
  .refine((text) => [...text.matchAll(/\{([^{}]*)\}/g)].every(([, name]) => name! in NAME_PLACEHOLDERS), {
    message: `may have the placeholders ${Object.keys(NAME_PLACEHOLDERS)
      .map((name) => `{${name}}`)
      .join(', ')} alone`,
  })
  .refine((text) => !/[\\/:*?"<>|]/.test(text), 'must have none of \\ / : * ? " < > |');
const heightMm = between(0, 1000, 'between 0 and 1000 mm');

export const machineSchema = z.strictObject({
  id,
  name: label.min(1, 'must have a name'),
  layout: layoutSchema,
  /** The flavour of word-address code that its control reads. */
  dialect: z.enum(['rs274', 'iso6983', 'short-lines', 'tool-point']),
  /** The unit that its programs are written in (G20 or G21), whatever the job's own. */
  programUnit: z.enum(['mm', 'in']),
  /** One file for a program, or one for each cutter in the spindle or for each cut, to be run one after the other. */
  files: z.enum(['one', 'per-cutter', 'per-cut']),
  feedMode: z.enum(['G93', 'G94']),
  lengthDigits: z.int().min(2).max(6),
  angleDigits: z.int().min(2).max(6),
  maxFeedMmPerMin: between(1, 60000, 'between 1 and 60000 mm/min'),
  /** How far X, Y and Z can go, mm; 0 where it is not known. */
  travelMm: z.strictObject({ X: lengthMm(0, 20000), Y: lengthMm(0, 20000), Z: lengthMm(0, 20000) }),
  /**
   * Where in that travel, from its lower end, the rotary's axis or the table's centre stands in X and Y, and how high the spindle's nose
   * gets over that axis, or over a plain table; null and 0 where it is not known.
   */
  standsAt: z.strictObject({ xMm: lengthMm(0, 20000).nullable(), yMm: lengthMm(0, 20000).nullable(), noseMm: lengthMm(0, 20000) }),
  /** What clamps a blank that lies still, at both of its ends along: how high over it, and how far in from the end; 0 for none. */
  clamps: z.strictObject({ highMm: lengthMm(0, 1000), reachMm: lengthMm(0, 1000) }),
  /** Speed and acceleration of each of X, Y and Z. */
  rapidMmPerMin: between(1, 100000, 'between 1 and 100000 mm/min'),
  accelerationMmPerS2: between(1, 50000, 'between 1 and 50000 mm/s²'),
  maxSpindleRpm: between(1, 200000, 'between 1 and 200000 rev/min'),
  /** Largest distance the tip may leave its path between two blocks. */
  chordToleranceMm: lengthMm(0.0001, 0.1),
  /** By how much the control may round a corner between two blocks to keep its pace; 0 where it runs every corner out. */
  cornerToleranceMm: lengthMm(0, 1),
  /** Blocks that the control takes in a second. */
  maxBlocksPerS: between(1, 100000, 'between 1 and 100000 blocks a second'),
  /** On a blank that does not turn, level ways are written as arcs (G2, G3) where they lie on one within this; 0 where it takes none. */
  arcMm: lengthMm(0, 0.05),
  /** By how much the way may be moved so that it has fewer blocks. */
  mergeMm: lengthMm(0, 0.05),
  toolChanger: z.boolean(),
  /** Lines that its control takes in one file; longer programs are parted between two strokes. 0 where it takes any number. */
  mostLines: z
    .int('must be a whole number')
    .min(0, 'must be 0 or more')
    .max(10_000_000)
    .refine((v) => v === 0 || v >= 100, 'must be 0 (no limit) or at least 100'),
  /** Characters that its control takes in one line; 0 for as many as its dialect takes. */
  longestLine: z
    .int('must be a whole number')
    .refine((v) => v === 0 || (v >= 40 && v <= 256), 'must be 0 (as many as the dialect takes) or between 40 and 256'),
  /** What the files of its programs are called, with placeholders in braces; without their ending. */
  fileName,
  /** What is blown or poured at the cutter while it cuts. */
  coolant: z.enum(['none', 'mist', 'flood']),
  /**
   * Blocks of the machine's own, some lines each with placeholders in braces: after the opening of every program, before its end, and in
   * place of the change of cutter that Hobel would write; null there for Hobel's.
   */
  ownBlocks: z.strictObject({ start: ownBlock, change: ownBlock.nullable(), end: ownBlock }),
  /** Heights that a new job on it begins with. */
  heights: z.strictObject({ parkHeightMm: heightMm, hopHeightMm: heightMm, approachGapMm: heightMm }),
  /** The cutters of the crib that it has, by their ids, with the number that its control knows each by; null for all by their own. */
  drawer: z
    .array(z.strictObject({ toolId: id, number: z.int('must be a whole number').min(1, 'must be at least 1').max(999) }))
    .max(200)
    .refine((list) => new Set(list.map((d) => d.number)).size === list.length, 'two cutters have one number')
    .refine((list) => new Set(list.map((d) => d.toolId)).size === list.length, 'a cutter stands twice')
    .nullable(),
  /** Time for one change of cutter, by the changer or by hand, and for the spindle to come up to speed, s. */
  toolChangeS: between(0, 3600, 'between 0 and 3600 s'),
  spindleRunUpS: between(0, 120, 'between 0 and 120 s'),
  /** Whether the program calls a cutter's length from the control's table after a change (G43), or leaves lengths to the control. */
  toolLengths: z.enum(['table', 'control']),
});

export type Machine = z.infer<typeof machineSchema>;
export type Layout = Machine['layout'];
export type LayoutKind = Layout['kind'];
export type LayoutOf<K extends LayoutKind> = Extract<Layout, { kind: K }>;
export type DialectId = Machine['dialect'];
