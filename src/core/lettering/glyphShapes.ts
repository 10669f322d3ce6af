import { offsetRings, unionRings } from '../base/boolean';
import { computeBox, packRings, type Box, type Rings } from '../base/rings';
import { FLATTEN_TOLERANCE_MM, flattenPath, type PathCommand } from './flatten';
import type { Typeface } from './typeface';

/** How a glyph is drawn: size, and what is done to it besides. */
export interface GlyphStyle {
  /** Millimetres a font unit stands for. */
  scale: number;
  widthRatio: number;
  /** Tangent of the synthesised slant. */
  slant: number;
  /** Synthesised weight, mm: outlines grown by half of it. */
  weightMm: number;
}

/** The drawing of a glyph, flattened and cleaned, origin at 0, mm. */
export interface GlyphShape {
  rings: Rings;
  box: Box;
  /** Largest distance between the rings and the font's own curves, to either side, mm. */
  offMm: number;
}

/** Keeps glyph drawings by typeface, glyph and style, so that a keystroke pays for new letters only. */
export interface GlyphCache {
  /** @param stretch By how much the drawing is yet to be stretched: it is flattened so much finer. */
  get(typeface: Typeface, glyph: number, style: GlyphStyle, stretch?: number): GlyphShape;
}

const MAX_CACHED_GLYPHS = 4000;
/** Chord error of the rounded corners of a grown outline, mm. */
const WEIGHT_ARC_MM = 0.002;

/** How much finer a letter is drawn where the lay is to bend it: bending adds its own error, and both together keep to the aim. */
const FINER = 2;

/** The drawing of a glyph that a lay goes on with: as it is where that is true to the sheet, finer where it bends. */
export const getLaidShape = (
  cache: GlyphCache,
  g: { typeface: Typeface; glyph: number; style: GlyphStyle; shape: GlyphShape },
  plain: boolean,
): GlyphShape => (plain ? g.shape : cache.get(g.typeface, g.glyph, g.style, FINER));

export function createGlyphCache(): GlyphCache {
  const shapes = new Map<string, GlyphShape>();
  return {
    get(typeface, glyph, style, stretch = 1) {
      const { scale, widthRatio, slant, weightMm } = style;
      const key = `${typeface.id}|${glyph}|${scale}|${widthRatio}|${slant}|${weightMm}|${stretch}`;
      let shape = shapes.get(key);
      if (!shape) {
        if (shapes.size >= MAX_CACHED_GLYPHS) shapes.clear();
        const closed = typeface.kind === 'outline';
        let offMm = 0;
        // Flattened last: what is done to the letter is done to its curves.
        const drawn = typeface.drawGlyph(glyph).map((c) => transform(c, style));
        const parts = flattenPath(drawn, FLATTEN_TOLERANCE_MM / stretch, closed, (off) => {
          offMm = Math.max(offMm, off);
        });
        const scaled = packRings(parts);
        let rings = closed ? unionRings(scaled) : scaled;
        if (closed && weightMm !== 0) rings = offsetRings(rings, weightMm / 2, WEIGHT_ARC_MM);
        shape = { rings, box: computeBox(rings.xy), offMm };
        shapes.set(key, shape);
      }
      return shape;
    },
  };
}

/** A drawing command at its final size, mm. */
const transform = ({ type, values }: PathCommand, { scale, widthRatio, slant }: GlyphStyle): PathCommand => ({
  type,
  values: values.map((v, i) => (i % 2 ? v * scale : (v * widthRatio + values[i + 1]! * slant) * scale)),
});
