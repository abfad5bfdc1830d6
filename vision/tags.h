// Printed tags in a photo.
#pragma once

#include <array>

#include "camera_lens.h"
#include "photo.h"

namespace rt {

/// A tag of the public 36h11 family.
struct SeenTag {
  int id = 0;
  std::array<Point, 4> corners;  ///< Of its black square, px: top left, top right, bottom right,
                                 ///< bottom left as it is printed.
  Point centre;                  ///< Where its diagonals meet, px.
  double corner_px = 0.1;        ///< One sigma of a corner's place, from how its pixels fit.
};

/// Tags by the apriltag library, their corners found again to a fraction of a pixel: by lines
/// through the steps of brightness across their edges, then by all of their pixels. In the order of
/// the photo, doubles included.
std::vector<SeenTag> findTags(const Photo& photo);

/// Tags that were found, once more, now that it is known how the lens bends.
void refineTags(const Photo& photo, const Bend& bend, std::vector<SeenTag>& tags);

}  // namespace rt
