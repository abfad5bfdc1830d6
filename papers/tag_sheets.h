// Sheets of printable tags.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "paper.h"

namespace rt {

struct TagSheetOptions {
  Paper paper = Paper::A4;
  int first = 0, count = 12;
  double size_mm = 15;  ///< Edge of the black square, without the white margin.
  PrinterScale printer = {};
};

struct TagSheets {
  int pages = 0;
  std::vector<int> ids;
};

/// Ids of the public 36h11 family.
int tagCount();

/// Writes a PDF of tags as the apriltag library draws them, each with its id, a dashed line to cut
/// along a white margin of a module and more, and a 100 mm check ruler a page. Throws Error for ids
/// that the family lacks, and for a size that no camera or no sheet takes.
TagSheets writeTagSheets(const TagSheetOptions& options, const std::filesystem::path& path);

}  // namespace rt
