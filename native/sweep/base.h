// What all of the sweep shares: vectors, the structs that are told from outside, and the state of the piece that cuts.
#pragma once
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
/** On a piece steeper than this against its length a ray's depth leans on where a flat tip's stay over it ends. */
static const double SLANT = 1e-3;
/** By what share the ends of a stay are drawn in, since at the very end rounding may say that the ray is missed. */
static const double INWARD = 1e-7;
/** A piece that goes aside by less than this share of what it sinks or rises goes along the axis: rounding alone moves it aside. */
static const double UPRIGHT = 1e-6;
/** Corners of the print of a whole cutter, and the factor that takes its polygon round the print. */
static const i32 PRINT_CORNERS = 12, MOST_CORNERS = 8 * PRINT_CORNERS;
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
/** Rounds in which a place on a round corner is sought, and how near, mm: each round doubles the digits. */
static const i32 SEEK_ROUNDS = 12, SEEK_PLACES = 16;
static const double SOUGHT = 1e-8, CORNER_STEP = 0.03;
/** A tool that leans by more than this, as 1 less the cosine, covers more than lies about its tip. */
static const double LEANING = 1e-6;
static const i32 MOST_PARTS = 4;

/**
 * As in tile.ts. Where all its rows are straight, each with one normal, they are given by their first point, the step to the next, and
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
  /** As in cutterShape.ts; `corner` is the radius of a bull nose's corner, 0 where there is none. */
  double flat, round, tanBeta, halfWidth, corner;
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
/** Where the cutter's flank touches on one side of a piece: out of the surface, and where the tip's flat or round ends, at both ends. */
struct Side {
  Vec out;
  double from[2], to[2], rimFrom[2], rimTo[2];
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
/** The tip is no point and leans: its rim is not below the line from the tip to where the flank leaves the surface. */
static bool hasRim;
static double poly[2 * MOST_CORNERS];
static double margin, high, bend, normalTurn, mostCurved;

static Vec standTip, standAxis;
static Vec wayAxis, wayTip;
static double va, vv, turn, bowLength, slack;
static bool bent, plain;
static i32 inReach;

static double widthAt(double h) {
  if (h < shape.corner) return shape.flat + std::sqrt(max(0, h * (2 * shape.corner - h)));
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
/** Whether a part and the next meet at an angle. */
static bool isCrease(i32 k) {
  const double h = shape.parts[k].to, w = widthAt(h);
  const Part &a = shape.parts[k], &b = shape.parts[k + 1];
  return w > 0 && std::fabs((a.m - 1) * (h - a.centre) - (b.m - 1) * (h - b.centre)) > 1e-3 * w;
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
