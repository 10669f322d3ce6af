// The sweep natively, for the bench to measure the browser's module against: the same source, one thread, scalar. The job is that of
// scripts/bench/removal.ts. Usage: bench cylinder|plate RUNS. Prints the least CPU time of the runs, ms, the cells asked, and the sum
// of all depths, mm.
struct Tile;
static Tile *tiles[1 << 20];
#define TILE_AT(at) (*tiles[at])
#define FRAMES_AT(at) ((const float *)nullptr)
#include "kernel.cpp"
#include <cstdio>
#include <cstdlib>
#include <sys/resource.h>
#include <vector>

static bool flat;
static const double R = 21;
static i32 made;
static std::vector<i32> slotList;

static void frameOf(double x, double y, Vec &p, Vec &n) {
  if (flat) {
    p = {x, y, 0};
    n = {0, 0, 1};
    return;
  }
  const double s = std::sin(y / R), c = std::cos(y / R);
  p = {x, R * s, R * c};
  n = {0, s, c};
}
void toSheet(double, double, double, double *) { std::abort(); }
void frameAt(double, double, double *) { std::abort(); }
double curvatureAt(double, double) { return flat ? 0 : 1 / R; }
double removeUnder(i32, i32, double, double, i32) { std::abort(); }
void noteTile(i32, i32) {}
void collectKey(i32) {}

i32 makeTile(i32 key) {
  Tile &tile = *(tiles[++made] = new Tile);
  slots[key] = made;
  std::memset(tile.depth, 0, sizeof tile.depth);
  std::memset(tile.motion, 0, sizeof tile.motion);
  tile.key = key;
  tile.hasUnder = tile.changed = tile.noted = tile.frames = 0;
  fillRows(&tile.rows[0][0], key);
  return made;
}

static double cpuMs() {
  rusage u;
  getrusage(RUSAGE_SELF, &u);
  return 1e3 * u.ru_utime.tv_sec + u.ru_utime.tv_usec / 1e3;
}

int main(int argc, char **argv) {
  if (argc != 3) return 2;
  flat = !std::strcmp(argv[1], "plate");
  const double period = 2 * PI * R, cell = std::sqrt(60 * 132 / 4e6), tan = std::tan(PI / 6);
  const i32 columns = (i32)std::ceil(60 / cell - 1e-9);
  const i32 rows = flat ? (i32)std::ceil(132 / cell - 1e-9) : (i32)std::lround(period / cell);
  const double minY = flat ? -66 : -period / 2, cellX = 60.0 / columns, cellY = (flat ? 132 : period) / rows;
  grid = {0, minY, cellX, cellY, period, 1 / min(cellX, cellY), columns, rows, (columns + 31) / 32, !flat, 0, flat ? 1 : 2, R, {0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  shape.flat = shape.round = 0;
  shape.tanBeta = tan;
  shape.halfWidth = 3;
  shape.count = 2;
  shape.parts[0] = {1 + tan * tan, 0, 0, 0, 3 / tan};
  shape.parts[1] = {1, 0, 9, 3 / tan, INFINITY};
  std::vector<double> scratch(4 * (rows + 64));
  std::vector<i32> spanList(4 * (rows + 64));
  double least = INFINITY, sum = 0;
  for (i32 run = 0; run < std::atoi(argv[2]); run++) {
    slotList.assign(grid.tilesAlong * ((rows + 31) / 32), 0);
    setScratch(slotList.data(), scratch.data(), spanList.data(), 2 * (rows + 64));
    asked = 0;
    const i32 BLOCKS = 100000, LINE = 1000;
    auto pose = [&](i32 k, Vec &tip, Vec &axis) {
      const i32 line = k / LINE;
      const double share = (k % LINE) / (double)LINE, depth = 0.3 + 0.1 * std::sin(k * 0.01);
      Vec p;
      frameOf(3 + 54 * (line % 2 ? 1 - share : share), -60 + 1.2 * line + 0.1 * std::sin(50 * share), p, axis);
      tip = p - depth * axis;
    };
    std::vector<Vec> tips(BLOCKS + 1), axes(BLOCKS + 1);
    for (i32 k = 0; k <= BLOCKS; k++) pose(k, tips[k], axes[k]);
    const double start = cpuMs();
    for (i32 k = 1; k <= BLOCKS; k++) {
      piece = {tips[k - 1], tips[k] - tips[k - 1], {0, 0, 0}, axes[k - 1], axes[k] - axes[k - 1], {0, 0, 0}};
      if (k % LINE == 0) breakOff();
      else sweep(k);
    }
    breakOff();
    least = min(least, cpuMs() - start);
    sum = 0;
    for (i32 k = 1; k <= made; k++) {
      for (float d : tiles[k]->depth) sum += d;
      delete tiles[k];
    }
    made = 0;
  }
  std::printf("%.1f %.0f %.4f\n", least, asked, sum);
}
