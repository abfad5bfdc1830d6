#include "asked_cut.h"

#include <algorithm>

namespace rt {

bool AskedCut::meets(const Box& box) const {
  // the part of the line within the box, by its slabs (Liang and Barsky 1984)
  double enter = 0, leave = 1;
  const Point way = to - from;
  const auto slab = [&](double start, double by, double low, double high) {
    if (std::abs(by) < kSame_mm) return start >= low && start <= high;
    const double a = (low - start) / by, b = (high - start) / by;
    enter = std::max(enter, std::min(a, b)), leave = std::min(leave, std::max(a, b));
    return true;
  };
  return slab(from.x, way.x, box.left, box.right) && slab(from.y, way.y, box.top, box.bottom) &&
         enter < leave;
}

std::optional<double> AskedCut::at(double along, bool vertical) const {
  const double a = vertical ? from.y : from.x, b = vertical ? to.y : to.x;
  if (std::abs(b - a) < kSame_mm) return std::nullopt;
  const double t = (along - a) / (b - a);
  if (t < 0 || t > 1) return std::nullopt;
  const Point p = mix(from, to, t);
  return vertical ? p.x : p.y;
}

}  // namespace rt
