interface Point {
  x: number;
  y: number;
}

/** Chords for an arc of radius r and angle sweep: sagitta r(1 − cos(θ/2n)) within the tolerance. */
const arcSteps = (radius: number, sweepRad: number, tolerance: number): number => {
  const step = 2 * Math.acos(Math.max(-1, Math.min(1, 1 - tolerance / radius)));
  return Math.min(20_000, Math.max(1, Math.ceil(Math.abs(sweepRad) / Math.max(step, 1e-4))));
};

/**
 * Appends a polyline's stretch from a to b, without a. Bulge is the tangent of a quarter of the arc's angle, positive
 * counter-clockwise. Source: DXF Reference, LWPOLYLINE group 42 (from memory).
 */
export function flattenBulge(out: number[], a: Point, b: Point, bulge: number, tolerance: number): void {
  const chord = Math.hypot(b.x - a.x, b.y - a.y);
  if (bulge === 0 || !(chord > 0) || !Number.isFinite(bulge)) {
    out.push(b.x, b.y);
    return;
  }
  const sweep = 4 * Math.atan(bulge);
  const radius = chord / (2 * Math.sin(sweep / 2));
  // The centre lies left of the chord for a counter-clockwise arc of less than half a turn.
  const h = radius * Math.cos(sweep / 2);
  const cx = (a.x + b.x) / 2 - (h * (b.y - a.y)) / chord,
    cy = (a.y + b.y) / 2 + (h * (b.x - a.x)) / chord;
  const start = Math.atan2(a.y - cy, a.x - cx);
  const n = arcSteps(Math.abs(radius), sweep, tolerance);
  for (let k = 1; k < n; k++)
    out.push(cx + Math.abs(radius) * Math.cos(start + (sweep * k) / n), cy + Math.abs(radius) * Math.sin(start + (sweep * k) / n));
  out.push(b.x, b.y);
}

/** Points of an elliptic arc, counter-clockwise from one parameter to the other (the second is taken up by whole turns). */
export function flattenEllipse(centre: Point, major: Point, ratio: number, startRad: number, endRad: number, tolerance: number): number[] {
  let sweep = endRad - startRad;
  while (sweep <= 1e-12) sweep += 2 * Math.PI;
  const a = Math.hypot(major.x, major.y);
  const n = Math.max(2, arcSteps(a, sweep, tolerance));
  const out: number[] = [];
  for (let k = 0; k <= n; k++) {
    const t = startRad + (sweep * k) / n;
    const u = Math.cos(t),
      v = ratio * Math.sin(t);
    out.push(centre.x + u * major.x - v * major.y, centre.y + u * major.y + v * major.x);
  }
  return out;
}
