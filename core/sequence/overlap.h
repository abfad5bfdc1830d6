// Which block really lies over which.
#pragma once

#include <utility>

#include "blocks.h"
#include "stitch_limits.h"

namespace rt {

/// Pairs (earlier, later) of blocks whose thread shares area, sorted. Exact for straight thread of
/// kThreadWidth_mm with round ends; found through a grid, so about linear in the thread.
std::vector<std::pair<int, int>> overlappingBlocks(const Pattern& pattern,
                                                   const std::vector<Block>& blocks);

}  // namespace rt
