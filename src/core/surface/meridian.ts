import { InvariantError } from '../base/invariant';
import { err, ok, type Result } from '../base/result';

/**
 * A place on a meridian: x along the axis, diameter there. `bulge` bends the way to the next place into an arc (tangent of a
 * quarter of its sweep, as DXF has it; positive bends outward); where it is 0, places joined smoothly lie on a cubic spline
 * and others on straight lines.
 */
export interface MeridianNode {
  xMm: number;
  diameterMm: number;
  join: 'corner' | 'smooth';
  bulge: number;
}

/** The curve whose turning makes the blank, by arc length s from its first end. */
export interface Meridian {
  lengthMm: number;
  /** Writes x, r, dx/ds, dr/ds and the curvature (1/mm, positive where the blank is convex). Past the ends it goes on straight. */
  at(s: number, out: Float64Array): void;
  /** Nearest place on it to a point of the half-plane: s, and the distance to the left of its run (outside the material), mm. */
  nearest(x: number, r: number): { s: number; offMm: number };
  /** Arc lengths at which it is divided: ends, corners, and where a spline or an arc begins. */
  joints: readonly number[];
  minRadiusMm: number;
  maxRadiusMm: number;
}

export type MeridianError =
  | { kind: 'tooFew' }
  | { kind: 'noLength'; index: number }
  | { kind: 'belowAxis'; xMm: number }
  | { kind: 'poleInside'; xMm: number }
  | { kind: 'crossesItself'; xMm: number };

/** Where the blank is so slender that a turn means nothing, mm. */
export const POLE_RADIUS_MM = 1e-3;
const SPLINE_STEPS = 192;
const MIN_PIECE_MM = 1e-6;

/** A piece of a meridian: straight, round, or a run of cubic steps between known places. */
interface Piece {
  from: number;
  lengthMm: number;
  at(s: number, out: Float64Array): void;
}

function createLine(from: number, x0: number, r0: number, x1: number, r1: number): Piece {
  const lengthMm = Math.hypot(x1 - x0, r1 - r0);
  const cx = (x1 - x0) / lengthMm,
    cr = (r1 - r0) / lengthMm;
  return {
    from,
    lengthMm,
    at(s, out) {
      out[0] = x0 + s * cx;
      out[1] = r0 + s * cr;
      out[2] = cx;
      out[3] = cr;
      out[4] = 0;
    },
  };
}

/** An arc of a given bulge. Turning right, away from the axis' side, is convex: its centre lies to the right of the run. */
function createArc(from: number, x0: number, r0: number, x1: number, r1: number, bulge: number): Piece {
  const chord = Math.hypot(x1 - x0, r1 - r0);
  const half = 2 * Math.atan(bulge);
  const radius = chord / 2 / Math.sin(half);
  // Signed: positive turns clockwise, as a convex meridian that runs along +x does.
  const kappa = 1 / radius;
  const start = Math.atan2(r1 - r0, x1 - x0) + half;
  const cx = x0 + radius * Math.sin(start),
    cr = r0 - radius * Math.cos(start);
  return {
    from,
    lengthMm: Math.abs(radius * 2 * half),
    at(s, out) {
      const phi = start - s * kappa;
      const cos = Math.cos(phi),
        sin = Math.sin(phi);
      out[0] = cx - radius * sin;
      out[1] = cr + radius * cos;
      out[2] = cos;
      out[3] = sin;
      out[4] = kappa;
    },
  };
}

/**
 * A cubic spline through places, by chord length, with continuous curvature; its ends are natural or run as what they join does.
 * Source: any numerical handbook (from memory). Tabulated by arc length and read by cubic Hermite steps: 1e-8 mm of a part of 100 mm.
 */
function createSpline(from: number, xs: readonly number[], rs: readonly number[], ends: SplineEnds): Piece {
  const n = xs.length;
  const t = [0];
  for (let i = 1; i < n; i++) t.push(t[i - 1]! + Math.hypot(xs[i]! - xs[i - 1]!, rs[i]! - rs[i - 1]!));
  const mx = computeSecondDerivatives(t, xs, ends.start?.[0] ?? null, ends.end?.[0] ?? null),
    mr = computeSecondDerivatives(t, rs, ends.start?.[1] ?? null, ends.end?.[1] ?? null);
  const value = (v: readonly number[], m: readonly number[], i: number, u: number): [number, number, number] => {
    const h = t[i + 1]! - t[i]!;
    const a = (t[i + 1]! - u) / h,
      b = (u - t[i]!) / h;
    return [
      a * v[i]! + b * v[i + 1]! + (((a ** 3 - a) * m[i]! + (b ** 3 - b) * m[i + 1]!) * h * h) / 6,
      (v[i + 1]! - v[i]!) / h + ((-(3 * a * a - 1) * m[i]! + (3 * b * b - 1) * m[i + 1]!) * h) / 6,
      a * m[i]! + b * m[i + 1]!,
    ];
  };
  const speed = (i: number, u: number): number => Math.hypot(value(xs, mx, i, u)[1], value(rs, mr, i, u)[1]);
  // Per step: s, then x, r, x', r' by arc length, and the curvature.
  const table: number[] = [];
  let s = 0;
  const put = (i: number, u: number) => {
    const [x, dx, ddx] = value(xs, mx, i, u),
      [r, dr, ddr] = value(rs, mr, i, u);
    const v = Math.hypot(dx, dr);
    table.push(s, x, r, dx / v, dr / v, (dr * ddx - dx * ddr) / v ** 3);
  };
  for (let i = 0; i + 1 < n; i++) {
    const h = (t[i + 1]! - t[i]!) / SPLINE_STEPS;
    for (let k = 0; k < SPLINE_STEPS; k++) {
      const u = t[i]! + k * h;
      put(i, u);
      // Gauss–Legendre with three points a step.
      const g = Math.sqrt(0.6) / 2;
      s += (h * (5 * speed(i, u + h * (0.5 - g)) + 8 * speed(i, u + h / 2) + 5 * speed(i, u + h * (0.5 + g)))) / 18;
    }
  }
  put(n - 2, t[n - 1]!);
  const v = Float64Array.from(table);
  const count = v.length / 6;
  let last = 0;
  return {
    from,
    lengthMm: s,
    at(at, out) {
      if (!(v[6 * last]! <= at && (last + 2 >= count || at < v[6 * last + 6]!))) {
        let lo = 0,
          hi = count - 2;
        while (lo < hi) {
          const mid = (lo + hi + 1) >> 1;
          if (v[6 * mid]! <= at) lo = mid;
          else hi = mid - 1;
        }
        last = lo;
      }
      const a = 6 * last,
        b = a + 6;
      const h = v[b]! - v[a]!;
      const w = (at - v[a]!) / h;
      const w2 = w * w,
        w3 = w2 * w;
      for (let k = 0; k < 2; k++) {
        const p0 = v[a + 1 + k]!,
          p1 = v[b + 1 + k]!,
          d0 = h * v[a + 3 + k]!,
          d1 = h * v[b + 3 + k]!;
        out[k] = (2 * w3 - 3 * w2 + 1) * p0 + (w3 - 2 * w2 + w) * d0 + (3 * w2 - 2 * w3) * p1 + (w3 - w2) * d1;
        out[2 + k] = ((6 * w2 - 6 * w) * (p0 - p1)) / h + ((3 * w2 - 4 * w + 1) * d0 + (3 * w2 - 2 * w) * d1) / h;
      }
      const norm = Math.sqrt(out[2]! * out[2]! + out[3]! * out[3]!);
      out[2]! /= norm;
      out[3]! /= norm;
      out[4] = v[a + 5]! + w * (v[b + 5]! - v[a + 5]!);
    },
  };
}

/** Unit directions along a meridian at the ends of a spline, where it joins an arc smoothly; null where it ends freely. */
interface SplineEnds {
  start: readonly [number, number] | null;
  end: readonly [number, number] | null;
}

/**
 * Second derivatives of a cubic spline at its places: the tridiagonal system, solved by elimination.
 * @param first Slope at the start, and `last` at the end; null for a natural one.
 */
function computeSecondDerivatives(t: readonly number[], v: readonly number[], first: number | null, last: number | null): number[] {
  const n = t.length;
  const m = new Array<number>(n).fill(0),
    c = new Array<number>(n).fill(0);
  const rise = (i: number): number => (v[i + 1]! - v[i]!) / (t[i + 1]! - t[i]!);
  if (first !== null) {
    c[0] = 0.5;
    m[0] = (3 * (rise(0) - first)) / (t[1]! - t[0]!);
  }
  for (let i = 1; i + 1 < n; i++) {
    const h0 = t[i]! - t[i - 1]!,
      h1 = t[i + 1]! - t[i]!;
    const diagonal = 2 * (h0 + h1) - h0 * c[i - 1]!;
    c[i] = h1 / diagonal;
    m[i] = (6 * (rise(i) - rise(i - 1)) - h0 * m[i - 1]!) / diagonal;
  }
  if (last !== null) {
    const h = t[n - 1]! - t[n - 2]!;
    m[n - 1] = (6 * (last - rise(n - 2)) - h * m[n - 2]!) / (2 * h - h * c[n - 2]!);
  }
  for (let i = n - 2; i >= 0; i--) m[i] = m[i]! - c[i]! * m[i + 1]!;
  return m;
}

/**
 * The meridian through the nodes. It may touch the axis at its ends (a pole), nowhere else.
 * @returns The curve by arc length, or what is wrong and where. O(nodes · steps).
 */
export function createMeridian(nodes: readonly MeridianNode[]): Result<Meridian, MeridianError> {
  if (nodes.length < 2) return err({ kind: 'tooFew' });
  if (nodes.some((n) => !Number.isFinite(n.xMm) || !Number.isFinite(n.diameterMm)))
    throw new InvariantError('createMeridian', 'a node is not finite');
  const ordered = nodes[0]!.xMm <= nodes[nodes.length - 1]!.xMm ? [...nodes] : reverseNodes(nodes);
  const pieces: Piece[] = [];
  let total = 0;
  const add = (piece: Piece) => {
    pieces.push(piece);
    total += piece.lengthMm;
  };
  for (let i = 0; i + 1 < ordered.length;) {
    const a = ordered[i]!,
      b = ordered[i + 1]!;
    if (Math.hypot(b.xMm - a.xMm, (b.diameterMm - a.diameterMm) / 2) < MIN_PIECE_MM) return err({ kind: 'noLength', index: i });
    if (a.bulge !== 0) {
      add(createArc(total, a.xMm, a.diameterMm / 2, b.xMm, b.diameterMm / 2, a.bulge));
      i++;
      continue;
    }
    // A run of the spline goes on as long as its inner places are smooth and no arc begins.
    let end = i + 1;
    while (end + 1 < ordered.length && ordered[end]!.join === 'smooth' && ordered[end]!.bulge === 0) end++;
    const run = ordered.slice(i, end + 1);
    for (let k = 1; k < run.length; k++) {
      if (Math.hypot(run[k]!.xMm - run[k - 1]!.xMm, (run[k]!.diameterMm - run[k - 1]!.diameterMm) / 2) < MIN_PIECE_MM)
        return err({ kind: 'noLength', index: i + k - 1 });
    }
    const xs = run.map((n) => n.xMm),
      rs = run.map((n) => n.diameterMm / 2);
    const ends: SplineEnds = { start: i > 0 && a.join === 'smooth' ? arcDirection(ordered, i - 1, 1) : null, end: null };
    if (ordered[end]!.join === 'smooth' && end + 1 < ordered.length) ends.end = arcDirection(ordered, end, 0);
    add(run.length === 2 && isAlong(run, ends) ? createLine(total, xs[0]!, rs[0]!, xs[1]!, rs[1]!) : createSpline(total, xs, rs, ends));
    i = end;
  }
  return check(createCurve(pieces, total));
}

/** Direction of the arc from a node to the next at its start or end; null where that is no arc. */
function arcDirection(nodes: readonly MeridianNode[], i: number, share: 0 | 1): [number, number] | null {
  const a = nodes[i]!,
    b = nodes[i + 1]!;
  if (a.bulge === 0) return null;
  const arc = createArc(0, a.xMm, a.diameterMm / 2, b.xMm, b.diameterMm / 2, a.bulge);
  const out = new Float64Array(5);
  arc.at(share * arc.lengthMm, out);
  return [out[2]!, out[3]!];
}

/** Whether the straight line between two nodes runs as its ends are to: then it stays a line, to the last digit. */
function isAlong(run: readonly MeridianNode[], { start, end }: SplineEnds): boolean {
  const [dx, dr] = [run[1]!.xMm - run[0]!.xMm, (run[1]!.diameterMm - run[0]!.diameterMm) / 2];
  const length = Math.hypot(dx, dr);
  return [start, end].every((d) => !d || (Math.abs(d[0] * dr - d[1] * dx) < 1e-9 * length && d[0] * dx + d[1] * dr > 0));
}

/** The same meridian from its other end. A bulge bends outward whichever way it is run. */
const reverseNodes = (nodes: readonly MeridianNode[]): MeridianNode[] =>
  nodes.map((_, k) => {
    const own = nodes[nodes.length - 1 - k]!,
      next = nodes[nodes.length - 2 - k];
    return { ...own, bulge: next ? next.bulge : 0 };
  });

/** Samples of each piece of a meridian for its nearest point. */
const SAMPLES = 48;

function createCurve(pieces: readonly Piece[], total: number): Meridian {
  const out = new Float64Array(5);
  const at = (s: number, o: Float64Array): void => {
    const inside = Math.min(total, Math.max(0, s));
    let k = 0;
    while (k + 1 < pieces.length && inside >= pieces[k + 1]!.from) k++;
    const piece = pieces[k]!;
    piece.at(Math.min(piece.lengthMm, inside - piece.from), o);
    if (s !== inside) {
      o[0]! += (s - inside) * o[2]!;
      o[1]! += (s - inside) * o[3]!;
      o[4] = 0;
    }
  };
  const samples: number[] = [];
  let min = Infinity,
    max = 0;
  for (const p of pieces) {
    for (let k = 0; k <= SAMPLES; k++) {
      const s = p.from + (k / SAMPLES) * p.lengthMm;
      at(s, out);
      samples.push(s, out[0]!, out[1]!);
      min = Math.min(min, out[1]!);
      max = Math.max(max, out[1]!);
    }
  }
  const seen = Float64Array.from(samples);
  return {
    lengthMm: total,
    at,
    joints: [...pieces.map((p) => p.from), total],
    minRadiusMm: min,
    maxRadiusMm: max,
    nearest(x, r) {
      let best = Infinity,
        s = 0;
      for (let i = 0; i < seen.length; i += 3) {
        const dx = seen[i + 1]! - x,
          dr = seen[i + 2]! - r;
        const d = dx * dx + dr * dr;
        if (d < best) {
          best = d;
          s = seen[i]!;
        }
      }
      const o = new Float64Array(5);
      for (let k = 0; k < 12; k++) {
        at(s, o);
        const ex = x - o[0]!,
          er = r - o[1]!;
        // Derivative of (distance²)/2 along s, and its own: 1 − κ · offset, kept positive.
        const along = ex * o[2]! + er * o[3]!;
        const off = er * o[2]! - ex * o[3]!;
        const step = along / Math.max(0.2, 1 + o[4]! * off);
        s += step;
        if (Math.abs(step) < 1e-12) break;
      }
      at(s, o);
      return { s, offMm: (r - o[1]!) * o[2]! - (x - o[0]!) * o[3]! };
    },
  };
}

const CHECK_STEPS = 400;

/** Finds an axis that is crossed or touched between the ends, and for a meridian that crosses itself. */
function check(m: Meridian): Result<Meridian, MeridianError> {
  const o = new Float64Array(5);
  const points: [number, number][] = [];
  for (let k = 0; k <= CHECK_STEPS; k++) {
    m.at((k / CHECK_STEPS) * m.lengthMm, o);
    if (o[1]! < -1e-9) return err({ kind: 'belowAxis', xMm: o[0]! });
    if (o[1]! < POLE_RADIUS_MM && k > 0 && k < CHECK_STEPS) {
      // Near an end it may come down to its pole; in the middle it may not touch.
      const along = Math.min(k, CHECK_STEPS - k);
      if (along > 1) return err({ kind: 'poleInside', xMm: o[0]! });
    }
    points.push([o[0]!, o[1]!]);
  }
  for (let i = 0; i + 1 < points.length; i++) {
    for (let k = i + 2; k + 1 < points.length; k++) {
      if (crosses(points[i]!, points[i + 1]!, points[k]!, points[k + 1]!)) return err({ kind: 'crossesItself', xMm: points[i]![0] });
    }
  }
  return ok(m);
}

const side = (a: [number, number], b: [number, number], c: [number, number]): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
const crosses = (a: [number, number], b: [number, number], c: [number, number], d: [number, number]): boolean =>
  side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;

/** What is wrong with a meridian, for people. */
export function describeMeridianError(error: MeridianError): string {
  const at = (x: number): string => `at x = ${Math.round(x * 100) / 100} mm`;
  switch (error.kind) {
    case 'tooFew':
      return 'needs at least two places: where it begins and where it ends';
    case 'noLength':
      return `has place ${error.index + 1} and ${error.index + 2} in the same spot: remove one`;
    case 'belowAxis':
      return `crosses the axis ${at(error.xMm)}: no diameter there may be less than 0; move a place, or join it as a corner`;
    case 'poleInside':
      return `touches the axis between its ends, ${at(error.xMm)}: the blank would fall apart there`;
    case 'crossesItself':
      return `crosses itself ${at(error.xMm)}: move or reorder the places near it`;
  }
}

/** Ready shapes to start a turned profile from. All are true arcs but the waist, a spline. */
export const PROFILE_SHAPES = ['barrel', 'waist', 'dome', 'ball'] as const;
export type ProfileShape = (typeof PROFILE_SHAPES)[number];

/** Nodes of a ready shape of a given greatest diameter and length, mm. A ball has the length of its diameter less its two necks. */
export function createProfileNodes(shape: ProfileShape, diameterMm: number, lengthMm: number): MeridianNode[] {
  const corner = (xMm: number, d: number, bulge = 0): MeridianNode => ({ xMm, diameterMm: d, join: 'corner', bulge });
  const smooth = (xMm: number, d: number): MeridianNode => ({ xMm, diameterMm: d, join: 'smooth', bulge: 0 });
  /** Bulge of the arc that rises by a height over a chord: 2h / c. */
  const bulgeOf = (rise: number, chord: number): number => (2 * rise) / chord;
  switch (shape) {
    case 'barrel':
      return [corner(0, 0.72 * diameterMm, bulgeOf(0.14 * diameterMm, lengthMm)), corner(lengthMm, 0.72 * diameterMm)];
    case 'waist':
      return [corner(0, diameterMm), smooth(lengthMm / 2, 0.7 * diameterMm), corner(lengthMm, diameterMm)];
    case 'dome': {
      // A cap on a cylindrical foot: a quarter round where there is room, else a flatter one.
      const rise = Math.min(diameterMm / 2, 0.6 * lengthMm);
      const radius = (diameterMm * diameterMm) / 8 / rise + rise / 2;
      const sweep = Math.acos(1 - rise / radius);
      return [corner(0, diameterMm), corner(lengthMm - rise, diameterMm, Math.tan(sweep / 4)), corner(lengthMm, 0)];
    }
    case 'ball': {
      const neck = 0.3 * diameterMm;
      const reach = Math.sqrt((diameterMm / 2) ** 2 - (neck / 2) ** 2);
      return [corner(0, neck, bulgeOf(diameterMm / 2 - neck / 2, 2 * reach)), corner(2 * reach, neck)];
    }
  }
}
