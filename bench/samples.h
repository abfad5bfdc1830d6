// Layouts to measure with, the same at each run.
#pragma once

#include "pattern.h"

namespace rt::bench {

/// Rows of fill over squares side by side, about so many stitches.
Pattern fills(size_t stitches);

}  // namespace rt::bench
