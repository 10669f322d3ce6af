import { InvariantError } from '../base/invariant';
import type { Blank, BlankKind, BlankOf, ShapeRef } from '../job/blankSchema';
import type { ShapeMesh } from '../shape/shapeMesh';
import { createArched } from './arched';
import { createCone } from './cone';
import { createCylinder } from './cylinder';
import { createFreeSurface } from './free';
import { createMeridian } from './meridian';
import { createPlate } from './plate';
import { createRevolved } from './revolved';
import type { Surface } from './surface';

/** Where free shapes come from: the house's store, or files beside a job. */
export interface Shapes {
  /** The shape, healed and in its own units; null if it is not (yet) there. */
  find(ref: ShapeRef): ShapeMesh | null;
}

export const NO_SHAPES: Shapes = { find: () => null };

const seam = (b: { seamDeg: number }): number => (b.seamDeg * Math.PI) / 180;
const rad = (deg: number): number => (deg * Math.PI) / 180;

/** One maker per kind of blank: a new kind is one new file and one line here. */
const makers: { [K in BlankKind]: (blank: BlankOf<K>, shapes: Shapes) => Surface } = {
  plate: (b) => createPlate({ ...b, widthMm: b.shape === 'disc' ? b.lengthMm : b.widthMm, inclineRad: rad(b.inclineDeg) }),
  cylinder: (b) => createCylinder(b.diameterMm, b.lengthMm, b.boreMm, seam(b)),
  cone: (b) => createCone(b, b.boreMm, seam(b)),
  turned: (b) => {
    const made = createMeridian(b.profile);
    if (!made.ok) throw new InvariantError('createSurface', made.error.kind);
    return createRevolved(made.value, { developable: false, boreMm: b.boreMm, seamRad: seam(b), refRadiusMm: made.value.maxRadiusMm });
  },
  arched: (b) => createArched({ ...b, origin: b.mount === 'rotary' ? 'axis' : 'face' }),
  free: (b, shapes) => createFreeSurface(b, shapes.find(b.shape)),
};

/** Surfaces made last, by what their blank says: a blank that came from another thread is equal, not the same. */
const made = new Map<string, { mesh: ShapeMesh | null; surface: Surface }>();
const MAX_KEPT = 12;

/** The surface of a checked blank; the same object for an equal blank, as long as it is among the last few. */
export function createSurface(blank: Blank, shapes: Shapes = NO_SHAPES): Surface {
  const mesh = blank.kind === 'free' ? shapes.find(blank.shape) : null;
  const key = JSON.stringify(blank);
  const known = made.get(key);
  if (known && known.mesh === mesh) return known.surface;
  const surface = (makers[blank.kind] as (b: Blank, s: Shapes) => Surface)(blank, shapes);
  made.delete(key);
  if (made.size >= MAX_KEPT) made.delete(made.keys().next().value!);
  made.set(key, { mesh, surface });
  return surface;
}
