#include "blocks.h"

#include <array>

namespace rt {
namespace {

Kind commonest(const std::array<size_t, 8>& count) {
  size_t best = 0;
  for (size_t k : {1, 2, 3, 6, 7})
    if (count[k] > 0 && (best == 0 || count[k] > count[best])) best = k;
  if (best == 0 && count[0] == 0) best = count[4] >= count[5] ? 4 : 5;
  return static_cast<Kind>(best);
}

class Splitter {
 public:
  explicit Splitter(const Pattern& pattern) : pattern_(pattern) {}

  std::vector<Block> run() {
    for (size_t row = 0; row < pattern_.stitches.size(); ++row) take(row);
    close();
    return std::move(blocks_);
  }

 private:
  void take(size_t row) {
    const Stitch& stitch = pattern_.stitches[row];
    const NeedleWalk::Step step = walk_.next(stitch);
    if (stitch.op == Op::Jump) {
      if (!jumping_) jumpRow_ = row;
      jumping_ = true;
      return;
    }
    if (stitch.op != Op::Stitch) {
      close();
      jumping_ = false;
      return;
    }
    const bool leapt = jumping_ && open_ && distance(block_.exit, step.from) > kLongestLooseMove_mm;
    if (!open_ || step.fresh || leapt) {
      close();
      start(jumping_ ? jumpRow_ : row, step.from, stitch);
    }
    extend(row, step, stitch);
    jumping_ = false;
  }

  void start(size_t row, Point entry, const Stitch& stitch) {
    block_ = {};
    block_.first = row;
    block_.thread = stitch.thread;
    block_.piece = stitch.piece;
    block_.entry = entry;
    kinds_ = {};
    open_ = true;
  }

  void extend(size_t row, const NeedleWalk::Step& step, const Stitch& stitch) {
    block_.last = row + 1;
    block_.exit = stitch.at;
    block_.stitches += 1;
    block_.bounds.add(step.from);
    block_.bounds.add(stitch.at);
    if (step.sewn) block_.thread_mm += distance(step.from, stitch.at);
    kinds_[static_cast<size_t>(stitch.kind)] += 1;
  }

  void close() {
    if (open_) {
      block_.kind = commonest(kinds_);
      blocks_.push_back(block_);
    }
    open_ = false;
  }

  const Pattern& pattern_;
  NeedleWalk walk_;
  std::vector<Block> blocks_;
  Block block_;
  std::array<size_t, 8> kinds_{};
  bool open_ = false, jumping_ = false;
  size_t jumpRow_ = 0;
};

}  // namespace

std::vector<Block> blocksOf(const Pattern& pattern) {
  return Splitter(pattern).run();
}

}  // namespace rt
