// Segment Voronoi diagram of an integer polygon set, for the medial axis.
// A thin C interface over Boost.Polygon: no imports, no exceptions, memory reset per call.
//
// Call order: hobel_alloc(n) -> fill 4*n int32 (x0 y0 x1 y1) -> hobel_build(n) -> read the two tables.
// Vertex table: 2 doubles a vertex. Edge table: 6 int32 an edge:
//   v0, v1 (vertex index), site0, site1 (segment index * 4 + category), curved (0/1), reserved 0.
// Category: 0 = the segment's interior, 1 = its start point, 2 = its end point.
// Only finite primary edges are written, each once.
#include <boost/polygon/voronoi.hpp>
#include <cstdint>
#include <vector>

namespace bp = boost::polygon;

struct Point { int32_t a, b; };
struct Segment { Point p0, p1; };

namespace boost { namespace polygon {
template <> struct geometry_concept<Point> { typedef point_concept type; };
template <> struct point_traits<Point> {
  typedef int32_t coordinate_type;
  static inline coordinate_type get(const Point &p, orientation_2d o) { return o == HORIZONTAL ? p.a : p.b; }
};
template <> struct geometry_concept<Segment> { typedef segment_concept type; };
template <> struct segment_traits<Segment> {
  typedef int32_t coordinate_type;
  typedef Point point_type;
  static inline point_type get(const Segment &s, direction_1d d) { return d.to_int() ? s.p1 : s.p0; }
};
}}

static std::vector<Segment> segments;
static std::vector<double> vertexTable;
static std::vector<int32_t> edgeTable;

static int32_t siteOf(const bp::voronoi_cell<double> *cell) {
  const int32_t index = static_cast<int32_t>(cell->source_index());
  switch (cell->source_category()) {
    case bp::SOURCE_CATEGORY_SEGMENT_START_POINT: return index * 4 + 1;
    case bp::SOURCE_CATEGORY_SEGMENT_END_POINT: return index * 4 + 2;
    default: return index * 4;
  }
}

extern "C" {
__attribute__((export_name("hobel_alloc"))) int32_t *hobel_alloc(int32_t count) {
  segments.assign(static_cast<size_t>(count), Segment());
  return reinterpret_cast<int32_t *>(segments.data());
}

__attribute__((export_name("hobel_build"))) int32_t hobel_build(int32_t count) {
  if (count != static_cast<int32_t>(segments.size())) return -1;
  bp::voronoi_diagram<double> diagram;
  bp::construct_voronoi(segments.begin(), segments.end(), &diagram);
  vertexTable.clear();
  edgeTable.clear();
  vertexTable.reserve(diagram.num_vertices() * 2);
  for (const auto &v : diagram.vertices()) {
    v.color(vertexTable.size() / 2);
    vertexTable.push_back(v.x());
    vertexTable.push_back(v.y());
  }
  for (const auto &e : diagram.edges()) {
    if (!e.is_primary() || !e.is_finite() || &e > e.twin()) continue;
    edgeTable.push_back(static_cast<int32_t>(e.vertex0()->color()));
    edgeTable.push_back(static_cast<int32_t>(e.vertex1()->color()));
    edgeTable.push_back(siteOf(e.cell()));
    edgeTable.push_back(siteOf(e.twin()->cell()));
    edgeTable.push_back(e.is_curved() ? 1 : 0);
    edgeTable.push_back(0);
  }
  return static_cast<int32_t>(edgeTable.size() / 6);
}

__attribute__((export_name("hobel_vertex_count"))) int32_t hobel_vertex_count() {
  return static_cast<int32_t>(vertexTable.size() / 2);
}
__attribute__((export_name("hobel_vertices"))) const double *hobel_vertices() { return vertexTable.data(); }
__attribute__((export_name("hobel_edges"))) const int32_t *hobel_edges() { return edgeTable.data(); }

// Gives the memory back between diagrams.
__attribute__((export_name("hobel_free"))) void hobel_free() {
  std::vector<Segment>().swap(segments);
  std::vector<double>().swap(vertexTable);
  std::vector<int32_t>().swap(edgeTable);
}
}
