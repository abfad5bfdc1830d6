// How far it is from a place to the nearest thread or keep-out zone. Part of the planner.
#pragma once

#include <span>

#include "planner.h"

namespace rt {

class BareCloth {
 public:
  /// Over `area`, on a grid of half a millimetre or, for large ones, coarser.
  BareCloth(const Pattern& pattern, std::span<const KeepOut> keep_out, const Box& area);
  /// Distance to the nearest thread (its middle line) or zone, mm, at most some 0.4 of a cell too
  /// small; infinite outside the area.
  double clearance_mm(Point p) const;

 private:
  void block(Point p);
  void measure();
  Box area_;
  double cell_ = 0.5;
  int columns_ = 0, rows_ = 0;
  std::vector<float> away_;  // squared, in cells
};

}  // namespace rt
