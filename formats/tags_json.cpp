#include "tags_json.h"

#include <cmath>

#include "error.h"

namespace rt {

std::vector<TagPlace> tagsFrom(const Json& object, const char* key, const std::string& where,
                               std::set<int>& ids) {
  constexpr size_t kMostTags = 1000;
  std::vector<TagPlace> out;
  if (!object.contains(key) || object[key].is_null()) return out;
  const Json& list = object[key];
  if (!list.is_array() || list.size() > kMostTags)
    throw Error(std::string(key) + " is not a list of at most 1,000 tags", where, "write [ … ]");
  const std::string here = where + " " + key;
  for (const Json& t : list) {
    const double id = numberIn(t, "id", here);
    if (id != std::floor(id) || id < 0 || id > 1e6)
      throw Error("an id is no whole number", here, "give the number beside the tag");
    const TagPlace tag{static_cast<int>(id),
                       {numberIn(t, "x_mm", here), numberIn(t, "y_mm", here)},
                       numberOr(t, "angle_deg", 0, here)};
    if (!ids.insert(tag.id).second)
      throw Error("the tag " + std::to_string(tag.id) + " is listed twice", here,
                  "give each tag its own id");
    out.push_back(tag);
  }
  return out;
}

}  // namespace rt
