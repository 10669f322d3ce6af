import type { PathCommand } from './flatten';

/** A glyph of a shaped line, font units. `cluster` is the index of its first character (UTF-16) in the text. */
export interface ShapedGlyph {
  glyph: number;
  cluster: number;
  advance: number;
  offsetX: number;
  offsetY: number;
}

export interface ShapeOptions {
  kerning: boolean;
  ligatures: boolean;
}

/**
 * A font that can set a line of text. Outline fonts are closed regions, stroke fonts open lines.
 * Glyph 0 stands for a character that the font has not got.
 */
export interface Typeface {
  id: string;
  kind: 'outline' | 'stroke';
  family: string;
  style: string;
  /** Characters it has, as code points, ascending. */
  characters: ArrayLike<number>;
  /** SHA-256 of the file, hex; empty if nobody worked it out. */
  sha256: string;
  unitsPerEm: number;
  /** Height of the capitals over the baseline, font units. */
  capHeight: number;
  /** Glyphs from left to right as they stand, whatever the direction of the script. */
  shapeLine(text: string, options: ShapeOptions): ShapedGlyph[];
  /** The drawing of a glyph in font units, y up. */
  drawGlyph(glyph: number): readonly PathCommand[];
}

/** Why a font file cannot be used. */
export type FontError =
  | { kind: 'fontNotRecognised'; name: string }
  | { kind: 'fontEmpty'; name: string }
  | { kind: 'fontTooLarge'; name: string; bytes: number; limitBytes: number };

/** Largest font file taken, bytes. Text fonts are well under it; larger ones are collections or bitmaps. */
export const MAX_FONT_BYTES = 32 * 1024 * 1024;
