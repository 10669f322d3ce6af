import type { Meridian } from './meridian';
import { meetRoundQuadric } from './ray';
import { clampRadius, createConeExp, createRevolvedWalks } from './revolvedWalk';
import type { Surface } from './surface';

export interface RevolvedOptions {
  /** Whether the meridian is one straight line (a cone): it unrolls without stretch. */
  developable: boolean;
  boreMm: number;
  seamRad: number;
  /** Radius at which a sheet millimetre round is a true one, mm. */
  refRadiusMm: number;
}

/** A profile that turns by more than this at a joint has an edge there: cosine of 2°, and how far from the joint it is measured, mm. */
const EDGE_COS = Math.cos((2 * Math.PI) / 180);
const EDGE_STEP_MM = 1e-4;
const BEND_STEP_MM = 0.1;

/**
 * A surface of revolution about X from a meridian (x(s), r(s)) by arc length:
 * `S(s, y) = (x(s), r sin θ, r cos θ)` with y = r_ref·θ. True along s; round it stretches by r/r_ref.
 * Curvatures: κ along the meridian, cos φ / r along parallels. Source: elementary differential geometry (do Carmo, from memory).
 */
export function createRevolved(m: Meridian, { developable, boreMm, seamRad, refRadiusMm: ref }: RevolvedOptions): Surface {
  const period = 2 * Math.PI * ref;
  const bend = new Float64Array(3);
  let bentAt = NaN;
  const o = new Float64Array(5);
  const straight = m.joints.length === 2 && (m.at(m.lengthMm / 2, o), o[4] === 0);
  const edgesX = m.joints.slice(1, -1).filter((s) => {
    m.at(s - EDGE_STEP_MM, o);
    const [cx, cr] = [o[2]!, o[3]!];
    m.at(s + EDGE_STEP_MM, o);
    return cx * o[2]! + cr * o[3]! < EDGE_COS;
  });
  m.at(0, o);
  const sinAlpha = o[3]!;
  const startRadius = o[1]!,
    startX = o[0]!,
    cosAlpha = o[2]!;
  const tanAlpha = sinAlpha / cosAlpha;
  const roots = new Float64Array(2);

  const expOnCone = createConeExp(startRadius, sinAlpha, ref);
  const walkFrom = createRevolvedWalks(m, ref);

  return {
    ...(edgesX.length > 0 && { edgesX }),
    domain: { minX: 0, maxX: m.lengthMm, minY: ref * seamRad - period, maxY: ref * seamRad },
    outline: null,
    periodMm: period,
    mmPerRad: ref,
    round: true,
    hasRims: true,
    developable,
    radialNormal: false,
    wallName: boreMm > 0 ? 'wall' : 'radius',
    topMm: m.maxRadiusMm,
    isometric: false,
    flat: false,
    homogeneous: 'round',
    radiusAt(x) {
      m.at(x, o);
      return clampRadius(o[1]!);
    },
    wallAt(x) {
      m.at(x, o);
      // Along the normal: the radius that is there, over the share of it that points at the axis.
      const facing = o[2]!;
      return facing > 1e-6 ? Math.max(0, o[1]! - boreMm / 2) / facing : Infinity;
    },
    outsideMm: (x) => Math.max(0, -x, x - m.lengthMm),
    pointInto(x, y, out) {
      m.at(x, o);
      const t = y / ref,
        r = o[1]!;
      out[0] = o[0]!;
      out[1] = r * Math.sin(t);
      out[2] = r * Math.cos(t);
    },
    frameInto(x, y, out) {
      m.at(x, o);
      const t = y / ref,
        r = o[1]!;
      const s = Math.sin(t),
        c = Math.cos(t);
      out[0] = o[0]!;
      out[1] = r * s;
      out[2] = r * c;
      out[3] = -o[3]!;
      out[4] = o[2]! * s;
      out[5] = o[2]! * c;
    },
    metricInto(x, _y, out) {
      m.at(x, o);
      const k = clampRadius(o[1]!) / ref;
      out[0] = 1;
      out[1] = 0;
      out[2] = k * k;
    },
    curvatureInto(x, _y, out) {
      m.at(x, o);
      const round = o[2]! / clampRadius(o[1]!),
        along = o[4]!;
      out[0] = Math.max(round, along);
      out[1] = Math.min(round, along);
    },
    bendInto(x, _y, out) {
      // For drawing: near where it was asked last it is the same.
      if (!(Math.abs(x - bentAt) < BEND_STEP_MM)) {
        m.at(x, o);
        bentAt = x;
        bend[0] = Math.abs(o[4]!);
        bend[1] = Math.abs(o[3]!) / ref;
        bend[2] = Math.abs(o[1]!) / (ref * ref);
      }
      out[0] = bend[0]!;
      out[1] = bend[1]!;
      out[2] = bend[2]!;
    },
    expInto: straight ? expOnCone : (x, y, du, dv, out) => walkFrom(x, y, du, dv).toInto(1, out),
    ...(!straight && { walkFrom }),
    ...(straight && {
      rayInto(from: ArrayLike<number>, d: ArrayLike<number>, out: Float64Array): number {
        meetRoundQuadric(from, d, startRadius - startX * tanAlpha, tanAlpha, roots);
        for (const t of roots) {
          if (!Number.isFinite(t)) continue;
          const x = from[0]! + t * d[0]!,
            py = from[1]! + t * d[1]!,
            pz = from[2]! + t * d[2]!;
          // The other half of the double cone is not there.
          const r = startRadius + (x - startX) * tanAlpha;
          if (!(r > 0)) continue;
          const facing = sinAlpha * d[0]! - (cosAlpha * (py * d[1]! + pz * d[2]!)) / r;
          if (!(facing > 0)) continue;
          out[0] = (x - startX) / cosAlpha;
          out[1] = ref * Math.atan2(py, pz);
          return facing;
        }
        return 0;
      },
    }),
    toSheet(px, py, pz) {
      const { s, offMm } = m.nearest(px, Math.hypot(py, pz));
      return { x: s, y: ref * Math.atan2(py, pz), heightMm: offMm };
    },
  };
}
