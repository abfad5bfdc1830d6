// How a shop stands on its quotes, as a file.
#pragma once

#include <filesystem>

#include "quote.h"

namespace rt {

/// Days for which a quote may be valid at most.
inline constexpr int kMostValidDays = 3660;

/// docs/formats.md says what is in it; what it leaves out is as in ShopCard. Throws Error with file
/// and key.
ShopCard readCard(const std::filesystem::path& path);
/// The same text as it is read. Throws Error for a card that is none: a tax below 0 or of 1000 %
/// and more, days below 1 or over ten years.
std::string cardJson(const ShopCard& card);

}  // namespace rt
