// What the hoopings of a planned job take of a day.
#pragma once

#include "day.h"
#include "making.h"

namespace rt {

/// Threads in the order in which they are sewn, each with its seconds by the shop's time model
/// without colour changes and its metres of top thread; backing as large as the frame.
std::vector<DayHooping> dayHoopings(const HoopingPlan& plan, const std::string& fabric,
                                    const Bench& bench);

}  // namespace rt
