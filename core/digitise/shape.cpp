#include "shape.h"

#include <Eigen/Dense>
#include <algorithm>

#include "column_graph.h"

namespace rt {
namespace {

constexpr size_t kMostLinePoints =
    3000;  // longer strokes are filled: finding crossings is quadratic

/// Direction of the area's long axis, degrees, from its outline's second moments.
double longAxis_deg(const Area& area) {
  Eigen::Matrix2d moments = Eigen::Matrix2d::Zero();
  Point mean;
  double weight = 0;
  for (const Ring& ring : area)
    for (size_t i = 0, n = ring.size(); i < n; ++i) {
      const double w = distance(ring[i], ring[(i + 1) % n]);
      mean = mean + mix(ring[i], ring[(i + 1) % n], 0.5) * w;
      weight += w;
    }
  if (weight <= 0) return 0;
  mean = mean * (1 / weight);
  for (const Ring& ring : area)
    for (size_t i = 0, n = ring.size(); i < n; ++i) {
      const Point d = mix(ring[i], ring[(i + 1) % n], 0.5) - mean;
      const Eigen::Vector2d v(d.x, d.y);
      moments += v * v.transpose() * distance(ring[i], ring[(i + 1) % n]);
    }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> solver(moments);
  const Eigen::Vector2d axis = solver.eigenvectors().col(1);
  return degrees(std::atan2(axis.y(), axis.x()));
}

/// Width across the long axis; the shape counts as a straight column if it is several times longer.
struct Narrow {
  double axis_deg = 0, width_mm = 0, length_mm = 0;
};

Narrow measured(const Area& area) {
  Narrow n;
  n.axis_deg = longAxis_deg(area);
  const Box box = boundsOf(transformed(area, Transform::turning(-n.axis_deg)));
  n.width_mm = box.height();
  n.length_mm = box.width();
  return n;
}

void addUnderlay(SewnShape& sewn, const Area& area, const DigitiseOptions& options,
                 double angle_deg, Point start) {
  if (options.underlay == Underlay::None) return;
  const Area inner = grown(area, -0.6);
  if (inner.empty()) return;
  FillOptions under = options.fill;
  under.kind = Kind::Underlay;
  under.pull_mm = 0;
  under.row_spacing_mm = options.underlay == Underlay::Full ? 2.0 : 3.0;
  under.angle_deg = angle_deg + 90;
  for (Strand& s : fillRows(inner, under, start)) sewn.strands.push_back(std::move(s));
  if (options.underlay != Underlay::Full) return;
  for (const Ring& ring : inner) {
    Ring closed = ring;
    closed.push_back(ring[0]);
    Strand edge;
    runAlong(edge, closed, options.run_length_mm, Kind::Underlay);
    sewn.strands.push_back(std::move(edge));
  }
}

/// Zigzag across a narrow straight shape: rows of half the satin spacing without points between.
void addZigzag(SewnShape& sewn, const Area& area, const Narrow& narrow,
               const DigitiseOptions& options, Point start) {
  FillOptions zigzag = options.fill;
  zigzag.kind = Kind::Satin;
  zigzag.row_spacing_mm = options.satin.spacing_mm / 2;
  zigzag.stitch_length_mm = 1000;
  zigzag.bricks = 1;
  zigzag.pull_mm = options.satin.pull_mm;
  zigzag.angle_deg = narrow.axis_deg + 90;
  for (Strand& s : fillRows(area, zigzag, start)) sewn.strands.push_back(std::move(s));
  sewn.kind = Kind::Satin;
}

void sewArea(SewnShape& sewn, const Area& area, const DigitiseOptions& options, Point start) {
  const Narrow narrow = measured(area);
  const double axis = options.angle_deg.value_or(narrow.axis_deg);
  addUnderlay(sewn, area, options, axis, start);
  const Point from = sewn.strands.empty() ? start : sewn.strands.back().exit();
  if (!options.angle_deg && narrow.width_mm <= options.satin_up_to_mm &&
      narrow.length_mm >= 2.5 * narrow.width_mm) {
    addZigzag(sewn, area, narrow, options, from);
    return;
  }
  FillOptions fill = options.fill;
  fill.angle_deg = axis;
  for (Strand& s : fillRows(area, fill, from)) sewn.strands.push_back(std::move(s));
  sewn.kind = Kind::Fill;
}

/// A stroke wide enough for satin: columns along it, corners closed, ends as drawn.
void sewColumnsAlong(SewnShape& sewn, const Shape& shape, const DigitiseOptions& options,
                     Point start) {
  std::vector<Point> line = shape.line;
  if (shape.closed && distance(line.front(), line.back()) > kSame_mm) line.push_back(line.front());
  const double half = shape.line_width_mm / 2;
  const ColumnGraph graph =
      columnGraph({line}, 0.01, shape.end == LineEnd::Butt ? 0 : half, shape.line_width_mm);
  ColumnSewing how;
  how.width_mm = shape.line_width_mm;
  how.least_column_mm = options.least_column_mm;
  how.satin = options.satin;
  sewn.strands = sewColumns(graph, how, start, line.back());
  sewn.kind = Kind::Satin;
}

void sewLine(SewnShape& sewn, const Shape& shape, const DigitiseOptions& options) {
  Strand strand;
  std::vector<Point> line = shape.line;
  if (shape.closed && distance(line.front(), line.back()) > kSame_mm) line.push_back(line.front());
  runAlong(strand, line, options.run_length_mm, Kind::Run);
  sewn.strands.push_back(std::move(strand));
  sewn.kind = Kind::Run;
}

}  // namespace

Area inkOf(const Shape& shape) {
  if (shape.line.empty()) return shape.area;
  std::vector<Point> line = shape.line;
  if (shape.closed) line.push_back(line.front());
  return widened(line, std::max(shape.line_width_mm, 0.01), shape.end);
}

SewnShape digitise(const Shape& shape, const DigitiseOptions& options, Point start) {
  SewnShape sewn;
  sewn.element = shape.element;
  const bool drawn = !shape.line.empty();
  const bool thin = drawn && shape.line_width_mm < options.least_column_mm;
  const Area ink = inkOf(shape);
  sewn.area_mm2 = area_mm2(ink);
  if (thin) {
    if (polylineLength(shape.line) >= kShortestStitch_mm) sewLine(sewn, shape, options);
  } else if (drawn && shape.line_width_mm <= options.satin.split_over_mm &&
             shape.line.size() < kMostLinePoints) {
    sewColumnsAlong(sewn, shape, options, start);
  } else if (sewn.area_mm2 >= options.least_area_mm2) {
    for (const Area& part : separated(ink)) {
      if (area_mm2(part) < options.least_area_mm2) continue;
      const Point from = sewn.strands.empty() ? start : sewn.strands.back().exit();
      sewArea(sewn, part, options, from);
    }
  }
  std::erase_if(sewn.strands, [](const Strand& s) { return s.points.size() < 2; });
  if (sewn.strands.empty()) sewn.kind = Kind::Unknown;
  return sewn;
}

}  // namespace rt
