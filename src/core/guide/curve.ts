import type { Guide } from '../job/guideSchema';
import type { Surface } from '../surface/surface';

/**
 * A guide as a curve by arc length: point and unit tangent at s. Past the ends of an open one it goes on straight; round a
 * closed one it comes again.
 */
export interface Curve {
  lengthMm: number;
  closed: boolean;
  /** Writes x, y and the unit tangent to `out[0..3]`. */
  at(sMm: number, out: Float64Array): void;
}

/** A shorter guide has no direction to speak of, mm. */
export const MIN_GUIDE_MM = 1e-6;
/** Gauss–Legendre nodes and weights on [−1, 1], five points: exact to degree nine. Source: any numerical handbook (from memory). */
const GAUSS_X = [0, 0.5384693101056831, -0.5384693101056831, 0.906179845938664, -0.906179845938664];
const GAUSS_W = [0.5688888888888889, 0.47862867049936647, 0.47862867049936647, 0.23692688505618908, 0.23692688505618908];
/** Pieces a Bezier is parted into at the most, per halving, until two rules agree to this, mm. */
const LENGTH_PRECISION_MM = 1e-10;
const MAX_HALVINGS = 14;

/** The curve of a guide on a surface's sheet, or null if it is too short to follow. O(nodes). */
export function createCurve(guide: Guide, surface: Pick<Surface, 'mmPerRad' | 'periodMm'>): Curve | null {
  switch (guide.kind) {
    case 'line':
      return createLine(guide.from.xMm, guide.from.yMm, guide.to.xMm, guide.to.yMm);
    case 'around': {
      const y0 = (guide.startDeg * Math.PI * surface.mmPerRad) / 180;
      if (surface.periodMm === null) return null;
      const { xMm } = guide;
      return { lengthMm: surface.periodMm, closed: true, at: (s, out) => void out.set([xMm, y0 + s, 0, 1]) };
    }
    case 'arc': {
      const { centre, radiusMm: r } = guide;
      const lengthMm = (Math.abs(guide.sweepDeg) * Math.PI * r) / 180;
      if (lengthMm < MIN_GUIDE_MM) return null;
      const sense = Math.sign(guide.sweepDeg);
      const start = (guide.startDeg * Math.PI) / 180;
      const closed = Math.abs(guide.sweepDeg) === 360;
      return {
        lengthMm,
        closed,
        at(s, out) {
          // Past the ends of an open arc the circle goes on: letters that overhang stay on it.
          const a = start + (sense * s) / r;
          out[0] = centre.xMm + r * Math.cos(a);
          out[1] = centre.yMm + r * Math.sin(a);
          out[2] = -sense * Math.sin(a);
          out[3] = sense * Math.cos(a);
        },
      };
    }
    case 'path':
      return createPath(guide);
  }
}

function createLine(x0: number, y0: number, x1: number, y1: number): Curve | null {
  const lengthMm = Math.hypot(x1 - x0, y1 - y0);
  if (!(lengthMm >= MIN_GUIDE_MM)) return null;
  const tx = (x1 - x0) / lengthMm,
    ty = (y1 - y0) / lengthMm;
  return {
    lengthMm,
    closed: false,
    at(s, out) {
      out[0] = x0 + s * tx;
      out[1] = y0 + s * ty;
      out[2] = tx;
      out[3] = ty;
    },
  };
}

/** A stretch of a Bezier with its control points and how far along the path it begins. */
interface Stretch {
  p: Float64Array;
  t0: number;
  t1: number;
  fromMm: number;
  lengthMm: number;
}

function derivative(p: Float64Array, t: number, out: Float64Array): void {
  const s = 1 - t;
  for (let k = 0; k < 2; k++) {
    out[k] = 3 * (s * s * (p[2 + k]! - p[k]!) + 2 * s * t * (p[4 + k]! - p[2 + k]!) + t * t * (p[6 + k]! - p[4 + k]!));
  }
}

function pointOn(p: Float64Array, t: number, out: Float64Array): void {
  const s = 1 - t;
  for (let k = 0; k < 2; k++) out[k] = s * s * s * p[k]! + 3 * s * s * t * p[2 + k]! + 3 * s * t * t * p[4 + k]! + t * t * t * p[6 + k]!;
}

const d = new Float64Array(2);
function gauss(p: Float64Array, a: number, b: number): number {
  let sum = 0;
  for (let k = 0; k < 5; k++) {
    derivative(p, (a + b) / 2 + ((b - a) / 2) * GAUSS_X[k]!, d);
    sum += GAUSS_W[k]! * Math.hypot(d[0]!, d[1]!);
  }
  return (sum * (b - a)) / 2;
}

/** A polyline or Bezier by arc length: adaptive Gauss–Legendre lengths, Newton's method within a stretch. */
function createPath(guide: Extract<Guide, { kind: 'path' }>): Curve | null {
  const { nodes, closed } = guide;
  const stretches: Stretch[] = [];
  let total = 0;
  const measure = (p: Float64Array, a: number, b: number, whole: number, depth: number): void => {
    const m = (a + b) / 2;
    const left = gauss(p, a, m),
      right = gauss(p, m, b);
    if (depth < MAX_HALVINGS && (depth < 2 || Math.abs(left + right - whole) > LENGTH_PRECISION_MM)) {
      measure(p, a, m, left, depth + 1);
      measure(p, m, b, right, depth + 1);
    } else if (left + right > 0) {
      stretches.push({ p, t0: a, t1: b, fromMm: total, lengthMm: left + right });
      total += left + right;
    }
  };
  const count = closed ? nodes.length : nodes.length - 1;
  for (let i = 0; i < count; i++) {
    const a = nodes[i]!,
      b = nodes[(i + 1) % nodes.length]!;
    const straight = a.outMm.xMm === 0 && a.outMm.yMm === 0 && b.inMm.xMm === 0 && b.inMm.yMm === 0;
    const third = straight ? { xMm: (b.xMm - a.xMm) / 3, yMm: (b.yMm - a.yMm) / 3 } : null;
    const out = third ?? a.outMm;
    const into = third ? { xMm: -third.xMm, yMm: -third.yMm } : b.inMm;
    const p = Float64Array.from([a.xMm, a.yMm, a.xMm + out.xMm, a.yMm + out.yMm, b.xMm + into.xMm, b.yMm + into.yMm, b.xMm, b.yMm]);
    if (straight) {
      const length = Math.hypot(b.xMm - a.xMm, b.yMm - a.yMm);
      if (length > 0) stretches.push({ p, t0: 0, t1: 1, fromMm: total, lengthMm: length });
      total += length;
    } else measure(p, 0, 1, gauss(p, 0, 1), 0);
  }
  if (!(total >= MIN_GUIDE_MM)) return null;
  const point = new Float64Array(2),
    slope = new Float64Array(2);
  return {
    lengthMm: total,
    closed,
    at(sMm, out) {
      const s = closed ? ((sMm % total) + total) % total : sMm;
      let lo = 0,
        hi = stretches.length - 1;
      while (lo < hi) {
        const mid = (lo + hi + 1) >> 1;
        if (stretches[mid]!.fromMm <= s) lo = mid;
        else hi = mid - 1;
      }
      const { p, t0, t1, fromMm, lengthMm } = stretches[lo]!;
      const inside = Math.min(lengthMm, Math.max(0, s - fromMm));
      let t = t0 + ((t1 - t0) * inside) / lengthMm;
      for (let k = 0; k < 8; k++) {
        derivative(p, t, slope);
        const speed = Math.hypot(slope[0]!, slope[1]!);
        const step = (gauss(p, t0, t) - inside) / (speed || 1);
        t = Math.min(t1, Math.max(t0, t - step));
        if (Math.abs(step) < 1e-14) break;
      }
      derivative(p, t, slope);
      // A handle of no length gives no slope at its node; a little inside there is one.
      if (Math.hypot(slope[0]!, slope[1]!) < 1e-9) derivative(p, t < (t0 + t1) / 2 ? t + 1e-6 : t - 1e-6, slope);
      const speed = Math.hypot(slope[0]!, slope[1]!) || 1;
      pointOn(p, t, point);
      const beyond = closed ? 0 : s < 0 ? s : Math.max(0, s - total);
      out[2] = slope[0]! / speed;
      out[3] = slope[1]! / speed;
      out[0] = point[0]! + beyond * out[2];
      out[1] = point[1]! + beyond * out[3];
    },
  };
}

/** Pieces a curve is measured in on a surface. */
const TRUE_PIECES = 256;

/**
 * A curve of the sheet by its length on the surface, where the sheet is not true: `at` takes surface mm and still gives sheet
 * places and directions. Gauss–Legendre lengths by piece, Newton's method within.
 */
export function toTrueCurve(curve: Curve, surface: Pick<Surface, 'metricInto'>): Curve {
  const o = new Float64Array(4),
    g = new Float64Array(3);
  const speed = (s: number): number => {
    curve.at(s, o);
    surface.metricInto(o[0]!, o[1]!, g);
    return Math.sqrt(g[0]! * o[2]! * o[2]! + 2 * g[1]! * o[2]! * o[3]! + g[2]! * o[3]! * o[3]!);
  };
  const measure = (a: number, b: number): number =>
    (GAUSS_X.reduce((sum, x, k) => sum + GAUSS_W[k]! * speed((a + b) / 2 + ((b - a) / 2) * x), 0) * (b - a)) / 2;
  const step = curve.lengthMm / TRUE_PIECES;
  const ends = new Float64Array(TRUE_PIECES + 1);
  for (let k = 0; k < TRUE_PIECES; k++) ends[k + 1] = ends[k]! + measure(k * step, (k + 1) * step);
  const total = ends[TRUE_PIECES]!;
  return {
    lengthMm: total,
    closed: curve.closed,
    at(sMm, out) {
      const turns = curve.closed ? Math.floor(sMm / total) : 0;
      const s = sMm - turns * total;
      let lo = 0,
        hi = TRUE_PIECES - 1;
      while (lo < hi) {
        const mid = (lo + hi + 1) >> 1;
        if (ends[mid]! <= s) lo = mid;
        else hi = mid - 1;
      }
      let t = lo * step + ((s - ends[lo]!) / (ends[lo + 1]! - ends[lo]!)) * step;
      // Past an open end the curve goes on straight, at the speed it has there.
      for (let k = 0; k < 6; k++) {
        const off = ends[lo]! + measure(lo * step, t) - s;
        const by = off / (speed(t) || 1);
        t -= by;
        if (Math.abs(by) < 1e-12) break;
      }
      curve.at(t + turns * curve.lengthMm, out);
    },
  };
}

/** The curve run from its other end. */
export const reverseCurve = (curve: Curve): Curve => ({
  ...curve,
  at(s, out) {
    curve.at(curve.lengthMm - s, out);
    out[2] = -out[2]!;
    out[3] = -out[3]!;
  },
});

/** Points along a curve for drawing it, x y in turn; chords within the tolerance. */
export function flattenCurve(curve: Curve, toleranceMm: number): number[] {
  const a = new Float64Array(4),
    b = new Float64Array(4),
    m = new Float64Array(4);
  const out: number[] = [];
  const split = (s0: number, s1: number, depth: number): void => {
    curve.at(s0, a);
    curve.at(s1, b);
    curve.at((s0 + s1) / 2, m);
    const gap = Math.hypot((a[0]! + b[0]!) / 2 - m[0]!, (a[1]! + b[1]!) / 2 - m[1]!);
    if (depth > 0 && (gap > toleranceMm || depth > 9)) {
      split(s0, (s0 + s1) / 2, depth - 1);
      split((s0 + s1) / 2, s1, depth - 1);
    } else out.push(b[0]!, b[1]!);
  };
  curve.at(0, a);
  out.push(a[0]!, a[1]!);
  split(0, closedEnd(curve), 13);
  return out;
}

const closedEnd = (curve: Curve): number => (curve.closed ? curve.lengthMm * (1 - 1e-12) : curve.lengthMm);
