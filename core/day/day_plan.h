// The plan of a day: who sews what, when, on which machine, and when a hand is needed.
#pragma once

#include <functional>

#include "day.h"

namespace rt {

struct DayWish {
  /// Tasks that were begun before `now`, in any order; they stay as they are.
  std::vector<DayTask> begun;
  std::optional<DaySecond> now;  ///< The rest begins then; unset: at the day's beginning.
  /// Asked between tries: false ends the search with the best plan so far.
  std::function<bool()> goOn;
};

/// Aims in their order: least weight of pieces left out, least weighted lateness, earliest end,
/// fewest threadings, least waiting of mounted machines. Orders of hands' tasks are tried from a
/// few rules on (late acceptance hill climbing; Burke, Bykov 2017) until the bounds are met or
/// nobody asks for more; a search that ends by itself gives the same plan every time.
DayPlan planDay(const Day& day, const DayWish& wish = {});

/// The plain rule, to compare with: always the task that can begin first, earliest due first.
DayPlan earliestDueFirst(const Day& day);

/// Throws Error where begun tasks contradict one another, the day, or `now`.
void requireSound(const Day& day, const std::vector<DayTask>& begun, DaySecond now);

}  // namespace rt
