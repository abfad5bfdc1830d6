// The trim sheet: every cut in the order of sewing, with a picture of the place.
#pragma once

#include <filesystem>

#include "pattern.h"
#include "template_pdf.h"

namespace rt {

struct TrimSheetOptions {
  Paper paper = Paper::A4;
  std::string title;
  bool only_by_hand = false;  ///< Leave out what the machine trims itself.
  double around_mm = 9;       ///< Half of what a picture shows, at least; more for longer jumps.
};

struct TrimSheetResult {
  int pages = 0;
  size_t cuts = 0, by_hand = 0;  ///< On the sheets.
};

/// Writes a PDF of twelve pictures a page: what is sewn up to the cut, the thread's end (a ring),
/// where sewing goes on (a cross) and the way between. Cuts in different threads say the colour.
/// Throws Error for a layout without cuts, or with more than 4,800.
TrimSheetResult writeTrimSheet(const Pattern& pattern, const TrimSheetOptions& options,
                               const std::filesystem::path& path);

}  // namespace rt
