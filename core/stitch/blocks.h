// Blocks: unbroken sewing in one thread.
#pragma once

#include <vector>

#include "pattern.h"
#include "stitch_limits.h"

namespace rt {

/// A run of rows between jumps over 3 mm, trims, stops and colour changes.
struct Block {
  size_t first = 0, last = 0;  ///< Rows [first, last), from the landing jumps to the last stitch.
  uint16_t thread = 0, piece = 0;
  Kind kind = Kind::Unknown;  ///< What most of its stitches are, ties and underlay aside.
  size_t stitches = 0;
  double thread_mm = 0;  ///< Laid thread.
  Box bounds;            ///< Of laid thread and needle points.
  Point entry, exit;     ///< First and last place of thread.
};

/// All blocks in sewing order. Rows that belong to none: trims, stops, the end, jumps that lead
/// to no stitch.
std::vector<Block> blocksOf(const Pattern& pattern);

}  // namespace rt
