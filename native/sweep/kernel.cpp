// The sweep of a cutter over a field of cells: which cells a piece of its way can be deepest for, and the exact depth of their rays.
// Built for the browser (build.sh) and natively for the bench (bench.cpp). Formulas: docs/architecture.md, stage 8. Lengths are mm.
//
// For each cell the place on the piece at which its ray goes deepest follows in closed form for every part of the cutter (a quadric
// moving straight); there the ray is cut with the cutter as it stands. Any place on the piece is a true position, so an error there is
// of second order and never too deep.
#include <cmath>
#include <cstring>

#ifdef __wasm__
#define EXPORT(name) extern "C" __attribute__((export_name(#name)))
#define IMPORT(name) extern "C" __attribute__((import_module("env"), import_name(#name)))
#define TILE_AT(at) (*(Tile *)(size_t)(at))
#define FRAMES_AT(at) ((const float *)(size_t)(at))
#else
#define EXPORT(name) extern "C"
#define IMPORT(name) extern "C"
#endif

typedef int i32;

struct Vec {
  double x, y, z;
};
static inline Vec operator+(Vec a, Vec b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
static inline Vec operator-(Vec a, Vec b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
static inline Vec operator*(double k, Vec a) { return {k * a.x, k * a.y, k * a.z}; }
static inline double dot(Vec a, Vec b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
static inline Vec cross(Vec a, Vec b) { return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x}; }
static inline double length(Vec a) { return std::sqrt(dot(a, a)); }
static inline double max(double a, double b) { return a > b ? a : b; }
static inline double min(double a, double b) { return a < b ? a : b; }

// The surface, and what is rare enough to be done outside.
IMPORT(toSheet) void toSheet(double x, double y, double z, double *out);
IMPORT(frameAt) void frameAt(double x, double y, double *out);
IMPORT(curvatureAt) double curvatureAt(double x, double y);
IMPORT(makeTile) i32 makeTile(i32 key);
IMPORT(removeUnder) double removeUnder(i32 key, i32 cell, double in, double out, i32 motion);
IMPORT(noteTile) void noteTile(i32 key, i32 motion);
IMPORT(collectKey) void collectKey(i32 key);

static const i32 TILE = 32, CELLS = TILE * TILE;
static const double PI = 3.14159265358979323846;
/** A piece less steep than this against its length is level. */
static const double LEVEL = 1e-7;
/** A piece that goes aside by less than this share of what it sinks or rises goes along the axis: rounding alone moves it aside. */
static const double UPRIGHT = 1e-6;
/** Corners of the print of a whole cutter, and the factor that takes its polygon round the print. */
static const i32 PRINT_CORNERS = 12;
static const double PRINT_SPREAD = 1 / std::cos(PI / PRINT_CORNERS) + 0.02;
/** Cells round a footprint that are asked as well, besides what its bends ask for. */
static const double MARGIN_CELLS = 0.2;
/** Factor on what is measured of a footprint's bends, since few places are asked. */
static const double BEND_SPREAD = 1.5;
/** Pieces longer than this many cells are looked at in the middle as well. */
static const double LONG_CELLS = 3;
/** How far the middle of a wedge reaches beyond the print, so that its straight edges take in the round. */
static const double WEDGE_SPREAD = 1.12;
/** Joints whose sides differ by less than this many cells need no wedge. */
static const double WEDGE_CELLS = 0.05;
/** A bow smaller than this is none. */
static const double STRAIGHT = 1e-8;
/** A height may miss its part by rounding. */
static const double HEIGHT_SLACK = 2e-5;
/** A ray steeper than a part's flank by less than this counts as along it. */
static const double ALONG = 1e-9;
/** A root's square this little below 0, as a share of its A, is 0. */
static const double ROUNDING = 1e-9;
/** A place so far off a part's own heights is not this part's. */
static const double AWAY = 0.01;
/** What a flat tip's plane may differ over its width and still be taken as one. */
static const double PLANE = 1e-4;
/** A cutter of more parts is a round corner, whose deepest place is sought in so many rounds of five. */
static const i32 MAX_PARTS = 4, SEEK_ROUNDS = 4;
static const i32 MOST_PARTS = 40;

/**
 * As in field.ts. Where all its rows are straight, each with one normal, they are given by their first point, the step to the next, and
 * the normal; else point and normal of each cell lie at `frames`.
 */
struct Tile {
  i32 key, hasUnder, changed, noted, frames, spare;
  double rows[TILE][9];
  float depth[CELLS];
  unsigned motion[CELLS];
};

struct Grid {
  double minX, minY, cellX, cellY, period, perCell;
  i32 columns, rows, tilesAlong, closed, hasEdges;
  /** A surface that is known here: 1 a plane through `origin`, sheet x and y along `alongX` and `alongY`; 2 a cylinder about X. */
  i32 kind;
  double radius;
  Vec origin, alongX, alongY, normal;
};
struct Part {
  double m, centre, radiusSquared, from, to;
};
struct Shape {
  double flat, round, tanBeta, halfWidth;
  i32 count;
  Part parts[MOST_PARTS];
};
struct Piece {
  Vec tip, move, bow, axis, axisMove, axisBow;
};
struct Place {
  double x, y, height;
  Vec normal, tip, axis;
};
struct Side {
  Vec out;
  double from[2], to[2];
};

static Grid grid;
static Shape shape;
static Piece piece;
static i32 *slots;
static double *rowFrom, *rowTo;
static i32 *spans;
static i32 scratchRows;
static float *taken, *most;
static i32 *mostCell;
static i32 notes, collects, motion, lastMotion;
static double asked;
static double io[8];

static Place from, to, middle;
static Side sides[2], lastSides[2];
static bool wasIn, fresh = true;
static double poly[2 * (PRINT_CORNERS + 4)];
static double margin, high, bend, normalTurn, mostCurved;

static Vec standTip, standAxis;
static Vec wayAxis, wayTip;
static double va, vv, turn, bowLength, slack;
static bool bent, plain;
static i32 inReach;

static double widthAt(double h) {
  i32 k = 0;
  while (k + 1 < shape.count && h > shape.parts[k].to) k++;
  const Part &p = shape.parts[k];
  const double c = h - p.centre;
  return std::sqrt(max(0, p.radiusSquared + (p.m - 1) * c * c));
}
static double slopeAt(double h) {
  if (shape.round == 0) return h * shape.tanBeta > shape.halfWidth - shape.flat ? 0 : shape.tanBeta;
  const double at = max(1e-6, h), d = 1e-4 * at;
  return min(50, (widthAt(at + d) - widthAt(at)) / d);
}
static double unwrap(double y, double near) { return grid.closed ? -grid.period * std::floor((y - near) / grid.period + 0.5) : 0; }

static void findSheet(Vec p, double &x, double &y, double &height) {
  if (grid.kind == 2) {
    x = p.x;
    y = grid.radius * std::atan2(p.y, p.z);
    height = std::sqrt(p.y * p.y + p.z * p.z) - grid.radius;
  } else if (grid.kind == 1) {
    const Vec d = p - grid.origin;
    x = dot(d, grid.alongX);
    y = dot(d, grid.alongY);
    height = dot(d, grid.normal);
  } else {
    toSheet(p.x, p.y, p.z, io);
    x = io[0];
    y = io[1];
    height = io[2];
  }
}
static Vec findNormal(double x, double y) {
  if (grid.kind == 1) return grid.normal;
  if (grid.kind == 2) return {0, std::sin(y / grid.radius), std::cos(y / grid.radius)};
  frameAt(x, y, io);
  return {io[3], io[4], io[5]};
}

// ---- rays ----

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

/** Where a ray enters and leaves the cutter where it stands; leaves at −∞ if it misses, enters there from above. */
static void leave(Vec p, Vec n, double &in, double &out) {
  const Vec d = p - standTip;
  const double nn = dot(n, n), na = dot(n, standAxis), da = dot(d, standAxis);
  out = -INFINITY;
  double into = INFINITY;
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
      if (h0 >= part.from - HEIGHT_SLACK && h0 <= part.to + HEIGHT_SLACK && t0 < into) into = t0;
    }
  }
  if (shape.flat > 0) {
    const double t = da / na;
    const Vec u = d - t * n;
    if (dot(u, u) <= shape.flat * shape.flat) {
      if (na > 0) out = max(out, t);
      else into = min(into, t);
    }
  }
  // A ray that grazes the rim enters where it leaves; any other comes from parts that stand clear of the surface.
  const Part &last = shape.parts[inReach - 1];
  in = into < INFINITY ? into : 1 - last.m * na * na > ALONG && (missed || last.to == INFINITY) ? out : -INFINITY;
}

/** Where a ray enters the cutter as it stands at s; infinite if it does not. */
static double entryAt(double s, Vec p, Vec n) {
  goTo(s);
  const Vec d = p - standTip;
  const double na = dot(n, standAxis), da = dot(d, standAxis);
  double into = INFINITY;
  for (i32 k = 0; k < inReach; k++) {
    const Part &part = shape.parts[k];
    const Vec w = d - part.centre * standAxis;
    const double wa = da - part.centre;
    const double A = 1 - part.m * na * na, B = dot(w, n) - part.m * wa * na;
    const double D = B * B - A * (dot(w, w) - part.m * wa * wa - part.radiusSquared);
    if (D < 0 || !(A > ALONG)) continue;
    const double t = (B - std::sqrt(D)) / A, h = da - t * na;
    if (h >= part.from - HEIGHT_SLACK && h <= part.to + HEIGHT_SLACK && t < into) into = t;
  }
  return into;
}

/** Cuts one ray with the cutter where it stands; `moves` says that it comes from elsewhere on the piece. */
static void cutHere(Tile &tile, i32 i, bool moves) {
  const Vec p = pointOf(tile, i), n = normalOf(tile, i);
  double in, out;
  leave(p, n, in, out);
  const double depth = tile.depth[i];
  if (!(out > depth)) return;
  // Where the ray enters through the flank it may do so sooner from elsewhere on the piece, and the stretch is one.
  for (i32 k = 0; k < 3 && moves && in > depth; k++) in = min(in, entryAt(k / 2.0, p, n));
  removeStretch(tile, i, in, out);
}
static void tryAt(Tile &tile, i32 i, double s) {
  goTo(s);
  cutHere(tile, i, true);
}

/** Cuts one ray where it goes deepest along the piece, found by stepping: for a round corner, which is many cones. */
static void trySought(Tile &tile, i32 i) {
  const Vec p = pointOf(tile, i), n = normalOf(tile, i);
  // The depth along a piece has one top where the ray meets the cutter at all.
  double lo = 0, hi = 1, best = -INFINITY, at = 0;
  for (i32 round = 0; round < SEEK_ROUNDS; round++) {
    const double step = (hi - lo) / 4, first = lo;
    for (i32 k = 0; k <= 4; k++) {
      const double s = first + k * step;
      double in, t;
      goTo(s);
      leave(p, n, in, t);
      if (t > best) {
        best = t;
        at = s;
      }
    }
    if (best == -INFINITY) return;
    lo = max(0, at - step);
    hi = min(1, at + step);
  }
  tryAt(tile, i, at);
}

/** Where a ray meets the flat's plane at s. @returns How far outside its circle, as a difference of squares. */
static double flatAt(double s, Vec p, Vec n, double &meets) {
  goTo(s);
  const Vec d = p - standTip;
  meets = dot(d, standAxis) / dot(n, standAxis);
  const Vec u = d - meets * n;
  return dot(u, u) - shape.flat * shape.flat;
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
    const double over = flatAt(lo, p, n, meets);
    if (over <= 0) break;
    lo += root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
  }
  for (i32 k = 0; k < 3; k++) {
    const double over = flatAt(hi, p, n, meets);
    if (over <= 0) break;
    hi -= root > 0 ? over / (2 * root) + 1e-9 : hi - lo;
  }
  if (!(lo <= hi)) return;
  if (rise == rise) return tryAt(tile, i, rise > 0 ? lo : hi);
  double a, b, c;
  flatAt(lo, p, n, a);
  flatAt(hi, p, n, c);
  double s = a > c ? lo : a < c ? hi : (lo + hi) / 2;
  if (max(a, c) <= tile.depth[i] - 0.01) return;
  flatAt((lo + hi) / 2, p, n, b);
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
  const bool isSteep = !(qvv > 1e-18), turns = bent;
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
        if (!turns && qnn <= ALONG && h >= low && h <= top) {
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
  for (i32 run = 0; run < runs.count; run++) {
    Tile &tile = *runs.tile[run];
    for (i32 i = runs.first[run]; i <= runs.last[run]; i++) {
      const Vec n = normalOf(tile, i), d = pointOf(tile, i) - wayTip;
      const double per = 1 / dot(n, wayAxis), t = dot(d, wayAxis) * per, climb = va * per;
      const Vec u = d - t * n, z = piece.move - climb * n;
      const double z2 = dot(z, z), uz2 = dot(u, z);
      const double D = uz2 * uz2 - z2 * (dot(u, u) - shape.flat * shape.flat);
      if (D < 0 || !(z2 > 0)) continue;
      const double root = std::sqrt(D), s1 = (uz2 - root) / z2, s2 = (uz2 + root) / z2;
      if (s1 > 1 || s2 < 0) continue;
      tryFlat(tile, i, max(0, s1), min(1, s2), root, rise);
    }
  }
}

/** Cuts the runs that were gathered. */
static void cutRuns(bool stands) {
  if (stands || shape.count > MAX_PARTS) {
    for (i32 run = 0; run < runs.count; run++) {
      for (i32 i = runs.first[run]; i <= runs.last[run]; i++) {
        if (stands) cutHere(*runs.tile[run], i, false);
        else trySought(*runs.tile[run], i);
      }
    }
  } else {
    for (i32 k = 0; k < inReach; k++) cutPart(k);
    if (shape.flat > 0) cutRim();
  }
  runs.count = 0;
}

// ---- footprints ----

/** Columns of cells in the rows that a convex polygon touches, widened by the margin, to `spans`. */
static void scan(i32 corners, i32 &first, i32 &count) {
  const double perX = 1 / grid.cellX, perY = 1 / grid.cellY;
  double low = INFINITY, top = -INFINITY;
  for (i32 k = 0; k < corners; k++) {
    poly[2 * k] = (poly[2 * k] - grid.minX) * perX - 0.5;
    const double y = poly[2 * k + 1] = (poly[2 * k + 1] - grid.minY) * perY - 0.5;
    low = min(low, y);
    top = max(top, y);
  }
  first = (i32)std::ceil(low - margin);
  i32 last = (i32)std::floor(top + margin);
  // Rows outside an open sheet are nobody's; round a closed one no more than two turns are told apart.
  if (!grid.closed) {
    if (first < 0) first = 0;
    if (last >= grid.rows) last = grid.rows - 1;
  }
  if (last - first + 1 > scratchRows) last = first + scratchRows - 1;
  count = last - first + 1 > 0 ? last - first + 1 : 0;
  for (i32 r = 0; r < count; r++) {
    rowFrom[r] = INFINITY;
    rowTo[r] = -INFINITY;
  }
  double bx = poly[2 * corners - 2], by = poly[2 * corners - 1];
  for (i32 k = 0; k < corners; k++) {
    const double ax = bx, ay = by;
    bx = poly[2 * k];
    by = poly[2 * k + 1];
    const double lowY = min(ay, by), highY = max(ay, by);
    const double slope = highY - lowY > 1e-12 ? (bx - ax) / (by - ay) : 0;
    const i32 r0 = (i32)max(first, std::ceil(lowY - margin)), r1 = (i32)min(last, std::floor(highY + margin));
    for (i32 r = r0; r <= r1; r++) {
      // The part of the edge within a margin of the row.
      const double y0 = max(lowY, r - margin), y1 = min(highY, r + margin);
      const double x0 = slope == 0 ? ax : ax + (y0 - ay) * slope, x1 = slope == 0 ? bx : ax + (y1 - ay) * slope;
      rowFrom[r - first] = min(rowFrom[r - first], min(x0, x1));
      rowTo[r - first] = max(rowTo[r - first], max(x0, x1));
    }
  }
  for (i32 r = 0; r < count; r++) {
    const bool none = rowFrom[r] > rowTo[r];
    spans[2 * r] = none ? 1 : (i32)max(0, std::ceil(rowFrom[r] - margin));
    spans[2 * r + 1] = none ? 0 : (i32)min(grid.columns - 1.0, std::floor(rowTo[r] + margin));
  }
}

/** Cuts the cells of a polygon. `stands`: the cutter stands where it was put; else it moves along the piece that was taken. */
static void fill(i32 corners, bool stands) {
  i32 first, count;
  scan(corners, first, count);
  if (grid.closed && count > grid.rows) {
    // A print that goes round the whole blank: every cell once, over all its columns.
    i32 left = grid.columns, right = -1;
    for (i32 r = 0; r < count; r++) {
      if (spans[2 * r] > spans[2 * r + 1]) continue;
      if (spans[2 * r] < left) left = spans[2 * r];
      if (spans[2 * r + 1] > right) right = spans[2 * r + 1];
    }
    first = 0;
    count = grid.rows;
    for (i32 r = 0; r < count; r++) {
      spans[2 * r] = left;
      spans[2 * r + 1] = right;
    }
  }
  // Parts of the cutter that stand clear of the surface are left out, with room for what was not looked at.
  const double reach = 1.5 * high + 0.1;
  inReach = shape.count;
  while (inReach > 1 && shape.parts[inReach - 1].from > reach) inReach--;
  slack = turn * high + bowLength;
  for (i32 line = 0; line < count; line++) {
    const i32 end = spans[2 * line + 1];
    i32 c = spans[2 * line];
    if (c > end) continue;
    i32 row = first + line;
    if (row < 0 || row >= grid.rows) {
      if (!grid.closed) continue;
      row -= grid.rows * (i32)std::floor((double)row / grid.rows);
    }
    const i32 own = (row & 31) * TILE;
    while (c <= end) {
      const i32 until = end < (c | 31) ? end : c | 31;
      const i32 key = (c >> 5) + (row >> 5) * grid.tilesAlong;
      if (collects) collectKey(key);
      else {
        i32 at = slots[key];
        if (!at) at = makeTile(key);
        Tile &tile = TILE_AT(at);
        if (notes && tile.noted != motion) {
          tile.noted = motion;
          noteTile(tile.key, motion);
        }
        asked += until - c + 1;
        if (runs.count == 256) cutRuns(stands);
        runs.tile[runs.count] = &tile;
        runs.first[runs.count] = own + (c & 31);
        runs.last[runs.count++] = own + (until & 31);
      }
      c = until + 1;
    }
  }
  if (runs.count) cutRuns(stands);
}

static void setPlace(Place &at, double s) {
  const double b = s * (s - 1);
  at.tip = piece.tip + s * piece.move + b * piece.bow;
  at.axis = piece.axis + s * piece.axisMove + b * piece.axisBow;
  findSheet(at.tip, at.x, at.y, at.height);
  at.normal = findNormal(at.x, at.y);
}

/** How high over the surface the tip may stand and the cutter still reach it: a leaning flat or round tip, or a flank beside an edge. */
static double reachUp(const Place &at) {
  const double cos = dot(at.axis, at.normal), sin = std::sqrt(max(0, 1 - cos * cos));
  return sin < 1e-9 ? 1e-9 : max(shape.flat, shape.round) * sin + 1e-9;
}

/** Begins to look how high the surface is met and how footprints bend, for places of the tool. */
static void resetReach(const Place &a, const Place &b) {
  high = max(0, max(-a.height, -b.height));
  bend = 0;
  normalTurn = 0;
  if (grid.hasEdges) mostCurved = curvatureAt(a.x, a.y);
}

/** The margin for what comes next, and `more` besides what was seen of the footprint's bends. */
static void setMargin(double more) { margin = MARGIN_CELLS + (BEND_SPREAD * (bend + normalTurn * high) + more) * grid.perCell; }

/** Where the cutter's flank in a direction leaves the surface, unwrapped against the place's own; `out` is square to the axis, nearly. */
static void leaveInto(const Place &at, Vec out, double spread, double *spot) {
  double h = max(0, -at.height), y = at.y;
  for (i32 k = 0;; k++) {
    const double w = spread * widthAt(h);
    const Vec q = at.tip + w * out + h * at.axis;
    double height;
    // Its place round a cylinder is wanted only where the way ends.
    if (grid.kind == 2) height = std::sqrt(q.y * q.y + q.z * q.z) - grid.radius;
    else findSheet(q, spot[0], y, height);
    if (h > high) high = h;
    // How much nearer or farther the surface is than a plane through the foot would be.
    if (k == 0 && w > 0) {
      const double off = height - at.height - w * dot(out, at.normal) - h * dot(at.axis, at.normal);
      bend = max(bend, std::fabs(off) * h / w);
    }
    // Higher than the surface is farther out than need be.
    if (height > -2e-5 || k == 8) {
      if (grid.kind == 2) findSheet(q, spot[0], y, height);
      break;
    }
    h += 1.2 * -height;
  }
  spot[1] = y + unwrap(y, at.y);
  if (!grid.hasEdges) return;
  // More than the surface's own curvature turns it.
  const Vec d = findNormal(spot[0], spot[1]) - at.normal;
  normalTurn = max(normalTurn, length(d) - 1.2 * mostCurved * spread * widthAt(h));
}

/** Two directions square to an axis, and to each other. */
static void squareTo(Vec a, Vec &u, Vec &w) {
  u = std::fabs(a.x) < 0.6 ? Vec{1 - a.x * a.x, -a.x * a.y, -a.x * a.z} : Vec{-a.y * a.x, 1 - a.y * a.y, -a.y * a.z};
  u = (1 / length(u)) * u;
  w = cross(a, u);
}

/** Everything that the cutter covers where it stands at a place. */
static void fillPrint(const Place &at) {
  const double keptBend = bend, keptHigh = high, keptTurn = normalTurn;
  resetReach(at, at);
  Vec u, w;
  squareTo(at.axis, u, w);
  for (i32 c = 0; c < PRINT_CORNERS; c++) {
    const double angle = 2 * PI * c / PRINT_CORNERS;
    leaveInto(at, std::cos(angle) * u + std::sin(angle) * w, PRINT_SPREAD, poly + 2 * c);
  }
  setMargin(0);
  standTip = at.tip;
  standAxis = at.axis;
  fill(PRINT_CORNERS, true);
  bend = max(bend, keptBend);
  high = max(high, keptHigh);
  normalTurn = max(normalTurn, keptTurn);
}

/** What the tip's flat or round part covers along a piece: half a round at each end. */
static void fillTip(double tip) {
  Vec u, w;
  squareTo(from.axis, u, w);
  const Vec d = to.tip - from.tip;
  const double ahead = std::atan2(dot(d, w), dot(d, u)), wide = PRINT_SPREAD * tip;
  const i32 half = PRINT_CORNERS / 2;
  for (i32 c = 0; c < PRINT_CORNERS + 2; c++) {
    const Place &at = c <= half ? from : to;
    const double angle = ahead + PI / 2 + PI * (c <= half ? c : c - 1) / half;
    const Vec q = at.tip + wide * (std::cos(angle) * u + std::sin(angle) * w);
    double x, y, height;
    findSheet(q, x, y, height);
    poly[2 * c] = x;
    poly[2 * c + 1] = y + unwrap(y, from.y);
  }
  fill(PRINT_CORNERS + 2, false);
}

/** The wedges between the sides of the last piece and of this one, at the place where they meet. The last one took what is there. */
static void fillJoint(i32 number) {
  if (!wasIn) return fillPrint(from);
  motion = lastMotion;
  setMargin(0);
  for (i32 k = 0; k < 2; k++) {
    const Side &a = lastSides[k], &b = sides[k];
    const double wrap = unwrap(a.to[1], b.from[1]);
    const double dx = (a.to[0] - b.from[0]) / grid.cellX, dy = (a.to[1] + wrap - b.from[1]) / grid.cellY;
    if (dx * dx + dy * dy < WEDGE_CELLS * WEDGE_CELLS) continue;
    // At a sharp turn the wedge is most of the print.
    if (dot(a.out, b.out) < 0.5) {
      fillPrint(from);
      break;
    }
    const Vec r = a.out + b.out;
    double spot[2];
    leaveInto(from, (1 / length(r)) * r, WEDGE_SPREAD, spot);
    const double corners[8] = {from.x, from.y, a.to[0], a.to[1] + wrap, spot[0], spot[1], b.from[0], b.from[1]};
    std::memcpy(poly, corners, sizeof corners);
    standTip = from.tip;
    standAxis = from.axis;
    fill(4, true);
  }
  motion = number;
}

/** What was swept last ends here, or goes on in another way: the whole print of the cutter there. */
static void finishJoint(const Place &end) {
  if (wasIn) {
    motion = lastMotion;
    resetReach(end, end);
    fillPrint(end);
  }
  wasIn = false;
}

/** Where the axis turns with the way, a place far out on the flank touches a little before or after its foot does: how far. */
static double turnReach(double tan, double along) {
  const double axisTurn = length(piece.axisMove);
  if (axisTurn == 0) return 0;
  const double moved = dot(piece.move, piece.move), reach = widthAt(high);
  const double steep = max(0.02 * moved, moved - (1 + tan * tan) * along * along);
  return min(reach, axisTurn * std::sqrt(moved) * reach * (1 + tan * tan) * high / (steep > 0 ? steep : 1));
}

/** How far the sides' outer edges may bend between the ends of a piece: by the way's own bow on the sheet and by its depth. */
static double sag() {
  if (dot(piece.move, piece.move) * grid.perCell * grid.perCell < LONG_CELLS * LONG_CELLS) return 0;
  setPlace(middle, 0.5);
  const double dx = middle.x - (from.x + to.x) / 2,
               dy = middle.y + unwrap(middle.y, from.y) - (from.y + to.y + unwrap(to.y, from.y)) / 2,
               dz = middle.height - (from.height + to.height) / 2;
  const double deep = max(max(0, max(-from.height, -to.height)), -middle.height);
  return BEND_SPREAD * (std::sqrt(dx * dx + dy * dy) + std::fabs(dz) * slopeAt(deep));
}

EXPORT(sweep) void sweep(i32 number) {
  if (fresh) setPlace(from, 0);
  else from = to;
  setPlace(to, 1);
  fresh = false;
  if (!(from.height < reachUp(from) || to.height < reachUp(to))) {
    finishJoint(from);
    motion = number;
    return;
  }
  const Vec a = piece.axis + 0.5 * piece.axisMove - 0.25 * piece.axisBow;
  const double along = dot(piece.move, a), across = std::sqrt(max(0, dot(piece.move, piece.move) - along * along));
  const Place &lower = to.height < from.height ? to : from;
  const double tan = slopeAt(-lower.height), cos = across > UPRIGHT * std::fabs(along) ? tan * along / across : INFINITY;
  if (!(std::fabs(cos) < 0.999)) {
    // Steeper than the flank: what it takes is what it takes at its deepest.
    finishJoint(from);
    motion = number;
    fillPrint(lower);
    wasIn = false;
    return;
  }
  motion = number;
  take();
  resetReach(from, to);
  Vec e = piece.move - along * a;
  const double l = length(e);
  e = (1 / (l > 0 ? l : 1)) * e;
  const Vec b = cross(a, e);
  const double sin = std::sqrt(1 - cos * cos);
  for (i32 k = 0; k < 2; k++) {
    sides[k].out = cos * e + (k == 0 ? sin : -sin) * b;
    leaveInto(from, sides[k].out, 1, sides[k].from);
    leaveInto(to, sides[k].out, 1, sides[k].to);
  }
  fillJoint(number);
  setMargin(max(turnReach(tan, along), sag()));
  const double wrap = unwrap(to.y, from.y);
  for (i32 k = 0; k < 2; k++) {
    const Side &side = sides[k];
    const double corners[8] = {from.x, from.y, to.x, to.y + wrap, side.to[0], side.to[1] + wrap, side.from[0], side.from[1]};
    std::memcpy(poly, corners, sizeof corners);
    fill(4, false);
  }
  const double tip = max(shape.flat, shape.round);
  // A flat or round tip that rises or sinks along its axis touches in a bow beside the sides' lines.
  if (tip > 0 && (std::fabs(along) > LEVEL * across || shape.flat > 0)) fillTip(tip);
  lastSides[0] = sides[0];
  lastSides[1] = sides[1];
  wasIn = true;
  lastMotion = number;
}

EXPORT(breakOff) void breakOff() {
  finishJoint(to);
  fresh = true;
}

// ---- what is told from outside, by way of these places in memory ----

EXPORT(gridAt) Grid *gridAt() { return &grid; }
EXPORT(shapeAt) Shape *shapeAt() { return &shape; }
EXPORT(pieceAt) Piece *pieceAt() { return &piece; }
EXPORT(setScratch) void setScratch(i32 *slotsAt, double *rows, i32 *spansAt, i32 rowCount) {
  slots = slotsAt;
  rowFrom = rows;
  rowTo = rows + rowCount;
  spans = spansAt;
  scratchRows = rowCount;
}
EXPORT(setLoad) void setLoad(float *takenAt, float *mostAt, i32 *cellAt) {
  taken = takenAt;
  most = mostAt;
  mostCell = cellAt;
}
EXPORT(setModes) void setModes(i32 notesTiles, i32 collectsKeys) {
  notes = notesTiles;
  collects = collectsKeys;
}
/** Fills the rows of a tile on a surface that is known here. @returns Whether it is. */
EXPORT(fillRows) i32 fillRows(double *rows, i32 key) {
  if (grid.kind == 0) return 0;
  const double x = grid.minX + ((key % grid.tilesAlong) * TILE + 0.5) * grid.cellX;
  for (i32 r = 0; r < TILE; r++, rows += 9) {
    const double y = grid.minY + ((key / grid.tilesAlong) * TILE + r + 0.5) * grid.cellY;
    const Vec n = findNormal(x, y), step = grid.kind == 1 ? grid.cellX * grid.alongX : Vec{grid.cellX, 0, 0};
    const Vec p = grid.kind == 1 ? grid.origin + x * grid.alongX + y * grid.alongY : Vec{x, grid.radius * n.y, grid.radius * n.z};
    const Vec all[3] = {p, step, n};
    std::memcpy(rows, all, sizeof all);
  }
  return 1;
}
EXPORT(getAsked) double getAsked() { return asked; }
#ifdef __wasm__
extern char __heap_base;
EXPORT(heapBase) i32 heapBase() { return (i32)(size_t)&__heap_base; }
#endif
