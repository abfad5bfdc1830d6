// Sizing a finished stitch list.
#pragma once

#include "recognise.h"

namespace rt {

/// Stitches may be kept up to this change of size; beyond it density leaves the usual range.
inline constexpr double kKeepUpTo = 0.10;

struct ResizedBlock {
  Kind kind = Kind::Run;
  double spacing_before_mm = 0, spacing_after_mm = 0;
  size_t stitches_before = 0, stitches_after = 0;
};

struct Resized {
  Pattern pattern;
  std::vector<ResizedBlock> blocks;
  std::vector<std::string> warnings;
};

/// Scales about the layout's origin and keeps every stitch: density changes by 1/scale, holes by
/// 1/scale². Throws Error unless both scales are finite and over 0.
Resized resizeKeeping(const Pattern& pattern, double scale_x, double scale_y);

}  // namespace rt
