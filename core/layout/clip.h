// Stitches cut along a straight line.
#pragma once

#include "piece.h"

namespace rt {

/// All points with dot(p - at, inward) ≥ 0.
struct HalfPlane {
  Point at, inward;
  double depth_mm(Point p) const { return dot(p - at, inward) / std::max(1e-12, length(inward)); }
};

/// What of a pattern lies in every one of the half planes: stitches that leave end on the line, go
/// along it where the way back in is under 1 mm, and are tied off, trimmed and tied in again where
/// it is farther. Threads and kinds are kept.
Pattern clipped(const Pattern& pattern, std::span<const HalfPlane> planes);

}  // namespace rt
