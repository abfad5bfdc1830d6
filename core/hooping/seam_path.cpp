#include "seam_path.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kGrid_mm = 1.0;
constexpr double kEdge_mm = 6.0;     // from the sides of a wide strip: cloth may lie crooked
constexpr double kOffMiddle = 0.02;  // of a crossing, a millimetre off the middle
constexpr double kSlant = 0.05;      // of a crossing, a millimetre that the path goes aside
constexpr int kMostAside = 3;        // cells a row
constexpr int kMostCells = 600;      // along either side of a strip's grid

}  // namespace

double SeamPaths::Path::where(Point p) const {
  const double along = vertical ? p.y : p.x;
  const auto row = static_cast<long>(std::floor((along - from) / step));
  return at[static_cast<size_t>(std::clamp<long>(row, 0, static_cast<long>(at.size()) - 1))];
}

SeamPaths::SeamPaths(const Pattern& pattern, const std::vector<PlacedField>& fields,
                     const std::vector<bool>& cut) {
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

SeamPaths::Path SeamPaths::seek(const std::vector<std::pair<Point, Point>>& segments,
                                const Box& strip, Point way) const {
  Path path;
  // the strip is parted across the way from one field to the other
  path.vertical = std::abs(way.x) * strip.height() >= std::abs(way.y) * strip.width();
  path.firstIsLow = path.vertical ? way.x >= 0 : way.y >= 0;
  const double low = path.vertical ? strip.left : strip.top;
  const double high = path.vertical ? strip.right : strip.bottom;
  const double from = path.vertical ? strip.top : strip.left;
  const double to = path.vertical ? strip.bottom : strip.right;
  const double edge = std::min(kEdge_mm, (high - low) / 4);
  const double step = std::max(kGrid_mm, (to - from) / kMostCells);
  const double across = std::max(kGrid_mm, (high - low - 2 * edge) / kMostCells);
  const int rows = std::max(1, static_cast<int>(std::ceil((to - from) / step)));
  const int places =
      std::max(1, static_cast<int>(std::floor((high - low - 2 * edge) / across)) + 1);
  path.from = from, path.step = step, path.low = low + edge, path.high = high - edge;
  const auto u = [&](Point p) { return path.vertical ? p.x : p.y; };
  const auto v = [&](Point p) { return path.vertical ? p.y : p.x; };
  const auto index = [&](int row, int place) {
    return static_cast<size_t>(row) * static_cast<size_t>(places) + static_cast<size_t>(place);
  };
  const auto rowOf = [&](double at) {
    return std::clamp(static_cast<int>(std::floor((at - from) / step)), 0, rows - 1);
  };
  // through[row, place]: stitches that cross the path where it passes there
  std::vector<float> through(static_cast<size_t>(rows) * static_cast<size_t>(places));
  // aside[row, place]: stitches that cross from row to row + 1 between a place and the next
  std::vector<float> aside(through.size());
  for (const auto& [a, b] : segments) {
    const int first = static_cast<int>(std::ceil((std::min(u(a), u(b)) - path.low) / across));
    const int last = static_cast<int>(std::floor((std::max(u(a), u(b)) - path.low) / across));
    for (int k = std::max(0, first); k <= std::min(places - 1, last); ++k) {
      const double t = u(b) == u(a) ? 0.5 : (path.low + k * across - u(a)) / (u(b) - u(a));
      through[index(rowOf(v(mix(a, b, std::clamp(t, 0.0, 1.0)))), k)] += 1;
    }
    for (int r = rowOf(std::min(v(a), v(b))); r < rowOf(std::max(v(a), v(b))); ++r) {
      const double t = (from + (r + 1) * step - v(a)) / (v(b) - v(a));
      const int k =
          static_cast<int>(std::floor((u(mix(a, b, std::clamp(t, 0.0, 1.0))) - path.low) / across));
      if (k >= 0 && k < places) aside[index(r, k)] += 1;
    }
  }
  std::vector<float> cost(through.size());
  std::vector<int8_t> came(through.size());
  const double middle = (places - 1) / 2.0;
  for (int r = 0; r < rows; ++r)
    for (int k = 0; k < places; ++k) {
      const double here = through[index(r, k)] + kOffMiddle * across * std::abs(k - middle);
      if (r == 0) {
        cost[index(r, k)] = static_cast<float>(here);
        continue;
      }
      double best = INFINITY;
      for (int d = -kMostAside; d <= kMostAside; ++d) {
        const int before = k + d;
        if (before < 0 || before >= places) continue;
        double way_cost = cost[index(r - 1, before)] + kSlant * std::abs(d) * across;
        for (int c = std::min(before, k); c < std::max(before, k); ++c)
          way_cost += aside[index(r - 1, c)];
        if (way_cost < best) best = way_cost, came[index(r, k)] = static_cast<int8_t>(d);
      }
      cost[index(r, k)] = static_cast<float>(best + here);
    }
  path.at.assign(static_cast<size_t>(rows), 0);
  int k =
      static_cast<int>(std::min_element(cost.end() - places, cost.end()) - (cost.end() - places));
  for (int r = rows - 1; r >= 0; --r) {
    path.at[static_cast<size_t>(r)] = path.low + k * across;
    if (r > 0) k += came[index(r, k)];
  }
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
