import type { Meridian } from './meridian';
import { POLE_RADIUS_MM } from './meridian';
import type { Surface, Walk } from './surface';

/** Steps of the geodesic integrator: below 2e-6 mm on walks of 20 mm over a ball of 15 mm, against spherical trigonometry in checks/. */
const MIN_STEP_MM = 0.01;
const MAX_STEPS = 4096;
const MIN_BEND = 1e-6;
const STEP_RAD = 0.035;

/** Radius, kept from vanishing, so that past a pole the map goes on and stays finite. */
export const clampRadius = (r: number): number => (r > POLE_RADIUS_MM ? r : POLE_RADIUS_MM);

/**
 * Exponential map of a cone in closed form: a straight line in its development about the apex. Goes over into the cylinder as sin α → 0.
 * @param startRadius Radius at x = 0. @param ref Radius at which a sheet millimetre round is a true one, mm.
 */
export const createConeExp =
  (startRadius: number, sinAlpha: number, ref: number): Surface['expInto'] =>
  (x, y, du, dv, out) => {
    const r = clampRadius(startRadius + x * sinAlpha);
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

/**
 * Walks straight on over a surface of revolution: geodesic equations s'' = r r' θ'², θ'' = −2 (r'/r) s' θ', by Runge–Kutta of fourth
 * order, with steps as the curvature at each place allows.
 */
export function createRevolvedWalks(m: Meridian, ref: number): NonNullable<Surface['walkFrom']> {
  return (x, y, du, dv) => new RevolvedWalk(m, ref, x, y, du, dv);
}

class RevolvedWalk implements Walk {
  private readonly o = new Float64Array(5);
  private readonly speed: number;
  private s: number;
  private theta = 0;
  private vs: number;
  private vt: number;
  /** Share of the walk that is done, and whether it stayed off the poles. */
  private gone = 0;
  private fine = true;

  constructor(
    private readonly m: Meridian,
    private readonly ref: number,
    x: number,
    private readonly y: number,
    du: number,
    dv: number,
  ) {
    this.speed = Math.hypot(du, dv);
    m.at(x, this.o);
    this.s = x;
    this.vs = du;
    this.vt = dv / clampRadius(this.o[1]!);
  }

  toInto(share: number, out: Float64Array): boolean {
    const { o, speed } = this;
    while (this.gone < share) {
      this.m.at(this.s, o);
      const r = clampRadius(o[1]!);
      const bend = Math.max(Math.abs(o[4]!), Math.abs(o[2]!) / r, Math.abs(o[3]!) / r, MIN_BEND);
      // Equal steps over what is left, judged by the curvature here.
      const left = share - this.gone;
      const steps = Math.max(1, Math.ceil((left * speed) / Math.max(MIN_STEP_MM, speed / MAX_STEPS, STEP_RAD / bend)));
      this.step(left / steps);
      this.gone = steps === 1 ? share : this.gone + left / steps;
    }
    out[0] = this.s;
    out[1] = this.y + this.ref * this.theta;
    return this.fine && Number.isFinite(this.s) && Number.isFinite(this.theta);
  }

  private step(h: number): void {
    const { o } = this;
    let ds = 0,
      dt = 0,
      dvs = 0,
      dvt = 0;
    let ps = 0,
      pvs = 0,
      pvt = 0;
    for (let stage = 0; stage < 4; stage++) {
      const w = stage === 0 ? 0 : stage === 3 ? h : h / 2;
      const cvs = this.vs + w * pvs,
        cvt = this.vt + w * pvt;
      this.m.at(this.s + w * ps, o);
      const r = clampRadius(o[1]!);
      if (o[1]! <= POLE_RADIUS_MM) this.fine = false;
      ps = cvs;
      pvs = r * o[3]! * cvt * cvt;
      pvt = (-2 * o[3]! * cvs * cvt) / r;
      const weight = stage === 0 || stage === 3 ? 1 : 2;
      ds += weight * cvs;
      dt += weight * cvt;
      dvs += weight * pvs;
      dvt += weight * pvt;
    }
    this.s += (h * ds) / 6;
    this.theta += (h * dt) / 6;
    this.vs += (h * dvs) / 6;
    this.vt += (h * dvt) / 6;
  }
}
