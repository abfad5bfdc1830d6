#include "order_cut.h"

#include <algorithm>
#include <cmath>

namespace rt {

Cut cutUp(const Pattern& pattern) {
  Cut cut;
  cut.blocks = blocksOf(pattern);
  const size_t n = cut.blocks.size();
  cut.trims.resize(n);
  cut.colourStop.resize(n);
  cut.fence.resize(n);
  auto loose = [&](size_t from, size_t to, size_t block) {
    for (size_t row = from; row < to; ++row) {
      const Stitch& s = pattern.stitches[row];
      if (s.op == Op::End) {
        cut.tail.push_back(s);
      } else if (block == 0) {
        cut.head.push_back(s);
      } else if (s.op == Op::Trim) {
        cut.trims[block - 1].push_back(s);
      } else if (s.op == Op::Stop) {
        const bool change = block < n && cut.blocks[block - 1].thread != cut.blocks[block].thread;
        if (change && s.kind != Kind::Mark)
          cut.colourStop[block].push_back(s);
        else if (block < n)
          cut.fence[block].push_back(s);
        else
          cut.tail.insert(cut.tail.begin(), s);
      }
    }
  };
  size_t row = 0;
  for (size_t b = 0; b < n; ++b) {
    loose(row, cut.blocks[b].first, b);
    row = cut.blocks[b].last;
  }
  loose(row, pattern.stitches.size(), n);
  return cut;
}

SequenceGraph graphOf(const Cut& cut, const std::vector<std::pair<int, int>>& overlaps) {
  SequenceGraph graph;
  const size_t n = cut.blocks.size();
  graph.after.resize(n);
  for (const Block& b : cut.blocks) graph.colour.push_back(b.thread);
  for (const auto& [early, late] : overlaps)
    graph.after[static_cast<size_t>(early)].push_back(late);
  size_t fence = 0;
  bool fenced = false;
  for (size_t b = 0; b < n; ++b) {
    const bool holds = cut.blocks[b].kind == Kind::Basting || cut.blocks[b].kind == Kind::Mark;
    for (size_t later = b + 1; holds && later < n; ++later)
      graph.after[b].push_back(static_cast<int>(later));
    if (!cut.fence[b].empty()) {
      for (size_t e = fenced ? fence : 0; e < b; ++e) graph.after[e].push_back(static_cast<int>(b));
      fence = b;
      fenced = true;
    } else if (fenced) {
      graph.after[fence].push_back(static_cast<int>(b));
    }
  }
  for (auto& list : graph.after) {
    std::sort(list.begin(), list.end());
    list.erase(std::unique(list.begin(), list.end()), list.end());
  }
  return graph;
}

std::vector<int> nearestWithinRuns(const Cut& cut, const SequenceGraph& graph,
                                   const std::vector<int>& order) {
  std::vector<int> waits(order.size(), 0), out;
  for (const auto& list : graph.after)
    for (int b : list) waits[static_cast<size_t>(b)] += 1;
  Point at = cut.blocks[static_cast<size_t>(order[0])].entry;
  for (size_t from = 0; from < order.size();) {
    size_t to = from;
    const int colour = graph.colour[static_cast<size_t>(order[from])];
    while (to < order.size() && graph.colour[static_cast<size_t>(order[to])] == colour) ++to;
    std::vector<int> left(order.begin() + static_cast<long>(from),
                          order.begin() + static_cast<long>(to));
    while (!left.empty()) {
      auto best = left.end();
      double least = INFINITY;
      for (auto it = left.begin(); it != left.end(); ++it)
        if (waits[static_cast<size_t>(*it)] == 0)
          if (const double mm = distance(at, cut.blocks[static_cast<size_t>(*it)].entry);
              mm < least)
            least = mm, best = it;
      const auto b = static_cast<size_t>(*best);
      out.push_back(*best);
      left.erase(best);
      at = cut.blocks[b].exit;
      for (int later : graph.after[b]) waits[static_cast<size_t>(later)] -= 1;
    }
    from = to;
  }
  return out;
}

Pattern putTogether(const Pattern& pattern, const Cut& cut, const std::vector<int>& order) {
  Pattern out;
  out.title = pattern.title;
  out.threads = pattern.threads;
  out.pieces = pattern.pieces;
  out.stitches = cut.head;
  auto add = [&](const std::vector<Stitch>& rows) {
    out.stitches.insert(out.stitches.end(), rows.begin(), rows.end());
  };
  int before = -1;
  for (int index : order) {
    const auto b = static_cast<size_t>(index);
    const Block& block = cut.blocks[b];
    const bool change =
        before >= 0 && cut.blocks[static_cast<size_t>(before)].thread != block.thread;
    const bool parted = change || before < 0 || !cut.trims[static_cast<size_t>(before)].empty();
    if (change) add(cut.colourStop[b]);
    add(cut.fence[b]);
    // the cut that a colour change or a long jump meant has to stay a cut
    if (!parted && cut.fence[b].empty() && before + 1 != index) cutThread(out);
    add({pattern.stitches.begin() + static_cast<long>(block.first),
         pattern.stitches.begin() + static_cast<long>(block.last)});
    add(cut.trims[b]);
    before = index;
  }
  add(cut.tail);
  return out;
}
}  // namespace rt
