import { wrapTo } from '../base/angle';
import type { Lay } from '../job/laySchema';
import { toTurnDeg, type Surface } from '../surface/surface';
import { createRayMap, createSmoothMap, type PlaneMap } from './smoothMap';

export type { PlaneMap } from './smoothMap';

/**
 * How lettering goes on to a surface. Lettering is set in a plane about an anchor: u along sheet x, v along sheet y, true mm.
 * The lay says which sheet place each plane place comes to.
 */
export interface LayMap {
  /** Whether plane and sheet are one but for a shift: nothing is bent and nothing need be mapped. */
  plain: boolean;
  /** Whether each letter is laid whole about its own foot, and not all lettering about the anchor. */
  byLetter: boolean;
  /** Whether letters may be laid about a foot of their own at all; a projection has one direction for all. */
  straightOn: boolean;
  /** Whether the map is the same at every turn: a letter laid at one turn can be moved to another. */
  turnsFreely: boolean;
  /** All of an inscription about its anchor at sheet (ax, ay). */
  about(ax: number, ay: number): PlaneMap;
  /** The same without the tiles that expensive maps are read from: for few places far apart. */
  aboutExactly(ax: number, ay: number): PlaneMap;
  /** Where the foot of a letter at plane (u, v) comes to stand; only where letters are laid one by one. */
  footInto(ax: number, ay: number, u: number, v: number, out: Float64Array): void;
  /** A letter about its foot at sheet (x, y). */
  letter(x: number, y: number): PlaneMap;
}

/** Expensive maps are read from tiles whose side is this share of the smallest radius of curvature at the anchor, within limits, mm. */
const TILE_SHARE = 0.6;
const MIN_TILE_MM = 1;
const MAX_TILE_MM = 10;
/** How truly they are read: as the map itself on exact surfaces, within what faces leave on meshes, mm. */
const EXACT_MM = 2e-5;
const MESH_MM = 0.001;

/** Tiles for maps about an anchor: their side, and how truly they are read, both mm. */
function chooseTiles(surface: Surface, ax: number, ay: number): [tileMm: number, toleranceMm: number] {
  const k = new Float64Array(2);
  surface.curvatureInto(ax, ay, k);
  const tile = Math.min(MAX_TILE_MM, Math.max(MIN_TILE_MM, TILE_SHARE / Math.max(1e-6, Math.abs(k[0]!), Math.abs(k[1]!))));
  return [tile, surface.chordMm === undefined ? EXACT_MM : Math.max(MESH_MM, 2 * surface.chordMm)];
}

/** The map about an anchor, read from tiles. */
const readSmoothly = (base: PlaneMap, surface: Surface, ax: number, ay: number): PlaneMap =>
  createSmoothMap(base, ...chooseTiles(surface, ax, ay));

/** Walking straight on from an anchor, read from tiles along rays where each walk is expensive. */
const walkSmoothly = (surface: Surface, ax: number, ay: number): PlaneMap => {
  const base = straightOn(surface, ax, ay);
  const { walkFrom } = surface;
  return walkFrom ? createRayMap(base, (du, dv) => walkFrom(ax, ay, du, dv), ...chooseTiles(surface, ax, ay)) : base;
};

/** Where a ray is taken to have met the surface, mm. */
const HIT_MM = 1e-10;
const MAX_RAY_STEPS = 400;
/** Maps of letters kept: as many as there are lines on a sheet. */
const MAX_KEPT_LETTERS = 64;

const identity = (ax: number, ay: number): PlaneMap => ({
  map(u, v, out) {
    out[0] = ax + u;
    out[1] = ay + v;
    out[2] = 1;
    return true;
  },
});

/** The exponential map about a place: walking straight on from there. */
const straightOn = (surface: Surface, ax: number, ay: number): PlaneMap => ({
  map(u, v, out) {
    const fine = surface.expInto(ax, ay, u, v, out);
    out[2] = 1;
    return fine;
  },
});

/** The lay that a job's settings come to on a surface: a free shape has no parallels to wrap or level along. */
export function getEffectiveLay(lay: Lay, surface: Pick<Surface, 'hasRims'>): Lay['kind'] {
  return !surface.hasRims && (lay.kind === 'wrap' || lay.kind === 'level') ? 'drape' : lay.kind;
}

/** Whether on this surface the sheet itself is the lettering plane, so that wrap, level and drape are one. */
export const isPlainSurface = (surface: Pick<Surface, 'isometric' | 'homogeneous'>): boolean =>
  surface.isometric && surface.homogeneous === 'everywhere';

/**
 * Makes the lay of a job on its surface.
 * *wrap*: like a label: on a cone straight in its development; on a profile curved both ways, true along and round at the
 * anchor's own parallel. *level*: along parallels, each letter whole about its foot (rigid), or bent like a wrap on a profile.
 * *drape*: walked straight on from the anchor in every direction. *project*: along a direction through the lettering plane.
 */
export function createLayMap(lay: Lay, surface: Surface): LayMap {
  const kind = getEffectiveLay(lay, surface);
  const foot = (ax: number, ay: number, u: number, v: number, out: Float64Array): void => {
    out[0] = ax + u;
    out[1] = ay + (v * surface.mmPerRad) / surface.radiusAt(ax + u, ay);
  };
  // Letters of one line share the map about their feet, which is the same at every turn or kept by place.
  let kept: { x: number; y: number; map: PlaneMap }[] = [];
  const letter = (x: number, y: number): PlaneMap => {
    if (surface.rayInto) return straightOn(surface, x, y);
    const found = kept.find((k) => k.x === x && k.y === y);
    if (found) return found.map;
    const map = readSmoothly(straightOn(surface, x, y), surface, x, y);
    kept = [{ x, y, map }, ...kept.slice(0, MAX_KEPT_LETTERS - 1)];
    return map;
  };
  const common = {
    plain: false,
    byLetter: false,
    straightOn: kind !== 'project',
    turnsFreely: surface.homogeneous !== 'nowhere',
    footInto: foot,
    letter,
  };
  if (kind === 'project') {
    return {
      ...common,
      turnsFreely: surface.homogeneous !== 'nowhere' && lay.from === 'normal',
      about: (ax, ay) =>
        surface.rayInto ? createProjection(lay, surface, ax, ay) : readSmoothly(createProjection(lay, surface, ax, ay), surface, ax, ay),
      aboutExactly: (ax, ay) => createProjection(lay, surface, ax, ay),
    };
  }
  if (isPlainSurface(surface)) return { ...common, plain: true, about: identity, aboutExactly: identity };
  const bent = (ax: number, ay: number): PlaneMap => {
    const k = surface.mmPerRad / surface.radiusAt(ax, ay);
    return {
      map(u, v, out) {
        out[0] = ax + u;
        out[1] = ay + k * v;
        out[2] = 1;
        return true;
      },
    };
  };
  switch (kind) {
    case 'wrap': {
      const about = surface.developable ? (ax: number, ay: number) => straightOn(surface, ax, ay) : bent;
      return { ...common, about, aboutExactly: about };
    }
    case 'level':
      return { ...common, byLetter: lay.letters === 'rigid', about: bent, aboutExactly: bent };
    case 'drape':
      return { ...common, aboutExactly: (ax, ay) => straightOn(surface, ax, ay), about: (ax, ay) => walkSmoothly(surface, ax, ay) };
  }
}

/** Direction into the material, unit, of a projection: along the anchor's normal, or as typed. */
export function getProjectionDirection(lay: Lay, surface: Surface, ax: number, ay: number): [number, number, number] {
  if (lay.from === 'normal') {
    const f = new Float64Array(6);
    surface.frameInto(ax, ay, f);
    return [-f[3]!, -f[4]!, -f[5]!];
  }
  const turn = (lay.turnDeg * Math.PI) / 180,
    tilt = (lay.tiltDeg * Math.PI) / 180;
  return [-Math.sin(tilt), -Math.cos(tilt) * Math.sin(turn), -Math.cos(tilt) * Math.cos(turn)];
}

/**
 * Projects a plane through the anchor, square to the direction, on to the first surface it meets. Rays are followed by steps
 * of their distance from the surface and finished by Newton's method.
 */
function createProjection(lay: Lay, surface: Surface, ax: number, ay: number): PlaneMap {
  const d = getProjectionDirection(lay, surface, ax, ay);
  const f = new Float64Array(6),
    ahead = new Float64Array(3),
    beside = new Float64Array(3);
  surface.frameInto(ax, ay, f);
  const facing = -(f[3]! * d[0] + f[4]! * d[1] + f[5]! * d[2]);
  // The anchor faces away: nothing can be projected on to it from there.
  if (!(facing > 1e-6)) return { map: () => false };
  const e = 1e-4;
  surface.pointInto(ax + e, ay, ahead);
  surface.pointInto(ax, ay + e, beside);
  const square = (p: Float64Array): number[] => {
    const q = [0, 1, 2].map((k) => p[k]! - f[k]!);
    const along = q[0]! * d[0] + q[1]! * d[1] + q[2]! * d[2];
    const flat = q.map((v, k) => v - along * d[k]!);
    const length = Math.hypot(...flat);
    return length > 1e-3 * e ? flat.map((v) => v / length) : [];
  };
  let e1 = square(ahead);
  if (e1.length === 0) {
    // Seen along sheet x: take what is square to sheet y instead.
    const e2 = square(beside);
    if (e2.length === 0) return { map: () => false };
    // e1 = e2 × w with w = −d.
    e1 = [-(e2[1]! * d[2] - e2[2]! * d[1]), -(e2[2]! * d[0] - e2[0]! * d[2]), -(e2[0]! * d[1] - e2[1]! * d[0])];
  }
  // e2 = w × e1.
  const e2 = [-(d[1] * e1[2]! - d[2] * e1[1]!), -(d[2] * e1[0]! - d[0] * e1[2]!), -(d[0] * e1[1]! - d[1] * e1[0]!)];
  const { domain } = surface;
  const size =
    2 * (surface.round ? surface.radiusAt(ax, ay) : 0) +
    Math.hypot(domain.maxX - domain.minX, surface.round ? 0 : domain.maxY - domain.minY);
  const n = new Float64Array(6);
  const o = new Float64Array(3);
  return {
    map(u, v, out) {
      for (let k = 0; k < 3; k++) o[k] = f[k]! + u * e1[k]! + v * e2[k]!;
      if (surface.rayInto) {
        for (let k = 0; k < 3; k++) o[k]! -= size * d[k]!;
        const meets = surface.rayInto(o, d, out);
        out[1] = ay + wrapRound(out[1]! - ay, surface.periodMm);
        out[2] = meets;
        return meets > 0;
      }
      let t = -size;
      for (let step = 0; step < MAX_RAY_STEPS && t < size; step++) {
        const at = surface.toSheet(o[0]! + t * d[0], o[1]! + t * d[1], o[2]! + t * d[2]);
        surface.frameInto(at.x, at.y, n);
        const meets = -(n[3]! * d[0] + n[4]! * d[1] + n[5]! * d[2]);
        if (Math.abs(at.heightMm) < HIT_MM) {
          out[0] = at.x;
          out[1] = ay + wrapRound(at.y - ay, surface.periodMm);
          out[2] = meets;
          return meets > 0;
        }
        // A step as long as the distance never passes the surface; close to it the slope gives the rest of the way.
        t += Math.abs(at.heightMm) < 0.2 && meets > 0.05 ? at.heightMm / meets : at.heightMm;
      }
      return false;
    },
  };
}

/** A difference of sheet y brought to within half a turn. */
const wrapRound = (dy: number, period: number | null): number => (period === null ? dy : wrapTo(dy, period));

/** What a lay keeps and what it bends, in one plain sentence. */
export function describeLay(
  kind: Lay['kind'],
  letters: Lay['letters'],
  surface: Pick<Surface, 'developable' | 'isometric' | 'homogeneous'>,
): string {
  const plain = isPlainSurface(surface);
  const doubly = !surface.developable;
  switch (kind) {
    case 'wrap':
      if (plain) return 'Goes on like a label: lengths, angles and areas all stay true.';
      return doubly
        ? 'Goes round like a label: true along the profile and at the line’s own height; wider where the blank is thicker, narrower where it is thinner.'
        : 'Goes on like a flat label: every shape stays true, but a straight line of writing sags against the rims.';
    case 'level':
      if (plain) return 'The line follows the rim; on this blank that is the same as wrap, and all stays true.';
      if (letters === 'bent')
        return 'The line follows the rim at one distance and every stroke bends with it: letters widen towards the thicker end.';
      return doubly
        ? 'The line follows the rim at one distance and each letter stands upright on it, pressed on from its own middle: as true as a letter can be there.'
        : 'The line follows the rim at one distance and each letter stands upright on it, whole and true; only the gaps between letters open or close.';
    case 'project':
      return 'Reads true when seen from one direction; strokes grow longer on the metal where it falls away from the eye.';
    case 'drape':
      if (plain) return 'Laid on from its middle outward; on this blank that is the same as wrap, and all stays true.';
      return doubly
        ? 'Laid on from its anchor outward like a cloth: distances from the anchor stay true, shapes far from it are squeezed or spread.'
        : 'Laid on from its anchor outward; on a cone that is the same as wrap: shapes true, the line sags against the rims.';
  }
}

/** Turn (or mm across) that a projection along an inscription's anchor comes from, for people. */
export const describeDirection = (surface: Surface, ay: number): number => toTurnDeg(surface, ay);
