/**
 * Meets a ray with the quadric y² + z² = (a + b·x)² about the X axis: cylinders (b = 0) and cones.
 * @param out Receives the ray parameters, ascending; NaN where there are fewer.
 * Source: elementary.
 */
export function meetRoundQuadric(o: ArrayLike<number>, d: ArrayLike<number>, a: number, b: number, out: Float64Array): void {
  const r0 = a + b * o[0]!,
    slope = b * d[0]!;
  const A = d[1]! * d[1]! + d[2]! * d[2]! - slope * slope;
  const B = o[1]! * d[1]! + o[2]! * d[2]! - r0 * slope;
  const C = o[1]! * o[1]! + o[2]! * o[2]! - r0 * r0;
  out[0] = NaN;
  out[1] = NaN;
  if (Math.abs(A) < 1e-14) {
    if (Math.abs(B) > 1e-14) out[0] = -C / (2 * B);
    return;
  }
  const disc = B * B - A * C;
  if (disc < 0) return;
  // The root of larger size first, then the other by the product, so that neither loses digits.
  const q = -(B + Math.sign(B || 1) * Math.sqrt(disc));
  const one = q / A,
    two = q === 0 ? one : C / q;
  out[0] = Math.min(one, two);
  out[1] = Math.max(one, two);
}
