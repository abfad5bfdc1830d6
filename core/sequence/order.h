// The order of blocks with the fewest changes of colour that no overlap forbids.
#pragma once

#include <string>

#include "overlap.h"

namespace rt {

/// What a sequence must respect and what it costs.
struct SequenceGraph {
  std::vector<int> colour;              ///< Of each block.
  std::vector<std::vector<int>> after;  ///< after[b]: blocks that must come later than b.
};

struct ColourOrder {
  std::vector<int> order;  ///< Blocks in sewing order.
  int changes = 0;         ///< Neighbours of unlike colour.
  int lower_bound = 0;     ///< No order that respects the graph has fewer changes.
  bool proven() const { return changes == lower_bound; }
};

/// Fewest colour changes over all linear extensions of a partial order. Best-first search over sets
/// of finished blocks (A*; Hart, Nilsson, Raphael 1968): with a colour on the needle all that is
/// free in it is sewn, so only the next colour is open. The bound adds up, colour by colour, the
/// most separate runs of it that a chain of the order forces. Exact while `most_states` suffices
/// (always for a few dozen blocks), else a beam search by the same bound. Throws Error naming
/// the blocks when the graph goes round in a circle.
ColourOrder fewestChanges(const SequenceGraph& graph, size_t most_states = 20000);

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
/// place. A stop between two blocks of one thread is a fence that nothing crosses; one at a colour
/// change goes with the block after it, and goes altogether where no change is left. Basting and
/// marks stay before all that they came before. Throws Error for a pattern without blocks.
Ordered orderColours(const Pattern& pattern);

/// The same for an order given by hand. Throws Error with the first overlap that it turns over.
Pattern inOrder(const Pattern& pattern, const std::vector<int>& order);

}  // namespace rt
