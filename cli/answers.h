// What commands answer with, as JSON and as plain lines.
#pragma once

#include <nlohmann/json.hpp>

#include "shop_data.h"
#include "statistics.h"

namespace rt::cli {

using Json = nlohmann::ordered_json;

/// Prints one JSON object, or "key: value" lines.
void print(const Json& answer, bool as_json);
Json infoOf(const Pattern& pattern, const ShopData& shop);
Json pair(Point p);
Json boundsJson(const Box& box);

}  // namespace rt::cli
