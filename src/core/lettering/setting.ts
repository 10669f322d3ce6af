import { isEmptyBox, joinBoxes, type Box } from '../base/rings';
import type { TextInscription } from '../job/schema';
import type { GlyphCache, GlyphShape } from './glyphShapes';
import { computeLayout, type Layout, type LayoutOptions, type PlacedGlyph } from './layout';
import type { Typeface } from './typeface';

/** A glyph of a set text with its drawing; local mm, first baseline at y = 0, ink from x = 0 on. */
export interface SetGlyph extends PlacedGlyph {
  shape: GlyphShape;
  /** Box of its ink; empty for a space. */
  box: Box;
}

/** A text set and justified, before it is put anywhere. */
export interface Setting {
  glyphs: SetGlyph[];
  missing: string[];
  fallbacks: string[];
  /** Ink width of the widest row, mm. */
  widthMm: number;
  capHeightMm: number;
  leadingMm: number;
  lineCount: number;
  /** What everything was scaled by to fit, 1 if not. */
  scale: number;
  /** The length it was to come to and does not, or only with letters on each other (`tight`), mm; else null. */
  missedMm: number | null;
  tight: boolean;
}

export const EMPTY_BOX: Box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };

/** The length wording has to come to along its line, from its fit; null if that leaves it alone. */
export type TargetMm = number | null;

/** What a setting depends on besides the wording's own settings. */
export interface SettingContext {
  typeface: Typeface;
  fallback: Typeface | null;
  cache: GlyphCache;
  /** Length asked for by a fit to a length, an angle, a turn or a guide, mm. */
  targetMm: TargetMm;
}

type Wording = Pick<TextInscription, 'fit' | 'justify' | 'wordSpacingMm' | 'lineSpacingRatio'> & Parameters<typeof computeLayout>[1];

/**
 * Sets, fits and justifies a text. Widths are those of the ink, as a caliper would measure them; heights go from the last
 * baseline to the first line's capitals, so that a tail does not shift the words.
 * @returns Local places. A fit by scale changes heights and spaces alike. O(length).
 */
export function computeSetting(text: string, wording: Wording, context: SettingContext): Setting {
  const { fit } = wording;
  const wrap = fit.to === 'box' && fit.how === 'wrap' ? fit.widthMm : null;
  const plain = setOnce(text, wording, context, 1, wrap, null);
  if (fit.to === 'box' && fit.how !== 'wrap') {
    const height = plain.capHeightMm + (plain.lineCount - 1) * plain.leadingMm;
    if (!(plain.widthMm > 0)) return plain;
    const room = Math.min(fit.widthMm / plain.widthMm, fit.heightMm / height);
    const scale = fit.how === 'shrink' ? Math.min(1, room) : room;
    return scale === 1 ? plain : setOnce(text, wording, context, scale, null, null);
  }
  const target = context.targetMm;
  if (target === null || !(plain.widthMm > 0) || !('by' in fit)) return plain;
  // Nothing comes to a length of nothing: the gap is as long as the line.
  if (!(target > LEAST_MM)) return { ...plain, missedMm: Math.max(0, target) };
  if (fit.by === 'scale') {
    const made = setOnce(text, wording, context, target / plain.widthMm, null, null);
    // Ink is measured on the grid: a small letter made large is a little off, and so is set once more.
    return setOnce(text, wording, context, (made.scale * target) / made.widthMm, null, null);
  }
  const made = setOnce(text, wording, context, 1, null, target);
  const tight = runsTogether(made) && !runsTogether(plain);
  return tight || Math.abs(made.widthMm - target) > FIT_SLACK_MM ? { ...made, missedMm: target, tight } : made;
}

/** Shortest line that lettering is fitted to, mm. */
const LEAST_MM = 0.1;
/** A length within this of the one asked for is it, mm. */
const FIT_SLACK_MM = 0.01;

/** Whether a letter begins before the one to its left, or covers most of it. */
function runsTogether({ glyphs }: Setting): boolean {
  const inked = glyphs.filter((g) => !isEmptyBox(g.box));
  return inked.some((g, i) => {
    const next = inked[i + 1];
    if (!next || next.row !== g.row || next.cluster === g.cluster) return false;
    const shared = g.box.maxX - next.box.minX;
    return shared > 0.5 * Math.min(g.box.maxX - g.box.minX, next.box.maxX - next.box.minX);
  });
}

function setOnce(
  text: string,
  wording: Wording,
  context: SettingContext,
  scale: number,
  wrapMm: number | null,
  spreadMm: number | null,
): Setting {
  const { typeface, fallback, cache } = context;
  const face =
    scale === 1
      ? wording
      : {
          ...wording,
          heightMm: wording.heightMm * scale,
          letterSpacingMm: wording.letterSpacingMm * scale,
          weightMm: wording.weightMm * scale,
        };
  const options: LayoutOptions = {
    wordSpacingMm: wording.wordSpacingMm * scale,
    lineSpacingRatio: wording.lineSpacingRatio,
    wrapMm,
    extraGapMm: () => 0,
    extraSpaceMm: () => 0,
    tracked: spreadMm !== null,
  };
  let layout = computeLayout(text, face, typeface, fallback, options);
  let rows = measure(layout, cache);
  const widest = Math.max(0, ...rows.map((r) => r.width));
  const full = wording.justify === 'full';
  if (spreadMm !== null || full) {
    const target = spreadMm ?? wrapMm ?? widest;
    // Spacing goes between letters when a length is asked for, and between words when lines are made equally long.
    const stretched = (row: number): boolean => (spreadMm !== null ? true : !(wrapMm !== null && !layout.goesOn[row]));
    const missing = rows.map((r, row) => (r.width > 0 && stretched(row) ? target - r.width : 0));
    const first = layout;
    const byWords = (row: number): boolean => spreadMm === null && first.spaces[row]! > 0;
    layout = computeLayout(text, face, typeface, fallback, {
      ...options,
      extraGapMm: (row) => (byWords(row) || first.gaps[row] === 0 ? 0 : missing[row]! / first.gaps[row]!),
      extraSpaceMm: (row) => (byWords(row) ? missing[row]! / first.spaces[row]! : 0),
    });
    rows = measure(layout, cache);
  }
  const width = Math.max(0, ...rows.map((r) => r.width));
  const share = wording.justify === 'right' ? 1 : wording.justify === 'centre' ? 0.5 : 0;
  const shift = rows.map((r) => (r.width > 0 ? (width - r.width) * share - r.from : 0));
  const glyphs = layout.glyphs.map((g): SetGlyph => {
    const shape = cache.get(g.typeface, g.glyph, g.style);
    const x = g.xMm + shift[g.row]!;
    return { ...g, xMm: x, shape, box: isEmptyBox(shape.box) ? EMPTY_BOX : moveBox(shape.box, x, g.yMm) };
  });
  return {
    glyphs,
    missing: layout.missing,
    fallbacks: layout.fallbacks,
    widthMm: width,
    capHeightMm: layout.capHeightMm,
    leadingMm: layout.leadingMm,
    lineCount: layout.lineCount,
    scale,
    missedMm: null,
    tight: false,
  };
}

const moveBox = (b: Box, dx: number, dy: number): Box => ({ minX: b.minX + dx, minY: b.minY + dy, maxX: b.maxX + dx, maxY: b.maxY + dy });

/** Ink of each row: where it begins and how wide it is. */
function measure(layout: Layout, cache: GlyphCache): { from: number; width: number }[] {
  const boxes: Box[] = Array.from({ length: layout.lineCount }, () => EMPTY_BOX);
  for (const g of layout.glyphs) {
    const { box } = cache.get(g.typeface, g.glyph, g.style);
    if (!isEmptyBox(box)) boxes[g.row] = joinBoxes(boxes[g.row]!, moveBox(box, g.xMm, 0));
  }
  return boxes.map((b) => (isEmptyBox(b) ? { from: 0, width: 0 } : { from: b.minX, width: b.maxX - b.minX }));
}
