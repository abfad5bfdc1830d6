// Which pieces the stock reaches for. Part of the day's planner; not for other rooms.
#pragma once

#include "day.h"

namespace rt {

/// Metres of a thread or mm² of backing that all pieces need, and what is there.
struct DayNeed {
  std::optional<Colour> thread;  ///< Unset: backing.
  double needed = 0;
  std::optional<double> there;  ///< Unset: not listed, and not limited.
};
/// Threads in order of first use, then backing.
std::vector<DayNeed> dayNeeds(const Day& day);

/// Pieces of each job that are made, so that the least weight is left out: all it takes is there,
/// and all pieces of the jobs before a job are made. `possible`: by job, how many could be.
std::vector<int> piecesInStock(const Day& day, const std::vector<int>& possible);

}  // namespace rt
