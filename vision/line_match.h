// A drawn or sewn line's place across, by its own profile. Part of this room.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "plane.h"

namespace rt {

/// Where a line is thought to lie, mm on the plane: through `at` along `way` (of length 1). Places
/// along it are counted from `at`.
struct LineSearch {
  struct Stretch {
    double from = 0, to = 0;  ///< Where the line is known to be; outward from `from`.
    double most = 0;          ///< It may go on so far: `most` lies beyond `to`.
  };
  Point at, way;
  std::vector<Stretch> stretches;
  std::array<double, 3> signal{};  ///< Weights of blue, green and red in which it stands out.
};

struct LineMatch {
  Point at, way;          ///< A place on it in the middle of what was seen, and its direction.
  double sigma_mm = 0;    ///< One sigma across at `at`, from how its pieces scatter.
  double turn_sigma = 0;  ///< Of its direction, radians.
  double strength = 0;    ///< How far it stands out from the cloth, grey levels.
  std::array<double, 3> signal{};  ///< Weights of the colours in which it does so.
};

/// Pieces of the line are seen as profiles across it. Their common shape, made symmetric about the
/// line, is the template; each piece tells by how much it lies beside it by least squares on level,
/// slope, height and shift (a matched filter; the template is made anew after each round: Kaiser
/// and others' effective point-spread function, in one dimension). Pieces where something else
/// lies, another line or sewing, fit badly and count little; those that a shadow's edge crosses do
/// not count. Colours are weighed by how
/// the line differs in them against how the cloth scatters. Nothing where fewer than eight pieces
/// show it.
std::optional<LineMatch> matchLine(const Photo& photo, const Plane& plane,
                                   const LineSearch& search);

}  // namespace rt
