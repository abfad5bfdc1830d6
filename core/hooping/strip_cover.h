// Covers by strips of fields side by side. Part of the planner.
#pragma once

#include "field_cover.h"

namespace rt {

/// By strips of fields side by side, all places where the next field begins at what is open, from
/// either end of rows and columns; then each field is moved within what it alone holds so that
/// fewer wholes are parted, again and again until none gains. Good where thread lies everywhere,
/// for any number of needs. A frame of several settings counts as what they reach together, if that
/// is a rectangle without a gap. No ovals; empty if there is none.
std::vector<Clamping> coverInStrips(const CoverProblem& problem, const std::vector<Hoop>& hoops,
                                    bool turn);

}  // namespace rt
