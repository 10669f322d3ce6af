import { offsetRings, unionRings } from '../base/boolean';
import { computeBox, packRings, type Box, type Rings } from '../base/rings';
import { FLATTEN_TOLERANCE_MM, flattenPath } from './flatten';
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
}

/** Keeps glyph drawings by typeface, glyph and style, so that a keystroke pays for new letters only. */
export interface GlyphCache {
  get(typeface: Typeface, glyph: number, style: GlyphStyle): GlyphShape;
}

const MAX_CACHED_GLYPHS = 4000;
/** Chord error of the rounded corners of a grown outline, mm. */
const WEIGHT_ARC_MM = 0.002;

export function createGlyphCache(): GlyphCache {
  const shapes = new Map<string, GlyphShape>();
  return {
    get(typeface, glyph, style) {
      const { scale, widthRatio, slant, weightMm } = style;
      const key = `${typeface.id}|${glyph}|${scale}|${widthRatio}|${slant}|${weightMm}`;
      let shape = shapes.get(key);
      if (!shape) {
        if (shapes.size >= MAX_CACHED_GLYPHS) shapes.clear();
        const closed = typeface.kind === 'outline';
        const parts = flattenPath(typeface.drawGlyph(glyph), FLATTEN_TOLERANCE_MM / (scale * Math.max(1, widthRatio)), closed);
        const scaled = packRings(
          parts.map((part) => part.map((v, i) => (i % 2 ? v * scale : (v * widthRatio + part[i + 1]! * slant) * scale))),
        );
        let rings = closed ? unionRings(scaled) : scaled;
        if (closed && weightMm !== 0) rings = offsetRings(rings, weightMm / 2, WEIGHT_ARC_MM);
        shape = { rings, box: computeBox(rings.xy) };
        shapes.set(key, shape);
      }
      return shape;
    },
  };
}
