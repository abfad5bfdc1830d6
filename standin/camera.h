// The stand-in's eye: photos of a virtual hooping, with known truth. No Qt.
#pragma once

#include <functional>
#include <random>

#include "photo.h"
#include "tag_place.h"

namespace rt {

/// Where the camera stands over the hoop's plane, and what it does to the picture.
struct Camera {
  int width = 1000, height = 750;
  double focal = 1.25;  ///< Of half the diagonal.
  double tilt_deg = 0, tilt_way_deg = 0, turn_deg = 0;
  double k1 = 0;  ///< d = u (1 + k1 |u|²), u as a part of half the diagonal.
  /// How a lens that sits askew bends besides: (2 p1 x y + p2 (r² + 2 x²), p1 (r² + 2 y²) + 2 p2 x
  /// y).
  double p1 = 0, p2 = 0;
  Point
      looks;  ///< Where the lens looks, from the picture's middle, as a part of half the diagonal.
  double distance_mm = 520;
  double noise = 2;    ///< One sigma, grey levels.
  double blur_px = 0;  ///< One sigma.
};

/// A stitch that lies on the cloth.
struct LaidThread {
  Point from, to;  ///< Hoop frame, mm: where it really lies.
  uint8_t bgr[3] = {0, 0, 0};
};

/// An alignment line of running stitches with three short ones back and forth over its first end,
/// the knot; mm.
std::vector<LaidThread> sewnLine(Point knot, Point end);

/// What lies in the plane.
struct Scene {
  std::vector<TagPlace> hoop_tags, cloth_tags;  ///< Hoop frame; layout frame.
  double hoop_tag_mm = 12, cloth_tag_mm = 15, tag_height_mm = 0;
  std::vector<Point> crosses;  ///< Layout frame.
  double cross_turn_deg = 0;   ///< Against the layout.
  double line_mm = 0.5;
  double cross_bgr[3] = {70, 60, 50};
  double cloth_bgr[3] = {190, 200, 205};
  bool sewn = false;                ///< Crosses are dashed, stitches of 2.5 mm.
  std::vector<LaidThread> threads;  ///< What was sewn so far; later ones lie on top.
  /// Inner edge of the frame about the origin, mm; empty: there is no frame to be seen.
  Box frame;
  double shadow = 0;  ///< How much darker a hard shadow over part of the cloth is, 0 to 1.
  Transform lies;     ///< Layout to hoop; tags on the cloth keep their size whatever it stretches.
};

Photo takePhoto(const Scene& scene, const Camera& camera, std::mt19937& random);
/// Where a point of the hoop's plane is seen, px.
Point seenAt(const Camera& camera, Point hoop, double height_mm = 0);

}  // namespace rt
