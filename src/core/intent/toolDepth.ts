import type { Profile } from '../cut/profile';

const ITERATIONS = 12;
const HALVINGS = 24;
const SETTLED_MM = 1e-5;
/** A height over this is as good as none: the wall of a mill, mm. */
const WALL_MM = 1e6;

/**
 * How deep a cutter that stands still cuts along a ray: the deepest place of S − t·N that lies in it, mm; 0 where the ray misses it.
 * @param ray Surface point and unit outward normal. @param tip Of the cutter, mm. @param axis Unit, from tip to spindle.
 * @param radiusMm Half-width above its tip. @param asideMm Added to the distance beside the axis: > 0 asks for less, < 0 for more.
 * @param fromSurface Whether a stretch counts alone that begins at the surface; else what is gone below counts as well.
 * Fixed-point steps t ← ((S − T)·a − h(ℓ(t)))/(N·a), which contract by sin(lean)·h′.
 */
export function computeToolDepth(
  ray: ArrayLike<number>,
  tip: ArrayLike<number>,
  axis: ArrayLike<number>,
  profile: Pick<Profile, 'heightAt'>,
  radiusMm: number,
  asideMm = 0,
  fromSurface = false,
): number {
  const [ax, ay, az] = [axis[0]!, axis[1]!, axis[2]!];
  const [sx, sy, sz] = [ray[0]! - tip[0]!, ray[1]! - tip[1]!, ray[2]! - tip[2]!];
  const [nx, ny, nz] = [ray[3]!, ray[4]!, ray[5]!];
  const high = sx * ax + sy * ay + sz * az;
  const cos = nx * ax + ny * ay + nz * az;
  if (!(cos > 1e-3)) return 0;
  // Beside the axis: l(t) = s⊥ − t·n⊥.
  const [lx, ly, lz] = [sx - high * ax, sy - high * ay, sz - high * az];
  const [mx, my, mz] = [nx - cos * ax, ny - cos * ay, nz - cos * az];
  const lateralOf = (t: number): number => Math.max(0, Math.hypot(lx - t * mx, ly - t * my, lz - t * mz) + asideMm);
  const last = findWithin(lx, ly, lz, mx, my, mz, radiusMm - asideMm);
  if (last === null) return 0;
  const first = Math.min(high / cos, last);
  const next = (t: number): number => Math.min((high - profile.heightAt(Math.min(lateralOf(t), radiusMm))) / cos, last);
  let t = first;
  let step = Infinity;
  let isSettled = false;
  for (let k = 0; k < ITERATIONS && !isSettled; k++) {
    const to = next(t);
    if (!(to > -WALL_MM)) return 0;
    isSettled = Math.abs(to - t) < SETTLED_MM;
    // Where steps go to and fro the middle of two is nearer.
    const on = !isSettled && Math.abs(to - t) > 0.7 * Math.abs(step) ? (t + to) / 2 : to;
    step = on - t;
    t = on;
  }
  if (!isSettled && first > 0) {
    // A flank all but along the ray: steps hardly contract. Halved between the surface and the tip's height.
    let [low, high] = [0, first];
    for (let k = 0; k < HALVINGS; k++) {
      t = (low + high) / 2;
      if (next(t) > t) low = t;
      else high = t;
    }
  }
  if (!(t > 0)) return 0;
  // What is gone below the surface alone hangs together with nothing.
  if (fromSurface && (lateralOf(0) > radiusMm || profile.heightAt(lateralOf(0)) > high + SETTLED_MM)) return 0;
  return t;
}

/** The farthest t at which l − t·m is no longer than a radius; infinite where m is nothing, null where there is none. */
function findWithin(lx: number, ly: number, lz: number, mx: number, my: number, mz: number, radiusMm: number): number | null {
  if (!(radiusMm > 0)) return null;
  if (radiusMm === Infinity) return Infinity;
  const mm = mx * mx + my * my + mz * mz,
    lm = lx * mx + ly * my + lz * mz,
    ll = lx * lx + ly * ly + lz * lz - radiusMm * radiusMm;
  if (mm < 1e-18) return ll <= 0 ? Infinity : null;
  const root = lm * lm - mm * ll;
  return root < 0 ? null : (lm + Math.sqrt(root)) / mm;
}
