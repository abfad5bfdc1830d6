// Shorter ways between blocks, within an order.
#pragma once

#include "overlap.h"

namespace rt {

struct TravelOptions {
  bool reverse_runs = true;  ///< Blocks of plain runs may be sewn from their other end.
};

struct Travelled {
  Pattern pattern;
  double before_mm = 0, after_mm = 0;  ///< Ways from each block's end to the next one's start.
  size_t trims_before = 0, trims_after = 0;
  size_t moved = 0, reversed = 0;  ///< Blocks.
};

/// Less travel without another colour change: within each run of one thread between stops, blocks
/// change places and runs are turned round as long as that shortens the ways (Or-opt moves of one
/// to three blocks and reversals, first improvement; Or 1976), never against an overlap. A local
/// optimum, not a proven one. The pattern comes back as it is where nothing is gained. At most a
/// few passes, each about quadratic in the blocks of a run.
Travelled shortestTravel(const Pattern& pattern, const TravelOptions& options = {});

}  // namespace rt
