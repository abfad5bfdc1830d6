// Marks that neighbouring hoopings share. Part of the planner; not for other rooms.
#pragma once

#include "planner.h"

namespace rt {

/// Arm of a sewn cross from its middle, mm.
inline constexpr double kMarkArm_mm = 4.0;

/// Two crosses for each pair of neighbours, in both fields, off the sewing where there is room and
/// as far apart as it allows: the angle's error falls with their distance.
void placeMarks(HoopingPlan& plan, const Pattern& pattern);

}  // namespace rt
