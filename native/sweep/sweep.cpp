// The sweep of a sharp V over a field of cells, as src/core/removal does it, for the bench to measure against: double precision,
// one thread, scalar. Usage: sweep cylinder|plate table|own RUNS. Frames come from tables, as there, or from the blank's own
// closed form ("own", the cylinder's kernel). Prints the least CPU time of the runs, ms, the cells asked, and the sum of all depths, mm.
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <memory>
#include <sys/resource.h>
#include <vector>

static const double PI = 3.14159265358979323846;
static const int TILE = 32, CELLS = TILE * TILE;
static const double MARGIN_CELLS = 0.2, BEND_SPREAD = 1.5, WEDGE_CELLS = 0.1, WEDGE_SPREAD = 1.12, LONG_CELLS = 3;
static const int PRINT_CORNERS = 12;
static const double PRINT_SPREAD = 1 / std::cos(PI / PRINT_CORNERS) + 0.02;

struct Vec {
  double x, y, z;
};
static Vec operator+(Vec a, Vec b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
static Vec operator-(Vec a, Vec b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
static Vec operator*(double k, Vec a) { return {k * a.x, k * a.y, k * a.z}; }
static double dot(Vec a, Vec b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
static Vec cross(Vec a, Vec b) { return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x}; }

struct Cylinder {
  static constexpr double R = 21;
  double minX = 0, maxX = 60, minY = -PI * R, maxY = PI * R, period = 2 * PI * R;
  void frame(double x, double y, Vec &p, Vec &n) const {
    const double s = std::sin(y / R), c = std::cos(y / R);
    p = {x, R * s, R * c};
    n = {0, s, c};
  }
  double toSheet(Vec p, double &x, double &y) const {
    x = p.x;
    y = R * std::atan2(p.y, p.z);
    return std::hypot(p.y, p.z) - R;
  }
};

struct Plate {
  double minX = 0, maxX = 60, minY = -66, maxY = 66, period = 0;
  void frame(double x, double y, Vec &p, Vec &n) const {
    p = {x, y, 0};
    n = {0, 0, 1};
  }
  double toSheet(Vec p, double &x, double &y) const {
    x = p.x;
    y = p.y;
    return p.z;
  }
};

struct Piece {
  Vec tip{}, move{}, axis{}, axisMove{};
};
struct Place {
  double x = 0, y = 0, height = 0;
  Vec normal{}, tip{}, axis{};
};
struct Side {
  Vec out{};
  double from[2] = {0, 0}, to[2] = {0, 0};
};
struct Tile {
  float frames[6 * CELLS];
  float depth[CELLS];
  unsigned motion[CELLS];
};

template <class Surface, bool OWN> struct Sweeper {
  Surface surface;
  const double tan, m;
  double cellX, cellY, perCell, margin = 0, high = 0, bend = 0;
  int columns, rows, tilesAlong, tilesRound;
  bool closed;
  std::vector<std::unique_ptr<Tile>> tiles;
  Place from, to, middle;
  Side sides[2], lastSides[2];
  Piece piece, lastPiece;
  int motion = 0, lastMotion = 0;
  bool wasIn = false, fresh = true;
  double poly[32];
  std::vector<double> rowFrom, rowTo;
  std::vector<int> spans;
  long asked = 0;

  Sweeper(double tanBeta, double cell) : tan(tanBeta), m(1 + tanBeta * tanBeta), rowFrom(4096), rowTo(4096), spans(8192) {
    closed = surface.period > 0;
    columns = (int)std::ceil((surface.maxX - surface.minX) / cell - 1e-9);
    rows = closed ? (int)std::lround(surface.period / cell) : (int)std::ceil((surface.maxY - surface.minY) / cell - 1e-9);
    cellX = (surface.maxX - surface.minX) / columns;
    cellY = (surface.maxY - surface.minY) / rows;
    perCell = 1 / std::min(cellX, cellY);
    tilesAlong = (columns + 31) / 32;
    tilesRound = (rows + 31) / 32;
    tiles.resize((size_t)tilesAlong * tilesRound);
  }

  Tile &touch(int along, int round) {
    auto &slot = tiles[along + (size_t)round * tilesAlong];
    if (slot) return *slot;
    slot.reset(new Tile);
    Tile &tile = *slot;
    std::memset(tile.depth, 0, sizeof tile.depth);
    std::memset(tile.motion, 0, sizeof tile.motion);
    if (OWN) return tile;
    for (int r = 0; r < TILE; r++) {
      Vec p, n, q;
      const double x0 = surface.minX + (along * TILE + 0.5) * cellX, y = surface.minY + (round * TILE + r + 0.5) * cellY;
      surface.frame(x0, y, p, n);
      surface.frame(x0 + (TILE - 1) * cellX, y, q, n);
      const Vec d = (1.0 / (TILE - 1)) * (q - p);
      float *o = tile.frames + 6 * r * TILE;
      for (int c = 0; c < TILE; c++, o += 6) {
        o[0] = p.x + c * d.x;
        o[1] = p.y + c * d.y;
        o[2] = p.z + c * d.z;
        o[3] = n.x;
        o[4] = n.y;
        o[5] = n.z;
      }
    }
    return tile;
  }

  void place(Place &at, const Piece &p, double s) {
    at.tip = p.tip + s * p.move;
    at.axis = p.axis + s * p.axisMove;
    at.height = surface.toSheet(at.tip, at.x, at.y);
    Vec q;
    surface.frame(at.x, at.y, q, at.normal);
  }
  double unwrap(double y, double near) const { return closed ? -surface.period * std::round((y - near) / surface.period) : 0; }
  void reset(const Place &a, const Place &b) {
    high = std::max(0.0, std::max(-a.height, -b.height));
    bend = 0;
  }
  void setMargin(double more) { margin = MARGIN_CELLS + (BEND_SPREAD * bend + more) * perCell; }

  void leave(const Place &at, Vec out, double spread, double *spot) {
    double h = std::max(0.0, -at.height), y = at.y;
    for (int k = 0;; k++) {
      const double w = spread * h * tan;
      const Vec q = at.tip + w * out + h * at.axis;
      const double height = surface.toSheet(q, spot[0], y);
      if (h > high) high = h;
      if (k == 0 && w > 0) {
        const double off = height - at.height - w * dot(out, at.normal) - h * dot(at.axis, at.normal);
        bend = std::max(bend, std::fabs(off) * h / w);
      }
      if (height > -2e-5 || k == 8) break;
      h += 1.2 * -height;
    }
    spot[1] = y + unwrap(y, at.y);
  }

  void scan(int corners, int &first, int &count) {
    double low = INFINITY, highY = -INFINITY;
    for (int k = 0; k < corners; k++) {
      poly[2 * k] = (poly[2 * k] - surface.minX) / cellX - 0.5;
      poly[2 * k + 1] = (poly[2 * k + 1] - surface.minY) / cellY - 0.5;
      low = std::min(low, poly[2 * k + 1]);
      highY = std::max(highY, poly[2 * k + 1]);
    }
    first = (int)std::ceil(low - margin);
    const int last = (int)std::floor(highY + margin);
    count = last - first + 1;
    for (int r = 0; r < count; r++) {
      rowFrom[r] = INFINITY;
      rowTo[r] = -INFINITY;
    }
    double bx = poly[2 * corners - 2], by = poly[2 * corners - 1];
    for (int k = 0; k < corners; k++) {
      const double ax = bx, ay = by;
      bx = poly[2 * k];
      by = poly[2 * k + 1];
      const double lo = std::min(ay, by), hi = std::max(ay, by);
      const double slope = hi - lo > 1e-12 ? (bx - ax) / (by - ay) : 0;
      const int r1 = std::min(last, (int)std::floor(hi + margin));
      for (int r = std::max(first, (int)std::ceil(lo - margin)); r <= r1; r++) {
        const double y0 = std::max(lo, r - margin), y1 = std::min(hi, r + margin);
        const double x0 = slope == 0 ? ax : ax + (y0 - ay) * slope, x1 = slope == 0 ? bx : ax + (y1 - ay) * slope;
        rowFrom[r - first] = std::min(rowFrom[r - first], std::min(x0, x1));
        rowTo[r - first] = std::max(rowTo[r - first], std::max(x0, x1));
      }
    }
    for (int r = 0; r < count; r++) {
      const bool none = rowFrom[r] > rowTo[r];
      spans[2 * r] = none ? 1 : (int)std::max(0.0, std::ceil(rowFrom[r] - margin));
      spans[2 * r + 1] = none ? 0 : (int)std::min(columns - 1.0, std::floor(rowTo[r] + margin));
    }
  }

  /** Where a ray leaves the cone that stands at s; −∞ if it misses. */
  double leaveCone(double s, Vec p, Vec n) const {
    const Vec a = piece.axis + s * piece.axisMove, d = p - piece.tip - s * piece.move;
    const double na = dot(n, a), da = dot(d, a);
    const double A = dot(n, n) - m * na * na, B = dot(d, n) - m * da * na, C = dot(d, d) - m * da * da, D = B * B - A * C;
    if (D < -1e-9) return -INFINITY;
    const double root = D > 0 ? std::sqrt(D) : 0;
    const double t = B <= 0 ? C / (B - root) : A > 0 ? (B + root) / A : -INFINITY;
    return da - t * na >= -2e-5 ? t : -INFINITY;
  }

  void fill(int corners, int fixed) {
    int first, count;
    scan(corners, first, count);
    const Vec a = piece.axis + 0.5 * piece.axisMove, v = piece.move;
    const double va = dot(v, a), vv = dot(v, v), qvv = vv - m * va * va, inverse = 1 / qvv;
    const double turn = std::sqrt(dot(piece.axisMove, piece.axisMove)), slack = turn > 1e-8 ? 2 * turn * high : 0;
    const bool bent = turn > 1e-8;
    for (int k = 0; k < count; k++) {
      int row = first + k;
      if (closed) row -= rows * (int)std::floor((double)row / rows);
      if (row < 0 || row >= rows) continue;
      Vec own, ownN{};
      if (OWN) surface.frame(0, surface.minY + (row + 0.5) * cellY, own, ownN);
      for (int c = spans[2 * k]; c <= spans[2 * k + 1]; c++) {
        Tile &tile = touch(c >> 5, row >> 5);
        const int i = (row & 31) * TILE + (c & 31);
        const float *f = tile.frames + 6 * i;
        const Vec p = OWN ? Vec{surface.minX + (c + 0.5) * cellX, own.y, own.z} : Vec{f[0], f[1], f[2]};
        const Vec n = OWN ? ownN : Vec{f[3], f[4], f[5]};
        asked++;
        double s = fixed;
        if (fixed < 0) {
          if (!(qvv > 1e-18)) s = va < 0 ? 1 : 0;
          else {
            const Vec d = p - piece.tip;
            const double nn = dot(n, n), na = dot(n, a), nv = dot(n, v), da = dot(d, a);
            const double qnn = nn - m * na * na, qpn = dot(d, n) - m * da * na, qpp = dot(d, d) - m * da * da;
            const double qvn = nv - m * va * na, qpv = dot(d, v) - m * da * va;
            const double A = qnn - qvn * qvn * inverse, B = qpn - qpv * qvn * inverse, C = qpp - qpv * qpv * inverse, D = B * B - A * C;
            if (D < -1e-9) continue;
            const double root = D > 0 ? std::sqrt(D) : 0, t = B <= 0 ? C / (B - root) : (B + root) / A;
            if (!(t + slack > tile.depth[i])) continue;
            s = (qpv - t * qvn) * inverse;
            if (bent) {
              const double start = s;
              for (int step = 0; step < 2; step++) {
                const double off = dot(piece.axisMove, d - s * v - t * n);
                s = start + off * m * (da - s * va - t * na) * inverse;
              }
            }
            if (s > 0 && s < 1) {
              const double h = da - s * va - t * na;
              if (h < -0.01) continue;
              if (!bent && qnn <= 1e-9 && h >= 0) {
                tile.depth[i] = t;
                tile.motion[i] = motion + 1;
                continue;
              }
            }
            s = s < 0 ? 0 : s > 1 ? 1 : s;
          }
        }
        const double t = leaveCone(s, p, n);
        if (t > tile.depth[i]) {
          tile.depth[i] = t;
          tile.motion[i] = motion + 1;
        }
      }
    }
  }

  void print(const Place &at, int s) {
    const double keptBend = bend, keptHigh = high;
    reset(at, at);
    const Vec a = at.axis;
    const bool byX = std::fabs(a.x) < 0.6;
    Vec u = byX ? Vec{1 - a.x * a.x, -a.x * a.y, -a.x * a.z} : Vec{-a.y * a.x, 1 - a.y * a.y, -a.y * a.z};
    u = (1 / std::sqrt(dot(u, u))) * u;
    const Vec w = cross(a, u);
    double spots[2 * PRINT_CORNERS];
    for (int c = 0; c < PRINT_CORNERS; c++) {
      const double angle = 2 * PI * c / PRINT_CORNERS;
      leave(at, std::cos(angle) * u + std::sin(angle) * w, PRINT_SPREAD, spots + 2 * c);
    }
    std::memcpy(poly, spots, sizeof spots);
    setMargin(0);
    fill(PRINT_CORNERS, s);
    bend = std::max(bend, keptBend);
    high = std::max(high, keptHigh);
  }

  void finishJoint() {
    if (wasIn) {
      const Piece kept = piece;
      const int keptMotion = motion;
      piece = lastPiece;
      motion = lastMotion;
      place(middle, piece, 1);
      print(middle, 1);
      piece = kept;
      motion = keptMotion;
    }
    wasIn = false;
  }
  void breakOff() {
    finishJoint();
    fresh = true;
  }

  void joint() {
    if (!wasIn) return print(from, 0);
    setMargin(0);
    for (int k = 0; k < 2; k++) {
      const Side &a = lastSides[k], &b = sides[k];
      const double wrap = unwrap(a.to[1], b.from[1]);
      const double dx = (a.to[0] - b.from[0]) / cellX, dy = (a.to[1] + wrap - b.from[1]) / cellY;
      if (dx * dx + dy * dy < WEDGE_CELLS * WEDGE_CELLS) continue;
      if (dot(a.out, b.out) < 0.5) return print(from, 0);
      Vec r = a.out + b.out;
      r = (1 / std::sqrt(dot(r, r))) * r;
      double spot[2];
      leave(from, r, WEDGE_SPREAD, spot);
      const double corners[8] = {from.x, from.y, a.to[0], a.to[1] + wrap, spot[0], spot[1], b.from[0], b.from[1]};
      std::memcpy(poly, corners, sizeof corners);
      fill(4, 0);
    }
  }

  void sweep(const Piece &p, int number) {
    piece = p;
    if (fresh) place(from, p, 0);
    else std::swap(from, to);
    place(to, p, 1);
    fresh = false;
    if (from.height >= 1e-9 && to.height >= 1e-9) return finishJoint();
    const Vec a = p.axis + 0.5 * p.axisMove;
    const double along = dot(p.move, a), across = std::sqrt(std::max(0.0, dot(p.move, p.move) - along * along));
    const Place &lower = to.height < from.height ? to : from;
    const double cos = across > 0 ? tan * along / across : INFINITY;
    if (std::fabs(cos) >= 0.999) {
      finishJoint();
      motion = number;
      print(lower, &lower == &to);
      return;
    }
    motion = number;
    reset(from, to);
    Vec e = p.move - along * a;
    e = (1 / std::sqrt(dot(e, e))) * e;
    const Vec b = cross(a, e);
    const double sin = std::sqrt(1 - cos * cos);
    for (int k = 0; k < 2; k++) {
      sides[k].out = cos * e + (k == 0 ? sin : -sin) * b;
      leave(from, sides[k].out, 1, sides[k].from);
      leave(to, sides[k].out, 1, sides[k].to);
    }
    joint();
    const double turn = std::sqrt(dot(p.axisMove, p.axisMove)), moved = dot(p.move, p.move), reach = high * tan;
    double more = turn == 0 ? 0 : std::min(reach, turn * std::sqrt(moved) * reach * m * high / std::max(0.02 * moved, moved - m * along * along));
    if (moved * perCell * perCell >= LONG_CELLS * LONG_CELLS) {
      place(middle, p, 0.5);
      const double dx = middle.x - (from.x + to.x) / 2,
                   dy = middle.y + unwrap(middle.y, from.y) - (from.y + to.y + unwrap(to.y, from.y)) / 2,
                   dz = middle.height - (from.height + to.height) / 2;
      more = std::max(more, BEND_SPREAD * (std::sqrt(dx * dx + dy * dy) + std::fabs(dz) * tan));
    }
    setMargin(more);
    for (Side &side : sides) {
      const double wrap = unwrap(to.y, from.y);
      const double corners[8] = {from.x, from.y, to.x, to.y + wrap, side.to[0], side.to[1] + wrap, side.from[0], side.from[1]};
      std::memcpy(poly, corners, sizeof corners);
      fill(4, -1);
    }
    std::swap(sides, lastSides);
    wasIn = true;
    lastPiece = p;
    lastMotion = number;
  }
};

static double cpuMs() {
  rusage u;
  getrusage(RUSAGE_SELF, &u);
  return 1e3 * u.ru_utime.tv_sec + u.ru_utime.tv_usec / 1e3;
}

template <class Surface, bool OWN> static void run(int runs) {
  const int BLOCKS = 100000, LINE = 1000;
  double least = INFINITY, sum = 0;
  long asked = 0;
  for (int r = 0; r < runs; r++) {
    Sweeper<Surface, OWN> sweeper(std::tan(PI / 6), std::sqrt(60 * 132 / 4e6));
    auto pose = [&](int k, Vec &tip, Vec &axis) {
      const int line = k / LINE;
      const double share = (k % LINE) / (double)LINE, depth = 0.3 + 0.1 * std::sin(k * 0.01);
      Vec p;
      sweeper.surface.frame(3 + 54 * (line % 2 ? 1 - share : share), -60 + 1.2 * line + 0.1 * std::sin(50 * share), p, axis);
      tip = p - depth * axis;
    };
    const double start = cpuMs();
    Vec tip, axis, tip2, axis2;
    pose(0, tip, axis);
    for (int k = 1; k <= BLOCKS; k++) {
      pose(k, tip2, axis2);
      if (k % LINE == 0) sweeper.breakOff();
      else sweeper.sweep({tip, tip2 - tip, axis, axis2 - axis}, k);
      tip = tip2;
      axis = axis2;
    }
    sweeper.breakOff();
    least = std::min(least, cpuMs() - start);
    sum = 0;
    for (auto &tile : sweeper.tiles)
      if (tile)
        for (float d : tile->depth) sum += d;
    asked = sweeper.asked;
  }
  std::printf("%.1f %ld %.4f\n", least, asked, sum);
}

int main(int argc, char **argv) {
  if (argc != 4) return 2;
  const bool plate = !std::strcmp(argv[1], "plate"), own = !std::strcmp(argv[2], "own");
  const int runs = std::atoi(argv[3]);
  if (plate) own ? run<Plate, true>(runs) : run<Plate, false>(runs);
  else own ? run<Cylinder, true>(runs) : run<Cylinder, false>(runs);
}
