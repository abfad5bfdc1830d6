// The job at a glance for whoever stands at the machine: what is sewn on what, with what, in which
// order.
#pragma once

#include <filesystem>

#include "paper.h"
#include "pattern.h"
#include "thread_shelf.h"
#include "time_model.h"

namespace rt {

struct JobSheetOptions {
  Paper paper = Paper::A4;
  std::string title, item, order_text;
  std::vector<std::string> materials;  ///< Fabric, backing, topper, needle: a line each.
  std::vector<std::string> cautions;
  std::vector<ShelfThread> shelf;  ///< Names the nearest thread of each colour; may be empty.
  int needles = 1;                 ///< Of the machine; its threads are given to them.
  ThreadTake take;
  TimeModel time;
  /// One a hooping or setting, in sewing order; one alone for a layout without a plan.
  struct Part {
    std::string name;
    Pattern pattern;
  };
  std::vector<Part> parts;
};

struct JobSheet {
  int pages = 0;
  double minutes = 0, metres = 0;  ///< Of all parts.
};

/// Each part's colours in order with needle, minutes, stitches and metres of top thread; a picture
/// of it; what has to be looked at. Texts wrap, nothing is clipped. Throws Error for a job without
/// stitches and where the file cannot be written.
JobSheet writeJobSheet(const JobSheetOptions& options, const std::filesystem::path& path);

}  // namespace rt
