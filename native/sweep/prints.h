// Which cells a piece can be deepest for: footprints of the cutter on the sheet, scanned into runs of cells.
#pragma once
#include "cuts.h"

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
  slack = turn * (high + max(shape.flat, shape.round)) + bowLength;
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

/** Where on the sheet the tip's flat or round ends in a direction, unwrapped against the place's own. */
static void findRim(const Place &at, Vec out, double *spot) {
  const double up = shape.round > 0 && shape.corner == 0 ? shape.parts[0].to : 0;
  const Vec q = at.tip + widthAt(up) * out + up * at.axis;
  double height;
  findSheet(q, spot[0], spot[1], height);
  spot[1] += unwrap(spot[1], at.y);
}

/** Two directions square to an axis, and to each other. */
static void squareTo(Vec a, Vec &u, Vec &w) {
  u = std::fabs(a.x) < 0.6 ? Vec{1 - a.x * a.x, -a.x * a.y, -a.x * a.z} : Vec{-a.y * a.x, 1 - a.y * a.y, -a.y * a.z};
  u = (1 / length(u)) * u;
  w = cross(a, u);
}

/** Brings the first corners of `poly` into those of their convex hull. @returns How many. */
static i32 takeHull(i32 count) {
  // By x, then y.
  for (i32 i = 1; i < count; i++) {
    const double x = poly[2 * i], y = poly[2 * i + 1];
    i32 k = i;
    for (; k > 0 && (poly[2 * k - 2] > x || (poly[2 * k - 2] == x && poly[2 * k - 1] > y)); k--) {
      poly[2 * k] = poly[2 * k - 2];
      poly[2 * k + 1] = poly[2 * k - 1];
    }
    poly[2 * k] = x;
    poly[2 * k + 1] = y;
  }
  double hull[2 * MOST_CORNERS];
  i32 n = 0;
  for (i32 side = 0, least = 2; side < 2; side++, least = n + 1) {
    for (i32 j = side; j < count; j++) {
      const i32 i = side ? count - 1 - j : j;
      while (n >= least && (hull[2 * n - 2] - hull[2 * n - 4]) * (poly[2 * i + 1] - hull[2 * n - 3]) -
                                   (hull[2 * n - 1] - hull[2 * n - 3]) * (poly[2 * i] - hull[2 * n - 4]) <= 0) n--;
      hull[2 * n] = poly[2 * i];
      hull[2 * n++ + 1] = poly[2 * i + 1];
    }
  }
  if (n > 1) n--;
  std::memcpy(poly, hull, sizeof(double) * 2 * n);
  return n;
}

/** Adds to `poly` what lies below a circle about the axis where the tool stands, at a height over its tip. @returns Corners so far. */
static i32 addCircle(const Place &at, double height, double width, double wrap, i32 count) {
  Vec u, w;
  squareTo(at.axis, u, w);
  for (i32 c = 0; c < PRINT_CORNERS; c++, count++) {
    const double angle = 2 * PI * c / PRINT_CORNERS;
    const Vec q = at.tip + height * at.axis + PRINT_SPREAD * width * (std::cos(angle) * u + std::sin(angle) * w);
    double y, high;
    findSheet(q, poly[2 * count], y, high);
    poly[2 * count + 1] = y + unwrap(y, at.y) + wrap;
  }
  return count;
}

/** Whether the tool leans, so that rays may enter it through its flank below the surface. */
static bool leans(const Place &at) { return 1 - dot(at.axis, at.normal) > LEANING; }

/** Whether any of the crease between a part and the next is below the surface. */
static bool isUnder(const Place &at, i32 k) {
  const double h = shape.parts[k].to, cos = dot(at.axis, at.normal);
  return isCrease(k) && h * cos - widthAt(h) * std::sqrt(max(0, 1 - cos * cos)) < -at.height;
}

static bool hasUnder(const Place &at) {
  for (i32 k = 0; k + 1 < shape.count; k++) {
    if (isUnder(at, k)) return true;
  }
  return false;
}

/**
 * Adds to `poly` what the cutter covers where it stands: on the surface and, where it leans, below it, where rays enter through its flank.
 * @param creases Those that count, by bits. @returns Corners so far.
 */
static i32 addPrint(const Place &at, i32 creases, double wrap, i32 count) {
  Vec u, w;
  squareTo(at.axis, u, w);
  for (i32 c = 0; c < PRINT_CORNERS; c++, count++) {
    const double angle = 2 * PI * c / PRINT_CORNERS;
    leaveInto(at, std::cos(angle) * u + std::sin(angle) * w, PRINT_SPREAD, poly + 2 * count);
    poly[2 * count + 1] += wrap;
  }
  if (shape.flat > 0 || shape.round > 0) count = addCircle(at, 0, max(shape.flat, shape.round), wrap, count);
  for (i32 k = 0; k + 1 < shape.count; k++) {
    if (creases >> k & 1) count = addCircle(at, shape.parts[k].to, widthAt(shape.parts[k].to), wrap, count);
  }
  return count;
}

/** Everything that the cutter covers where it stands at a place. */
static void fillPrint(const Place &at) {
  const double keptBend = bend, keptHigh = high, keptTurn = normalTurn;
  resetReach(at, at);
  i32 count = PRINT_CORNERS;
  if (leans(at)) {
    i32 creases = 0;
    for (i32 k = 0; k + 1 < shape.count; k++) creases |= isUnder(at, k) ? 1 << k : 0;
    count = takeHull(addPrint(at, creases, 0, 0));
  } else {
    Vec u, w;
    squareTo(at.axis, u, w);
    for (i32 c = 0; c < PRINT_CORNERS; c++) {
      const double angle = 2 * PI * c / PRINT_CORNERS;
      leaveInto(at, std::cos(angle) * u + std::sin(angle) * w, PRINT_SPREAD, poly + 2 * c);
    }
  }
  setMargin(0);
  standTip = at.tip;
  standAxis = at.axis;
  fill(count, true);
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
  i32 count = PRINT_CORNERS + 2;
  if (hasRim && shape.round > 0) {
    const double up = shape.parts[0].to, width = widthAt(up);
    count = addCircle(from, up, width, 0, count);
    count = takeHull(addCircle(to, up, width, unwrap(to.y, from.y), count));
  }
  fill(count, false);
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
    // At a sharp turn the wedge is most of the print; where a wide tip leans it may be wider than its sides say.
    if (dot(a.out, b.out) < 0.5 || (leans(from) && (shape.tanBeta == 0 || hasUnder(from)))) {
      fillPrint(from);
      break;
    }
    const Vec r = a.out + b.out;
    double spot[2];
    leaveInto(from, (1 / length(r)) * r, WEDGE_SPREAD, spot);
    const double corners[14] = {from.x,    from.y,    a.to[0],      a.to[1] + wrap, spot[0],    spot[1], b.from[0], b.from[1],
                                b.rimFrom[0], b.rimFrom[1], 0, 0, a.rimTo[0], a.rimTo[1] + wrap};
    std::memcpy(poly, corners, sizeof corners);
    if (hasRim) findRim(from, (1 / length(r)) * r, poly + 10);
    standTip = from.tip;
    standAxis = from.axis;
    fill(hasRim ? takeHull(7) : 4, true);
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

/** Everything that the cutter covers anywhere on the piece: what is between its prints at both ends. */
static void fillWhole() {
  // A crease that is under at one end counts at both: on the way the print is wider than a straight line between them says.
  i32 creases = 0;
  for (i32 k = 0; k + 1 < shape.count; k++) creases |= isUnder(from, k) || isUnder(to, k) ? 1 << k : 0;
  const i32 count = addPrint(from, creases, 0, 0);
  const i32 both = addPrint(to, creases, unwrap(to.y, from.y), count);
  setMargin(sag());
  fill(takeHull(both), false);
}
