// A printed tag whose place is known.
#pragma once

#include "geometry.h"

namespace rt {

/// A tag of the public 36h11 family, in the frame that its holder names.
struct TagPlace {
  int id = 0;
  Point at;              ///< Centre, mm.
  double angle_deg = 0;  ///< At 0 its top edge is toward -y; clockwise as seen.
  friend bool operator==(const TagPlace&, const TagPlace&) = default;
};

}  // namespace rt
