import type { PathCommand } from './flatten';
import type { ShapedGlyph, Typeface } from './typeface';

/**
 * A stroke font as Hobel stores it: open lines in font units, y up, baseline at 0.
 * `strokes` holds one array `[x0, y0, x1, y1, …]` per line of the glyph.
 */
export interface StrokeFontData {
  format: 'hobel-stroke-font';
  version: 1;
  family: string;
  credit: string;
  unitsPerEm: number;
  capHeight: number;
  glyphs: { char: string; advance: number; strokes: number[][] }[];
}

/** A typeface of a stroke font. Composed characters are looked up first, then their base letter's parts in turn. O(length). */
export function createStrokeTypeface(id: string, data: StrokeFontData, sha256 = ''): Typeface {
  const indexOf = new Map(data.glyphs.map((g, i) => [g.char, i + 1]));
  const drawings = data.glyphs.map((g) =>
    g.strokes.flatMap((s): PathCommand[] => {
      const commands: PathCommand[] = [];
      for (let i = 0; i + 1 < s.length; i += 2) commands.push({ type: i === 0 ? 'M' : 'L', values: [s[i]!, s[i + 1]!] });
      return commands;
    }),
  );
  return {
    id,
    kind: 'stroke',
    sha256,
    family: data.family,
    style: 'Single line',
    characters: data.glyphs.map((g) => g.char.codePointAt(0)!).sort((a, b) => a - b),
    unitsPerEm: data.unitsPerEm,
    capHeight: data.capHeight,
    shapeLine(text) {
      const out: ShapedGlyph[] = [];
      let at = 0;
      for (const ch of text) {
        const glyph = indexOf.get(ch) ?? 0;
        const advance = glyph ? data.glyphs[glyph - 1]!.advance : 0;
        out.push({ glyph, cluster: at, advance, offsetX: 0, offsetY: 0 });
        at += ch.length;
      }
      return out;
    },
    drawGlyph: (glyph) => drawings[glyph - 1] ?? [],
  };
}
