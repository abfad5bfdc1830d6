// What splitting by a plain grid would take. Part of the planner.
#pragma once

#include "planner.h"
#include "thread_units.h"

namespace rt {

/// The largest hoop by the area of its field, unturned, laid edge to edge in as few columns and
/// rows as cover the layout's bounds, the whole centred on them.
PlainGrid plainGrid(const Pattern& pattern, const std::vector<Block>& blocks,
                    const std::vector<Motif>& motifs, const std::vector<Hoop>& hoops);

}  // namespace rt
