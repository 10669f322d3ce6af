// Where a ray enters and leaves the cutter: where it stands, and at the first on a whole piece.
#pragma once
#include "base.h"

static void goTo(double s) {
  const double b = s * (s - 1);
  standTip = piece.tip + s * piece.move + b * piece.bow;
  standAxis = piece.axis + s * piece.axisMove + b * piece.axisBow;
}

/** Takes the piece that cuts next: what is the same for all its rays. */
static void take() {
  bowLength = length(piece.bow);
  const double axisTurn = length(piece.axisMove);
  bent = bowLength > STRAIGHT || axisTurn > STRAIGHT;
  // The straight way that stands for the piece, with its middle axis.
  wayAxis = piece.axis + 0.5 * piece.axisMove - 0.25 * piece.axisBow;
  wayTip = piece.tip - (1.0 / 6) * piece.bow;
  va = dot(piece.move, wayAxis);
  vv = dot(piece.move, piece.move);
  plain = shape.flat * shape.flat * axisTurn / std::sqrt(vv > 0 ? vv : 1) < PLANE;
  turn = bent ? 2 * axisTurn : 0;
  if (!bent) bowLength = 0;
}

static inline Vec pointOf(const Tile &t, i32 i) {
  if (t.frames) {
    const float *f = FRAMES_AT(t.frames) + 6 * i;
    return {f[0], f[1], f[2]};
  }
  const double *r = t.rows[i >> 5];
  const double c = i & 31;
  return {r[0] + c * r[3], r[1] + c * r[4], r[2] + c * r[5]};
}
static inline Vec normalOf(const Tile &t, i32 i) {
  if (t.frames) {
    const float *f = FRAMES_AT(t.frames) + 6 * i;
    return {f[3], f[4], f[5]};
  }
  const double *r = t.rows[i >> 5];
  return {r[6], r[7], r[8]};
}

static void removeStretch(Tile &tile, i32 i, double in, double out) {
  const double depth = tile.depth[i];
  double deeper;
  if (!tile.hasUnder && in <= depth) {
    if (!(out > depth)) return;
    tile.depth[i] = out;
    tile.motion[i] = motion + 1;
    tile.changed = 1;
    deeper = out - depth;
  } else deeper = removeUnder(tile.key, i, in, out, motion);
  if (!taken || !(deeper > 0)) return;
  taken[motion] += deeper;
  if (deeper <= most[motion]) return;
  most[motion] = deeper;
  mostCell[motion] = tile.key * CELLS + i;
}

/**
 * How far a place, given from the tip, is outside a mill with a round corner: its distance to the cylinder whose edge is the middle of
 * that corner, less the corner's radius. Convex over all places. `slope` becomes how it changes along a direction.
 */
static inline double outside(Vec d, Vec axis, Vec along, double &slope) {
  const double h = dot(d, axis), e = max(0, shape.corner - h);
  const Vec r = d - h * axis;
  const double rho = length(r), q = max(0, rho - shape.flat);
  const double far = std::sqrt(q * q + e * e);
  slope = far > 0 ? ((q > 0 ? q / rho * dot(r, along) : 0) - e * dot(axis, along)) / far : 0;
  return far - shape.corner;
}

/** Where a ray meets a round corner where the cutter stands, sought from a place outside it; −∞ if it does not. `way` is 1 inward. */
static double meetCorner(Vec d, Vec n, double t, double way) {
  for (i32 k = 0; k < SEEK_ROUNDS; k++) {
    double slope;
    const double far = outside(d - t * n, standAxis, (-way) * n, slope);
    if (far < SOUGHT) return t;
    // A convex function that does not fall from here on.
    if (slope > -1e-9) return -INFINITY;
    t -= way * far / slope;
  }
  return t;
}

/** Where a ray enters and leaves the cutter where it stands; leaves at −∞ if it misses, enters there from above. */
static void leave(Vec p, Vec n, double &in, double &out) {
  const Vec d = p - standTip;
  const double nn = dot(n, n), na = dot(n, standAxis), da = dot(d, standAxis);
  out = -INFINITY;
  double into = INFINITY, through = -INFINITY;
  bool missed = false;
  for (i32 k = 0; k < inReach; k++) {
    const Part &part = shape.parts[k];
    const Vec w = d - part.centre * standAxis;
    const double wa = da - part.centre;
    const double A = nn - part.m * na * na, B = dot(w, n) - part.m * wa * na, C = dot(w, w) - part.m * wa * wa - part.radiusSquared;
    const double D = B * B - A * C;
    // A ray all but along an upright wall has next to no A: what rounding may do to D is a share of it.
    missed = D < -ROUNDING * std::fabs(A);
    if (missed) continue;
    const double root = D > 0 ? std::sqrt(D) : 0;
    const double t = B <= 0 ? C / (B - root) : A > 0 ? (B + root) / A : -INFINITY;
    const double h = da - t * na;
    if (h >= part.from - HEIGHT_SLACK && h <= part.to + HEIGHT_SLACK && t > out) out = t;
    if (A > ALONG) {
      const double t0 = (B - root) / A, h0 = da - t0 * na;
      through = t0;
      if (h0 >= part.from - HEIGHT_SLACK && h0 <= part.to + HEIGHT_SLACK && t0 < into) into = t0;
    }
  }
  if (shape.flat > 0) {
    const double t = da / na;
    const Vec u = d - t * n;
    if (dot(u, u) <= shape.flat * shape.flat) {
      if (na > 0) out = max(out, t);
      else into = min(into, t);
    } else if (shape.corner > 0 && out == -INFINITY && na > 0) {
      out = meetCorner(d, n, t, -1);
      if (out > -INFINITY && into == INFINITY && through > -INFINITY && da - through * na < shape.corner) into = meetCorner(d, n, through, 1);
    }
  }
  // A ray that grazes the rim enters where it leaves; any other comes from parts that stand clear of the surface.
  const Part &last = shape.parts[inReach - 1];
  in = into < INFINITY ? into : 1 - last.m * na * na > ALONG && (missed || last.to == INFINITY) ? out : -INFINITY;
}

/** Where a ray enters the cutter as it stands at s; infinite if it does not. */
static double entryAt(double s, Vec p, Vec n) {
  double in, out;
  goTo(s);
  leave(p, n, in, out);
  return out == -INFINITY ? INFINITY : in;
}

/** From where to where on the piece a circle about the axis at a height over the tip holds a ray; `root` is half of it, as z2 goes. */
struct Stay {
  double from, to, root, meets, climb;
};
/** On the straight way that stands for the piece: the middle of the stay is uz / z2, and D the square of its root. */
struct StraightStay {
  double z2, uz, D;
};
static inline StraightStay layStay(double height, double width, Vec p, Vec n, Stay &stay) {
  const Vec d = p - wayTip - height * wayAxis;
  const double per = 1 / dot(n, wayAxis);
  stay.meets = dot(d, wayAxis) * per;
  stay.climb = va * per;
  const Vec u = d - stay.meets * n, z = piece.move - stay.climb * n;
  const double z2 = dot(z, z), uz = dot(u, z);
  return {z2, uz, uz * uz - z2 * (dot(u, u) - width * width)};
}
static inline bool stayIn(double height, double width, Vec p, Vec n, Stay &stay) {
  const StraightStay w = layStay(height, width, p, n, stay);
  if (w.D < 0 || !(w.z2 > 0)) return false;
  stay.root = std::sqrt(w.D);
  // Into the circle by a hair.
  stay.from = (w.uz - (1 - INWARD) * stay.root) / w.z2;
  stay.to = (w.uz + (1 - INWARD) * stay.root) / w.z2;
  return stay.from <= 1 && stay.to >= 0;
}

/** Where a ray meets the plane of such a circle. @returns How far outside the circle, as a difference of squares. */
static double circleAt(double s, double height, double width, Vec p, Vec n, double &meets) {
  goTo(s);
  const Vec d = p - standTip - height * standAxis;
  meets = dot(d, standAxis) / dot(n, standAxis);
  const Vec u = d - meets * n;
  return dot(u, u) - width * width;
}

/**
 * The stay on the piece as it bends, which counts where the ray is deepest at its end: near the swath's edge a fraction of a µm to the
 * side moves that end by its root. The difference of squares is a parabola along the piece, nearly.
 */
static bool stayBent(double height, double width, Vec p, Vec n, Stay &stay) {
  const StraightStay w = layStay(height, width, p, n, stay);
  if (!(w.z2 > 0) || w.D < -2 * w.z2 * width * (slack + turn * height)) return false;
  const double at = w.uz / w.z2, far = max(std::sqrt(max(0, w.D)) / w.z2, 0.05 * width / std::sqrt(w.z2));
  double meets;
  const double a = circleAt(at - far, height, width, p, n, meets), b = circleAt(at, height, width, p, n, meets),
               c = circleAt(at + far, height, width, p, n, meets);
  const double curve = (a - 2 * b + c) / (2 * far * far), slope = (c - a) / (2 * far), square = slope * slope - 4 * curve * b;
  if (!(curve > 0) || square < 0) return false;
  const double half = std::sqrt(square) / (2 * curve), middle = at - slope / (2 * curve);
  stay.root = half * w.z2;
  stay.from = middle - half;
  stay.to = middle + half;
  if (stay.from > 1 || stay.to < 0) return false;
  // Onto the circle, and into it by a hair.
  for (i32 k = 0; k < 2 && half > 0; k++) {
    stay.from += circleAt(stay.from, height, width, p, n, meets) / (2 * curve * half);
    stay.to -= circleAt(stay.to, height, width, p, n, meets) / (2 * curve * half);
  }
  stay.from += INWARD * half;
  stay.to -= INWARD * half;
  return stay.from <= stay.to;
}

/**
 * Where a ray that enters the cutter through its flank does so first on the whole piece: by each part, by the tip's rim, at an end, or
 * where the piece passes nearest to its place on the surface.
 */
static double entryOnPiece(double in, Vec p, Vec n) {
  for (i32 k = 0; k < 3; k++) in = min(in, entryAt(k / 2.0, p, n));
  // A wall all but along the ray: from the ends of the tip's stay under it the ray may leave through the wall, but not from here.
  if (vv > 0) in = min(in, entryAt(min(1, max(0, dot(p - wayTip, piece.move) / vv)), p, n));
  for (i32 k = 0; k < inReach; k++) {
    const Part &part = shape.parts[k];
    const Vec d = p - wayTip - part.centre * wayAxis;
    const double na = dot(n, wayAxis), pa = dot(d, wayAxis), qvv = vv - part.m * va * va, qvn = dot(n, piece.move) - part.m * na * va;
    if (!(qvv > 1e-18)) continue;
    const double qpv = dot(d, piece.move) - part.m * pa * va;
    const double A = dot(n, n) - part.m * na * na - qvn * qvn / qvv, B = dot(d, n) - part.m * pa * na - qpv * qvn / qvv;
    const double D = B * B - A * (dot(d, d) - part.m * pa * pa - part.radiusSquared - qpv * qpv / qvv);
    if (D < 0 || !(A > ALONG)) continue;
    const double s = (qpv - (B - std::sqrt(D)) / A * qvn) / qvv;
    if (s > 0 && s < 1) in = min(in, entryAt(s, p, n));
  }
  Stay stay;
  if (!(shape.flat > 0 && (bent ? stayBent(0, shape.flat, p, n, stay) : stayIn(0, shape.flat, p, n, stay)))) return in;
  if (stay.from > 0) in = min(in, entryAt(stay.from, p, n));
  if (stay.to < 1) in = min(in, entryAt(stay.to, p, n));
  return in;
}
