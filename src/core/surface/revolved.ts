import type { Meridian } from './meridian';
import { POLE_RADIUS_MM } from './meridian';
import { meetRoundQuadric } from './ray';
import type { Surface, Walk } from './surface';

export interface RevolvedOptions {
  /** Whether the meridian is one straight line (a cone): it unrolls without stretch. */
  developable: boolean;
  boreMm: number;
  seamRad: number;
  /** Radius at which a sheet millimetre round is a true one, mm. */
  refRadiusMm: number;
}

/** Steps of the geodesic integrator: below 2e-6 mm on walks of 20 mm over a ball of 15 mm, against spherical trigonometry in checks/. */
const MIN_STEP_MM = 0.01;
const MAX_STEPS = 4096;
const MIN_BEND = 1e-6;
/** A profile that turns by more than this at a joint has an edge there: cosine of 2°, and how far from the joint it is told, mm. */
const EDGE_COS = Math.cos((2 * Math.PI) / 180);
const EDGE_LOOK_MM = 1e-4;
const BEND_STEP_MM = 0.1;
const STEP_RAD = 0.035;

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
  /** Radius, kept from vanishing, so that past a pole the map goes on without blowing up. */
  const clamp = (r: number): number => (r > POLE_RADIUS_MM ? r : POLE_RADIUS_MM);
  const straight = m.joints.length === 2 && (m.at(m.lengthMm / 2, o), o[4] === 0);
  const edgesX = m.joints.slice(1, -1).filter((s) => {
    m.at(s - EDGE_LOOK_MM, o);
    const [cx, cr] = [o[2]!, o[3]!];
    m.at(s + EDGE_LOOK_MM, o);
    return cx * o[2]! + cr * o[3]! < EDGE_COS;
  });
  m.at(0, o);
  const sinAlpha = o[3]!;
  const startRadius = o[1]!,
    startX = o[0]!,
    cosAlpha = o[2]!;
  const tanAlpha = sinAlpha / cosAlpha;
  const roots = new Float64Array(2);

  /** Closed form on a cone: a straight line in its development about the apex. Goes over into the cylinder as sin α → 0. */
  const expOnCone = (x: number, y: number, du: number, dv: number, out: Float64Array): boolean => {
    const r = clamp(startRadius + x * sinAlpha);
    // ρ = r / sin α is the distance from the apex; ψ = θ sin α. With k = sin α / r = 1/ρ nothing divides by sin α.
    const k = sinAlpha / r;
    const a = 1 + k * du,
      b = k * dv;
    const reach = Math.hypot(a, b);
    // ds = (hypot(ρ + du, dv) − ρ), written so that it stays exact for a distant apex.
    out[0] = x + (2 * du + k * (du * du + dv * dv)) / (1 + reach);
    const psi = Math.atan2(b, a);
    // θ = ψ / sin α = (dv / (r a)) · (ψ / tan ψ-ratio), by its series where α is small.
    const theta = Math.abs(sinAlpha) > 1e-12 ? psi / sinAlpha : dv / r;
    out[1] = y + ref * theta;
    return a > 0;
  };

  /** Geodesic equations s'' = r r' θ'², θ'' = −2 (r'/r) s' θ', by Runge–Kutta of fourth order with steps as the place asks. */
  const walkFrom = (x: number, y: number, du: number, dv: number): Walk => {
    const speed = Math.hypot(du, dv);
    m.at(x, o);
    let s = x,
      th = 0,
      vs = du,
      vt = dv / clamp(o[1]!);
    let gone = 0,
      fine = true;
    const step = (h: number): void => {
      let ds = 0,
        dt = 0,
        dvs = 0,
        dvt = 0;
      let ps = 0,
        pvs = 0,
        pvt = 0;
      for (let stage = 0; stage < 4; stage++) {
        const w = stage === 0 ? 0 : stage === 3 ? h : h / 2;
        const cvs = vs + w * pvs,
          cvt = vt + w * pvt;
        m.at(s + w * ps, o);
        const r = clamp(o[1]!);
        if (o[1]! <= POLE_RADIUS_MM) fine = false;
        ps = cvs;
        pvs = r * o[3]! * cvt * cvt;
        pvt = (-2 * o[3]! * cvs * cvt) / r;
        const weight = stage === 0 || stage === 3 ? 1 : 2;
        ds += weight * cvs;
        dt += weight * cvt;
        dvs += weight * pvs;
        dvt += weight * pvt;
      }
      s += (h * ds) / 6;
      th += (h * dt) / 6;
      vs += (h * dvs) / 6;
      vt += (h * dvt) / 6;
    };
    return {
      toInto(share, out) {
        while (gone < share) {
          m.at(s, o);
          const r = clamp(o[1]!);
          const bend = Math.max(Math.abs(o[4]!), Math.abs(o[2]!) / r, Math.abs(o[3]!) / r, MIN_BEND);
          // Equal steps over what is left, as far as can be seen from here.
          const left = share - gone;
          const steps = Math.max(1, Math.ceil((left * speed) / Math.max(MIN_STEP_MM, speed / MAX_STEPS, STEP_RAD / bend)));
          step(left / steps);
          gone = steps === 1 ? share : gone + left / steps;
        }
        out[0] = s;
        out[1] = y + ref * th;
        return fine && Number.isFinite(s) && Number.isFinite(th);
      },
    };
  };

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
    isometric: false,
    flat: false,
    homogeneous: 'round',
    radiusAt(x) {
      m.at(x, o);
      return clamp(o[1]!);
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
      const k = clamp(o[1]!) / ref;
      out[0] = 1;
      out[1] = 0;
      out[2] = k * k;
    },
    curvatureInto(x, _y, out) {
      m.at(x, o);
      const round = o[2]! / clamp(o[1]!),
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
