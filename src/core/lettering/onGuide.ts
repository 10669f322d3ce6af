import { intersectionArea } from '../base/boolean';
import { boxesOverlap, computeBox, isEmptyBox, packRings, type Affine, type Rings } from '../base/rings';
import { directBand } from '../guide/band';
import { reverseCurve, type Curve } from '../guide/curve';
import type { OnGuide } from '../job/schema';
import { BEND_TOLERANCE_MM, bendRings } from './bend';
import { getLaidShape, type GlyphCache } from './glyphShapes';
import { withDrawing, type LaidPiece, type PieceLayer } from './layPieces';
import type { SetGlyph, Setting } from './setting';

/** Letters laid along a guide, and what went wrong. */
export interface GuideLetters {
  /** Each glyph on the sheet, in the order of the setting. */
  placed: LaidPiece[];
  /** How far the ink runs past the ends of an open guide, mm; 0 if it does not. */
  overMm: number;
  /** Pairs of letters that run into each other, though they would not on a straight line. */
  collisions: [string, string][];
  /** Which way the inked letters' own right points, sheet, one unit vector each; empty where the lay bends it. */
  directions: [number, number][];
}

/** Neighbours that overlap by less than this only touch, mm². */
const COLLISION_MM2 = 1e-3;

/** Where the ink's left end comes to stand along the curve, mm. */
export function findStartMm(curve: Curve, onGuide: OnGuide, widthMm: number): number {
  switch (onGuide.from) {
    case 'start':
      return onGuide.distanceMm;
    case 'middle':
      return (curve.lengthMm - widthMm) / 2 + onGuide.distanceMm;
    case 'end':
      return curve.lengthMm - widthMm - onGuide.distanceMm;
  }
}

/**
 * Lays a set text along a guide.
 * Turned letters are moved and turned whole, by the point of the guide under their middle; upright ones are moved only; bent
 * ones have every point mapped, straight pieces split until they keep to the bend.
 * Where the sheet is not true, the curve's lengths are those on the surface, and letters are laid about their own place on it.
 * @param top A second guide that the tops of the capitals follow; letters are then bent between the two, so directed that they read right.
 * O(vertices).
 */
export function layOnGuide(
  setting: Setting,
  bottom: Curve,
  top: Curve | null,
  onGuide: OnGuide,
  mirrored: boolean,
  layer: PieceLayer,
  cache: GlyphCache,
): GuideLetters {
  const band = top ? directBand(bottom, top, onGuide.reversed) : null;
  const curve = band ? band.feet : onGuide.reversed ? reverseCurve(bottom) : bottom;
  const upper = band?.heads ?? null;
  const startMm = findStartMm(curve, onGuide, setting.widthMm);
  const base = onGuide.side === 'above' ? onGuide.offsetMm : -(setting.capHeightMm + onGuide.offsetMm);
  const at = new Float64Array(4),
    up = new Float64Array(4);
  const flip = mirrored ? -1 : 1;
  const across = (u: number): number => (mirrored ? setting.widthMm - u : u);
  const { lay, surface } = layer;
  const metric = new Float64Array(3);
  /** Direction of the curve in true angles against sheet x: the sheet's own where that is true. */
  const direction = (): [number, number] => {
    if (lay.plain) return [at[2]!, at[3]!];
    surface.metricInto(at[0]!, at[1]!, metric);
    const [e, f, h] = [metric[0]!, metric[1]!, metric[2]!];
    const c = (e * at[2]! + f * at[3]!) / Math.sqrt(e),
      s = (Math.sqrt(Math.max(0, e * h - f * f)) * at[3]!) / Math.sqrt(e);
    const length = Math.hypot(c, s) || 1;
    return [c / length, s / length];
  };

  /** Where a place of the setting comes to stand when letters are bent. */
  const mapBent = (u: number, v: number, out: Float64Array): void => {
    const s = startMm + across(u);
    curve.at(s, at);
    if (upper) {
      upper.at((s / curve.lengthMm) * upper.lengthMm, up);
      const share = v / setting.capHeightMm;
      out[0] = at[0]! + share * (up[0]! - at[0]!);
      out[1] = at[1]! + share * (up[1]! - at[1]!);
    } else if (lay.plain) {
      out[0] = at[0]! - (base + v) * at[3]!;
      out[1] = at[1]! + (base + v) * at[2]!;
    } else {
      const [c, d] = direction();
      surface.expInto(at[0]!, at[1]!, -(base + v) * d, (base + v) * c, out);
    }
  };
  const directions: [number, number][] = [];
  const placed = setting.glyphs.map((g): LaidPiece => {
    const closed = g.typeface.kind === 'outline';
    if (isEmptyBox(g.box)) return whole(packRings([]));
    if (onGuide.letters === 'bent' || upper) {
      curve.at(startMm + across(middleOf(setting.glyphs, g)), at);
      directions.push([at[2]!, at[3]!]);
      return bendGlyph(g, closed, mapBent, cache);
    }
    // Marks go with the letter they stand on: both turn about the middle of the same cluster.
    const middle = middleOf(setting.glyphs, g);
    curve.at(startMm + across(middle), at);
    const run = direction();
    const [tx, ty] = onGuide.letters === 'upright' ? [1, 0] : run;
    directions.push([tx, ty]);
    const lift = onGuide.letters === 'upright' ? base + setting.capHeightMm / 2 : base;
    const px = -lift * run[1],
      py = lift * run[0];
    const dv = onGuide.letters === 'upright' ? -setting.capHeightMm / 2 : 0;
    const du = g.xMm - middle;
    const m: Affine = {
      a: tx * flip,
      b: ty * flip,
      c: -ty,
      d: tx,
      e: px + tx * flip * du - ty * (g.yMm + dv),
      f: py + ty * flip * du + tx * (g.yMm + dv),
    };
    const shape = getLaidShape(cache, g, lay.plain);
    return withDrawing(layer.layAt(shape.rings, m, closed, at[0]!, at[1]!), shape);
  });
  const overMm = curve.closed
    ? Math.max(0, setting.widthMm - curve.lengthMm)
    : Math.max(0, -startMm, startMm + setting.widthMm - curve.lengthMm);
  return {
    placed,
    directions,
    overMm,
    collisions: findCollisions(
      setting.glyphs,
      placed.map((p) => p.rings),
    ),
  };
}

const whole = (rings: Rings, mirrored = false, offMm = 0): LaidPiece => ({ rings, stretch: 1, facing: 1, lands: true, mirrored, offMm });

/** Places over a letter's box at which its bending is measured, each way, and most that it counts. */
const PROBES = 4;
const MAX_STRETCH = 32;

/** A letter bent by a map, drawn so fine that its chords keep to its curves after stretching too. */
function bendGlyph(g: SetGlyph, closed: boolean, map: (u: number, v: number, out: Float64Array) => void, cache: GlyphCache): LaidPiece {
  const [p, q, r] = [0, 1, 2].map(() => new Float64Array(3)) as [Float64Array, Float64Array, Float64Array];
  const step = 1e-4 * Math.max(g.box.maxX - g.box.minX, g.box.maxY - g.box.minY, 1e-3);
  let longest = 1,
    turned = 0;
  for (let i = 0; i <= PROBES; i++) {
    for (let k = 0; k <= PROBES; k++) {
      const u = g.box.minX + (i / PROBES) * (g.box.maxX - g.box.minX),
        v = g.box.minY + (k / PROBES) * (g.box.maxY - g.box.minY);
      map(u, v, p);
      map(u + step, v, q);
      map(u, v + step, r);
      const [ax, ay, bx, by] = [q[0]! - p[0]!, q[1]! - p[1]!, r[0]! - p[0]!, r[1]! - p[1]!];
      longest = Math.max(longest, Math.hypot(ax, ay, bx, by) / step);
      turned += Math.sign(ax * by - ay * bx);
    }
  }
  // By powers of two, so that letters of about one stretch share a drawing.
  const stretch = Math.min(MAX_STRETCH, 2 ** Math.ceil(Math.log2(longest) - 0.25));
  const { rings, offMm } = stretch > 1 ? cache.get(g.typeface, g.glyph, g.style, stretch) : g.shape;
  return whole(bendRings(rings, g.xMm, g.yMm, closed, map), turned < 0, BEND_TOLERANCE_MM + offMm * longest);
}

/** Middle of a letter's advance; a mark has that of the letter it stands on. */
export function middleOf(glyphs: readonly SetGlyph[], g: SetGlyph): number {
  const base = baseOf(glyphs, g);
  return base.xMm + base.advanceMm / 2;
}

/** The glyph that carries a cluster: itself, or the letter that a mark belongs to. */
const baseOf = (glyphs: readonly SetGlyph[], g: SetGlyph): SetGlyph =>
  g.advanceMm > 0 ? g : (glyphs.find((o) => o.cluster === g.cluster && o.advanceMm > 0) ?? g);

/** From a glyph's own place to the middle of its letter's ink along the line, mm; kerning does not move it: equal letters have it alike. */
export function findInkMiddle(glyphs: readonly SetGlyph[], g: SetGlyph): number {
  const base = baseOf(glyphs, g);
  const { box } = base.shape;
  return base.xMm - g.xMm + (isEmptyBox(box) ? base.advanceMm / 2 : (box.minX + box.maxX) / 2);
}

/** Neighbours on the guide whose areas overlap, though side by side on a line they would not. */
function findCollisions(glyphs: readonly SetGlyph[], placed: readonly Rings[]): [string, string][] {
  const out: [string, string][] = [];
  const inked = glyphs.map((_, i) => i).filter((i) => !isEmptyBox(glyphs[i]!.box) && glyphs[i]!.typeface.kind === 'outline');
  const boxes = new Map(inked.map((i) => [i, computeBox(placed[i]!.xy)]));
  inked.forEach((i, k) => {
    // The next two: round a tight curve a letter can reach past its neighbour.
    for (const j of inked.slice(k + 1, k + 3)) {
      if (glyphs[i]!.row !== glyphs[j]!.row || glyphs[i]!.cluster === glyphs[j]!.cluster) continue;
      if (!boxesOverlap(boxes.get(i)!, boxes.get(j)!)) continue;
      if (boxesOverlap(glyphs[i]!.box, glyphs[j]!.box)) continue;
      if (intersectionArea(placed[i]!, placed[j]!) > COLLISION_MM2) out.push([glyphs[i]!.char, glyphs[j]!.char]);
    }
  });
  return out;
}
