#include "thread_gap.h"

#include <algorithm>

namespace rt {
namespace {

Box boxOf(const std::pair<Point, Point>& s) {
  Box box;
  box.add(s.first);
  box.add(s.second);
  return box;
}

double apart(const Box& a, const Box& b) {
  const double x = std::max({0.0, a.left - b.right, b.left - a.right});
  const double y = std::max({0.0, a.top - b.bottom, b.top - a.bottom});
  return std::max(x, y);
}

}  // namespace

ThreadSegments segmentsOf(const std::vector<Strand>& strands) {
  ThreadSegments out;
  for (const Strand& s : strands)
    for (size_t i = 1; i < s.points.size(); ++i) out.emplace_back(s.points[i - 1], s.points[i]);
  return out;
}

ThreadGap gapBetween(const ThreadSegments& a, const ThreadSegments& b) {
  ThreadGap best;
  Box all;
  std::vector<Box> boxes;
  for (const auto& s : b) all.add(boxes.emplace_back(boxOf(s)));
  for (const auto& s : a) {
    const Box box = boxOf(s);
    if (apart(box, all) >= best.mm) continue;
    for (size_t j = 0; j < b.size() && best.mm > 0; ++j) {
      if (apart(box, boxes[j]) >= best.mm) continue;
      const double d = segmentDistance(s.first, s.second, b[j].first, b[j].second);
      if (d >= best.mm) continue;
      best.mm = d;
      best.at = mix(mix(s.first, s.second, 0.5), mix(b[j].first, b[j].second, 0.5), 0.5);
    }
  }
  return best;
}

}  // namespace rt
