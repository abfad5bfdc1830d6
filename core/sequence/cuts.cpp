#include "cuts.h"

namespace rt {

std::vector<CutSpot> cutSpots(const Pattern& pattern) {
  std::vector<CutSpot> out;
  const std::vector<Block> blocks = blocksOf(pattern);
  size_t sewn = 0;
  for (size_t b = 0; b + 1 < blocks.size(); ++b) {
    const Block &now = blocks[b], &next = blocks[b + 1];
    sewn += now.stitches;
    CutSpot spot{next.first, sewn, now.exit, next.entry, now.thread, false};
    for (size_t row = now.last; row < next.first; ++row)
      spot.machine |= pattern.stitches[row].op == Op::Trim;
    const bool change = next.thread != now.thread;
    if (spot.machine || change || spot.jump_mm() > kLongestLooseMove_mm) out.push_back(spot);
  }
  return out;
}

}  // namespace rt
