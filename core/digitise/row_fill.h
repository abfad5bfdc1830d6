// Row fills: parallel rows of stitches, brick-laid, between the edges of an area.
#pragma once

#include "polygon.h"
#include "strand.h"

namespace rt {

struct FillOptions {
  double row_spacing_mm = 0.40;    ///< Perpendicular distance between neighbouring thread lines.
  double stitch_length_mm = 3.5;   ///< Along a row.
  double angle_deg = 0;            ///< Of the rows, clockwise as seen; 0 is level.
  double pull_mm = 0.20;           ///< Rows are longer by this in all, half at each end.
  double longest_travel_mm = 120;  ///< Longer ways to the next section are cut and jumped.
  Kind kind = Kind::Fill;
  int bricks = 4;  ///< Rows after which the needle points repeat.
};

/// Sews the area in sections without a hole between their rows, each to and fro, the first one near
/// `start`. Sections are a tree: what hangs on one is sewn before it and ends beside it, so that
/// ways lie under rows that follow and one connected area is one strand. No strand for an area
/// under one row.
std::vector<Strand> fillRows(const Area& area, const FillOptions& options, Point start);

}  // namespace rt
