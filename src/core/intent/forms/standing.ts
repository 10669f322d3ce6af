import type { Profile } from '../../cut/profile';
import type { Work } from '../../machine/stance';
import { computeToolDepth } from '../toolDepth';

/** A floor between passes stands so much higher, mm. */
export const CUSP_MM = 0.021;

/** A cutter that stands at sheet places, asked how deep it cuts along the normal of another. It keeps scratch space. */
export class StandingCutter {
  /** Surface point and normal of the place that is asked. */
  readonly ray = new Float64Array(6);
  /** Surface point and tool axis where the cutter stands. */
  readonly pose = new Float64Array(6);
  private readonly tip = new Float64Array(3);
  private readonly axis = new Float64Array(3);

  /** @param radiusMm Half-width above its tip. @param real The surface whose normals are asked along, if it is another. */
  constructor(
    private readonly work: Work,
    private readonly profile: Pick<Profile, 'heightAt'>,
    private readonly radiusMm: number,
    private readonly real: Pick<Work, 'frameInto'> = work,
  ) {}

  /** Says of which place depths are asked from now on. */
  askAt(x: number, y: number): void {
    this.real.frameInto(x, y, this.ray);
  }

  /**
   * Depth there of the cutter that stands at a place with its tip at a depth, mm. @param asideMm How much farther off it is taken to be.
   * @param fromSurface Whether a stretch counts alone that begins at the surface.
   */
  cutFrom(x: number, y: number, depthMm: number, asideMm = 0, fromSurface = false): number {
    const { pose, tip, axis } = this;
    this.work.poseInto(x, y, pose);
    for (let k = 0; k < 3; k++) {
      axis[k] = pose[3 + k]!;
      tip[k] = pose[k]! - depthMm * axis[k]!;
    }
    return computeToolDepth(this.ray, tip, axis, this.profile, this.radiusMm, asideMm, fromSurface);
  }
}
