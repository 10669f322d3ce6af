import type { Face } from '../job/schema';
import type { GlyphStyle } from './glyphShapes';
import type { ShapedGlyph, Typeface } from './typeface';

/** A glyph put in its place: origin in local mm (y up, first baseline at 0), `cluster` in the whole text. */
export interface PlacedGlyph {
  typeface: Typeface;
  style: GlyphStyle;
  glyph: number;
  cluster: number;
  char: string;
  row: number;
  xMm: number;
  yMm: number;
  advanceMm: number;
}

/** What a text needs besides its face to be laid out. */
export interface LayoutOptions {
  wordSpacingMm: number;
  lineSpacingRatio: number;
  /** Break lines at spaces where they get longer than this; null: only where the text breaks. */
  wrapMm: number | null;
  /** Added between letters on top of the face's own spacing, mm, per row. */
  extraGapMm: (row: number) => number;
  /** Added at spaces, mm, per row. */
  extraSpaceMm: (row: number) => number;
  /** Whether letters are spaced out besides the face's own spacing: ligatures are then undone. */
  tracked: boolean;
}

export const PLAIN_LAYOUT: LayoutOptions = {
  wordSpacingMm: 0,
  lineSpacingRatio: 1.3,
  wrapMm: null,
  extraGapMm: () => 0,
  extraSpaceMm: () => 0,
  tracked: false,
};

export interface Layout {
  glyphs: PlacedGlyph[];
  /** Characters that neither font has, and those taken from the second. */
  missing: string[];
  fallbacks: string[];
  lineCount: number;
  /** Whether a row was broken by wrapping, and goes on in the next. */
  goesOn: boolean[];
  /** Gaps between letters, and spaces, in each row. */
  gaps: number[];
  spaces: number[];
  /** Distance of baselines, mm. */
  leadingMm: number;
  capHeightMm: number;
}

/** Control characters other than line ends are set as spaces. */
const cleanText = (text: string): string =>
  // eslint-disable-next-line no-control-regex
  text.replace(/\r\n?/g, '\n').replace(/[\u0000-\u0009\u000b-\u001f\u007f\u2028\u2029]/g, ' ');

/** The whole character (with its marks) that begins at a UTF-16 index. */
const charAt = (text: string, index: number): string => String.fromCodePoint(text.codePointAt(index) ?? 0x20);

/** Marks that a reader never sees and a font need not have. */
const IGNORABLE = /^(?:[\u200b-\u200f\u202a-\u202e\u2060-\u2069]|\ufe0e|\ufe0f|\ufeff)$/;
const isSpace = (char: string): boolean => /^\s$/u.test(char);

/** The style of a face in a typeface: the second font is brought to the same height of capitals or body. */
export function toStyle(face: Face, typeface: Typeface): GlyphStyle {
  return {
    scale: face.heightMm / (face.heightOf === 'capitals' ? typeface.capHeight : typeface.unitsPerEm),
    widthRatio: face.widthRatio,
    slant: Math.tan((face.slantDeg * Math.PI) / 180),
    weightMm: face.weightMm,
  };
}

/**
 * Sets a text: one line a paragraph (or more, wrapped), letters from left to right, all lines starting at x = 0.
 * Justification needs the ink and is done by the caller.
 * @param fallback Typeface for characters that the first has not got, or null.
 * @returns Places in mm; glyphs that are missing are listed and left out. O(length).
 */
export function computeLayout(source: string, own: Face, typeface: Typeface, fallback: Typeface | null, options: LayoutOptions): Layout {
  // Letters that are spaced do not join. Source: CSS Text Module Level 3, letter-spacing: optional ligatures are not applied then.
  const spaced = options.tracked || own.letterSpacingMm !== 0 || own.letterSpacingPercent !== 0;
  const face: Face = spaced ? { ...own, ligatures: false } : own;
  const style = toStyle(face, typeface);
  const fallbackStyle = fallback ? toStyle(face, fallback) : style;
  const capHeightMm = style.scale * typeface.capHeight;
  const leadingMm = style.scale * typeface.unitsPerEm * options.lineSpacingRatio;
  const gapMm = face.letterSpacingMm + (face.letterSpacingPercent / 100) * capHeightMm;
  const layout: Layout = { glyphs: [], missing: [], fallbacks: [], lineCount: 0, goesOn: [], gaps: [], spaces: [], leadingMm, capHeightMm };
  const missing = new Set<string>(),
    fallbacks = new Set<string>();

  const setRow = (line: string, lineStart: number, goesOn: boolean): void => {
    const row = layout.lineCount++;
    let x = 0,
      gaps = 0,
      spaces = 0;
    let previous: ShapedGlyph | null = null;
    for (const g of typeface.shapeLine(line, face)) {
      const char = charAt(line, g.cluster);
      // Spacing goes between letters: not before a mark that stands on the letter before it.
      if (previous && g.cluster !== previous.cluster && g.advance > 0) {
        x += gapMm + options.extraGapMm(row);
        gaps++;
      }
      const parts: { typeface: Typeface; style: GlyphStyle; glyphs: ShapedGlyph[] } =
        g.glyph !== 0 || !fallback
          ? { typeface, style, glyphs: [g] }
          : { typeface: fallback, style: fallbackStyle, glyphs: fallback.shapeLine(char, face) };
      for (const part of parts.glyphs) {
        const unit = parts.style.scale * parts.style.widthRatio;
        const advanceMm = part.advance * unit;
        if (part.glyph === 0) {
          if (!IGNORABLE.test(char)) missing.add(char);
        } else {
          if (parts.typeface !== typeface) fallbacks.add(char);
          layout.glyphs.push({
            typeface: parts.typeface,
            style: parts.style,
            glyph: part.glyph,
            cluster: lineStart + g.cluster,
            char,
            row,
            xMm: x + part.offsetX * unit,
            yMm: -row * leadingMm + part.offsetY * parts.style.scale,
            advanceMm,
          });
        }
        x += advanceMm;
      }
      if (isSpace(char)) {
        x += options.wordSpacingMm + options.extraSpaceMm(row);
        spaces++;
      }
      previous = g;
    }
    layout.goesOn.push(goesOn);
    layout.gaps.push(gaps);
    layout.spaces.push(spaces);
  };

  let lineStart = 0;
  for (const line of cleanText(source).split('\n')) {
    const breaks = options.wrapMm === null ? [] : findBreaks(line, typeface, face, style, gapMm, options.wordSpacingMm, options.wrapMm);
    let from = 0;
    for (const at of [...breaks, line.length]) {
      setRow(line.slice(from, at).trimEnd(), lineStart + from, at < line.length);
      from = at;
      while (from < line.length && line[from] === ' ') from++;
    }
    lineStart += line.length + 1;
  }
  layout.missing = [...missing];
  layout.fallbacks = [...fallbacks];
  return layout;
}

/** Where a line is broken so that no part is longer than the width: after the last space that fits. A long word stays whole. */
function findBreaks(
  line: string,
  typeface: Typeface,
  face: Face,
  style: GlyphStyle,
  gapMm: number,
  wordSpacingMm: number,
  widthMm: number,
): number[] {
  const advance = new Float64Array(line.length + 1);
  for (const g of typeface.shapeLine(line, face))
    advance[g.cluster]! += g.advance * style.scale * style.widthRatio + (g.advance > 0 ? gapMm : 0);
  const breaks: number[] = [];
  let start = 0,
    width = 0,
    space = -1;
  for (let i = 0; i < line.length; i++) {
    if (line[i] === ' ') space = i;
    width += advance[i]! + (line[i] === ' ' ? wordSpacingMm : 0);
    if (width - gapMm > widthMm && space > start && line[i] !== ' ') {
      breaks.push(space + 1);
      start = space + 1;
      width = 0;
      for (let k = start; k <= i; k++) width += advance[k]!;
    }
  }
  return breaks;
}
