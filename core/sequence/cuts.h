// Where thread is cut, or should be by hand.
#pragma once

#include "blocks.h"

namespace rt {

/// One place where sewing is interrupted in its own thread or for another.
struct CutSpot {
  size_t row = 0;        ///< First row of the block that comes after.
  size_t stitch = 0;     ///< Stitches sewn up to here.
  Point from, to;        ///< End of the thread, and where it begins again.
  uint16_t thread = 0;   ///< Of the thread that is cut.
  bool machine = false;  ///< The file says trim; else it is left for the scissors.
  double jump_mm() const { return distance(from, to); }
};

/// All moves over 3 mm and all trims, in the order of sewing; the last cut at the end is not one.
std::vector<CutSpot> cutSpots(const Pattern& pattern);

}  // namespace rt
