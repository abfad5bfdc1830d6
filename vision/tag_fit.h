// A tag in a photo by all of its pixels. Part of this room.
#pragma once

#include <array>
#include <optional>

#include "camera_lens.h"
#include "photo.h"

namespace rt {

/// What a tag shows: eight by eight modules, row by row from its top left, 1 for white. Outside it
/// is white.
using TagModules = std::array<uint8_t, 64>;

struct TagFit {
  std::array<Point, 4> corners;  ///< px, from the top left clockwise in the tag's own frame.
  double corner_px = 0;          ///< One sigma a coordinate, from how the pixels fit.
};

/// The homography, blur and lighting (light and dark each an even slope) under which the blurred
/// tag comes nearest to the photo's pixels: weighted least squares by Gauss and Newton, pixels that
/// fit badly counting less (Geman and McClure). For white noise no estimate is better. `corners`
/// are known to a pixel or two. Nothing where that does not converge near them, or where what is
/// left shows that the tag is not lit so (a hard shadow lies over it).
/// `bend`: of the lens, as Plane has it.
std::optional<TagFit> fitTag(const Photo& photo, const std::array<Point, 4>& corners,
                             const TagModules& modules, const Bend& bend = {});

}  // namespace rt
