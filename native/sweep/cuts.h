// Cuts gathered cells with a cutter that stands or moves: each ray at the place on the piece where it goes deepest.
#pragma once
#include "rays.h"

/** Cuts one ray with the cutter where it stands; `moves` says that it comes from elsewhere on the piece. */
static void cutHere(Tile &tile, i32 i, bool moves) {
  const Vec p = pointOf(tile, i), n = normalOf(tile, i);
  double in, out;
  leave(p, n, in, out);
  const double depth = tile.depth[i];
  if (!(out > depth)) return;
  // Where the ray enters through the flank it may do so sooner from elsewhere on the piece, and the stretch is one.
  if (moves && in > depth) in = entryOnPiece(in, p, n);
  removeStretch(tile, i, in, out);
}
static void tryAt(Tile &tile, i32 i, double s) {
  goTo(s);
  cutHere(tile, i, true);
}

/** Cuts one ray where it goes deepest along the piece with a round corner: how far the ray is outside it at its nearest is convex. */
static void tryCorner(Tile &tile, i32 i) {
  const Vec p = pointOf(tile, i), n = normalOf(tile, i), d = p - wayTip;
  const double na = dot(n, wayAxis), da = dot(d, wayAxis);
  if (!(na > 0)) return;
  double t = max(da, da - va) / na, s = 0.5;
  for (i32 k = 0; k < SEEK_ROUNDS; k++) {
    // The place on the piece that is nearest to where the ray is now: how the distance changes with it grows.
    const Vec q = d - t * n;
    double lo = 0, hi = 1, slow, fast, at;
    outside(q, wayAxis, -1 * piece.move, slow);
    outside(q - piece.move, wayAxis, -1 * piece.move, fast);
    if (slow >= 0) s = 0;
    else if (fast <= 0) s = 1;
    else {
      i32 last = 0;
      for (i32 j = 0; j < SEEK_PLACES && hi - lo > SOUGHT; j++) {
        // Where a straight line between the two is 0; an end that stays counts for half, or it would stay for ever (Illinois).
        s = lo + (hi - lo) * (slow / (slow - fast));
        outside(q - s * piece.move, wayAxis, -1 * piece.move, at);
        if (at < 0) {
          lo = s;
          slow = at;
          if (last < 0) fast *= 0.5;
          last = -1;
        } else {
          hi = s;
          fast = at;
          if (last > 0) slow *= 0.5;
          last = 1;
        }
      }
    }
    double slope;
    const double far = outside(q - s * piece.move, wayAxis, n, slope);
    if (far < SOUGHT) break;
    if (slope > -1e-9) return;
    t += far / slope;
    if (!(t + slack > tile.depth[i])) return;
  }
  // Where the piece bends, to the top of a parabola through three depths about the place.
  const double step = min(0.25, CORNER_STEP / std::sqrt(vv));
  for (i32 k = 0; k < 2 && bent; k++) {
    double in, at[3];
    for (i32 j = 0; j < 3; j++) {
      goTo(s + (j - 1) * step);
      leave(p, n, in, at[j]);
    }
    const double curve = at[0] - 2 * at[1] + at[2], aside = 0.5 * step * (at[0] - at[2]) / curve;
    if (!(curve < 0) || !(std::fabs(aside) < 4 * step)) break;
    s = min(1, max(0, s + aside));
  }
  tryAt(tile, i, s);
}

/**
 * Cuts one ray with the flat of the tip, which is over it from s1 to s2: where its plane is deepest there. `rise` is the piece's rise
 * along the axis, where the higher end of the flat's stay is the deeper; NaN where it has to be looked for.
 */
static void tryFlat(Tile &tile, i32 i, double s1, double s2, double root, double rise) {
  if (rise > 0 ? s1 == 0 : rise < 0 ? s2 == 1 : rise == 0) return tryAt(tile, i, rise > 0 ? 0 : rise < 0 ? 1 : (s1 + s2) / 2);
  const Vec p = pointOf(tile, i), n = normalOf(tile, i);
  // The piece is a little bent: into the circle, should its ends have come to lie outside.
  double lo = s1, hi = s2, meets;
  for (i32 k = 0; k < 3; k++) {
    const double over = circleAt(lo, 0, shape.flat, p, n, meets);
    if (over <= 0) break;
    lo += root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
  }
  for (i32 k = 0; k < 3; k++) {
    const double over = circleAt(hi, 0, shape.flat, p, n, meets);
    if (over <= 0) break;
    hi -= root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
  }
  if (!(lo <= hi)) return;
  if (rise == rise) return tryAt(tile, i, rise > 0 ? lo : hi);
  double a, b, c;
  circleAt(lo, 0, shape.flat, p, n, a);
  circleAt(hi, 0, shape.flat, p, n, c);
  double s = a > c ? lo : a < c ? hi : (lo + hi) / 2;
  if (max(a, c) <= tile.depth[i] - 0.01) return;
  circleAt((lo + hi) / 2, 0, shape.flat, p, n, b);
  if (b > max(a, c) || 2 * b > a + c) {
    // The vertex of the parabola through the three.
    const double curve = a - 2 * b + c;
    const double at = curve < 0 ? (lo + hi) / 2 + ((a - c) / curve) * ((hi - lo) / 4) : s;
    if (at > lo && at < hi) s = at;
  }
  tryAt(tile, i, s);
}

/** Cells to be cut, as runs within rows of tiles: a footprint has a few cells a row, and what is the same for all is got ready once. */
struct Runs {
  i32 count;
  Tile *tile[256];
  i32 first[256], last[256];
};
static Runs runs;

/** Cuts cells with one part of a cutter that moves. */
static void cutPart(i32 k) {
  const Part &part = shape.parts[k];
  const double m = part.m, mva = m * va, qvv = vv - m * va * va, inverse = 1 / qvv, centre = part.centre, square = part.radiusSquared;
  const Vec a = wayAxis, v = piece.move, start = wayTip + centre * wayAxis, u = piece.axisMove;
  const double low = part.from - centre, top = part.to - centre, slow = slack, alongTurn = dot(u, v), across = va;
  const bool isSteep = !(qvv > 1e-18), turns = bent, isLast = k == inReach - 1;
  for (i32 run = 0; run < runs.count; run++) {
    Tile &tile = *runs.tile[run];
    for (i32 i = runs.first[run]; i <= runs.last[run]; i++) {
      if (isSteep) {
        // Steeper than this part's flank: deepest at an end.
        tryAt(tile, i, across < 0 ? 1 : 0);
        continue;
      }
      const Vec n = normalOf(tile, i), p = pointOf(tile, i) - start;
      const double na = dot(n, a), nv = dot(n, v), pa = dot(p, a), pv = dot(p, v);
      // Normals may be of single precision: their own length counts, or the walls would not meet on the tool's way.
      const double qnn = dot(n, n) - m * na * na, qpn = dot(p, n) - m * pa * na, qpp = dot(p, p) - m * pa * pa - square;
      const double qvn = nv - mva * na, qpv = pv - mva * pa;
      const double A = qnn - qvn * qvn * inverse, B = qpn - qpv * qvn * inverse, C = qpp - qpv * qpv * inverse;
      const double D = B * B - A * C;
      // On the tool's own way the two walls meet, and rounding may put the root below nothing.
      if (D < -ROUNDING * std::fabs(A)) continue;
      const double root = D > 0 ? std::sqrt(D) : 0;
      const double t = B <= 0 ? C / (B - root) : (B + root) / A;
      if (!(t + slow > tile.depth[i])) continue;
      double s = (qpv - t * qvn) * inverse;
      if (turns) {
        // The axis turns on the way, so places on the flank move otherwise than the tip: Newton's steps for it.
        const double begin = s, up = pa - t * na;
        const double at = dot(u, p + centre * a - t * n);
        s = begin + (at - s * alongTurn) * (centre + m * (up - s * across)) * inverse;
        s = begin + (at - s * alongTurn) * (centre + m * (up - s * across)) * inverse;
      }
      if (s > 0 && s < 1) {
        // Another part's place, clearly.
        const double h = pa - s * across - t * na;
        if (h < low - AWAY || h > top + AWAY) continue;
        // Steeper than the flank a ray comes from above, unless it comes through a wider part below the surface.
        if (!turns && isLast && qnn <= ALONG && h >= low && h <= top) {
          removeStretch(tile, i, 0, t);
          continue;
        }
      } else s = s > 0 ? 1 : 0;
      tryAt(tile, i, s);
    }
  }
}

/** Cuts cells with the flat of the tip of a cutter that moves: where its plane meets its own circle on each ray. */
static void cutRim() {
  const double rise = plain ? va : NAN;
  const bool isSlant = bent && std::fabs(va) > SLANT * std::sqrt(vv);
  for (i32 run = 0; run < runs.count; run++) {
    Tile &tile = *runs.tile[run];
    for (i32 i = runs.first[run]; i <= runs.last[run]; i++) {
      Stay stay;
      const Vec p = pointOf(tile, i), n = normalOf(tile, i);
      if (isSlant ? stayBent(0, shape.flat, p, n, stay) : stayIn(0, shape.flat, p, n, stay)) tryFlat(tile, i, max(0, stay.from), min(1, stay.to), stay.root, rise);
    }
  }
}

/** Cuts cells with the crease between a part and the next, on a piece that rises or sinks: where it passes each ray. */
static void cutCrease(i32 k) {
  const double height = shape.parts[k].to, width = widthAt(height);
  for (i32 run = 0; run < runs.count; run++) {
    Tile &tile = *runs.tile[run];
    for (i32 i = runs.first[run]; i <= runs.last[run]; i++) {
      Stay stay;
      const Vec p = pointOf(tile, i), n = normalOf(tile, i);
      if (bent ? !stayBent(height, width, p, n, stay) : !stayIn(height, width, p, n, stay)) continue;
      const double ends[2] = {stay.from, stay.to};
      for (const double s : ends) {
        if (s > 0 && s < 1 && stay.meets - s * stay.climb + slack > tile.depth[i]) tryAt(tile, i, s);
      }
    }
  }
}

/** Cuts the runs that were gathered. */
static void cutRuns(bool stands) {
  if (stands || shape.corner > 0) {
    for (i32 run = 0; run < runs.count; run++) {
      for (i32 i = runs.first[run]; i <= runs.last[run]; i++) {
        if (stands) cutHere(*runs.tile[run], i, false);
        else tryCorner(*runs.tile[run], i);
      }
    }
  }
  if (!stands) {
    for (i32 k = 0; k < inReach; k++) cutPart(k);
    if (shape.flat > 0) cutRim();
    for (i32 k = 0; k + 1 < inReach; k++) {
      if (isCrease(k)) cutCrease(k);
    }
  }
  runs.count = 0;
}
