// A sewn alignment line in a photo, with the knot at its end.
#pragma once

#include <optional>

#include "plane.h"

namespace rt {

struct SewnLineSearch {
  Point knot, end;           ///< Where its two ends are expected, mm on the plane.
  double reach_mm = 18;      ///< How far they may be from there.
  double most_turn_deg = 6;  ///< How far it may be turned.
};

struct SeenSewnLine {
  Point knot, end;       ///< Middles of the thread at both ends, mm on the plane.
  double across_mm = 0;  ///< One sigma across the line at its ends.
  double along_mm = 0;   ///< One sigma along it: thread ends in a stitch, not in a point.
  double strength = 0;   ///< Grey levels.
};

/// A straight dashed line as long as the one that is expected, to 3 %. It has to be there in each
/// of its quarters; across and turn come from the whole of it, along from where its thread begins
/// and ends. Nothing where no such line stands out, or an end of it is not seen.
std::optional<SeenSewnLine> findSewnLine(const Photo& photo, const Plane& plane,
                                         const SewnLineSearch& search);

}  // namespace rt
