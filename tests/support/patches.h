// Patches of colour that lie over one another, and what must not change when they are put into
// another order.
#pragma once

#include <map>
#include <set>

#include "blocks.h"
#include "drawn_blocks.h"
#include "random_pattern.h"

namespace rt::testing {

/// The needle points of each block, first to last: its fingerprint.
inline std::multiset<std::vector<double>> blockPrints(const Pattern& p) {
  std::multiset<std::vector<double>> out;
  for (const Block& b : blocksOf(p)) {
    std::vector<double> print{static_cast<double>(p.threads[b.thread].rgb)};
    for (size_t row = b.first; row < b.last; ++row)
      if (p.stitches[row].op == Op::Stitch) {
        print.push_back(p.stitches[row].at.x);
        print.push_back(p.stitches[row].at.y);
      }
    out.insert(print);
  }
  return out;
}

/// Small fills in a few colours, thrown over a square.
inline Pattern randomPatches(std::mt19937& random, int count, int colours, double side) {
  testing::BlockMaker m;
  for (int i = 0; i < count; ++i) {
    m.colour = {static_cast<uint32_t>(0x101010u * (1 + random() % static_cast<unsigned>(colours)))};
    const Point at{between(random, 0, side), between(random, 0, side)};
    m.fill({at.x, at.y, at.x + between(random, 3, 9), at.y + between(random, 3, 9)}, 0.5, 3,
           random() % 2 == 0);
  }
  return m.pattern;
}

}  // namespace rt::testing
