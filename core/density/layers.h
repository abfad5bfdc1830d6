// How many covers lie on a place.
#pragma once

#include "blocks.h"
#include "density_map.h"

namespace rt {

/// Looks up, place by place, how many separate covers lie there: blocks whose cover (satin, fill,
/// runs; neither underlay nor ties) lays at least kCovered_mm_per_mm2 inside the disc of the
/// density's definition. Keeps a reference to the pattern.
class Layers {
 public:
  explicit Layers(const Pattern& pattern);
  /// Index of each such block (into blocks()), in sewing order.
  std::vector<size_t> at(Point p) const;
  const std::vector<Block>& blocks() const { return blocks_; }

 private:
  double threadAt(const Block& block, Point p) const;
  const Pattern& pattern_;
  std::vector<Block> blocks_;
};

}  // namespace rt
