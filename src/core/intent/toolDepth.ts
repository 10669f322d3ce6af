import type { Profile } from '../cut/profile';

const ITERATIONS = 12;
const SETTLED_MM = 1e-5;
/** A height over this is as good as none: the wall of a mill, mm. */
const WALL_MM = 1e6;

/**
 * How deep a cutter that stands still cuts along a ray: the deepest place of S − t·N that lies in it, mm; 0 where the ray misses it.
 * @param ray Surface point and unit outward normal. @param tip Of the cutter, mm. @param axis Unit, from tip to spindle.
 * @param radiusMm Half-width above its tip. @param asideMm Added to the distance beside the axis: > 0 asks for less, < 0 for more.
 * Fixed-point steps t ← ((S − T)·a − h(ℓ(t)))/(N·a), which contract by sin(lean)·h′.
 */
export function computeToolDepth(
  ray: ArrayLike<number>,
  tip: ArrayLike<number>,
  axis: ArrayLike<number>,
  profile: Pick<Profile, 'heightAt'>,
  radiusMm: number,
  asideMm = 0,
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
  const heightOf = (t: number): number => {
    const lateral = Math.max(0, Math.hypot(lx - t * mx, ly - t * my, lz - t * mz) + asideMm);
    return lateral > radiusMm ? Infinity : profile.heightAt(lateral);
  };
  let t = high / cos;
  let last = Infinity;
  for (let k = 0; k < ITERATIONS; k++) {
    const height = heightOf(t);
    if (!(height < WALL_MM)) return 0;
    const next = (high - height) / cos;
    if (Math.abs(next - t) < SETTLED_MM) return Math.max(0, next);
    // Where steps go to and fro the middle of two is nearer.
    t = Math.abs(next - t) > 0.7 * Math.abs(last) ? (t + next) / 2 : next;
    last = next - t;
  }
  return Math.max(0, t);
}
