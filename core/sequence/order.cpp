#include "order.h"

#include <algorithm>
#include <bit>
#include <map>
#include <memory>
#include <queue>
#include <unordered_set>

#include "error.h"

namespace rt {
namespace {

using Bits = std::vector<uint64_t>;

bool has(const Bits& bits, int i) {
  return bits[static_cast<size_t>(i) / 64] >> (i % 64) & 1;
}
void put(Bits& bits, int i) {
  bits[static_cast<size_t>(i) / 64] |= uint64_t{1} << (i % 64);
}

struct BitsHash {
  size_t operator()(const Bits& bits) const {
    size_t h = 0xcbf29ce484222325ull;
    for (uint64_t word : bits) h = (h ^ word) * 0x9E3779B97F4A7C15ull, h ^= h >> 29;
    return h;
  }
};

/// Blocks in an order that respects the graph, the lowest number first among the free ones.
std::vector<int> someOrder(const SequenceGraph& graph) {
  const size_t n = graph.colour.size();
  std::vector<int> waits(n, 0), out;
  for (const auto& list : graph.after)
    for (int b : list) waits[static_cast<size_t>(b)] += 1;
  std::priority_queue<int, std::vector<int>, std::greater<>> free;
  for (size_t b = 0; b < n; ++b)
    if (waits[b] == 0) free.push(static_cast<int>(b));
  while (!free.empty()) {
    out.push_back(free.top());
    free.pop();
    for (int b : graph.after[static_cast<size_t>(out.back())])
      if (--waits[static_cast<size_t>(b)] == 0) free.push(b);
  }
  if (out.size() < n) {
    const auto stuck = std::find_if(waits.begin(), waits.end(), [](int w) { return w > 0; });
    throw Error("the order asked for goes round in a circle",
                "block " + std::to_string(stuck - waits.begin() + 1),
                "take back one of the wishes for this block");
  }
  return out;
}

/// A set of finished blocks, reached by a row of colours.
struct State {
  Bits done;
  int colour = -1, runs = 0, bound = 0;
  std::shared_ptr<const State> before;
};
using StatePtr = std::shared_ptr<const State>;

class ColourSearch {
 public:
  ColourSearch(const SequenceGraph& graph, size_t most_states)
      : graph_(graph),
        n_(graph.colour.size()),
        most_(most_states),
        topological_(someOrder(graph)),
        before_(n_) {
    for (size_t b = 0; b < n_; ++b)
      for (int later : graph.after[b])
        before_[static_cast<size_t>(later)].push_back(static_cast<int>(b));
    for (int c : graph.colour) colours_ = std::max(colours_, c + 1);
    countForcedRuns();
  }

  ColourOrder run() {
    auto start = std::make_shared<State>();
    start->done.assign((n_ + 63) / 64, 0);
    start->bound = boundOf(*start);
    const StatePtr end = search(start);
    ColourOrder out;
    for (StatePtr s = end; s->before; s = s->before) {
      std::vector<int> run;
      for (int b : topological_)
        if (has(s->done, b) && !has(s->before->done, b)) run.push_back(b);
      out.order.insert(out.order.begin(), run.begin(), run.end());
    }
    out.changes = std::max(0, end->runs - 1);
    out.lower_bound = exact_ ? out.changes : std::max(0, start->bound - 1);
    return out;
  }

 private:
  /// forced_[b][c]: most separate runs of colour c on any chain that starts at b.
  void countForcedRuns() {
    const auto k = static_cast<size_t>(colours_);
    forced_.assign(n_ * k, 0);
    for (size_t i = n_; i-- > 0;) {
      const auto b = static_cast<size_t>(topological_[i]);
      const auto own = static_cast<size_t>(graph_.colour[b]);
      int* mine = &forced_[b * k];
      for (int later : graph_.after[b]) {
        const auto l = static_cast<size_t>(later);
        const int* theirs = &forced_[l * k];
        for (size_t c = 0; c < k; ++c) {
          const bool newRun = c == own && static_cast<size_t>(graph_.colour[l]) != own;
          mine[c] = std::max(mine[c], theirs[c] + (newRun ? 1 : 0));
        }
      }
      mine[own] = std::max(mine[own], 1);
    }
  }

  /// Runs that are still to come, at least.
  int boundOf(const State& s) const {
    const auto k = static_cast<size_t>(colours_);
    std::vector<int> most(k, 0);
    for (size_t b = 0; b < n_; ++b)
      if (!has(s.done, static_cast<int>(b)) && isFree(s.done, static_cast<int>(b)))
        for (size_t c = 0; c < k; ++c) most[c] = std::max(most[c], forced_[b * k + c]);
    int sum = 0;
    for (int m : most) sum += m;
    return sum;
  }

  bool isFree(const Bits& done, int b) const {
    const auto& list = before_[static_cast<size_t>(b)];
    return std::all_of(list.begin(), list.end(), [&](int e) { return has(done, e); });
  }

  /// All that can be sewn in this colour, in one go.
  StatePtr sewn(const StatePtr& from, int colour) const {
    auto next = std::make_shared<State>();
    next->done = from->done;
    next->colour = colour;
    next->runs = from->runs + 1;
    next->before = from;
    for (int b : topological_)
      if (graph_.colour[static_cast<size_t>(b)] == colour && !has(next->done, b) &&
          isFree(next->done, b))
        put(next->done, b);
    next->bound = boundOf(*next);
    return next;
  }

  std::vector<StatePtr> onward(const StatePtr& s) const {
    std::vector<bool> open(static_cast<size_t>(colours_), false);
    for (size_t b = 0; b < n_; ++b)
      if (!has(s->done, static_cast<int>(b)) && isFree(s->done, static_cast<int>(b)))
        open[static_cast<size_t>(graph_.colour[b])] = true;
    std::vector<StatePtr> out;
    for (int c = 0; c < colours_; ++c)
      if (open[static_cast<size_t>(c)] && c != s->colour) out.push_back(sewn(s, c));
    return out;
  }

  StatePtr search(const StatePtr& start) {
    auto later = [](const StatePtr& a, const StatePtr& b) {
      const int fa = a->runs + a->bound, fb = b->runs + b->bound;
      return fa != fb ? fa > fb : a->runs < b->runs;  // deeper first among equals
    };
    std::priority_queue<StatePtr, std::vector<StatePtr>, decltype(later)> queue(later);
    std::unordered_set<Bits, BitsHash> seen;
    queue.push(start);
    while (!queue.empty()) {
      const StatePtr s = queue.top();
      queue.pop();
      if (s->bound == 0) return s;
      if (!seen.insert(s->done).second) continue;
      if (seen.size() > most_) {
        exact_ = false;
        return beam(start);
      }
      for (const StatePtr& next : onward(s)) queue.push(next);
    }
    return start;
  }

  /// Level by level, only the states with the least left to do are followed.
  StatePtr beam(const StatePtr& start) const {
    const size_t width = std::clamp<size_t>(8000 / n_, 4, 64);
    std::vector<StatePtr> level{start};
    while (true) {
      std::vector<StatePtr> next;
      std::unordered_set<Bits, BitsHash> seen;
      for (const StatePtr& s : level)
        for (StatePtr& child : onward(s)) {
          if (child->bound == 0) return child;
          if (seen.insert(child->done).second) next.push_back(std::move(child));
        }
      std::stable_sort(next.begin(), next.end(), [](const StatePtr& a, const StatePtr& b) {
        return a->bound != b->bound ? a->bound < b->bound : count(a->done) > count(b->done);
      });
      if (next.size() > width) next.resize(width);
      level = std::move(next);
    }
  }
  static int count(const Bits& bits) {
    int sum = 0;
    for (uint64_t word : bits) sum += std::popcount(word);
    return sum;
  }

  const SequenceGraph& graph_;
  size_t n_, most_;
  std::vector<int> topological_;
  std::vector<std::vector<int>> before_;
  int colours_ = 0;
  std::vector<int> forced_;
  bool exact_ = true;
};

/// A pattern as blocks, with the rows that go with each.
struct Cut {
  std::vector<Block> blocks;
  std::vector<Stitch> head, tail;               ///< Rows before the first block; `end` rows.
  std::vector<std::vector<Stitch>> trims;       ///< After each block.
  std::vector<std::vector<Stitch>> colourStop;  ///< Before a block, wanted at a colour change.
  std::vector<std::vector<Stitch>> fence;       ///< Before a block, wanted always.
};

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
        if (change)
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

/// Runs of one colour, each put into the order of shortest ways that the graph allows.
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

Pattern put(const Pattern& pattern, const Cut& cut, const std::vector<int>& order) {
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
    if (!parted && cut.fence[b].empty() && before + 1 != index) {
      Stitch trim = pattern.stitches[cut.blocks[static_cast<size_t>(before)].last - 1];
      trim.op = Op::Trim;
      trim.kind = Kind::Unknown;
      out.stitches.push_back(trim);
    }
    add({pattern.stitches.begin() + static_cast<long>(block.first),
         pattern.stitches.begin() + static_cast<long>(block.last)});
    add(cut.trims[b]);
    before = index;
  }
  add(cut.tail);
  return out;
}

size_t trimsOf(const Pattern& p) {
  return static_cast<size_t>(std::count_if(p.stitches.begin(), p.stitches.end(),
                                           [](const Stitch& s) { return s.op == Op::Trim; }));
}

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

ColourOrder fewestChanges(const SequenceGraph& graph, size_t most_states) {
  if (graph.colour.empty()) return {};
  return ColourSearch(graph, most_states).run();
}

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
  out.pattern = better ? put(pattern, cut, out.order) : pattern;
  out.colour_changes_after = changesOf(cut.blocks, out.order);
  out.lower_bound = best.lower_bound;
  out.trims_before = trimsOf(pattern);
  out.trims_after = trimsOf(out.pattern);
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
  return put(pattern, cut, order);
}

}  // namespace rt
