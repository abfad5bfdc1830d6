#include "travel.h"

#include <algorithm>
#include <set>

#include "order.h"

namespace rt {
namespace {

constexpr int kMostPasses = 12;
constexpr size_t kMostInRun = 800;  // longer runs are improved over their near neighbours only
constexpr size_t kReach = 120;
constexpr double kGain_mm = 0.05;

/// Only runs and ties, without moves inside: sewn from the other end it is the same line.
bool canReverse(const Pattern& p, const Block& b) {
  if (b.kind != Kind::Run) return false;
  bool sewn = false;
  for (size_t row = b.first; row < b.last; ++row) {
    const Stitch& s = p.stitches[row];
    if (s.op == Op::Jump && sewn) return false;
    if (s.op != Op::Stitch) continue;
    sewn = true;
    if (s.kind != Kind::Run && s.kind != Kind::Tie) return false;
  }
  return sewn;
}

/// The rows of a block sewn from its end to its start.
void reverseRows(Pattern& p, const Block& b) {
  const auto from = p.stitches.begin() + static_cast<long>(b.first),
             to = p.stitches.begin() + static_cast<long>(b.last);
  auto firstSewn = std::find_if(from, to, [](const Stitch& s) { return s.op == Op::Stitch; });
  std::vector<Point> points;
  std::vector<Kind> kinds;
  const bool landed = firstSewn != from;
  if (landed) points.push_back(b.entry);
  for (auto it = firstSewn; it != to; ++it) {
    points.push_back(it->at);
    if (landed || it != firstSewn) kinds.push_back(it->kind);
  }
  std::reverse(points.begin(), points.end());
  std::reverse(kinds.begin(), kinds.end());
  size_t k = 0;
  if (landed)
    for (auto it = from; it != firstSewn; ++it) it->at = points[0];
  for (auto it = firstSewn; it != to; ++it, ++k) {
    it->at = points[landed ? k + 1 : k];
    if (landed || k > 0) it->kind = kinds[landed ? k : k - 1];
  }
}

class Shortener {
 public:
  Shortener(const Pattern& pattern, const TravelOptions& options)
      : pattern_(pattern), blocks_(blocksOf(pattern)) {
    for (const auto& pair : overlappingBlocks(pattern, blocks_)) overlaps_.insert(pair);
    for (const Block& b : blocks_)
      mayTurn_.push_back(options.reverse_runs && canReverse(pattern, b));
    turned_.assign(blocks_.size(), false);
    order_.resize(blocks_.size());
    for (size_t i = 0; i < order_.size(); ++i) order_[i] = static_cast<int>(i);
  }

  Travelled run() {
    Travelled out;
    out.before_mm = total();
    for (size_t from = 0; from < blocks_.size();) {
      size_t to = from + 1;
      while (to < blocks_.size() && together(to - 1, to)) ++to;
      const bool fixed = blocks_[from].kind == Kind::Basting || blocks_[from].kind == Kind::Mark;
      if (to - from > 1 && !fixed) improve(from, to);
      from = to;
    }
    out.after_mm = total();
    for (size_t i = 0; i < order_.size(); ++i) out.moved += order_[i] != static_cast<int>(i);
    Pattern turned = pattern_;
    for (size_t b = 0; b < blocks_.size(); ++b)
      if (turned_[b]) reverseRows(turned, blocks_[b]), ++out.reversed;
    out.pattern = out.moved > 0 ? inOrder(turned, order_) : turned;
    if (out.before_mm - out.after_mm < kGain_mm) out.pattern = pattern_;
    out.trims_before = countRows(pattern_.stitches, Op::Trim);
    out.trims_after = countRows(out.pattern.stitches, Op::Trim);
    return out;
  }

 private:
  /// Same thread, no stop in between, and both of a kind that may move.
  bool together(size_t a, size_t b) const {
    if (blocks_[a].thread != blocks_[b].thread) return false;
    auto held = [](Kind k) { return k == Kind::Basting || k == Kind::Mark; };
    if (held(blocks_[a].kind) != held(blocks_[b].kind)) return false;
    for (size_t row = blocks_[a].last; row < blocks_[b].first; ++row)
      if (pattern_.stitches[row].op == Op::Stop) return false;
    return true;
  }

  Point entry(int b) const {
    const auto i = static_cast<size_t>(b);
    return turned_[i] ? blocks_[i].exit : blocks_[i].entry;
  }
  Point exit(int b) const {
    const auto i = static_cast<size_t>(b);
    return turned_[i] ? blocks_[i].entry : blocks_[i].exit;
  }
  /// The way from the block at place i to the one after it; 0 at either end of all.
  double way(int before, int after) const {
    return before < 0 || after < 0 ? 0 : distance(exit(before), entry(after));
  }
  int at(size_t i) const { return i < order_.size() ? order_[i] : -1; }
  double total() const {
    double sum = 0;
    for (size_t i = 1; i < order_.size(); ++i) sum += way(order_[i - 1], order_[i]);
    return sum;
  }

  void improve(size_t from, size_t to) {
    for (int pass = 0; pass < kMostPasses; ++pass) {
      bool better = false;
      for (size_t i = from; i < to; ++i) better |= turn(i);
      for (size_t count = 1; count <= 3; ++count)
        for (size_t i = from; i + count <= to; ++i) better |= move(i, count, from, to);
      if (!better) return;
    }
  }

  bool turn(size_t i) {
    const int b = order_[i];
    if (!mayTurn_[static_cast<size_t>(b)]) return false;
    const int before = i > 0 ? order_[i - 1] : -1, after = at(i + 1);
    const double now = way(before, b) + way(b, after);
    turned_[static_cast<size_t>(b)].flip();
    if (way(before, b) + way(b, after) < now - kGain_mm) return true;
    turned_[static_cast<size_t>(b)].flip();
    return false;
  }

  bool overlap(int a, int b) const { return overlaps_.count({std::min(a, b), std::max(a, b)}) > 0; }

  /// Takes `count` blocks at `i` to the best place of the run that no overlap forbids.
  bool move(size_t i, size_t count, size_t from, size_t to) {
    const size_t reach = to - from > kMostInRun ? kReach : to - from;
    const int first = order_[i], last = order_[i + count - 1];
    const int before = i > 0 ? order_[i - 1] : -1, after = at(i + count);
    const double freed = way(before, first) + way(last, after) - way(before, after);
    if (freed <= kGain_mm) return false;
    double best = kGain_mm;
    size_t place = SIZE_MAX;
    auto tryAt = [&](size_t gap) {  // between order_[gap - 1] and order_[gap]
      const int a = gap > 0 ? order_[gap - 1] : -1, c = at(gap);
      const double gain = freed - (way(a, first) + way(last, c) - way(a, c));
      if (gain > best) best = gain, place = gap;
    };
    auto passes = [&](size_t other) {
      for (size_t k = i; k < i + count; ++k)
        if (overlap(order_[k], order_[other])) return false;
      return true;
    };
    for (size_t gap = i; gap > from && i - gap < reach && passes(gap - 1); --gap) tryAt(gap - 1);
    for (size_t gap = i + count; gap < to && gap - i < reach && passes(gap); ++gap) tryAt(gap + 1);
    if (place == SIZE_MAX) return false;
    const auto begin = order_.begin();
    if (place < i)
      std::rotate(begin + static_cast<long>(place), begin + static_cast<long>(i),
                  begin + static_cast<long>(i + count));
    else
      std::rotate(begin + static_cast<long>(i), begin + static_cast<long>(i + count),
                  begin + static_cast<long>(place));
    return true;
  }

  const Pattern& pattern_;
  std::vector<Block> blocks_;
  std::set<std::pair<int, int>> overlaps_;
  std::vector<bool> mayTurn_, turned_;
  std::vector<int> order_;
};

}  // namespace

Travelled shortestTravel(const Pattern& pattern, const TravelOptions& options) {
  if (threadBounds(pattern).empty()) return {pattern, 0, 0, 0, 0, 0, 0};
  return Shortener(pattern, options).run();
}

}  // namespace rt
