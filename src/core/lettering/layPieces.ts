import { roundTo } from '../base/round';
import { computeBox, isEmptyBox, mapRings, type Affine, type Rings } from '../base/rings';
import type { LayMap, PlaneMap } from '../lay/layMap';
import { computeStretches } from '../surface/metric';
import type { Surface } from '../surface/surface';
import { BEND_TOLERANCE_MM, bendRings } from './bend';

/** A piece of lettering (a letter, a mark) laid on the sheet, and what became of it on the way. */
export interface LaidPiece {
  rings: Rings;
  /** Largest stretch from the lettering plane to the surface: 1 if true, 1.1 if a tenth too long, 0.9 if a tenth too short. */
  stretch: number;
  /** Smallest cosine between projection and normal, 1 for the other lays. */
  facing: number;
  /** Whether all of it is on the surface; if not, `rings` may be cut short. */
  lands: boolean;
  /** Whether it came out as its mirror image, seen from outside. */
  mirrored: boolean;
  /** Largest distance that its lines may have come from the curves they stand for, mm; laying adds its own. */
  offMm: number;
}

/** Lays pieces on a surface, keeping what it worked out for letters that come again. */
export interface PieceLayer {
  lay: LayMap;
  surface: Surface;
  /**
   * @param rings The piece in its own frame. @param place Leads from there into the lettering plane about the anchor.
   * @param foot The plane place a letter stands on, where letters are laid one by one.
   * @param byLetter Whether it is laid about its foot even where the lay would not.
   */
  layPiece(
    rings: Rings,
    place: Affine,
    closed: boolean,
    anchor: readonly [number, number],
    foot: readonly [number, number],
    byLetter?: boolean,
  ): LaidPiece;
  /** A piece about a place of the sheet, in true mm along and square to sheet x there. */
  layAt(rings: Rings, place: Affine, closed: boolean, x: number, y: number): LaidPiece;
}

/** Step for derivatives of a lay, mm; on a mesh wider than its faces are, within which nothing stretches. */
const STEP_MM = 1e-3;
const MESH_STEP_MM = 1;
const MAX_STRAIGHT_MM = 0.4;
/** Kept pieces a shape; the oldest go first. */
const MAX_KEPT = 400;

export function createPieceLayer(lay: LayMap, surface: Surface): PieceLayer {
  const kept = new WeakMap<Rings, Map<string, LaidPiece>>();
  let around: { key: string; map: PlaneMap } | null = null;
  const about = (x: number, y: number): PlaneMap => {
    const key = `${x} ${y}`;
    if (around?.key !== key) around = { key, map: lay.about(x, y) };
    return around.map;
  };
  const at = new Float64Array(3),
    j = new Float64Array(4),
    sigma = new Float64Array(3);

  const stepMm = surface.chordMm === undefined ? STEP_MM : MESH_STEP_MM;
  /** Stretch of a map at a plane place. */
  const stretchAt = (map: PlaneMap, u: number, v: number): number => {
    for (let k = 0; k < 2; k++) {
      const [du, dv] = k === 0 ? [stepMm, 0] : [0, stepMm];
      if (!map.map(u + du, v + dv, at)) return 1;
      const [x1, y1] = [at[0]!, at[1]!];
      if (!map.map(u - du, v - dv, at)) return 1;
      j[2 * k] = (x1 - at[0]!) / (2 * stepMm);
      j[2 * k + 1] = (y1 - at[1]!) / (2 * stepMm);
    }
    if (!map.map(u, v, at)) return 1;
    computeStretches(surface, at[0]!, at[1]!, j, sigma);
    return Math.abs(Math.log(sigma[0]!)) >= Math.abs(Math.log(Math.max(1e-9, sigma[1]!))) ? sigma[0]! : sigma[1]!;
  };

  /** Length below which a straight piece bends by less than a micrometre or two: lays bend at most some times as the blank. */
  const straightAt = (x: number, y: number): number => {
    surface.curvatureInto(x, y, sigma);
    return Math.min(MAX_STRAIGHT_MM, 0.05 / Math.sqrt(Math.max(1e-6, Math.abs(sigma[0]!), Math.abs(sigma[1]!))));
  };

  const bend = (own: Rings, place: Affine, closed: boolean, map: PlaneMap, straightMm: number): LaidPiece => {
    const rings = mapRings(own, place);
    let lands = true,
      facing = 1;
    const out = bendRings(
      rings,
      0,
      0,
      closed,
      (u, v, o) => {
        // The rest of a piece that does not land need not be known: it is left out.
        if (!lands) return;
        if (!map.map(u, v, o)) lands = false;
        else if (o[2]! < facing) facing = o[2]!;
      },
      straightMm,
    );
    const turned = isMirror(place);
    j.fill(0);
    if (!lands) return { rings: out, stretch: 1, facing, lands, mirrored: turned, offMm: BEND_TOLERANCE_MM };
    const box = computeBox(rings.xy);
    let stretch = 1;
    if (!isEmptyBox(box)) {
      for (const [u, v] of [
        [box.minX, box.minY],
        [box.maxX, box.minY],
        [box.maxX, box.maxY],
        [box.minX, box.maxY],
        [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2],
      ] as const) {
        const s = stretchAt(map, u, v);
        if (Math.abs(Math.log(s)) > Math.abs(Math.log(stretch))) stretch = s;
      }
    }
    // The middle of the box came last: its Jacobian says which way round the lay takes it.
    const mirrored = turned !== j[0]! * j[3]! - j[1]! * j[2]! < 0;
    return { rings: out, stretch, facing, lands, mirrored, offMm: BEND_TOLERANCE_MM };
  };

  const layAt = (rings: Rings, place: Affine, closed: boolean, x: number, y: number): LaidPiece => {
    if (lay.plain) return layTrue(rings, place, x, y);
    if (!lay.turnsFreely) return bend(rings, place, closed, lay.letter(x, y), straightAt(x, y));
    // The same at every turn: laid once at turn 0, and moved.
    let own = kept.get(rings);
    if (!own) kept.set(rings, (own = new Map()));
    const key = [place.a, place.b, place.c, place.d, round(place.e), round(place.f), round(x)].join();
    let known = own.get(key);
    if (!known) {
      known = bend(rings, place, closed, lay.letter(x, 0), straightAt(x, 0));
      if (own.size >= MAX_KEPT) own.delete(own.keys().next().value!);
      own.set(key, known);
    }
    return { ...known, rings: mapRings(known.rings, { a: 1, b: 0, c: 0, d: 1, e: 0, f: y }) };
  };

  return {
    lay,
    surface,
    layAt,
    layPiece(rings, place, closed, [ax, ay], [fu, fv], byLetter = lay.byLetter) {
      if (lay.plain) return layTrue(rings, place, ax, ay);
      if (!byLetter) return bend(rings, place, closed, about(ax, ay), straightAt(ax, ay));
      lay.footInto(ax, ay, fu, fv, at);
      return layAt(rings, { ...place, e: place.e - fu, f: place.f - fv }, closed, onGrid(at[0]!), onGrid(at[1]!));
    },
  };
}

/** A laid piece with what its drawing was off its curves already. */
export const withDrawing = (laid: LaidPiece, { offMm }: { offMm: number }): LaidPiece => ({
  ...laid,
  offMm: laid.offMm + offMm * Math.max(1, laid.stretch),
});

/** A piece on a sheet that is true: moved, and nothing more. */
const layTrue = (rings: Rings, place: Affine, x: number, y: number): LaidPiece => ({
  rings: mapRings(rings, { ...place, e: place.e + x, f: place.f + y }),
  stretch: 1,
  facing: 1,
  lands: true,
  mirrored: isMirror(place),
  offMm: 0,
});

/** Whether an affine map turns over what it maps. */
export const isMirror = (m: Affine): boolean => m.a * m.d - m.b * m.c < 0;

/** Feet stand on a fine grid, so that equal letters stay equal to the last digit. */
const onGrid = (v: number): number => roundTo(v, 4);
const round = (v: number): number => roundTo(v, 9);
