#include "seam_path.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kGrid_mm = 1.0;
constexpr double kOffMiddle = 0.02;  // of a crossing, a millimetre off the middle
constexpr double kSlant = 0.05;      // of a crossing, a millimetre that the path goes aside
constexpr double kOffAsked = 10;     // of a crossing, a millimetre off the line that is asked for
constexpr int kMostAside = 3;        // cells a row
constexpr int kMostCells = 600;      // along either side of a strip's grid

}  // namespace

double SeamPaths::Path::where(Point p) const {
  const double along = vertical ? p.y : p.x;
  const auto row = static_cast<long>(std::floor((along - from) / step));
  return at[static_cast<size_t>(std::clamp<long>(row, 0, static_cast<long>(at.size()) - 1))];
}

SeamPaths::SeamPaths(const Pattern& pattern, const std::vector<PlacedField>& fields,
                     const std::vector<bool>& cut, const CutRule& rule,
                     const std::vector<AskedCut>& asked)
    : rule_(rule), asked_(asked) {
  std::map<std::pair<int, int>, std::vector<std::pair<Point, Point>>> within;
  std::map<std::pair<int, int>, Box> strips;
  for (size_t i = 0; i < fields.size(); ++i)
    for (size_t j = i + 1; j < fields.size(); ++j) {
      const Box strip = fields[i].box.intersection(fields[j].box);
      if (!strip.empty() && strip.width() > 0 && strip.height() > 0)
        strips[{static_cast<int>(i), static_cast<int>(j)}] = strip;
    }
  if (strips.empty()) return;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (!cut[row]) return;
    Box box;
    box.add(a), box.add(b);
    for (const auto& [pair, strip] : strips)
      if (strip.overlaps(box)) within[pair].push_back({a, b});
  });
  for (const auto& [pair, strip] : strips) {
    const Point way = fields[static_cast<size_t>(pair.second)].box.centre() -
                      fields[static_cast<size_t>(pair.first)].box.centre();
    paths_[pair] = seek(within[pair], strip, way);
  }
}

namespace {

/// A strip as rows along the path and places across it, with the thread that crosses either way.
class CrossingGrid {
 public:
  CrossingGrid(const Box& strip, bool vertical, double edge_mm) : vertical_(vertical) {
    from_ = vertical ? strip.top : strip.left;
    const double to = vertical ? strip.bottom : strip.right;
    const double near = vertical ? strip.left : strip.top,
                 far = vertical ? strip.right : strip.bottom;
    const double edge = std::min(edge_mm, (far - near) / 4);
    low_ = near + edge, high_ = far - edge;
    step_ = std::max(kGrid_mm, (to - from_) / kMostCells);
    across_ = std::max(kGrid_mm, (high_ - low_) / kMostCells);
    rows_ = std::max(1, static_cast<int>(std::ceil((to - from_) / step_)));
    places_ = std::max(1, static_cast<int>(std::floor((high_ - low_) / across_)) + 1);
    through_.resize(static_cast<size_t>(rows_) * static_cast<size_t>(places_));
    aside_.resize(through_.size());
  }

  void add(Point a, Point b) {
    const int first = static_cast<int>(std::ceil((std::min(u(a), u(b)) - low_) / across_));
    const int last = static_cast<int>(std::floor((std::max(u(a), u(b)) - low_) / across_));
    for (int k = std::max(0, first); k <= std::min(places_ - 1, last); ++k) {
      const double t = u(b) == u(a) ? 0.5 : (placeAt(k) - u(a)) / (u(b) - u(a));
      through_[index(rowOf(v(mix(a, b, std::clamp(t, 0.0, 1.0)))), k)] += 1;
    }
    for (int r = rowOf(std::min(v(a), v(b))); r < rowOf(std::max(v(a), v(b))); ++r) {
      const double t = (from_ + (r + 1) * step_ - v(a)) / (v(b) - v(a));
      const int k =
          static_cast<int>(std::floor((u(mix(a, b, std::clamp(t, 0.0, 1.0))) - low_) / across_));
      if (k >= 0 && k < places_) aside_[index(r, k)] += 1;
    }
  }

  /// Rows that the line passes within the strip are to be parted there.
  void ask(const AskedCut& line) {
    wanted_.resize(static_cast<size_t>(rows_), NAN);
    for (int r = 0; r < rows_; ++r) {
      const auto at = line.at(from_ + (r + 0.5) * step_, vertical_);
      if (at && *at > low_ - across_ && *at < high_ + across_)
        wanted_[static_cast<size_t>(r)] = *at;
    }
  }

  /// For each row the place where the cheapest path passes: fewest crossings, near the middle.
  std::vector<double> cheapest() const {
    std::vector<float> cost(through_.size());
    std::vector<int8_t> came(through_.size());
    for (int r = 0; r < rows_; ++r)
      for (int k = 0; k < places_; ++k) {
        const double off = std::abs(k - (places_ - 1) / 2.0);
        double here = through_[index(r, k)] + kOffMiddle * across_ * off;
        if (!wanted_.empty() && !std::isnan(wanted_[static_cast<size_t>(r)]))
          here += kOffAsked * std::abs(placeAt(k) - wanted_[static_cast<size_t>(r)]);
        if (r > 0) here += cheapestWay(cost, r, k, came[index(r, k)]);
        cost[index(r, k)] = static_cast<float>(here);
      }
    std::vector<double> at(static_cast<size_t>(rows_));
    const auto last = cost.end() - places_;
    int k = static_cast<int>(std::min_element(last, cost.end()) - last);
    for (int r = rows_ - 1; r >= 0; --r) {
      at[static_cast<size_t>(r)] = placeAt(k);
      if (r > 0) k += came[index(r, k)];
    }
    return at;
  }

  double from() const { return from_; }
  double step() const { return step_; }
  double low() const { return low_; }
  double high() const { return high_; }

 private:
  double u(Point p) const { return vertical_ ? p.x : p.y; }
  double v(Point p) const { return vertical_ ? p.y : p.x; }
  double placeAt(int k) const { return low_ + k * across_; }
  size_t index(int row, int place) const {
    return static_cast<size_t>(row) * static_cast<size_t>(places_) + static_cast<size_t>(place);
  }
  int rowOf(double at) const {
    return std::clamp(static_cast<int>(std::floor((at - from_) / step_)), 0, rows_ - 1);
  }

  /// From the row before to place `k` of row `r`; `came` says by how many places aside.
  double cheapestWay(const std::vector<float>& cost, int r, int k, int8_t& came) const {
    double best = INFINITY;
    for (int d = -kMostAside; d <= kMostAside; ++d) {
      const int before = k + d;
      if (before < 0 || before >= places_) continue;
      double way = cost[index(r - 1, before)] + kSlant * std::abs(d) * across_;
      for (int c = std::min(before, k); c < std::max(before, k); ++c)
        way += aside_[index(r - 1, c)];
      if (way < best) best = way, came = static_cast<int8_t>(d);
    }
    return best;
  }

  bool vertical_;
  double from_ = 0, step_ = 1, across_ = 1, low_ = 0, high_ = 0;
  int rows_ = 1, places_ = 1;
  std::vector<float> through_;  // stitches that cross the path where it passes a row at a place
  std::vector<double> wanted_;  // by row, where it is asked for; NAN: nowhere
  std::vector<float> aside_;    // stitches from a row to the next, between a place and the next
};

}  // namespace

SeamPaths::Path SeamPaths::seek(const std::vector<std::pair<Point, Point>>& segments,
                                const Box& strip, Point way) const {
  Path path;
  // the strip is parted across the way from one field to the other
  path.vertical = std::abs(way.x) * strip.height() >= std::abs(way.y) * strip.width();
  path.firstIsLow = path.vertical ? way.x >= 0 : way.y >= 0;
  CrossingGrid grid(strip, path.vertical, rule_.path_edge_mm);
  for (const auto& [a, b] : segments) grid.add(a, b);
  for (const AskedCut& line : asked_) grid.ask(line);
  path.from = grid.from(), path.step = grid.step(), path.low = grid.low(), path.high = grid.high();
  path.at = grid.cheapest();
  return path;
}

int SeamPaths::owner(Point p, const std::vector<int>& holders, const std::vector<int>& order,
                     double bias_mm) const {
  int best = holders[0];
  for (size_t k = 1; k < holders.size(); ++k) {
    const auto it = paths_.find(std::minmax(best, holders[k]));
    if (it == paths_.end()) continue;
    const Path& path = it->second;
    const bool firstIsEarlier =
        order[static_cast<size_t>(it->first.first)] < order[static_cast<size_t>(it->first.second)];
    // the field that is sewn first takes more of the strip
    const double toHigh = firstIsEarlier == path.firstIsLow ? bias_mm : -bias_mm;
    const double at = std::clamp(path.where(p) + toHigh, path.low, path.high);
    const bool low = (path.vertical ? p.x : p.y) < at;
    best = low == path.firstIsLow ? it->first.first : it->first.second;
  }
  return best;
}

}  // namespace rt
