#include "order.h"

#include <algorithm>

#include "error.h"
#include "order_cut.h"

namespace rt {
namespace {

size_t changesOf(const std::vector<Block>& blocks, const std::vector<int>& order) {
  size_t changes = 0;
  for (size_t i = 1; i < order.size(); ++i)
    changes += blocks[static_cast<size_t>(order[i])].thread !=
               blocks[static_cast<size_t>(order[i - 1])].thread;
  return changes;
}

std::vector<int> asItIs(size_t n) {
  std::vector<int> out(n);
  for (size_t i = 0; i < n; ++i) out[i] = static_cast<int>(i);
  return out;
}

}  // namespace

Ordered orderColours(const Pattern& pattern) {
  const Cut cut = cutUp(pattern);
  if (cut.blocks.empty())
    throw Error("there is nothing sewn to put in order", "stitches", "choose a file with stitches");
  const auto overlaps = overlappingBlocks(pattern, cut.blocks);
  const SequenceGraph graph = graphOf(cut, overlaps);
  // the search looks at every state; large jobs get fewer, so that the time stays bounded
  const size_t states = std::clamp<size_t>(500'000 / cut.blocks.size(), 200, 20000);
  const ColourOrder best = fewestChanges(graph, states);
  Ordered out;
  const std::vector<int> now = asItIs(cut.blocks.size());
  out.colour_changes_before = changesOf(cut.blocks, now);
  const bool better = static_cast<size_t>(best.changes) < out.colour_changes_before;
  out.order = better ? nearestWithinRuns(cut, graph, best.order) : now;
  out.pattern = better ? putTogether(pattern, cut, out.order) : pattern;
  out.colour_changes_after = changesOf(cut.blocks, out.order);
  out.lower_bound = best.lower_bound;
  out.trims_before = countRows(pattern.stitches, Op::Trim);
  out.trims_after = countRows(out.pattern.stitches, Op::Trim);
  out.kept_overlaps = overlaps.size();
  return out;
}

Pattern inOrder(const Pattern& pattern, const std::vector<int>& order) {
  const Cut cut = cutUp(pattern);
  std::vector<int> place(cut.blocks.size(), -1);
  if (order.size() != place.size())
    throw Error("the order names " + std::to_string(order.size()) + " of " +
                    std::to_string(place.size()) + " blocks",
                "order", "list every block once");
  for (size_t i = 0; i < order.size(); ++i) {
    const auto b = static_cast<size_t>(order[i]);
    if (order[i] < 0 || b >= place.size() || place[b] >= 0)
      throw Error("the order does not name every block once", "place " + std::to_string(i + 1),
                  "list the blocks 1 to " + std::to_string(place.size()));
    place[b] = static_cast<int>(i);
  }
  for (const auto& [early, late] : overlappingBlocks(pattern, cut.blocks))
    if (place[static_cast<size_t>(early)] > place[static_cast<size_t>(late)])
      throw Error("block " + std::to_string(late + 1) + " lies on block " +
                      std::to_string(early + 1) + " and cannot be sewn before it",
                  "order", "keep the two in their order, or move one of them away");
  return putTogether(pattern, cut, order);
}

}  // namespace rt
