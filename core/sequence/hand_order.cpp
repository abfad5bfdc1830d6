#include "hand_order.h"

#include <algorithm>
#include <map>

#include "order_cut.h"
#include "overlap.h"

namespace rt {

std::vector<ColourRun> colourRuns(const Pattern& pattern) {
  std::vector<ColourRun> out;
  int thread = -1;
  for (const Block& b : blocksOf(pattern)) {
    if (b.thread != thread)
      out.push_back({pattern.threads[b.thread], 0, 0, pattern.pieces[b.piece]});
    thread = b.thread;
    out.back().blocks += 1;
    out.back().stitches += b.stitches;
  }
  return out;
}

namespace {

/// Takes blocks colour by colour, as the graph frees them.
class ColourTaker {
 public:
  explicit ColourTaker(const SequenceGraph& graph)
      : graph_(graph), waits_(graph.colour.size(), 0), taken_(graph.colour.size(), false) {
    for (const auto& list : graph.after)
      for (int b : list) waits_[static_cast<size_t>(b)] += 1;
  }
  /// All of a colour that is free or becomes so by it.
  void take(int colour) {
    for (bool more = true; more;) {
      more = false;
      for (size_t b = 0; b < waits_.size(); ++b)
        if (!taken_[b] && waits_[b] == 0 && graph_.colour[b] == colour) {
          taken_[b] = more = true;
          order_.push_back(static_cast<int>(b));
          for (int later : graph_.after[b]) waits_[static_cast<size_t>(later)] -= 1;
        }
    }
  }
  /// The first block that is left, or -1.
  int left() const {
    for (size_t b = 0; b < taken_.size(); ++b)
      if (!taken_[b] && waits_[b] == 0) return static_cast<int>(b);
    return -1;
  }
  bool taken(int b) const { return taken_[static_cast<size_t>(b)]; }
  const std::vector<int>& order() const { return order_; }

 private:
  const SequenceGraph& graph_;
  std::vector<int> waits_;
  std::vector<bool> taken_;
  std::vector<int> order_;
};

using Pairs = std::vector<std::pair<int, int>>;

/// The first pair of which the later block has this colour and the earlier one is not taken yet.
std::optional<HeldBack> heldBack(const Pattern& p, const Cut& cut, const SequenceGraph& graph,
                                 const Pairs& overlaps, const ColourTaker& taker, int colour) {
  for (size_t early = 0; early < graph.after.size(); ++early) {
    if (taker.taken(static_cast<int>(early))) continue;
    for (int late : graph.after[early]) {
      const auto l = static_cast<size_t>(late);
      if (graph.colour[l] != colour || graph.colour[early] == colour || taker.taken(late)) continue;
      const bool lies = std::binary_search(overlaps.begin(), overlaps.end(),
                                           std::pair(static_cast<int>(early), late));
      const Block &top = cut.blocks[l], &under = cut.blocks[early];
      return HeldBack{p.pieces[top.piece], p.pieces[under.piece], p.threads[top.thread],
                      p.threads[under.thread], lies};
    }
  }
  return std::nullopt;
}

}  // namespace

HandOrder inColourOrder(const Pattern& pattern, const std::vector<Colour>& wish) {
  HandOrder out{pattern, {}};
  const Cut cut = cutUp(pattern);
  if (cut.blocks.empty()) return out;
  const Pairs overlaps = overlappingBlocks(pattern, cut.blocks);
  const SequenceGraph graph = graphOf(cut, overlaps);
  std::map<uint32_t, int> number;  // graph colours are threads
  for (const Block& b : cut.blocks) number[pattern.threads[b.thread].rgb] = b.thread;
  ColourTaker taker(graph);
  for (size_t i = 0; i < wish.size(); ++i) {
    const auto colour = number.find(wish[i].rgb);
    if (colour == number.end()) continue;  // no longer sewn: nothing to wish for
    taker.take(colour->second);
    const bool again =
        std::find(wish.begin() + static_cast<long>(i) + 1, wish.end(), wish[i]) != wish.end();
    if (!again && !out.why)
      out.why = heldBack(pattern, cut, graph, overlaps, taker, colour->second);
  }
  for (int b = taker.left(); b >= 0; b = taker.left())
    taker.take(graph.colour[static_cast<size_t>(b)]);
  out.pattern = putTogether(pattern, cut, nearestWithinRuns(cut, graph, taker.order()));
  return out;
}

}  // namespace rt
