import type { Surface } from './surface';

/**
 * Stretches of a map from a plane to the surface by way of the sheet: singular values of dS/d(u, v), largest first.
 * @param j Derivatives of the sheet place: dx/du, dy/du, dx/dv, dy/dv.
 */
export function computeStretches(
  surface: Pick<Surface, 'metricInto'>,
  x: number,
  y: number,
  j: ArrayLike<number>,
  out: Float64Array,
): void {
  surface.metricInto(x, y, out);
  const [e, f, g] = [out[0]!, out[1]!, out[2]!];
  const [xu, yu, xv, yv] = [j[0]!, j[1]!, j[2]!, j[3]!];
  const a = e * xu * xu + 2 * f * xu * yu + g * yu * yu;
  const b = e * xu * xv + f * (xu * yv + xv * yu) + g * yu * yv;
  const c = e * xv * xv + 2 * f * xv * yv + g * yv * yv;
  const mean = (a + c) / 2,
    spread = Math.hypot((a - c) / 2, b);
  out[0] = Math.sqrt(Math.max(0, mean + spread));
  out[1] = Math.sqrt(Math.max(0, mean - spread));
}

/** Largest and smallest true length of a sheet millimetre at a place. */
export function computeSheetScale(surface: Pick<Surface, 'metricInto'>, x: number, y: number, out: Float64Array): void {
  computeStretches(surface, x, y, [1, 0, 0, 1], out);
}
