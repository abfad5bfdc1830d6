// What bare stitches are: satin, fill or run, with spacing.
#pragma once

#include "blocks.h"

namespace rt {

struct Recognised {
  Kind kind = Kind::Run;
  double spacing_mm =
      0;  ///< Satin: along the centre, same edge. Fill: between rows. Run: stitch length.
  double angle_deg = 0;  ///< Of satin stitches or fill rows, clockwise, in [0, 180).
};

/// Judges needle points in sewing order. Satin: successive stitches turn back on themselves; fill:
/// they go straight on in rows that turn back; else run. Medians, so a few odd stitches do not
/// count.
Recognised recognise(std::span<const Point> points);

/// Needle points of a block, ties left out.
std::vector<Point> needlePoints(const Pattern& pattern, const Block& block);

}  // namespace rt
