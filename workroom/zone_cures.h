// Cures for sewing that runs into a keep-out zone. Part of cures.
#pragma once

#include "cures.h"

namespace rt {

/// The shortest of 16 ways, in whole half millimetres and at most 120 mm, that takes every piece
/// that sews into the zone out of it without taking one into another. Empty if there is none.
std::vector<Cure> curesForKeepOut(const Job& job, const Finding& finding);

}  // namespace rt
