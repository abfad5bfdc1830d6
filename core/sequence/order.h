// The order of blocks with the fewest changes of colour that no overlap forbids.
#pragma once

#include "colour_search.h"
#include "overlap.h"

namespace rt {

struct Ordered {
  Pattern pattern;
  size_t colour_changes_before = 0, colour_changes_after = 0;
  size_t trims_before = 0, trims_after = 0;
  size_t kept_overlaps = 0;  ///< Pairs of blocks that overlap; all keep their order.
  int lower_bound = 0;       ///< Of colour changes.
  std::vector<int> order;    ///< Blocks of the input in their new order.
};

/// Whole blocks in the order of fewest colour changes; within a colour the next free block is the
/// one with the shortest way to it. No block is reversed, no overlap turned over. Trims go with the
/// block before them. Where the cut that a colour change meant would be lost, a trim takes its
/// place. A stop between two blocks of one thread, or one of kind Mark (a person asked for it), is
/// a fence that nothing crosses; any other one at a colour change goes with the block after it, and
/// goes altogether where no change is left. Basting and
/// marks stay before all that they came before. Throws Error for a pattern without blocks.
Ordered orderColours(const Pattern& pattern);

/// Blocks in an order given by hand. Throws Error with the first overlap that it turns over.
Pattern inOrder(const Pattern& pattern, const std::vector<int>& order);

}  // namespace rt
