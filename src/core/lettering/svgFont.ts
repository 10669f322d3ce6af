import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { err, ok, type Result } from '../base/result';
import { flattenCubic, flattenQuadratic } from './flatten';
import type { StrokeFontData } from './strokeTypeface';
import type { FontError } from './typeface';

/** Chord error of curves, as a share of the em. */
const TOLERANCE_EM = 0.0005;
const MAX_GLYPHS = 5000;
/** Units per em that fonts are drawn in; the OpenType standard allows 16 to 16384, stroke fonts by hand use less and more. */
const UNITS_PER_EM = [1, 1e6] as const;
/** A glyph reaches at most so many ems from its origin. */
const MAX_EMS = 100;
/** Most numbers of all strokes together: a font of 5000 glyphs with 200 points each. */
const MAX_NUMBERS = 2e6;

type Node = Record<string, unknown>;
const list = (value: unknown): Node[] => (Array.isArray(value) ? (value as Node[]) : value ? [value as Node] : []);

/** Finds every element of a name, at any depth. */
function findAll(node: unknown, name: string, out: Node[] = [], depth = 0): Node[] {
  if (typeof node !== 'object' || node === null || depth > 50) return out;
  for (const [key, value] of Object.entries(node)) {
    if (key === name) out.push(...list(value));
    if (typeof value === 'object') findAll(value, name, out, depth + 1);
  }
  return out;
}

/**
 * Reads a stroke font from an SVG font: each glyph's path is a set of open lines.
 * @returns The font as Hobel keeps it, or why it is none. Source: SVG 1.1, chapter 20 (from memory).
 */
export function readSvgFont(text: string, name: string): Result<StrokeFontData, FontError> {
  let document: unknown;
  try {
    document = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      parseAttributeValue: false,
      processEntities: true,
      htmlEntities: true,
    }).parse(text);
  } catch {
    return err({ kind: 'fontNotRecognised', name });
  }
  const font = findAll(document, 'font')[0];
  if (!font) return err({ kind: 'fontNotRecognised', name });
  const face = findAll(font, 'font-face')[0] ?? {};
  const unitsPerEm = Number(face['units-per-em'] ?? 1000);
  const fontAdvance = Number(font['horiz-adv-x'] ?? unitsPerEm);
  if (!(unitsPerEm >= UNITS_PER_EM[0] && unitsPerEm <= UNITS_PER_EM[1])) return err({ kind: 'fontNotRecognised', name });
  const limit = MAX_EMS * unitsPerEm;
  const isDrawable = (values: readonly number[]): boolean => values.every((v) => Math.abs(v) <= limit);
  const defaultAdvance = isDrawable([fontAdvance]) ? fontAdvance : unitsPerEm;
  let numbers = 0;
  const tolerance = unitsPerEm * TOLERANCE_EM;
  const glyphs: StrokeFontData['glyphs'] = [];
  for (const glyph of findAll(font, 'glyph').slice(0, MAX_GLYPHS)) {
    const char = String(glyph.unicode ?? '');
    if ([...char].length !== 1) continue;
    const strokes: number[][] = [];
    let stroke: number[] = [];
    let damaged = false;
    const finish = () => {
      if (stroke.length >= 4) strokes.push(stroke);
      numbers += stroke.length;
      stroke = [];
    };
    svgpath(String(glyph.d ?? ''))
      .abs()
      .unarc()
      .unshort()
      .iterate(([type, ...v], _i, x, y) => {
        const n = v as number[];
        if (damaged || !isDrawable(n)) damaged = true;
        else if (type === 'M') {
          finish();
          stroke = [n[0]!, n[1]!];
        } else if (type === 'L') stroke.push(n[0]!, n[1]!);
        else if (type === 'H') stroke.push(n[0]!, y);
        else if (type === 'V') stroke.push(x, n[0]!);
        else if (type === 'C') flattenCubic(stroke, [x, y, ...n], tolerance);
        else if (type === 'Q') flattenQuadratic(stroke, [x, y, ...n], tolerance);
        else if (type === 'Z' && stroke.length >= 4) stroke.push(stroke[0]!, stroke[1]!);
      });
    finish();
    if (numbers > MAX_NUMBERS) return err({ kind: 'fontNotRecognised', name });
    // A glyph that leaves its em by far is not drawn: the lettering then names it as missing.
    if (damaged) continue;
    const advance = Number(glyph['horiz-adv-x'] ?? defaultAdvance);
    glyphs.push({ char, advance: isDrawable([advance]) ? advance : defaultAdvance, strokes });
  }
  const inked = glyphs.filter((g) => g.strokes.length);
  if (!inked.length) return err({ kind: 'fontEmpty', name });
  const tallOf = (char: string): number =>
    Math.max(0, ...(glyphs.find((g) => g.char === char)?.strokes.flatMap((s) => s.filter((_, i) => i % 2 === 1)) ?? []));
  const capHeight = ['H', 'E', 'X', 'I'].map(tallOf).find((h) => h > 0) ?? 0.7 * unitsPerEm;
  return ok({
    format: 'hobel-stroke-font',
    version: 1,
    family: String(face['font-family'] ?? font.id ?? name),
    credit: '',
    unitsPerEm,
    capHeight,
    glyphs,
  });
}
