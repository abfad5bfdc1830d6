// Items with their places, and advice on materials, as the data folder has them.
#pragma once

#include <filesystem>
#include <map>

#include "item.h"

namespace rt {

/// Throws Error with file and item for what is missing or cannot be.
std::vector<Item> readItems(const std::filesystem::path& path);

/// One piece of advice with its reason.
struct Advice {
  std::string what;    ///< `backing`, `topper`, `needle`, `held`.
  std::string choice;  ///< In words.
  std::string why;
};
/// By fabric id. Throws Error like `readItems`.
std::map<std::string, std::vector<Advice>> readAdvice(const std::filesystem::path& path);

}  // namespace rt
