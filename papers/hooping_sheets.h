// A sheet for every clamping: what to clamp where, which marks to find, which threads to take.
#pragma once

#include <filesystem>

#include "paper.h"
#include "planner.h"
#include "thread_shelf.h"
#include "time_model.h"

namespace rt {

struct HoopingSheetOptions {
  Paper paper = Paper::A4;
  std::string title;
  std::vector<std::string> materials;  ///< Fabric, backing, topper, needle: a line each.
  std::vector<std::string> cautions;   ///< Besides those that every hooping needs.
  std::vector<ShelfThread> shelf;      ///< Names the nearest thread of each colour; may be empty.
  std::vector<int> done;               ///< Hoopings that are sewn: crossed out on the small map.
  TimeModel time;
};

struct HoopingSheets {
  struct Page {
    int hooping = 1, setting = 1, page = 1;  ///< From 1.
  };
  int pages = 0;
  std::vector<Page> sheets;  ///< Where each setting's sheet begins.
  std::vector<std::string> warnings;
};

/// Writes a PDF, a page a hooping and one a further setting; what does not fit goes on overleaf.
/// Throws Error for a plan without hoopings.
HoopingSheets writeHoopingSheets(const HoopingPlan& plan, const HoopingSheetOptions& options,
                                 const std::filesystem::path& path);

}  // namespace rt
