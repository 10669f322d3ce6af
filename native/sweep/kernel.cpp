// The sweep of a cutter over a field of cells: which cells a piece of its way can be deepest for, and the exact depth of their rays.
// Built for the browser (build.sh) and natively for the bench (bench.cpp). Formulas: docs/architecture.md, stage 8. Lengths are mm.
//
// For each cell the place on the piece at which its ray goes deepest follows in closed form for every part of the cutter (a quadric
// moving straight); there the ray is cut with the cutter as it stands. Any place on the piece is a true position, so an error there is
// of second order and never too deep.
#include "prints.h"

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
    // Steeper than the flank: what it takes is what it takes at its deepest, but for what stands over the flank.
    finishJoint(from);
    motion = number;
    fillPrint(lower);
    if (hasUnder(from) || hasUnder(to)) {
      take();
      fillWhole();
    }
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
  hasRim = (shape.flat > 0 || shape.round > 0) && (leans(from) || leans(to));
  for (i32 k = 0; k < 2; k++) {
    sides[k].out = cos * e + (k == 0 ? sin : -sin) * b;
    leaveInto(from, sides[k].out, 1, sides[k].from);
    leaveInto(to, sides[k].out, 1, sides[k].to);
    if (!hasRim) {
      std::memcpy(sides[k].rimFrom, sides[k].from, sizeof sides[k].from);
      std::memcpy(sides[k].rimTo, sides[k].to, sizeof sides[k].to);
      continue;
    }
    findRim(from, sides[k].out, sides[k].rimFrom);
    findRim(to, sides[k].out, sides[k].rimTo);
  }
  fillJoint(number);
  setMargin(max(turnReach(tan, along), sag()));
  const double wrap = unwrap(to.y, from.y);
  for (i32 k = 0; k < 2; k++) {
    const Side &side = sides[k];
    const double corners[12] = {from.x,       from.y,       to.x,            to.y + wrap,     side.to[0],          side.to[1] + wrap,
                                side.from[0], side.from[1], side.rimFrom[0], side.rimFrom[1], side.rimTo[0], side.rimTo[1] + wrap};
    std::memcpy(poly, corners, sizeof corners);
    fill(hasRim ? takeHull(6) : 4, false);
  }
  const double tip = max(shape.flat, shape.round);
  const bool isLevel = std::fabs(along) <= LEVEL * across;
  const bool isWide = shape.tanBeta == 0 || hasUnder(from) || hasUnder(to);
  // A wide tip, or a crease above it, touches in a bow beside the sides' lines where it rises, sinks or leans.
  if (isWide && (!isLevel || leans(from) || leans(to))) fillWhole();
  else if (tip > 0 && (!isLevel || shape.flat > 0)) fillTip(tip);
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
