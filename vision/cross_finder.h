// Drawn or sewn crosses in a photo.
#pragma once

#include <optional>

#include "plane.h"

namespace rt {

struct CrossSearch {
  Point near;           ///< Where it is expected, mm on the plane.
  double turn_deg = 0;  ///< How its arms are expected to lie there.
  double reach_mm = 8;  ///< How far it may be from there.
  double arm_mm = 8;    ///< Each arm is at least so long.
};

struct SeenCross {
  Point at;               ///< Where its lines meet, mm on the plane.
  double turn_deg = 0;    ///< Of its arms, against the plane's axes.
  double sigma_mm = 0.1;  ///< One sigma a coordinate, from how its lines fit.
  double strength = 0;    ///< How far its lines stand out, in grey levels.
};

/// Two lines at right angles that differ from the cloth around them in brightness or colour, darker
/// or lighter, turned by up to 6 degrees from what was expected. Both have to be there on both
/// sides of where they meet, so that one long line is none.
std::optional<SeenCross> findCross(const Photo& photo, const Plane& plane,
                                   const CrossSearch& search);

}  // namespace rt
