#include "colour_search.h"

#include <algorithm>
#include <cstdint>
#include <map>
#include <memory>
#include <queue>
#include <string>
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

}  // namespace

ColourOrder fewestChanges(const SequenceGraph& graph, size_t most_states) {
  if (graph.colour.empty()) return {};
  return ColourSearch(graph, most_states).run();
}
}  // namespace rt
