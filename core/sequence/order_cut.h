// A pattern cut into blocks that may change places, and put together again. Part of ordering.
#pragma once

#include "blocks.h"
#include "colour_search.h"

namespace rt {

/// A pattern as blocks, with the rows that go with each.
struct Cut {
  std::vector<Block> blocks;
  std::vector<Stitch> head, tail;               ///< Rows before the first block; `end` rows.
  std::vector<std::vector<Stitch>> trims;       ///< After each block.
  std::vector<std::vector<Stitch>> colourStop;  ///< Before a block, wanted at a colour change.
  std::vector<std::vector<Stitch>> fence;       ///< Before a block, wanted always.
};
Cut cutUp(const Pattern& pattern);

/// Overlaps, fences, and basting and marks before all that they came before.
SequenceGraph graphOf(const Cut& cut, const std::vector<std::pair<int, int>>& overlaps);

/// Runs of one colour, each put into the order of shortest ways that the graph allows.
std::vector<int> nearestWithinRuns(const Cut& cut, const SequenceGraph& graph,
                                   const std::vector<int>& order);

/// The blocks in another order, each with the rows that go with it.
Pattern putTogether(const Pattern& pattern, const Cut& cut, const std::vector<int>& order);

}  // namespace rt
