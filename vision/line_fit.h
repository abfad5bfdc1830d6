// A straight line through places, some of them wrong. Part of this room.
#pragma once

#include <optional>
#include <vector>

#include "geometry.h"

namespace rt {

struct LineFit {
  Point at, way;      ///< A place on it and its direction, of length 1.
  double rms = 0;     ///< Of the places kept, across the line.
  size_t places = 0;  ///< How many were kept.
};

/// Least squares across the line; places farther off than 2.2 times the rms, and than `least`, are
/// left out and it is fitted again, up to `rounds` times. Nothing from fewer than six places.
std::optional<LineFit> fitLine(std::vector<Point> places, double least, int rounds);

}  // namespace rt
