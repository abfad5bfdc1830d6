// What a shop knows, over what ships: its own limits, threads, frames and rates, read from its
// folder.
#pragma once

#include <functional>

#include "cloth_law.h"
#include "making.h"
#include "quote.h"

namespace rt {

/// Files of a shop's folder; docs/formats.md says what is in them.
struct ShopFiles {
  std::filesystem::path limits, threads, frames, rates, card;
  std::filesystem::path cloths;  ///< A folder, a file a fabric.
  explicit ShopFiles(const std::filesystem::path& folder);
};

/// One value for whoever judges, plans, prices and prints: what ships, with the shop's own in
/// place.
struct ShopValues {
  Bench bench;                   ///< With the shop's own limits, threads and frames in place.
  std::vector<Fabric> starting;  ///< Limits as they ship.
  std::vector<Hoop> shipped;     ///< Frames that ship, …
  std::vector<Hoop> own;         ///< … and those that were measured here; they stand before them.
  ShopLimitTable limits;
  Rates rates;
  bool rates_own = false;
  ShopCard card;                   ///< Empty until the shop writes one.
  std::vector<ClothKnown> cloths;  ///< What was learned of how they move, one a fabric.
  /// What was wrong with the shop's own files, in words; starting values stand in for them.
  std::vector<std::string> problems;
};

/// Reads the folder over what ships; a folder that is not there is a shop without values of its
/// own. A file that cannot be read stays for its owner and is named in `problems`.
ShopValues openShop(Bench shipped, const std::filesystem::path& folder);

}  // namespace rt
