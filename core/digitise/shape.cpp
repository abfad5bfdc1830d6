#include "shape.h"

#include <Eigen/Dense>
#include <algorithm>
#include <deque>

#include "area_columns.h"

namespace rt {
namespace {

constexpr size_t kMostLinePoints =
    3000;  // longer strokes are filled: finding crossings is quadratic

constexpr double kLineStray_mm = 0.2;   // of a run from its drawn line, at corners and in curves
constexpr double kLeastHole_mm2 = 1.8;  // smaller ones may close
constexpr double kMostClosed = 0.1;     // of a hole that stays open
constexpr double kOnItself = 0.97;      // of length times width: a stroke's area if it lies clear
constexpr double kPlainTurn_deg = 30;   // within half a width: a bend about as tight as it is wide

constexpr double kWidest = 1.5;         // places up to this much wider still go as split satin
constexpr double kMostSamples = 20000;  // of an outline, for its medial axis

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

/// A hole so much wider that the thread at its edge, which is wider than the line that it follows,
/// covers little of it; as it is where it is large, or so small that it may close.
Area opened(const Ring& hole) {
  const double mm2 = std::abs(signedArea_mm2(hole));
  const double round = polylineLength(hole) + distance(hole.back(), hole[0]);
  const double wider = kThreadWidth_mm / 2 - kMostClosed * mm2 / round;
  return mm2 >= kLeastHole_mm2 && wider > 0 ? grown({hole}, wider) : Area{hole};
}

/// A connected area with its small holes opened, except for those that would run into one another
/// or out of it.
Area withOpenHoles(const Area& part) {
  std::vector<Area> holes;
  for (size_t i = 1; i < part.size(); ++i) holes.push_back(opened(part[i]));
  if (holes.empty()) return part;
  for (const Area& run : separated(united(holes))) {
    const Box box = boundsOf(std::span<const Point>(run[0]));
    std::vector<size_t> in;  // whose holes these are
    for (size_t i = 0; i < holes.size(); ++i)
      if (box.contains(part[i + 1][0]) && contains(run[0], part[i + 1][0])) in.push_back(i);
    const Area near = cropped({part[0]}, box.grown(1));
    if (in.size() == 1 && difference({run[0]}, near).empty()) continue;
    for (size_t i : in) holes[i] = {part[i + 1]};
  }
  return difference({part[0]}, united(holes));
}

/// Would columns do for the area? Its strokes are narrow nearly everywhere.
bool isNarrow(const StrokeWidths& widths, double satin_up_to_mm) {
  return widths.length_mm > 0 && widths.median_mm <= satin_up_to_mm &&
         widths.most_mm <= kWidest * satin_up_to_mm;
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

/// Sews an area as columns along its medial axis; false if it is too wide for that.
bool sewnAsColumns(SewnShape& sewn, const Area& area, const DigitiseOptions& options, Point start) {
  double outline = 0;
  for (const Ring& ring : area) outline += polylineLength(ring) + distance(ring.back(), ring[0]);
  const double mean = 2 * area_mm2(area) / outline;  // of a long stroke: its width
  if (mean > options.satin_up_to_mm) return false;
  AreaColumnOptions how;
  how.satin = options.satin;
  how.least_column_mm = options.least_column_mm;
  if (options.underlay == Underlay::None) how.zigzag_from_mm = INFINITY;
  how.axis.step_mm = std::clamp(mean / 8, outline / kMostSamples, 0.5);
  if (!isNarrow(strokeWidths(medialAxis(area, how.axis)), options.satin_up_to_mm)) return false;
  const ColumnGraph graph = areaColumns(area, how);
  ColumnSewing sewing;
  sewing.least_column_mm = options.least_column_mm;
  sewing.satin = options.satin;
  bool satin = false;
  for (const ColumnEdge& e : graph.edges) satin |= !e.narrow;
  for (Strand& s : sewColumns(graph, sewing, start, start)) sewn.strands.push_back(std::move(s));
  sewn.kind = satin ? Kind::Satin : Kind::Run;
  return !graph.edges.empty();
}

void sewArea(SewnShape& sewn, const Area& area, const DigitiseOptions& options, Point start) {
  if (!options.angle_deg && sewnAsColumns(sewn, area, options, start)) return;
  FillOptions fill = options.fill;
  fill.angle_deg = options.angle_deg.value_or(longAxis_deg(area));
  addUnderlay(sewn, area, options, fill.angle_deg, start);
  const Point from = sewn.strands.empty() ? start : sewn.strands.back().exit();
  for (Strand& s : fillRows(area, fill, from)) sewn.strands.push_back(std::move(s));
  sewn.kind = Kind::Fill;
}

/// A stroke without round ends, corners or tight bends, that does not lie on itself: a column along
/// it is its ink. Others are sewn as the area that they cover.
bool isPlainStroke(const Shape& shape, double ink_mm2) {
  const double width = shape.line_width_mm;
  if (!shape.closed && shape.end == LineEnd::Round) return false;
  std::vector<Point> line = shape.line;
  if (shape.closed && line.size() > 2) line.insert(line.end(), {shape.line[0], shape.line[1]});
  if (ink_mm2 < kOnItself * polylineLength(line) * width) return false;
  // how far it turns within half its width
  std::deque<std::pair<double, double>> turns;  // where, and by how much
  double at = 0, turned = 0;
  for (size_t i = 1; i + 1 < line.size(); ++i) {
    const Point a = line[i] - line[i - 1], b = line[i + 1] - line[i];
    at += length(a);
    const double by = std::abs(std::atan2(cross(a, b), dot(a, b)));
    turns.emplace_back(at, by);
    turned += by;
    for (; at - turns.front().first > width / 2; turns.pop_front()) turned -= turns.front().second;
    if (turned > radians(kPlainTurn_deg)) return false;
  }
  return true;
}

/// A stroke wide enough for satin: columns along it, corners closed, ends as drawn.
void sewColumnsAlong(SewnShape& sewn, const Shape& shape, const DigitiseOptions& options,
                     Point start) {
  std::vector<Point> line = shape.line;
  if (shape.closed && distance(line.front(), line.back()) > kSame_mm) line.push_back(line.front());
  const double half = shape.line_width_mm / 2;
  const ColumnGraph graph = columnGraph({line}, 0.01, shape.end == LineEnd::Butt ? 0 : half,
                                        shape.line_width_mm, options.satin.rule.stroke_lap_mm);
  ColumnSewing how;
  how.width_mm = shape.line_width_mm;
  how.least_column_mm = options.least_column_mm;
  how.satin = options.satin;
  sewn.strands = sewColumns(graph, how, start, line.back());
  sewn.kind = Kind::Satin;
}

/// A line beside another, `by_mm` to its left as it goes; bends in it stay as far from the line as
/// a mitre of twice that allows.
std::vector<Point> beside(const std::vector<Point>& line, bool closed, double by_mm) {
  const size_t n = line.size() - (closed ? 1 : 0);
  std::vector<Point> out;
  for (size_t i = 0; i < n; ++i) {
    const Point before =
        unit(i > 0 || closed ? line[i] - line[(i + n - 1) % n] : line[1] - line[0]);
    const Point after = unit(i + 1 < n || closed ? line[(i + 1) % n] - line[i] : before);
    const Point middle = unit(before + after);
    const double lengthened = std::min(2.0, 1 / std::max(0.1, std::abs(dot(middle, before))));
    out.push_back(line[i] + Point{middle.y, -middle.x} * (by_mm * lengthened));
  }
  if (closed) out.push_back(out.front());
  return out;
}

/// A thin line: one run along it, or one on each side where it is drawn wider than the thread.
void sewLine(SewnShape& sewn, const Shape& shape, const DigitiseOptions& options) {
  Strand strand;
  std::vector<Point> line = shape.line;
  const bool closed = shape.closed || distance(line.front(), line.back()) <= kSame_mm;
  if (shape.closed && distance(line.front(), line.back()) > kSame_mm) line.push_back(line.front());
  if (shape.line_width_mm < options.satin.rule.two_runs_from_mm || line.size() < 2) {
    runWithin(strand, line, options.run_length_mm, kLineStray_mm, Kind::Run);
  } else {
    const double out_mm =
        std::min((shape.line_width_mm - kThreadWidth_mm) / 2, kThreadWidth_mm / 2);
    std::vector<Point> both = beside(line, closed, out_mm);
    const std::vector<Point> back = beside(line, closed, -out_mm);
    both.insert(both.end(), back.rbegin(), back.rend());
    runWithin(strand, both, options.run_length_mm, kLineStray_mm / 2, Kind::Run);
  }
  sewn.strands.push_back(std::move(strand));
  sewn.kind = Kind::Run;
}

}  // namespace

Area inkOf(const Shape& shape) {
  if (shape.line.empty()) return shape.area;
  return widened(shape.line, {.width_mm = std::max(shape.line_width_mm, 0.01),
                              .end = shape.end,
                              .join = shape.join,
                              .mitre_limit = shape.mitre_limit,
                              .closed = shape.closed});
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
             shape.line.size() < kMostLinePoints && isPlainStroke(shape, sewn.area_mm2)) {
    sewColumnsAlong(sewn, shape, options, start);
  } else if (sewn.area_mm2 >= options.least_area_mm2) {
    for (const Area& part : separated(ink)) {
      if (area_mm2(part) < options.least_area_mm2) continue;
      const Point from = sewn.strands.empty() ? start : sewn.strands.back().exit();
      sewArea(sewn, withOpenHoles(part), options, from);
    }
  }
  std::erase_if(sewn.strands, [](const Strand& s) { return s.points.size() < 2; });
  if (sewn.strands.empty()) sewn.kind = Kind::Unknown;
  return sewn;
}

}  // namespace rt
