// Strokes drawn by hand, made smooth.
#pragma once

#include <vector>

#include "geometry.h"

namespace rt {

struct HandStrokeOptions {
  double stray_mm = 0.5;       ///< The smooth line stays this near to the drawn points.
  double corner_deg = 55;      ///< Turns sharper than this stay corners.
  double close_within_mm = 3;  ///< Ends nearer than this close the line.
};

/// A smooth line.
struct HandStroke {
  std::vector<Point> points;  ///< About 0.5 mm apart; the last equals the first when closed.
  bool closed = false;
};

/// Thins the drawn points (Douglas and Peucker 1973), keeps sharp corners and lays a curve through
/// what is left in between (see `smoothed`). Fewer than two different points give an empty line.
HandStroke handStroke(const std::vector<Point>& drawn, const HandStrokeOptions& options = {});

/// A curve through the line's points (see `smoothed`) that keeps its corners sharper than
/// `corner_deg`.
std::vector<Point> smoothedBetweenCorners(const std::vector<Point>& line, double corner_deg,
                                          double step_mm);

/// The points that a line needs to stay within `stray_mm` of itself; ends are kept.
std::vector<Point> thinned(const std::vector<Point>& line, double stray_mm);

}  // namespace rt
