// The rows of one setting, taken out of the layout's, with ties where thread was parted. Part of
// the planner; not for other rooms.
#pragma once

#include "planner.h"

namespace rt {

/// What the writer needs to know of the layout, found once for all settings.
struct ThreadSource {
  explicit ThreadSource(const Pattern& layout);
  const Pattern& pattern;
  double tie_mm;                        ///< As the layout ties.
  std::vector<NeedleWalk::Step> steps;  ///< Per row.
};

/// Rows whose `row_field` is `field`, in order. Where thread goes on in another setting it is sewn
/// a little beyond, half of `interlock_mm`, and tied off; where it comes from another it is tied in
/// likewise; both within the field. Moves over 3 mm are trimmed. `marks` are sewn last.
Pattern writeSetting(const ThreadSource& source, const std::vector<int>& row_field, int field,
                     const PlacedField& within, double interlock_mm,
                     const std::vector<PlanMark>& marks);

/// Counts what a setting sews, without ties, marks and basting.
void countSewing(PlanSetting& setting);

}  // namespace rt
