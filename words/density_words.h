// What is wrong with a layout's weight on the cloth, and what cures it, in words for people.
#pragma once

#include "findings.h"

namespace rt {

/// What lies at a finding: "sky and cloud lie on one another, in 3 places".
std::string inWords(const Finding& finding);
/// What to do, with its figure: "Re-space sky (block 3, #8fb0c9) from 0.25 to 0.36 mm".
std::string inWords(const Remedy& remedy);

/// "up and right" for a displacement.
std::string wayName(Point by);

}  // namespace rt
