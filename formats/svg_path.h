// Path data of SVG, flattened. Part of the readers of this room.
#pragma once

#include <string>
#include <string_view>

#include "geometry.h"

namespace rt {

struct SubPath {
  std::vector<Point> points;
  bool closed = false;
};

/// All commands of SVG path data, arcs too (a move without a line is a sub-path of one point);
/// curves become chords within `tolerance` of them. Throws Error (`where`) on anything that is not
/// path data.
std::vector<SubPath> parsePath(std::string_view data, double tolerance, const std::string& where);

/// `matrix(...)` alone; other functions are resolved by the library before this room sees them.
Transform parseMatrix(std::string_view text);

}  // namespace rt
