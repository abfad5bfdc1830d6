// The middle line of an area: where strokes run, fork and turn, and how wide they are there.
#pragma once

#include "polygon.h"

namespace rt {

/// A point of the axis with the radius of the largest disc in the area around it, mm.
struct AxisPoint {
  Point at;
  double radius_mm = 0;
};

/// Where branches meet or end.
struct AxisJoint {
  AxisPoint disc;
  /// How far the sharpest outer corner that was pruned here stands out of the disc, as a part of
  /// its radius: 0 on a smooth course, 0.41 at a right angle.
  double corner = 0;
};

struct AxisBranch {
  int from = 0, to = 0;         ///< Indices into the joints; equal for a ring.
  std::vector<AxisPoint> line;  ///< From joint to joint, both ends included.
};

struct MedialAxis {
  std::vector<AxisJoint> joints;
  std::vector<AxisBranch> branches;
};

struct AxisOptions {
  double step_mm = 0.2;  ///< Between samples of the outline; about a tenth of a stroke will do.
  /// A branch that ends in the outline is kept when it stands out of the disc at its root by more
  /// than this part of that disc's radius: 0.8 drops corners blunter than 67°.
  double keep_over = 0.8;
};

/// Medial axis of an area (Blum 1967) from the Voronoi diagram of samples of its outline; branches
/// that only lead into blunt corners are pruned, corners of two branches are kept as joints.
/// Accurate to about a step. Empty for an area that is thinner than a step everywhere.
MedialAxis medialAxis(const Area& area, const AxisOptions& options = {});

}  // namespace rt
