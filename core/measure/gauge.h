// What is measured with points: a line's distance, an angle, an arc.
#pragma once

#include <optional>
#include <span>

#include "geometry.h"

namespace rt {

/// A circular arc through points in their order.
struct ArcGauge {
  Point centre;
  double radius_mm = 0;
  double chord_mm = 0;        ///< From the first point to the last, both brought onto the circle.
  double sagitta_mm = 0;      ///< Largest height of the arc over that chord; over half a turn it is
                              ///< more than the radius.
  double rms_mm = 0;          ///< Of the points' distances from the circle.
  Point first, middle, last;  ///< On the circle; the middle is half way along the arc.
};

/// Least squares of the distances from the circle, begun with Kåsa's linear fit (1976), then
/// Gauss-Newton. Nothing for fewer than three points, and for points on a straight line: a radius
/// of over 100 m.
std::optional<ArcGauge> arcThrough(std::span<const Point> points);

/// Between the arms from `vertex` to `a` and to `b`, 0 to 180 degrees; 0 where an arm has no
/// length.
double angleBetween_deg(Point a, Point vertex, Point b);

/// From a point to the line through two others, however far it goes; to `a` where they are one.
double offLine_mm(Point p, Point a, Point b);

}  // namespace rt
