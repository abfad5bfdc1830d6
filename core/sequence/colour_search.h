// Fewest colour changes over all orders that a partial order allows.
#pragma once

#include <cstddef>
#include <vector>

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

}  // namespace rt
