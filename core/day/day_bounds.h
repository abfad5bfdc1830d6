// What no plan of a day can be better than. Part of the day's planner; not for other rooms.
#pragma once

#include "day_decoder.h"

namespace rt {

struct DayBound {
  double late_s = 0;
  DaySecond ends = 0;
};

/// Over all plans in which of job j at least `least[j]` pieces are made. Each bound is that of a
/// simpler day, in which all but one thing is there without end: a piece by itself, hands' time,
/// the time of machines that take the same frames, frames of a kind.
DayBound dayBound(const DayModel& model, const std::vector<int>& least);

}  // namespace rt
