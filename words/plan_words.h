// What a plan doubts, in words for people.
#pragma once

#include "planner.h"

namespace rt {

/// One sentence without its full stop, what to do included.
std::string inWords(const PlanDoubt& doubt);

}  // namespace rt
