// What may be sewn, and what stands in the way, in words for people.
#pragma once

#include "clearance.h"

namespace rt {

/// One sentence, with its figure.
std::string inWords(const ClearanceLine& line, const Clearance& of);

}  // namespace rt
