// Which hooping sews which stitch. Part of the planner; not for other rooms.
#pragma once

#include "planner.h"

namespace rt {

/// For each row that is a stitch, the hooping (position in sewing order) that sews it; -1 for other
/// rows.
struct Assignment {
  std::vector<int> order;  ///< Sewing order: order[position] = index into the fields.
  std::vector<int> row_hooping;
  std::vector<bool> cut_block;
  size_t cut_stitches = 0;
  size_t overturned = 0;  ///< Overlaps that the order of hoopings turns over.
};

/// Assigns whole blocks where they fit, cuts the others along lines of least thread, and orders the
/// hoopings so that as few overlaps as possible are turned over.
Assignment assignBlocks(const Pattern& pattern, const std::vector<Block>& blocks,
                        const std::vector<PlacedField>& fields);

}  // namespace rt
