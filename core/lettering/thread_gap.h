// The least distance between the thread of two letters. Part of lettering; not for other rooms.
#pragma once

#include "strand.h"

namespace rt {

using ThreadSegments = std::vector<std::pair<Point, Point>>;

ThreadSegments segmentsOf(const std::vector<Strand>& strands);

struct ThreadGap {
  double mm = INFINITY;
  Point at;  ///< In the middle of the gap.
};
ThreadGap gapBetween(const ThreadSegments& a, const ThreadSegments& b);

}  // namespace rt
