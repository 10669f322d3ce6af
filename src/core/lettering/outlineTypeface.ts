import bidiFactory from 'bidi-js';
import type * as HarfBuzz from 'harfbuzzjs';
import { err, ok, type Result } from '../base/result';
import type { PathCommand } from './flatten';
import { MAX_FONT_BYTES, type FontError, type ShapedGlyph, type ShapeOptions, type Typeface } from './typeface';

/** The first four bytes of the font files HarfBuzz reads: TrueType, OpenType CFF, Apple TrueType, collections. */
const SFNT_TAGS = new Set([0x00010000, 0x4f54544f, 0x74727565, 0x74746366]);
const CAP_HEIGHT_PROBES = 'HEXIZ';
const OS2_CAP_HEIGHT_OFFSET = 88;

/**
 * Reads an outline font with HarfBuzz: shaping with kerning and ligatures, outlines, bidirectional lines.
 * @param bytes A TTF or OTF file; not mutated.
 * @returns A typeface, or `fontNotRecognised` / `fontEmpty` / `fontTooLarge`.
 * Sources: OpenType specification (OS/2 sCapHeight at byte 88, version ≥ 2); Unicode UAX #9 by way of bidi-js.
 */
export function createOutlineTypeface(
  hb: typeof HarfBuzz,
  id: string,
  name: string,
  bytes: Uint8Array,
  sha256 = '',
): Result<Typeface, FontError> {
  if (bytes.length > MAX_FONT_BYTES) {
    return err({ kind: 'fontTooLarge', name, bytes: bytes.length, limitBytes: MAX_FONT_BYTES });
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 12 || !SFNT_TAGS.has(view.getUint32(0))) return err({ kind: 'fontNotRecognised', name });
  const face = new hb.Face(new hb.Blob(bytes));
  const codePoints = face.collectUnicodes();
  const font = new hb.Font(face);
  const unitsPerEm = face.upem;
  if (codePoints.length === 0 || !(unitsPerEm > 0)) return err({ kind: 'fontEmpty', name });
  const inked = (ch: string) => {
    const glyph = font.glyph(ch.codePointAt(0)!);
    return glyph ? font.glyphExtents(glyph) : undefined;
  };
  const hasInk = Array.from(codePoints.slice(0, 400)).some((cp) => {
    const extents = font.glyphExtents(font.glyph(cp) ?? 0);
    return extents !== undefined && extents.width !== 0;
  });
  if (!hasInk) return err({ kind: 'fontEmpty', name });

  const bidi = bidiFactory();
  const drawings = new Map<number, readonly PathCommand[]>();
  const kerningOff = new hb.Feature('kern', 0);
  const ligaturesOff = ['liga', 'clig', 'calt'].map((tag) => new hb.Feature(tag, 0));

  const shapeRun = (text: string, start: number, end: number, level: number, options: ShapeOptions): ShapedGlyph[] => {
    const buffer = new hb.Buffer();
    buffer.addText(text, start, end - start);
    buffer.guessSegmentProperties();
    buffer.setDirection(level % 2 ? hb.Direction.RTL : hb.Direction.LTR);
    const features = [...(options.kerning ? [] : [kerningOff]), ...(options.ligatures ? [] : ligaturesOff)];
    hb.shape(font, buffer, features);
    const infos = buffer.getGlyphInfos();
    return buffer.getGlyphPositions().map((p, i) => ({
      glyph: infos[i]!.codepoint,
      cluster: infos[i]!.cluster,
      advance: p.xAdvance,
      offsetX: p.xOffset,
      offsetY: p.yOffset,
    }));
  };

  return ok({
    id,
    kind: 'outline',
    sha256,
    family: face.getName(16, 'en') || face.getName(1, 'en') || name,
    style: face.getName(17, 'en') || face.getName(2, 'en') || '',
    characters: codePoints,
    unitsPerEm,
    capHeight: readCapHeight(face) || measureCapHeight(inked) || 0.7 * unitsPerEm,
    shapeLine(text, options) {
      const { levels } = bidi.getEmbeddingLevels(text, 'auto');
      const runs: { start: number; end: number; level: number }[] = [];
      for (let i = 0; i < text.length; i++) {
        const last = runs[runs.length - 1];
        if (last && last.level === levels[i]) last.end = i + 1;
        else runs.push({ start: i, end: i + 1, level: levels[i]! });
      }
      return orderRunsVisually(runs).flatMap((run) => shapeRun(text, run.start, run.end, run.level, options));
    },
    drawGlyph(glyph) {
      let drawing = drawings.get(glyph);
      if (!drawing) {
        drawing = font.glyphToJson(glyph) as readonly PathCommand[];
        drawings.set(glyph, drawing);
      }
      return drawing;
    },
  });
}

/** Rule L2 of UAX #9: from the highest level down to the lowest odd one, turn round every run at that level or above. */
function orderRunsVisually<T extends { level: number }>(runs: readonly T[]): T[] {
  const out = [...runs];
  const highest = Math.max(0, ...runs.map((r) => r.level));
  for (let level = highest; level >= 1; level--) {
    for (let i = 0; i < out.length; i++) {
      if (out[i]!.level < level) continue;
      let j = i;
      while (j + 1 < out.length && out[j + 1]!.level >= level) j++;
      out.splice(i, j - i + 1, ...out.slice(i, j + 1).reverse());
      i = j;
    }
  }
  return out;
}

function readCapHeight(face: HarfBuzz.Face): number {
  const table = face.referenceTable('OS/2');
  if (!table || table.length < OS2_CAP_HEIGHT_OFFSET + 2) return 0;
  const view = new DataView(table.buffer, table.byteOffset, table.byteLength);
  return view.getUint16(0) >= 2 ? Math.max(0, view.getInt16(OS2_CAP_HEIGHT_OFFSET)) : 0;
}

function measureCapHeight(inked: (ch: string) => HarfBuzz.GlyphExtents | undefined): number {
  for (const ch of CAP_HEIGHT_PROBES) {
    const extents = inked(ch);
    if (extents && extents.yBearing > 0) return extents.yBearing;
  }
  return 0;
}
