// The shop's judgements, read from the data folder.
#pragma once

#include <filesystem>
#include <vector>

#include "fabric.h"
#include "planner.h"
#include "thread_shelf.h"
#include "time_model.h"

namespace rt {

struct ShopData {
  std::vector<Fabric> fabrics;
  std::vector<Hoop> hoops;
  TimeModel time;
  std::vector<ShelfThread> threads;  ///< Of threads.csv; empty if there is none.
  double bobbin_mm = 60000;          ///< Thread on a full bobbin.
  std::string limits_source;         ///< What the limits rest on, to be said beside them.
};

/// Reads fabrics.json, hoops.json, time-model.json and threads.csv. Throws Error with file and key.
ShopData readShopData(const std::filesystem::path& folder);

/// A hoop by id, or a bare field written `200x140` (mm). Throws Error naming the known ids.
Hoop hoopFor(const std::vector<Hoop>& hoops, const std::string& text);

}  // namespace rt
