import type { Inscription } from '../job/schema';
import type { ShapedGlyph, Typeface } from './typeface';

/** A glyph put in its place: origin in local mm (y up, first baseline at 0), `cluster` in the whole text. */
export interface PlacedGlyph {
  glyph: number;
  cluster: number;
  char: string;
  xMm: number;
  yMm: number;
}

export interface LineLayout {
  glyphs: PlacedGlyph[];
  /** Characters that the font has not got. */
  missing: string[];
  /** Millimetres a font unit stands for. */
  scale: number;
  lineCount: number;
  /** Distance of baselines, mm. */
  leadingMm: number;
  capHeightMm: number;
  /** Glyph ranges of the lines: line k is `glyphs[lineStarts[k] .. lineStarts[k + 1] − 1]`. */
  lineStarts: number[];
}

/** Control characters other than line ends are set as spaces. */
const cleanText = (text: string): string =>
  // eslint-disable-next-line no-control-regex
  text.replace(/\r\n?/g, '\n').replace(/[\u0000-\u0009\u000b-\u001f\u007f\u2028\u2029]/g, ' ');

/** The whole character (with its marks) that begins at a UTF-16 index. */
const charAt = (text: string, index: number): string => String.fromCodePoint(text.codePointAt(index) ?? 0x20);

/** Marks that a reader never sees and a font need not have. */
const IGNORABLE = /^(?:[\u200b-\u200f\u202a-\u202e\u2060-\u2069]|\ufe0e|\ufe0f|\ufeff)$/;

/**
 * Sets the text of an inscription: one line a paragraph, letters from left to right, all lines starting at x = 0.
 * Justification needs the ink and is done by the caller.
 * @returns Places in mm; glyphs that are missing are listed and left out. O(length).
 */
export function computeLayout(inscription: Inscription, typeface: Typeface): LineLayout {
  const measured = inscription.heightOf === 'capitals' ? typeface.capHeight : typeface.unitsPerEm;
  const scale = inscription.heightMm / measured;
  const bodyMm = scale * typeface.unitsPerEm;
  const leadingMm = bodyMm * inscription.lineSpacingRatio;
  const glyphs: PlacedGlyph[] = [];
  const lineStarts = [0];
  const missing = new Set<string>();
  let lineStart = 0;
  const lines = cleanText(inscription.text).split('\n');
  lines.forEach((line, row) => {
    let x = 0;
    let previous: ShapedGlyph | null = null;
    for (const g of typeface.shapeLine(line, inscription)) {
      const char = charAt(line, g.cluster);
      // Spacing goes between letters: not before a mark that stands on the letter before it.
      if (previous && g.cluster !== previous.cluster && g.advance > 0) x += inscription.letterSpacingMm;
      if (g.glyph === 0) {
        if (!IGNORABLE.test(char)) missing.add(char);
      } else {
        glyphs.push({
          glyph: g.glyph,
          cluster: lineStart + g.cluster,
          char,
          xMm: x + g.offsetX * scale,
          yMm: -row * leadingMm + g.offsetY * scale,
        });
      }
      x += g.advance * scale;
      previous = g;
    }
    lineStarts.push(glyphs.length);
    lineStart += line.length + 1;
  });
  return {
    glyphs,
    missing: [...missing],
    scale,
    lineCount: lines.length,
    leadingMm,
    capHeightMm: scale * typeface.capHeight,
    lineStarts,
  };
}
