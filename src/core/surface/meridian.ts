import { InvariantError } from '../base/invariant';
import { err, ok, type Result } from '../base/result';
import { createArc, createLine, createSpline, type Piece, type SplineEnds } from './meridianPieces';

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
const MIN_PIECE_MM = 1e-6;

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
