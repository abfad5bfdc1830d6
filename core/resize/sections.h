// Sections of bare stitches: columns, filled rows and runs, found from the needle points alone.
#pragma once

#include <span>

#include "blocks.h"

namespace rt {

/// A stretch of needle points of one make. Neighbours share their border point.
struct Section {
  Kind kind = Kind::Run;       ///< Run, Satin or Fill.
  size_t first = 0, last = 0;  ///< Needle points [first, last].
  /// Satin and fill: the needle points where the thread turns back, from first to last. With
  /// `steps`, each row brings two: where it starts and where it ends.
  std::vector<size_t> turns;
  bool steps = false;   ///< Rows or rungs are joined by a step along the edge.
  bool goesOn = false;  ///< The first turn ends the section before: the first row begins after it.
  bool leads = false;   ///< The next one goes on: the last turn may lie on its first row already.
  double spacing_mm =
      0;                 ///< Satin: along the centre, same edge. Fill: between rows. Run: stitches.
  double stitch_mm = 0;  ///< Fill: along a row. Satin: across.
  double angle_deg = 0;  ///< Of rows or rungs, clockwise, in [0, 180).
  double thread_mm = 0;
};

/// Parts needle points in sewing order. Thread that turns back on itself at even steps is a ladder:
/// a fill if its rungs carry needle points between, or are joined by steps and lie level, else
/// satin; ladders are parted where they turn round or change their spacing, so that underlay comes
/// apart from cover. `hint` is the declared kind, or Kind::Unknown.
std::vector<Section> sectionsOf(std::span<const Point> points, Kind hint);

}  // namespace rt
