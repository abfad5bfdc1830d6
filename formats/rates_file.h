// Rates of a shop.
#pragma once

#include <filesystem>

#include "quote.h"

namespace rt {

/// The shop's own starting values, of the data folder's rates.json. Throws Error.
Rates shopRates(const std::filesystem::path& data);
/// A rates file; what it leaves out stays as in `otherwise`, the names of those go to `left_out`.
/// Throws Error with file and key.
Rates readRates(const std::filesystem::path& path, const Rates& otherwise,
                std::vector<std::string>* left_out = nullptr);

/// The same text as it is read. Throws Error for rates that are none: negative, a margin of 1 or
/// more.
std::string ratesJson(const Rates& rates);

}  // namespace rt
