// Colours given to the needles of a machine.
#pragma once

#include <vector>

#include "pattern.h"

namespace rt {

/// What one stop for colour means at the machine.
struct NeedleStep {
  int thread = 0;         ///< Index into Pattern::threads.
  int needle = 0;         ///< From 0.
  bool rethread = false;  ///< A person has to put this thread on the needle first.
};

struct NeedlePlan {
  std::vector<NeedleStep> steps;  ///< One for each run of a colour, in sewing order.
  std::vector<std::vector<int>> threads_of_needle;  ///< In the order that each needle carries them.
  int rethreadings = 0;  ///< After the start; threads put on before it are not counted.
};

/// Colours to `needles` needles so that the fewest are re-threaded while sewing: a thread that has
/// to go is the one whose next use lies farthest ahead, which is best for a known order (Belady
/// 1966). Throws Error unless needles is 1 to 99.
NeedlePlan planNeedles(const Pattern& pattern, int needles);

}  // namespace rt
