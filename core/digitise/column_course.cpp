#include "column_course.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kWiden = 1.25;       // a rung is at most this much longer than the axis says …
constexpr double kWiden_mm = 0.10;    // … and this
constexpr double kMostEvened = 1.35;  // by what its edges are seen to open, on top of that
constexpr size_t kEvenOver = 2;       // rungs to either side
constexpr double kMostCloser = 2.5;   // an outer edge may open rather than the centre close by this
// steps of the zigzag: no place of a column is then farther than 1.25 mm from underlay
constexpr double kUnderlayStep_mm = 1.2, kUnderlayInset_mm = 0.5;
constexpr double kRunStep_mm = 2.0, kRunStray_mm = 0.06;
constexpr double kEdgePlay_mm = 0.1;
constexpr double kMostlyCovered = 0.7;  // of a rung that sticks out on both sides

std::vector<double> distancesAlong(const std::vector<Point>& line) {
  std::vector<double> along{0};
  for (size_t i = 1; i < line.size(); ++i)
    along.push_back(along.back() + distance(line[i - 1], line[i]));
  return along;
}

/// Even steps along a line, ends kept.
std::vector<Point> evenly(const std::vector<Point>& line, double step_mm) {
  std::vector<Point> out{line.front()};
  const std::vector<double> along = distancesAlong(line);
  const int parts = std::max(2, static_cast<int>(std::ceil(along.back() / step_mm)));
  size_t i = 1;
  for (int k = 1; k < parts; ++k) {
    const double mm = along.back() * k / parts;
    while (i + 1 < line.size() && along[i] < mm) ++i;
    const double piece = along[i] - along[i - 1];
    out.push_back(piece > 0 ? mix(line[i - 1], line[i], (mm - along[i - 1]) / piece) : line[i]);
  }
  out.push_back(line.back());
  return out;
}

/// Gaussian smoothing over evenly spaced points; open ends are reflected so that they stay.
std::vector<Point> evened(const std::vector<Point>& line, double sigma, bool closed) {
  const int n = static_cast<int>(line.size()), reach = static_cast<int>(std::ceil(2.5 * sigma));
  if (sigma < 0.3 || n < 4) return line;
  auto point = [&](int i) -> Point {
    if (closed) return line[static_cast<size_t>(((i % (n - 1)) + n - 1) % (n - 1))];
    if (i < 0) return line[0] * 2 - line[static_cast<size_t>(std::min(-i, n - 1))];
    if (i >= n) return line.back() * 2 - line[static_cast<size_t>(std::max(2 * n - 2 - i, 0))];
    return line[static_cast<size_t>(i)];
  };
  std::vector<double> weight;
  for (int k = 0; k <= reach; ++k) weight.push_back(std::exp(-0.5 * k * k / (sigma * sigma)));
  std::vector<Point> out;
  for (int i = 0; i < n; ++i) {
    Point sum;
    double total = 0;
    for (int k = -reach; k <= reach; ++k) {
      const double w = weight[static_cast<size_t>(std::abs(k))];
      sum = sum + point(i + k) * w;
      total += w;
    }
    out.push_back(sum * (1 / total));
  }
  return out;
}

}  // namespace

Point pointAlong(const std::vector<AxisPoint>& line, double mm) {
  for (size_t i = 1; i < line.size(); ++i) {
    const double piece = distance(line[i - 1].at, line[i].at);
    if (mm <= piece && piece > 0) return mix(line[i - 1].at, line[i].at, mm / piece);
    mm -= piece;
  }
  return line.back().at;
}

// --- OutlineCut

namespace {

constexpr double kSquare_mm = 2.0;
constexpr double kHalfDiagonal_mm = kSquare_mm * 0.7072;  // of a square, and a little

}  // namespace

OutlineCut::Square OutlineCut::squareOf(Point p) {
  return {static_cast<int>(std::floor(p.x / kSquare_mm)),
          static_cast<int>(std::floor(p.y / kSquare_mm))};
}

OutlineCut::OutlineCut(const Area& area) : area_(area) {
  Box all;
  for (const Ring& ring : area)
    for (Point p : ring) all.add(p);
  if (all.empty()) return;
  low_ = squareOf(all.corner(0)), high_ = squareOf(all.corner(2));
  near_.resize(static_cast<size_t>(columns()) *
               static_cast<size_t>(high_.second - low_.second + 1));
  for (const Ring& ring : area)
    for (size_t i = 0, n = ring.size(); i < n; ++i) {
      const Edge e{ring[i], ring[(i + 1) % n]};
      const Box box = boundsOf(std::vector{e.a, e.b});
      const auto [x0, y0] = squareOf(box.corner(0));
      const auto [x1, y1] = squareOf(box.corner(2));
      for (int y = y0; y <= y1; ++y)
        for (int x = x0; x <= x1; ++x)
          near_[indexOf(x, y)].push_back(static_cast<int>(edges_.size()));
      edges_.push_back(e);
    }
}

std::optional<std::pair<double, double>> OutlineCut::inside(Point at, Point way,
                                                            double reach_mm) const {
  const double far = reach_mm + kSquare_mm;
  const Box box = boundsOf(std::vector{at - way * far, at + way * far});
  const auto [x0, y0] = squareOf(box.corner(0));
  const auto [x1, y1] = squareOf(box.corner(2));
  std::vector<int> found;
  for (int y = std::max(y0, low_.second); y <= std::min(y1, high_.second); ++y)
    for (int x = std::max(x0, low_.first); x <= std::min(x1, high_.first); ++x) {
      const Point middle{(x + 0.5) * kSquare_mm, (y + 0.5) * kSquare_mm};
      if (std::abs(cross(way, middle - at)) > kHalfDiagonal_mm) continue;  // the line misses it
      const std::vector<int>& square = near_[indexOf(x, y)];
      found.insert(found.end(), square.begin(), square.end());
    }
  std::sort(found.begin(), found.end());
  found.erase(std::unique(found.begin(), found.end()), found.end());
  struct Cut {
    double t;
    bool enters;
  };
  std::vector<Cut> cuts;
  for (int i : found) {
    const Edge& e = edges_[static_cast<size_t>(i)];
    const double a = cross(way, e.a - at), b = cross(way, e.b - at);
    if ((a < 0) == (b < 0)) continue;
    const double t = dot(way, mix(e.a, e.b, a / (a - b)) - at);
    // the area lies to the edge's left: one that runs against the quarter turn lets the line in
    if (std::abs(t) <= far) cuts.push_back({t, a > b});
  }
  if (cuts.empty()) return contains(area_, at) ? std::optional(std::pair(-far, far)) : std::nullopt;
  std::sort(cuts.begin(), cuts.end(), [](const Cut& a, const Cut& b) { return a.t < b.t; });
  std::optional<std::pair<double, double>> best;
  double least = reach_mm;
  for (size_t i = 0; i <= cuts.size(); ++i) {
    const bool open = i == 0 ? !cuts[0].enters : cuts[i - 1].enters;
    if (!open) continue;
    const double from = i == 0 ? -far : cuts[i - 1].t, to = i < cuts.size() ? cuts[i].t : far;
    const double away = std::max({0.0, from, -to});
    if (away < least) least = away, best = {from, to};
  }
  return best;
}

// --- Course

Course::Course(std::vector<Point> line, std::vector<std::pair<double, double>> halves, bool ring)
    : closed(ring), line_(std::move(line)), halves_(std::move(halves)) {
  measure();
}

void Course::measure() {
  along_ = distancesAlong(line_);
}

double Course::wrapped(double mm) const {
  if (!closed) return std::clamp(mm, 0.0, total());
  const double m = std::fmod(mm, total());
  return m < 0 ? m + total() : m;
}

Point Course::at(double mm) const {
  mm = wrapped(mm);
  const auto after = std::upper_bound(along_.begin(), along_.end(), mm);
  const size_t i =
      std::clamp<size_t>(static_cast<size_t>(after - along_.begin()), 1, line_.size() - 1);
  const double piece = along_[i] - along_[i - 1];
  return piece > 0 ? mix(line_[i - 1], line_[i], (mm - along_[i - 1]) / piece) : line_[i];
}

Point Course::direction(double mm, double window_mm) const {
  const double half = std::min(window_mm / 2, total() / 2);
  if (closed) return unit(at(mm + half) - at(mm - half));
  return unit(at(std::min(mm + half, total())) - at(std::max(mm - half, 0.0)));
}

double Course::half(double mm) const {
  mm = wrapped(mm);
  const auto after =
      std::upper_bound(halves_.begin(), halves_.end(), std::pair<double, double>(mm, INFINITY));
  if (after == halves_.begin()) return after->second;
  if (after == halves_.end()) return halves_.back().second;
  const auto before = after - 1;
  const double t = (mm - before->first) / std::max(1e-9, after->first - before->first);
  return before->second + t * (after->second - before->second);
}

std::vector<Point> Course::stretch(double from_mm, double to_mm) const {
  std::vector<Point> out{at(from_mm)};
  const int parts = std::max(1, static_cast<int>(std::ceil((to_mm - from_mm) / 0.5)));
  for (int k = 1; k <= parts; ++k) out.push_back(at(from_mm + (to_mm - from_mm) * k / parts));
  return out;
}

namespace {

/// Places from the first of `at` to the last so that each step has the same part of the sum of
/// `weights` (one for each stretch of `at`) and is `step` in it.
std::vector<double> spread(const std::vector<double>& at, const std::vector<double>& weights,
                           double step) {
  std::vector<double> sums{0};
  for (double w : weights) sums.push_back(sums.back() + w);
  const int steps = std::max(1, static_cast<int>(std::lround(sums.back() / step)));
  std::vector<double> out;
  size_t i = 1;
  for (int k = 0; k <= steps; ++k) {
    const double w = sums.back() * k / steps;
    while (i + 1 < sums.size() && sums[i] < w) ++i;
    const double t = weights[i - 1] > 0 ? (w - sums[i - 1]) / weights[i - 1] : 0;
    out.push_back(at[i - 1] + t * (at[i] - at[i - 1]));
  }
  return out;
}

}  // namespace

std::vector<double> Course::rungPlaces(double from_mm, double to_mm, const SatinOptions& satin,
                                       const OutlineCut& outline) const {
  const double step_mm = satin.spacing_mm / 2;
  // steps are first counted where they are shorter, then spread evenly over the count
  const int parts = std::max(1, static_cast<int>(std::ceil((to_mm - from_mm) / (step_mm / 2))));
  std::vector<double> at{from_mm}, weights;
  for (int k = 0; k < parts; ++k) {
    at.push_back(from_mm + (to_mm - from_mm) * (k + 1) / parts);
    const double mm = from_mm + (to_mm - from_mm) * (k + 0.5) / parts, h = half(mm);
    weights.push_back(
        (at[at.size() - 1] - at[at.size() - 2]) *
        std::clamp((1 + std::abs(bend(mm)) * h) / satin.rule.open_edge, 1.0, kMostCloser));
  }
  return evened(spread(at, weights, step_mm), satin, outline);
}

std::vector<double> Course::evened(const std::vector<double>& places, const SatinOptions& satin,
                                   const OutlineCut& outline) const {
  const double step_mm = satin.spacing_mm / 2;
  std::vector<std::optional<Rung>> rungs;
  for (double mm : places) rungs.push_back(rung(mm, outline));
  std::vector<double> weights;
  for (size_t k = 1; k < places.size(); ++k) {
    // over some rungs: what a single one is off is no bend
    const size_t from = k > kEvenOver ? k - kEvenOver : 0,
                 to = std::min(k + kEvenOver - 1, places.size() - 1);
    double opens = 0;
    if (const auto& a = rungs[from], &b = rungs[to]; a && b)
      opens = std::max(distance(a->left, b->left), distance(a->right, b->right)) /
              static_cast<double>(to - from);
    weights.push_back(std::clamp(opens / satin.rule.open_edge, step_mm, kMostEvened * step_mm));
  }
  return spread(places, weights, step_mm);
}

double Course::bend(double mm) const {
  const double window = std::max(0.4, 0.7 * half(mm));
  const Point before = direction(mm - 0.3, window), after = direction(mm + 0.3, window);
  return std::asin(std::clamp(cross(before, after), -1.0, 1.0)) / 0.6;
}

std::optional<Rung> Course::rung(double mm, const OutlineCut& outline) const {
  const double h = half(mm), reach = kWiden * h + kWiden_mm;
  const Point c = at(mm), side = quarterTurn(direction(mm, std::max(0.4, 0.7 * h)));
  const auto cut = outline.inside(c, side, reach);
  if (!cut) return std::nullopt;
  double from = std::max(cut->first, -reach), to = std::min(cut->second, reach);
  // in the tightest curves rungs end where they meet: beyond it they would lie across each other
  const double curve = bend(mm), meet = 1 / std::max(1e-6, std::abs(curve));
  if (meet < h && curve > 0) to = std::min(to, meet);
  if (meet < h && curve < 0) from = std::max(from, -meet);
  if (to - from < kLeastRung_mm) return std::nullopt;
  return Rung{c + side * from, c + side * to};
}

double Course::distanceTo(Point p, double from_mm, double to_mm) const {
  double least = INFINITY;
  const int parts = std::max(1, static_cast<int>(std::ceil((to_mm - from_mm) / 0.4)));
  Point before = at(from_mm);
  for (int k = 1; k <= parts; ++k) {
    const Point here = at(from_mm + (to_mm - from_mm) * k / parts);
    least = std::min(least, pointSegmentDistance(p, before, here));
    before = here;
  }
  return least;
}

Claim::Claim(const Course& course, double at_mm, double near_mm, const OutlineCut& outline)
    : room_(course.half(at_mm)) {
  constexpr double kStep_mm = 0.3;
  const double from = course.closed ? at_mm - near_mm : std::max(0.0, at_mm - near_mm);
  const double to = course.closed ? at_mm + near_mm : std::min(course.total(), at_mm + near_mm);
  const int parts = std::max(1, static_cast<int>(std::ceil((to - from) / kStep_mm)));
  for (int k = 0; k <= parts; ++k) {
    const double mm = from + (to - from) * k / parts, h = course.half(mm);
    const Point at = course.at(mm);
    const auto rung = course.rung(mm, outline);
    places_.push_back(
        {at, rung ? distance(at, rung->left) : h, rung ? distance(at, rung->right) : h});
  }
}

double Claim::depth_mm(Point p) const {
  double nearest = INFINITY, depth = -INFINITY;
  for (size_t i = 1; i < places_.size(); ++i) {
    const Place &a = places_[i - 1], &b = places_[i];
    const Point way = b.at - a.at;
    const double along = dot(way, way);
    const double t = along > 0 ? std::clamp(dot(p - a.at, way) / along, 0.0, 1.0) : 0;
    const double away = distance(p, mix(a.at, b.at, t));
    if (away >= nearest) continue;
    nearest = away;
    // a rung's left end lies on the side of the quarter turn against its own way
    const bool left = cross(way, p - a.at) < 0;
    const double edge = left ? a.left + t * (b.left - a.left) : a.right + t * (b.right - a.right);
    depth = edge - away;
  }
  return depth;
}

std::optional<Rung> Claim::outside(const Rung& rung, double by_mm, bool spared) const {
  const double lap = std::min(by_mm, 0.5 * room_);
  if (depth_mm(rung.middle()) - lap < -rung.width_mm() / 2) return rung;
  // what lies at the far edge of this ground is no lap, and none of the other column's business
  const BareStretch bare = bareStretch(rung, [&](Point p) { return depth_mm(p) >= -kEdgePlay_mm; });
  if (!bare.rung || (spared && bare.bothEnds && bare.covered > kMostlyCovered)) return std::nullopt;
  return withLaps(*bare.rung, rung, kReachMost * lap, [&](Point p) { return depth_mm(p) >= lap; });
}

void Course::lengthen(bool atStart, double by_mm) {
  if (by_mm <= 0) return;
  const double window = std::max(0.6, 1.2 * half(atStart ? 0 : total()));
  const Point way = direction(atStart ? 0 : total(), window);
  if (!atStart) {
    line_.push_back(line_.back() + way * by_mm);
  } else {
    line_.insert(line_.begin(), line_.front() - way * by_mm);
    for (auto& [mm, h] : halves_) mm += by_mm;
    for (double& mm : joints_mm) mm += by_mm;
  }
  measure();
}

void Course::reach(bool atStart, double most_mm, const OutlineCut& outline) {
  const double h = half(atStart ? 0 : total());
  const Point end = at(atStart ? 0 : total());
  const Point way = direction(atStart ? 0 : total(), std::max(0.6, 1.2 * h)) * (atStart ? -1 : 1);
  double mm = 0;
  while (mm < most_mm &&
         outline.inside(end + way * (mm + 0.05), quarterTurn(way), kWiden * h + kWiden_mm))
    mm += 0.05;
  lengthen(atStart, mm);
}

void Course::reachTo(bool atStart, const Course& owner, double at_mm, double most_mm) {
  const Point end = at(atStart ? 0 : total());
  const double window = std::max(0.6, 1.2 * half(atStart ? 0 : total()));
  const Point way = direction(atStart ? 0 : total(), window) * (atStart ? -1 : 1);
  double best = 0, least = INFINITY;
  for (double mm = 0; mm <= most_mm; mm += 0.1) {
    const double d = owner.distanceTo(end + way * mm, at_mm - most_mm, at_mm + most_mm);
    if (d < least) least = d, best = mm;
    if (d > least + 0.3) break;
  }
  lengthen(atStart, best);
}

// --- CourseMaker

void CourseMaker::add(const std::vector<AxisPoint>& branch, double zone_mm) {
  joints_.push_back({raw_.empty() ? 0 : raw_.size() - 1, zone_mm});
  raw_.insert(raw_.end(), branch.begin() + (raw_.empty() ? 0 : 1), branch.end());
}

void CourseMaker::close(double zone_mm) {
  joints_.push_back({raw_.size() - 1, zone_mm});
}

/// The points outside all joints' zones; each stretch keeps at least its middle.
std::vector<AxisPoint> CourseMaker::kept(bool closed) const {
  std::vector<AxisPoint> out;
  for (size_t k = 0; k + 1 < joints_.size(); ++k) {
    const Joint a = joints_[k], b = joints_[k + 1];
    const Point pa = raw_[a.index].at, pb = raw_[b.index].at;
    const size_t before = out.size();
    for (size_t i = a.index + (k > 0 ? 1 : 0); i <= b.index; ++i)
      if (distance(raw_[i].at, pa) >= a.zone_mm && distance(raw_[i].at, pb) >= b.zone_mm)
        out.push_back(raw_[i]);
    if (out.size() == before) out.push_back(raw_[(a.index + b.index) / 2]);
  }
  if (out.size() < 2 && !closed) out = {raw_.front(), raw_.back()};
  if (closed && out.size() >= 2) out.push_back(out.front());
  return out.size() >= 2 ? out : raw_;
}

Course CourseMaker::made(const std::vector<AxisPoint>& points, bool closed) const {
  std::vector<Point> line;
  double mean = 0;
  for (const AxisPoint& p : points) {
    if (line.empty() || distance(line.back(), p.at) > kSame_mm) line.push_back(p.at);
    mean += p.radius_mm / static_cast<double>(points.size());
  }
  if (line.size() < 2) line.push_back(line[0] + Point{0.01, 0});
  const double step = std::clamp(mean / 4, 0.05, 0.5);
  const std::vector<Point> even = evenly(line, step);
  const std::vector<Point> smooth = evened(even, 0.45 * mean / step, closed);
  // half widths where the axis was kept, at the same part of the length
  std::vector<std::pair<double, double>> halves;
  const double before = polylineLength(line), after = polylineLength(smooth);
  double mm = 0;
  for (size_t i = 0; i < points.size(); ++i) {
    if (i > 0) mm += distance(points[i - 1].at, points[i].at);
    halves.emplace_back(before > 0 ? mm / before * after : 0, points[i].radius_mm);
  }
  return Course(smooth, std::move(halves), closed);
}

namespace {

/// The place of a course nearest to a point, sought around where it should be.
double nearestPlace(const Course& c, Point p, double from_mm, double to_mm) {
  double best = from_mm, least = INFINITY;
  const int parts = std::max(1, static_cast<int>(std::ceil((to_mm - from_mm) / 0.1)));
  for (int k = 0; k <= parts; ++k) {
    const double mm = from_mm + (to_mm - from_mm) * k / parts;
    if (const double d = distance(c.at(mm), p); d < least) least = d, best = mm;
  }
  return best;
}

}  // namespace

Course CourseMaker::open(bool freeStart, bool freeEnd) {
  // near a free end the axis leans toward one of the end's corners
  if (freeStart) joints_.front().zone_mm = 0.5 * raw_.front().radius_mm;
  if (freeEnd) joints_.back().zone_mm = 0.5 * raw_.back().radius_mm;
  Course c = made(kept(false), false);
  std::vector<double> raw{0};
  for (size_t i = 1; i < raw_.size(); ++i)
    raw.push_back(raw.back() + distance(raw_[i - 1].at, raw_[i].at));
  const double lead = distance(raw_.front().at, c.at(0));
  c.joints_mm.push_back(0);
  for (size_t k = 1; k + 1 < joints_.size(); ++k) {
    const double about = raw[joints_[k].index] - lead, slack = 2 * joints_[k].zone_mm + 0.5;
    const double from = std::clamp(about - slack, c.joints_mm.back(), c.total());
    c.joints_mm.push_back(nearestPlace(c, raw_[joints_[k].index].at, from,
                                       std::clamp(about + slack, from, c.total())));
  }
  c.joints_mm.push_back(c.total());
  if (freeStart) c.reach(true, 2.5 * raw_.front().radius_mm + 0.3, outline_);
  if (freeEnd) c.reach(false, 2.5 * raw_.back().radius_mm + 0.3, outline_);
  return c;
}

Course CourseMaker::ring() {
  Course c = made(kept(true), true);
  std::vector<double> raw{0};
  for (size_t i = 1; i < raw_.size(); ++i)
    raw.push_back(raw.back() + distance(raw_[i - 1].at, raw_[i].at));
  // near where the line begins: a ring that crosses itself passes its joint twice
  const double reach = std::min(2 * joints_.front().zone_mm + 0.5, c.total() / 2);
  const double start = nearestPlace(c, raw_.front().at, -reach, reach);
  c.joints_mm.push_back(start);
  for (size_t k = 1; k + 1 < joints_.size(); ++k) {
    const double about = start + raw[joints_[k].index] / raw.back() * c.total();
    const double slack = 2 * joints_[k].zone_mm + 0.5;
    const double from = std::max(about - slack, c.joints_mm.back());
    c.joints_mm.push_back(
        nearestPlace(c, raw_[joints_[k].index].at, from, std::max(from, about + slack)));
  }
  return c;
}

Course CourseMaker::across() {
  const Box box = boundsOf(outline_.area());
  const bool tall = box.height() > 1.2 * box.width();
  const Point way = tall ? Point{0, 1} : Point{1, 0}, c = box.centre();
  const double mm = (tall ? box.height() : box.width()) / 2 - 0.02;
  const double half = (tall ? box.width() : box.height()) / 2;
  Course course({c - way * mm, c, c + way * mm}, {{0, half}}, false);
  course.joints_mm = {0, course.total()};
  return course;
}

// --- ZigzagWriter

namespace {

constexpr size_t kFanRungs = 6;      // to each side: over these a fan is measured
constexpr double kRoomForAll = 0.6;  // of the spacing
constexpr double kLeastBack_mm = 0.4;
constexpr double kUnderlayFan = 0.6;       // of an underlay's needle points: what a fan thins out
constexpr double kLeastRungLeft_mm = 1.0;  // of a rung whose needle point stands back

/// From 0 to 1, spread evenly however many are taken: the bits of `n` in turn (van der Corput
/// 1935).
double evenly(uint32_t n) {
  double sum = 0;
  for (double part = 0.5; n > 0; n >>= 1, part /= 2) sum += part * (n & 1);
  return sum;
}

}  // namespace

void ZigzagWriter::add(const Rung& rung) {
  rungs_.push_back(rung);
}

double ZigzagWriter::meanWidth_mm() const {
  double sum = 0;
  for (const Rung& r : rungs_) sum += r.width_mm();
  return rungs_.empty() ? 0 : sum / static_cast<double>(rungs_.size());
}

double ZigzagWriter::wideWidth_mm() const {
  if (rungs_.empty()) return 0;
  std::vector<double> widths;
  for (const Rung& r : rungs_) widths.push_back(r.width_mm());
  const auto at = widths.begin() + static_cast<long>(widths.size() * 3 / 4);
  std::nth_element(widths.begin(), at, widths.end());
  return *at;
}

bool ZigzagWriter::narrow(double least_mm) const {
  size_t wide = 0;
  for (const Rung& r : rungs_) wide += r.width_mm() > 1.15 * least_mm;
  return meanWidth_mm() < least_mm && wide * 5 < rungs_.size();
}

/// How far rungs about `k` stand apart across their own direction: on the side asked for and on the
/// other, rung by second rung, over a few of them.
std::pair<double, double> ZigzagWriter::gapsAt(size_t k, bool left) const {
  const size_t first = k - std::min(k, kFanRungs),
               last = std::min(k + kFanRungs, rungs_.size() - 1);
  if (first == last) return {0, 0};
  const double pairs = static_cast<double>(last - first) / 2;
  const Point way = unit(rungs_[k].right - rungs_[k].left);
  const double lefts = std::abs(cross(way, rungs_[last].left - rungs_[first].left)) / pairs;
  const double rights = std::abs(cross(way, rungs_[last].right - rungs_[first].right)) / pairs;
  return left ? std::pair(lefts, rights) : std::pair(rights, lefts);
}

/// How much of a rung a needle point leaves free on the crowded side, as a part of the width. Of
/// the rungs of a fan only as many may reach a place as they stand apart there: one that wants a
/// gap of `gap_mm` goes no farther than where there is one.
double ZigzagWriter::standsBack(size_t k, bool left, double gap_mm) const {
  const ColumnRule& rule = options_.rule;
  const double width = rungs_[k].width_mm();
  if (width <= rule.stand_back_from_mm) return 0;
  const auto [near, far] = gapsAt(k, left);
  if (near >= gap_mm || far <= near) return 0;
  const double most = std::min(rule.stand_back, 1 - kLeastRungLeft_mm / width);
  const double back = std::clamp((gap_mm - near) / (far - near), 0.0, std::max(0.0, most));
  return back * width < kLeastBack_mm ? 0 : back;  // a little back is but a ragged edge
}

std::vector<Point> ZigzagWriter::needlePoints(bool fromRight) const {
  Strand strand;
  uint32_t turn[2] = {0, 0};
  for (size_t k = 0; k < rungs_.size(); ++k) {
    const Rung& r = rungs_[k];
    const int side = static_cast<int>((k + (fromRight ? 1 : 0)) % 2);
    const Point edge = side == 0 ? r.left : r.right, far = side == 0 ? r.right : r.left;
    const double width = r.width_mm();
    // narrow tips keep a thread's width between their edges
    const double out = std::max(options_.pull_mm / 2 - inset_, -0.3 * width);
    Point p = edge + unit(edge - far) * out;
    // a gentle bend has room for all: a single one that stands back would be a notch in its edge
    if (gapsAt(k, side == 0).first < kRoomForAll * options_.spacing_mm) {
      const double gap = options_.rule.crowded * options_.spacing_mm * evenly(++turn[side]);
      p = mix(p, far, standsBack(k, side == 0, gap));
    }
    addAcross(strand, p, static_cast<int>(k), options_.split_over_mm);
  }
  return strand.points;
}

std::vector<Point> ZigzagWriter::rail(double part) const {
  std::vector<Point> line;
  for (const Rung& r : rungs_) line.push_back(mix(r.left, r.right, part));
  Strand strand;
  runWithin(strand, line, kRunStep_mm, kRunStray_mm, Kind::Run);
  return strand.points;
}

std::vector<Point> ZigzagWriter::underlay(bool fromRight) const {
  std::vector<Point> out;
  uint32_t turn = 0;
  const auto every = static_cast<size_t>(std::max(
      1.0, std::round(2 * kUnderlayStep_mm / options_.spacing_mm)));  // two rungs a spacing
  for (size_t k = every; k + every < rungs_.size(); k += every) {
    const Rung& r = rungs_[k];
    const bool left = (out.size() % 2 == 0) != fromRight;
    const Point edge = left ? r.left : r.right, other = left ? r.right : r.left;
    const double width = r.width_mm();
    if (width < 3 * kUnderlayInset_mm) {
      out.push_back(r.middle());
      continue;
    }
    // in a fan as the satin's, so that it is no knot under it
    const double back = standsBack(k, left, kUnderlayFan * gapsAt(k, left).second * evenly(++turn));
    out.push_back(mix(edge, other, std::max(back, kUnderlayInset_mm / width)));
  }
  return out;
}

}  // namespace rt
