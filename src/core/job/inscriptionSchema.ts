import { z } from 'zod';
import { angleDeg, between, count, finite, id, label, lengthMm } from './fields';

/** Largest length of wording in one inscription, characters. Beyond it planning would outlast anyone's patience. */
export const MAX_TEXT_LENGTH = 2_000;
/** Largest number of instances of one inscription, and of marks in one series. */
export const MAX_REPEATS = 720;
export const MAX_MARKS = 20_000;
/** Largest number of coordinates in one piece of artwork. */
export const MAX_ARTWORK_NUMBERS = 2_000_000;

/** The nine places on a box that can be put at a given spot. */
export const ANCHORS = ['top-left', 'top', 'top-right', 'left', 'centre', 'right', 'bottom-left', 'bottom', 'bottom-right'] as const;
export type Anchor = (typeof ANCHORS)[number];

/** A font of the type case by id, or (command line only) a file beside the job. */
export const fontRefSchema = z.union([
  z.strictObject({ id: z.string().min(1).max(120) }),
  z.strictObject({ file: z.string().min(1).max(500) }),
]);
export type FontRef = z.infer<typeof fontRefSchema>;

const by = z.enum(['spacing', 'scale']);

/** What the wording is fitted to, if anything. */
export const fitSchema = z.discriminatedUnion('to', [
  z.strictObject({ to: z.literal('none') }),
  /** In a box: grown or shrunk to fill it, only shrunk, or broken into lines at its width. */
  z.strictObject({
    to: z.literal('box'),
    widthMm: lengthMm(0.1, 5000),
    heightMm: lengthMm(0.1, 5000),
    how: z.enum(['fill', 'shrink', 'wrap']),
  }),
  z.strictObject({ to: z.literal('length'), lengthMm: lengthMm(0.1, 10000), by }),
  /** As much of a turn of the blank, measured along the line of writing. */
  z.strictObject({ to: z.literal('angle'), angleDeg: angleDeg(0.01, 3600), by }),
  /** The whole way round but for a gap. */
  z.strictObject({ to: z.literal('turn'), gapMm: lengthMm(0, 10000), by }),
  /** The whole of its guide but for a gap. */
  z.strictObject({ to: z.literal('guide'), gapMm: lengthMm(0, 10000), by }),
]);
export type Fit = z.infer<typeof fitSchema>;

/** How wording follows a guide. */
export const onGuideSchema = z.strictObject({
  guideId: id,
  from: z.enum(['start', 'middle', 'end']),
  /** Along the guide from there, in its direction. */
  distanceMm: lengthMm(-10000, 10000),
  /** Away from the guide, to the side on which the letters stand. */
  offsetMm: lengthMm(-1000, 1000),
  /** Baseline on the guide, or the letters' tops on it. */
  side: z.enum(['above', 'below']),
  /** Runs from the guide's end to its start. */
  reversed: z.boolean(),
  /** Each letter turned with the guide and undistorted, kept upright, or bent along it. */
  letters: z.enum(['turned', 'upright', 'bent']),
  /** A second guide that the letters' tops follow; they are bent between the two. */
  topGuideId: id.nullable(),
});
export type OnGuide = z.infer<typeof onGuideSchema>;

/** Instances of one inscription: round the blank, and along it. */
export const repeatSchema = z.strictObject({
  roundCount: count(1, MAX_REPEATS),
  /** Turn from one to the next; 0 shares the whole turn evenly. */
  roundPitchDeg: angleDeg(-360, 360),
  alongCount: count(1, MAX_REPEATS),
  alongPitchMm: lengthMm(-5000, 5000),
  /** The same words on each, 1 to N, or a list of their own. */
  words: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('same') }),
    z.strictObject({ kind: z.literal('numbers'), start: count(-1_000_000, 1_000_000), step: count(-10_000, 10_000) }),
    z.strictObject({ kind: z.literal('list'), texts: z.array(z.string().max(MAX_TEXT_LENGTH)).max(MAX_REPEATS) }),
  ]),
});

/** Where an inscription stands, and how it may be handled; shared by every kind. */
const placed = {
  id,
  name: label,
  anchor: z.enum(ANCHORS),
  at: z.strictObject({ xMm: lengthMm(-10000, 10000), turnDeg: angleDeg(-3600, 3600) }),
  /** Turn of the lettering on the sheet, degrees, counter-clockwise seen from outside. */
  rotationDeg: angleDeg(-360, 360),
  mirrored: z.boolean(),
  /** Keeps its place and cannot be moved. */
  locked: z.boolean(),
  /** Neither shown nor cut. */
  hidden: z.boolean(),
  /** Inscriptions of one group are selected and moved together; empty for none. */
  group: z.string().max(64),
};

/** How letters are set; shared by wording and by the labels of a series. */
export const faceFields = {
  font: fontRefSchema,
  /** SHA-256 of the font's file when the wording was last set, empty if not known: a changed file is noticed. */
  fontSha256: z.string().max(64),
  heightMm: lengthMm(0.2, 500),
  /** What `heightMm` measures: the capital letters, or the body (the size a font is sold by). */
  heightOf: z.enum(['capitals', 'body']),
  widthRatio: between(0.2, 5, 'between 0.2 and 5'),
  /** Synthesised slant, to the right. */
  slantDeg: angleDeg(-45, 45),
  /** Synthesised weight: outlines grown by half of this on each side. */
  weightMm: lengthMm(-5, 5),
  /** Added between letters: a length, and a share of the capitals' height. */
  letterSpacingMm: between(-50, 200, 'between -50 and 200 mm'),
  letterSpacingPercent: between(-90, 500, 'between -90 and 500 percent'),
  kerning: z.boolean(),
  ligatures: z.boolean(),
};

export const textSchema = z.strictObject({
  kind: z.literal('text'),
  ...placed,
  ...faceFields,
  text: z.string().max(MAX_TEXT_LENGTH, `must be at most ${MAX_TEXT_LENGTH} characters`),
  /** Font taken for characters that the first has not got; null: they are a finding. */
  fallbackFont: fontRefSchema.nullable(),
  wordSpacingMm: between(-50, 200, 'between -50 and 200 mm'),
  /** Distance of baselines as a share of the body size. */
  lineSpacingRatio: between(0.2, 10, 'between 0.2 and 10'),
  justify: z.enum(['left', 'centre', 'right', 'full']),
  fit: fitSchema,
  onGuide: onGuideSchema.nullable(),
  repeat: repeatSchema.nullable(),
});

const markSchema = z.strictObject({
  /** Every so many steps; 0 for none. */
  every: count(0, 10_000),
  lengthMm: lengthMm(0, 500),
  /** Width of the mark as an area; 0 for a stroke. */
  widthMm: lengthMm(0, 50),
});

/** Labels and marks at equal (or tabulated) distances: scales and dials. */
export const seriesSchema = z.strictObject({
  kind: z.literal('series'),
  ...placed,
  ...faceFields,
  /** Along the blank, round it, or on a circle on the sheet. */
  shape: z.enum(['along', 'round', 'dial']),
  from: finite,
  to: finite,
  step: finite.refine((v) => v > 0, 'must be more than 0'),
  /** Length of the whole scale: mm along, degrees round the blank or the dial. */
  spanMm: lengthMm(0.1, 10000),
  spanDeg: angleDeg(-3600, 3600),
  radiusMm: lengthMm(0.1, 5000),
  /** Value → position pairs of a scale that is not evenly divided, position as a share of the span in [0, 1]; empty for even. */
  table: z.array(z.strictObject({ value: finite, share: between(0, 1, 'between 0 and 1') })).max(MAX_MARKS),
  /** The longest class whose `every` divides the step's number counts. */
  minor: markSchema,
  middle: markSchema,
  major: markSchema,
  /** Marks point to the left or the right of the scale's direction, or lie across it. */
  marksTo: z.enum(['left', 'right', 'both']),
  labels: z.strictObject({
    every: count(0, 10_000),
    decimals: count(0, 6),
    /** Whether a plus stands before positive values. */
    plus: z.boolean(),
    prefix: z.string().max(20),
    suffix: z.string().max(20),
    /** Labels in place of the values, in order; empty for the values. */
    list: z.array(z.string().max(80)).max(MAX_MARKS),
    /** Values that get no label. */
    skip: z.array(finite).max(1000),
    side: z.enum(['left', 'right']),
    /** From the end of the longest mark to the label. */
    gapMm: lengthMm(-100, 500),
    turn: z.enum(['upright', 'radial', 'tangential']),
  }),
});

/** Imported artwork, in its own mm, y up: closed regions can be carved, open chains engraved. */
export const artworkSchema = z
  .strictObject({
    kind: z.literal('artwork'),
    ...placed,
    source: label,
    /** Size it is shown at over the size it came in. */
    scaleRatio: between(0.001, 1000, 'between 0.001 and 1000'),
    layers: z
      .array(
        z.strictObject({
          name: z.string().max(200),
          on: z.boolean(),
          /** Cleaned rings (outer counter-clockwise, holes clockwise), x y in turn. */
          rings: z.array(z.array(finite)),
          chains: z.array(z.array(finite)),
        }),
      )
      .max(500),
  })
  .refine((a) => a.layers.reduce((sum, l) => sum + [...l.rings, ...l.chains].reduce((s, r) => s + r.length, 0), 0) <= MAX_ARTWORK_NUMBERS, {
    path: ['layers'],
    message: `must hold at most ${MAX_ARTWORK_NUMBERS / 2} points`,
  });

export const inscriptionSchema = z.discriminatedUnion('kind', [textSchema, seriesSchema, artworkSchema]);

export type Inscription = z.infer<typeof inscriptionSchema>;
export type TextInscription = z.infer<typeof textSchema>;
export type SeriesInscription = z.infer<typeof seriesSchema>;
export type ArtworkInscription = z.infer<typeof artworkSchema>;
export type Face = Pick<TextInscription, keyof typeof faceFields>;
