import { computeSignedArea, type Affine } from '../base/rings';
import type { SeriesInscription } from '../job/schema';
import { computeMarks, countMarks, type SeriesMark } from './series';
import { computeSetting, type Setting } from './setting';
import { getLaidShape, type GlyphCache, type GlyphShape } from './glyphShapes';
import type { Typeface } from './typeface';

/** A glyph of a label: its shape, where it goes, and the foot of the mark it belongs to. */
export interface SeriesLabel {
  char: string;
  shape: GlyphShape;
  place: Affine;
  closed: boolean;
  foot: readonly [number, number];
  /** Index of its mark. */
  mark: number;
}

/** What a series comes to in its plane: marks as areas or strokes, and labels. */
export interface SeriesShapes {
  /** x y in turn, each with the foot it stands on; areas run counter-clockwise. */
  areas: { xy: number[]; foot: readonly [number, number] }[];
  strokes: { xy: number[]; foot: readonly [number, number] }[];
  labels: SeriesLabel[];
  missing: string[];
  /** First and last place of the scale, and the direction there: x, y, tx, ty each. */
  ends: Float64Array;
  marks: SeriesMark[];
  /** Marks left out since they fall on others, and labels that the list is short of. */
  doubled: number;
  unlabelled: number;
}

interface Frame {
  x: number;
  y: number;
  tx: number;
  ty: number;
}

/**
 * Draws the marks and labels of a series in a plane.
 * @param mmPerRad Plane mm that stand for one radian round the blank.
 * @param xMm Plane place of the series.
 * @param plain Whether the lay is true to the sheet, so that nothing is bent.
 * @returns Null if it would have more marks than `maxMarks`. O(marks + glyphs).
 */
export function computeSeries(
  s: SeriesInscription,
  typeface: Typeface,
  cache: GlyphCache,
  mmPerRad: number,
  xMm: number,
  yMm: number,
  maxMarks: number,
  plain = true,
): SeriesShapes | null {
  if (!(countMarks(s) <= maxMarks)) return null;
  const { marks, doubled, unlabelled } = computeMarks(s);
  const turn = (s.rotationDeg * Math.PI) / 180;
  const flip = s.mirrored ? -1 : 1;
  const frameAt = (share: number): Frame => {
    if (s.shape === 'dial') {
      const a = turn + flip * ((s.spanDeg * Math.PI) / 180) * share;
      const sense = flip * (Math.sign(s.spanDeg) || 1);
      return { x: xMm + s.radiusMm * Math.cos(a), y: yMm + s.radiusMm * Math.sin(a), tx: -sense * Math.sin(a), ty: sense * Math.cos(a) };
    }
    const [dx, dy] = s.shape === 'along' ? [Math.cos(turn), Math.sin(turn)] : [0, 1];
    const span = flip * (s.shape === 'along' ? s.spanMm : (s.spanDeg * Math.PI * mmPerRad) / 180);
    const sense = Math.sign(span) || 1;
    return { x: xMm + span * share * dx, y: yMm + span * share * dy, tx: sense * dx, ty: sense * dy };
  };
  const areas: SeriesShapes['areas'] = [],
    strokes: SeriesShapes['strokes'] = [];
  const labels: SeriesShapes['labels'] = [];
  const missing = new Set<string>();
  const settings = new Map<string, Setting>();
  const longest = Math.max(
    s.minor.every > 0 ? s.minor.lengthMm : 0,
    s.middle.every > 0 ? s.middle.lengthMm : 0,
    s.major.every > 0 ? s.major.lengthMm : 0,
  );
  const reach = (side: 1 | -1): number => (s.marksTo === 'both' ? longest / 2 : (s.marksTo === 'left' ? 1 : -1) === side ? longest : 0);

  for (const mark of marks) {
    const f = frameAt(mark.share);
    const foot = [f.x, f.y] as const;
    // Left of the direction of the scale, seen from outside; a mirror swaps the sides.
    const nx = -f.ty * flip,
      ny = f.tx * flip;
    if (mark.lengthMm > 0) {
      const [from, to] =
        s.marksTo === 'both' ? [-mark.lengthMm / 2, mark.lengthMm / 2] : s.marksTo === 'left' ? [0, mark.lengthMm] : [0, -mark.lengthMm];
      if (mark.widthMm > 0) {
        const h = mark.widthMm / 2;
        areas.push({
          xy: toCounterClockwise(
            [
              [-h, from],
              [h, from],
              [h, to],
              [-h, to],
            ].flatMap(([u, v]) => [f.x + u! * f.tx + v! * nx, f.y + u! * f.ty + v! * ny]),
          ),
          foot,
        });
      } else strokes.push({ xy: [f.x + from * nx, f.y + from * ny, f.x + to * nx, f.y + to * ny], foot });
    }
    if (mark.label === null || mark.label === '') continue;
    let setting = settings.get(mark.label);
    if (!setting) {
      setting = computeSetting(
        mark.label,
        { ...s, fit: { to: 'none' }, justify: 'centre', wordSpacingMm: 0, lineSpacingRatio: 1.3 },
        { typeface, fallback: null, cache, targetMm: null },
      );
      settings.set(mark.label, setting);
    }
    setting.missing.forEach((c) => missing.add(c));
    const side = s.labels.side === 'left' ? 1 : -1;
    const [rx, ry] = readingDirection(s, f, side * nx, side * ny, turn);
    const w = setting.widthMm,
      h = setting.capHeightMm;
    // Half of the label's box in the direction away from the scale.
    const half = Math.abs(rx * nx + ry * ny) * (w / 2) + Math.abs(-ry * nx + rx * ny) * (h / 2);
    const away = side * (reach(side) + s.labels.gapMm + half);
    const cx = f.x + away * nx,
      cy = f.y + away * ny;
    for (const g of setting.glyphs) {
      const du = g.xMm - w / 2,
        dv = g.yMm - h / 2;
      // Its own x runs as it is read, its own y up: of a mirrored scale the image of both.
      const m: Affine = { a: rx, b: ry, c: -ry * flip, d: rx * flip, e: cx + rx * du - ry * flip * dv, f: cy + ry * du + rx * flip * dv };
      labels.push({
        char: g.char,
        shape: getLaidShape(cache, g, plain),
        place: m,
        closed: g.typeface.kind === 'outline',
        foot,
        mark: mark.index,
      });
    }
  }
  const [a, b] = [frameAt(0), frameAt(1)];
  return {
    areas,
    strokes,
    labels,
    missing: [...missing],
    marks,
    doubled,
    unlabelled,
    ends: Float64Array.from([a.x, a.y, a.tx, a.ty, b.x, b.y, b.tx, b.ty]),
  };
}

/** Unit direction in which a label is read; for a mirrored scale its image, a dial's about where it starts. */
function readingDirection(s: SeriesInscription, f: Frame, ox: number, oy: number, turn: number): [number, number] {
  const image = s.mirrored ? -1 : 1;
  switch (s.labels.turn) {
    case 'tangential':
      return [f.tx, f.ty];
    case 'radial':
      return [ox, oy];
    case 'upright':
      if (s.shape === 'along') return [f.tx, f.ty];
      if (s.shape === 'round') return [Math.cos(turn), image * Math.sin(turn)];
      return s.mirrored ? [Math.cos(2 * turn), Math.sin(2 * turn)] : [1, 0];
  }
}

/** The ring, run so that its area is on the left. */
function toCounterClockwise(ring: number[]): number[] {
  if (computeSignedArea(ring) >= 0) return ring;
  const back: number[] = [];
  for (let i = ring.length - 2; i >= 0; i -= 2) back.push(ring[i]!, ring[i + 1]!);
  return back;
}
