// Lists sewn on cloth of springs, and photos of them, for tests of cloth that moves.
#pragma once

#include "camera_at_hand.h"
#include "moving_cloth.h"

namespace rt::testing {

/// Thread that lies there, in a frame with these tags.
inline Scene sceneOf(const Pattern& pattern, const std::vector<Point>& lies,
                     const std::vector<TagPlace>& tags) {
  Scene scene;
  scene.hoop_tags = tags;
  NeedleWalk walk;
  Point last;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    if (walk.next(pattern.stitches[row]).sewn)
      scene.threads.push_back({last, lies[row], {0x63, 0x3b, 0x1f}});
    if (pattern.stitches[row].op == Op::Stitch) last = lies[row];
  }
  return scene;
}

/// Held by hand at `distance_mm`, each a little otherwise.
inline std::vector<Photo> photosOf(const Scene& scene, std::mt19937& random, int count,
                                   double distance_mm, int width_px) {
  std::vector<Photo> out;
  for (int i = 0; i < count; ++i) {
    Camera c = heldByHand(random, 14, 0.012);
    c.width = width_px, c.height = width_px * 3 / 4;
    c.distance_mm = distance_mm;
    c.noise = 2, c.blur_px = between(random, 0.3, 0.9);
    out.push_back(takePhoto(scene, c, random));
  }
  return out;
}

}  // namespace rt::testing
