// Cameras and frames that tests of photos share.
#pragma once

#include "camera.h"
#include "random_pattern.h"

namespace rt::testing {

/// Held over the frame by hand: tilted by up to `most_tilt_deg` any way, turned any way, its lens
/// bending by up to `most_k1` either way.
inline Camera heldByHand(std::mt19937& random, double most_tilt_deg, double most_k1) {
  Camera c;
  c.tilt_deg = between(random, 0, most_tilt_deg);
  c.tilt_way_deg = between(random, 0, 360);
  c.turn_deg = between(random, -180, 180);
  c.k1 = between(random, -most_k1, most_k1);
  return c;
}

/// Four tags about a field of 200 x 140 mm.
inline std::vector<TagPlace> frameTags() {
  return {{500, {-112, -82}, 0}, {501, {112, -82}, 0}, {502, {112, 82}, 0}, {503, {-112, 82}, 0}};
}

}  // namespace rt::testing
