// The shop's judgements, read from the data folder.
#pragma once

#include <filesystem>
#include <map>
#include <vector>

#include "materials.h"
#include "monogram.h"
#include "planner.h"
#include "practice.h"
#include "shelf.h"
#include "thread_shelf.h"
#include "time_model.h"

namespace rt {

struct ShopData {
  std::vector<Fabric> fabrics;
  std::vector<Hoop> hoops;
  TimeModel time;
  std::vector<ShelfThread> threads;  ///< Of threads.csv; empty if there is none.
  double bobbin_mm = 60000;          ///< Thread on a full bobbin.
  MaterialTable materials;           ///< Of materials.json; empty if there is none.
  ShopPractice practice;             ///< Of practice.json; as it ships if there is none.
  std::string limits_source;         ///< What the limits rest on, to be said beside them.
};

/// Reads fabrics.json, hoops.json, time-model.json, materials.json, practice.json and threads.csv.
/// Throws Error with file and key.
ShopData readShopData(const std::filesystem::path& folder);

/// A monogram as the shop makes them.
MonogramOptions monogramOptions(const ShopPractice& practice);

/// Limits that a shop has set for itself, by fabric; the rest keep their starting values.
struct ShopLimits {
  Limit density_mm_per_mm2, holes_per_mm2;
  std::string note;  ///< Where they come from: typed, or learned from which outcomes.
  double least_column_mm = 0, least_letter_mm = 0;  ///< 0: the starting value.
  friend bool operator==(const ShopLimits&, const ShopLimits&) = default;
};
using ShopLimitTable = std::map<std::string, ShopLimits>;

/// No file is an empty table. Throws Error with file and fabric where 0 < check ≤ stop fails.
ShopLimitTable readShopLimits(const std::filesystem::path& path);
void writeShopLimits(const std::filesystem::path& path, const ShopLimitTable& limits);
/// The fabrics with the shop's own limits in place of the starting values.
std::vector<Fabric> withShopLimits(std::vector<Fabric> fabrics, const ShopLimitTable& limits);

}  // namespace rt
