// What the settings of the sewing order change, in figures.
#pragma once

#include "cloth_compensation.h"
#include "job.h"
#include "time_model.h"
#include "watch.h"

namespace rt {

/// Counted on the pieces as they lie.
struct SequenceFigures {
  size_t changes_before = 0, changes_after = 0, trims_before = 0, trims_after = 0;
  int bound = 0;  ///< No order has fewer colour changes.
  /// Of the whole job, as it is sewn with hidden stitches and without.
  size_t stitches_before = 0, stitches_after = 0, hidden_trims_before = 0, hidden_trims_after = 0;
  double thread_before_mm = 0, thread_after_mm = 0, hidden_before_s = 0, hidden_after_s = 0;
  double one_before_s = 0, one_after_s = 0, many_before_s = 0, many_after_s = 0;
  double travel_before_mm = 0, travel_after_mm = 0;
  double peak_before = 0, peak_after = 0;  ///< mm/mm², before and after what is hidden goes.
  int rethreadings = 0;
};
/// What a cloth does to a layout, and what following it makes of that.
struct ClothMovement {
  Distances drawn;      ///< Of needle points from the drawing, sewn as drawn.
  Distances aside;      ///< How far needle points are moved where the cloth is followed.
  double bound_mm = 0;  ///< 95 % of the thread then lies within this of the drawing.
  /// Where thread that is sewn as drawn goes, some places of the layout: from, by. mm
  std::vector<std::pair<Point, Point>> goes;
};
/// The cloth as held around the layout. Throws Stopped.
ClothMovement clothMovement(const Job& job, const ClothKnown& cloth, const Watch& watch = {});

/// Throws Stopped when the watch says so.
SequenceFigures sequenceFigures(const Job& job, const TimeModel& time, const Watch& watch = {});

}  // namespace rt
