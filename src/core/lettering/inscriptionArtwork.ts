import { emptyRings, type Box, type Chains, type Rings } from '../base/rings';
import type { Curve } from '../guide/curve';
import type { FontRef, Inscription, Variables } from '../job/schema';
import type { GlyphCache } from './glyphShapes';
import type { PieceLayer } from './layPieces';
import { EMPTY_BOX } from './setting';
import type { Typeface } from './typeface';

/** One letter of an inscription on the sheet: which character, and the box of its ink, mm. */
export interface Letter {
  char: string;
  cluster: number;
  box: Box;
  /** Largest stretch from the lettering plane to the metal: 1 where it is true. */
  stretch: number;
}

/** What is wrong with one inscription, as data; worded in `findings/finding.ts`. */
export type LetteringFault =
  | { kind: 'unknown-word'; words: string[] }
  | { kind: 'guide-empty'; guide: string }
  | { kind: 'off-guide'; overMm: number }
  | { kind: 'letters-collide'; pairs: [string, string][] }
  | { kind: 'too-many-marks'; count: number; limit: number }
  | { kind: 'outside-table'; values: number }
  | { kind: 'marks-double'; count: number }
  /** A length asked for that the wording does not come to, or only with its letters on each other. */
  | { kind: 'fit-missed'; wantedMm: number; gotMm: number; tight: boolean }
  /** Instances or labels that lie on each other. */
  | { kind: 'parts-overlap'; pairs: number; first: [string, string] }
  | { kind: 'labels-short'; count: number }
  /** Letters that the lay does not bring on to the surface. */
  | { kind: 'letters-miss'; letters: string[]; from: 'outside' | 'behind' }
  /** Letters met at more than the limit by the projection; the steepest. */
  | { kind: 'too-steep'; letters: string[]; mostDeg: number };

/** The lettering of one inscription on the sheet, mm: areas in `regions`, strokes in `chains`. */
export interface InscriptionArtwork {
  id: string;
  regions: Rings;
  chains: Chains;
  letters: Letter[];
  /** Characters that the font has not got. */
  missing: string[];
  /** Characters taken from the second font. */
  fallbacks: string[];
  faults: LetteringFault[];
  /** Box of the ink on the sheet. Empty (`minX > maxX`) if there is none. */
  box: Box;
  /** The layout's box (ink across, capitals to last baseline) as four corners on the sheet, x y each, for handles. */
  frame: Float64Array;
  /** Where reading begins and in which direction, and which way is up: x, y, then two unit vectors; 0, 0 where there is no one way. */
  reading: Float64Array;
  mirrored: boolean;
  /** Largest distance of its outlines from the curves of its letters, to either side, mm. */
  offMm: number;
}

/** What the lettering of an inscription depends on besides itself. */
export interface LetteringContext {
  find(ref: FontRef): Typeface | null;
  /** The curve of a guide; null if it has no length. */
  curve(guideId: string): Curve | null;
  /** Lays pieces on the surface by the job's lay. */
  layer: PieceLayer;
  /** Angle between projection and normal above which letters are a fault. */
  steepLimitDeg: number;
  cache: GlyphCache;
  variables: Variables;
  todayIso: string;
}

export const emptyArtwork = (inscription: Pick<Inscription, 'id' | 'mirrored'>, faults: LetteringFault[] = []): InscriptionArtwork => ({
  id: inscription.id,
  regions: emptyRings(),
  chains: emptyRings(),
  letters: [],
  missing: [],
  fallbacks: [],
  faults,
  box: EMPTY_BOX,
  frame: new Float64Array(8),
  reading: new Float64Array(6),
  mirrored: inscription.mirrored,
  offMm: 0,
});
