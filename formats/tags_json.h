// Places of printed tags as JSON. Part of this room.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "json_reading.h"
#include "tag_place.h"

namespace rt {

/// The list under a key; empty where there is none. Its ids go to `ids`. Throws Error for what is
/// no list of at most 1,000 places, an id that is no whole number, and one that `ids` holds
/// already.
std::vector<TagPlace> tagsFrom(const Json& object, const char* key, const std::string& where,
                               std::set<int>& ids);

}  // namespace rt
