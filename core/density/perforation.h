// Lines of needle holes, along which leather and vinyl tear.
#pragma once

#include "fabric.h"
#include "pattern.h"

namespace rt {

/// Holes one after another on a straight line.
struct HoleLine {
  Point from, to;
  size_t holes = 0;
  double length_mm = 0;
  double distance_mm() const {
    return length_mm / static_cast<double>(std::max<size_t>(1, holes - 1));
  }
};

/// Lines of holes no farther apart than `limit.hole_distance_mm` and at least as long as its check
/// length, in any direction, longest first; a hole belongs to one line of a direction. Holes of
/// different threads count together. Work grows with the holes near each other.
std::vector<HoleLine> holeLines(const Pattern& pattern, const PerforationLimit& limit);

}  // namespace rt
