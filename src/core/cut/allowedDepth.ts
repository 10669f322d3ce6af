import type { Ground } from '../machine/stance';
import type { Profile } from './profile';

/**
 * How deep a cutter that stands at one place may go before it touches a given point: for a tip below S₀ with tool axis a, the
 * point P allows d(P) = δ + h(ℓ) with q = P − S₀, drop δ = −q·a, lateral distance ℓ = |q + δa| and h the cutter's profile.
 * Source: derived in docs/architecture.md, "True depth".
 *
 * A class, because it is asked millions of times: numbers in fields cost no allocation, numbers in closures do.
 */
export class AllowedDepth {
  x = 0;
  y = 0;
  /** Point of the surface and tool axis at the place. */
  readonly frame = new Float64Array(6);
  /** Drop and lateral distance of the point that was asked for last, mm. */
  dropMm = 0;
  lateralMm = 0;
  private readonly point = new Float64Array(3);

  constructor(
    private readonly ground: Ground,
    private readonly profile: Profile,
  ) {}

  /** Sets the place over the tip; the tool stands there as the machine lets it. */
  moveTo(x: number, y: number): void {
    this.x = x;
    this.y = y;
    this.ground.poseInto(x, y, this.frame);
  }

  /** The depth that the point over (x, y) allows, mm. */
  to(x: number, y: number): number {
    const { point: p, frame: f } = this;
    this.ground.pointInto(x, y, p);
    const qx = p[0]! - f[0]!,
      qy = p[1]! - f[1]!,
      qz = p[2]! - f[2]!;
    const drop = -(qx * f[3]! + qy * f[4]! + qz * f[5]!);
    const lx = qx + drop * f[3]!,
      ly = qy + drop * f[4]!,
      lz = qz + drop * f[5]!;
    this.dropMm = drop;
    this.lateralMm = Math.sqrt(lx * lx + ly * ly + lz * lz);
    return drop + this.profile.heightAt(this.lateralMm);
  }
}
