// Places for marks. Part of the planner; not for other rooms.
#pragma once

#include "planner.h"

namespace rt {

/// Arm of a cross from its middle, mm.
inline constexpr double kMarkArm_mm = 4.0;

/// Marks for every hooping: two that neighbours share, at least 25 mm apart, where cloth that both
/// reach is bare; in a star more of its own where they steady it. Off thread and keep-out zones by
/// an arm and 3 mm where there is room, else as far as there is; a mark on sewing is a doubt.
void placeMarks(HoopingPlan& plan, const Pattern& pattern, const PlanOptions& options);

}  // namespace rt
