import { intersectionArea } from '../base/boolean';
import { boxesOverlap, computeBox, isEmptyBox, mapRings, packRings, getRing, type Affine, type Rings } from '../base/rings';
import { reverseCurve, type Curve } from '../guide/curve';
import type { OnGuide } from '../job/schema';
import { FLATTEN_TOLERANCE_MM } from './flatten';
import type { SetGlyph, Setting } from './setting';

/** Letters laid along a guide, and what went wrong. */
export interface GuideLetters {
  /** Rings or chains of each glyph on the sheet, in the order of the setting. */
  placed: Rings[];
  /** How far the ink runs past the ends of an open guide, mm; 0 if it does not. */
  overMm: number;
  /** Pairs of letters that run into each other, though they would not on a straight line. */
  collisions: [string, string][];
}

/** Neighbours that overlap by less than this only touch, mm². */
const COLLISION_MM2 = 1e-3;
const MAX_BEND_SPLITS = 10;

/** Where the ink's left end comes to stand along the curve, mm. */
export function findStartMm(curve: Curve, onGuide: OnGuide, widthMm: number): number {
  switch (onGuide.from) {
    case 'start': return onGuide.distanceMm;
    case 'middle': return (curve.lengthMm - widthMm) / 2 + onGuide.distanceMm;
    case 'end': return curve.lengthMm - widthMm - onGuide.distanceMm;
  }
}

/**
 * Lays a set text along a guide.
 * Turned letters are moved and turned whole, by the point of the guide under their middle; upright ones are moved only; bent
 * ones have every point mapped, straight pieces split until they keep to the bend.
 * @param top A second guide that the tops of the capitals follow; letters are then bent between the two.
 * O(vertices).
 */
export function layOnGuide(setting: Setting, bottom: Curve, top: Curve | null, onGuide: OnGuide, mirrored: boolean): GuideLetters {
  const curve = onGuide.reversed ? reverseCurve(bottom) : bottom;
  const upper = top && onGuide.reversed ? reverseCurve(top) : top;
  const startMm = findStartMm(curve, onGuide, setting.widthMm);
  const base = onGuide.side === 'above' ? onGuide.offsetMm : -(setting.capHeightMm + onGuide.offsetMm);
  const at = new Float64Array(4), up = new Float64Array(4);
  const flip = mirrored ? -1 : 1;
  const across = (u: number): number => (mirrored ? setting.widthMm - u : u);

  const placed = setting.glyphs.map((g): Rings => {
    if (isEmptyBox(g.box)) return packRings([]);
    if (onGuide.letters === 'bent' || upper) return bendRings(g, (u, v, out) => {
      const s = startMm + across(u);
      curve.at(s, at);
      if (upper) {
        upper.at((s / curve.lengthMm) * upper.lengthMm, up);
        const share = v / setting.capHeightMm;
        out[0] = at[0]! + share * (up[0]! - at[0]!);
        out[1] = at[1]! + share * (up[1]! - at[1]!);
      } else {
        out[0] = at[0]! - (base + v) * at[3]!;
        out[1] = at[1]! + (base + v) * at[2]!;
      }
    });
    // Marks go with the letter they stand on: both turn about the middle of the same cluster.
    const middle = middleOf(setting.glyphs, g);
    curve.at(startMm + across(middle), at);
    const [tx, ty] = onGuide.letters === 'upright' ? [1, 0] : [at[2]!, at[3]!];
    const lift = onGuide.letters === 'upright' ? base + setting.capHeightMm / 2 : base;
    const px = at[0]! - lift * at[3]!, py = at[1]! + lift * at[2]!;
    const dv = onGuide.letters === 'upright' ? -setting.capHeightMm / 2 : 0;
    const du = g.xMm - middle;
    const m: Affine = {
      a: tx * flip, b: ty * flip, c: -ty, d: tx,
      e: px + tx * flip * du - ty * (g.yMm + dv),
      f: py + ty * flip * du + tx * (g.yMm + dv),
    };
    return mapRings(g.shape.rings, m);
  });
  const overMm = curve.closed ? Math.max(0, setting.widthMm - curve.lengthMm) : Math.max(0, -startMm, startMm + setting.widthMm - curve.lengthMm);
  return { placed, overMm, collisions: findCollisions(setting.glyphs, placed) };
}

function middleOf(glyphs: readonly SetGlyph[], g: SetGlyph): number {
  const base = g.advanceMm > 0 ? g : glyphs.find((o) => o.cluster === g.cluster && o.advanceMm > 0) ?? g;
  return base.xMm + base.advanceMm / 2;
}

/** Maps every point of a glyph, and puts in points where a straight piece would leave the bend. */
function bendRings(g: SetGlyph, map: (u: number, v: number, out: Float64Array) => void): Rings {
  const closed = g.typeface.kind === 'outline';
  const { rings } = g.shape;
  const parts: number[][] = [];
  const p = new Float64Array(2);
  const mapped = (u: number, v: number): [number, number] => {
    map(u, v, p);
    return [p[0]!, p[1]!];
  };
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    const n = ring.length / 2;
    const out: number[] = [];
    const split = (u0: number, v0: number, a: [number, number], u1: number, v1: number, b: [number, number], depth: number): void => {
      const m = mapped((u0 + u1) / 2, (v0 + v1) / 2);
      const gap = Math.hypot((a[0] + b[0]) / 2 - m[0], (a[1] + b[1]) / 2 - m[1]);
      if (depth === 0 || gap <= FLATTEN_TOLERANCE_MM / 2) return;
      split(u0, v0, a, (u0 + u1) / 2, (v0 + v1) / 2, m, depth - 1);
      out.push(...m);
      split((u0 + u1) / 2, (v0 + v1) / 2, m, u1, v1, b, depth - 1);
    };
    for (let i = 0; i < n; i++) {
      const u0 = ring[2 * i]! + g.xMm, v0 = ring[2 * i + 1]! + g.yMm;
      const a = mapped(u0, v0);
      out.push(...a);
      if (i + 1 === n && !closed) break;
      const j = (i + 1) % n;
      const u1 = ring[2 * j]! + g.xMm, v1 = ring[2 * j + 1]! + g.yMm;
      split(u0, v0, a, u1, v1, mapped(u1, v1), MAX_BEND_SPLITS);
    }
    parts.push(out);
  }
  return packRings(parts);
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
