#include "shelf.h"

#include <algorithm>
#include <charconv>
#include <set>

#include "error.h"
#include "file_io.h"
#include "shelf_json.h"
#include "tags_json.h"

namespace rt {
namespace {

constexpr size_t kMostFrames = 500, kMostSettings = 64;

FrameSetting settingFrom(const Json& s, const std::string& where) {
  if (!s.is_object()) throw Error("a setting is not an object", where, "write {\"x_mm\": …}");
  const double turn = s.contains("turn_deg") ? numberIn(s, "turn_deg", where) : 0;
  if (turn != 0 && turn != 90 && turn != 180 && turn != 270)
    throw Error("a setting is turned by no quarter", where, "give turn_deg as 0, 90, 180 or 270");
  return {numberIn(s, "x_mm", where), numberIn(s, "y_mm", where), static_cast<int>(turn)};
}

void readPlaces(const Json& object, Hoop& h, const std::string& where) {
  if (object.contains("settings") && !object["settings"].is_null()) {
    const Json& list = object["settings"];
    if (!list.is_array() || list.empty() || list.size() > kMostSettings)
      throw Error("\"settings\" is no list of 1 to 64 places", where,
                  "list {\"x_mm\", \"y_mm\", \"turn_deg\"} each");
    for (const Json& s : list) h.settings.push_back(settingFrom(s, where + " settings"));
  }
  if (object.contains("rail") && !object["rail"].is_null()) {
    const Json& r = object["rail"];
    const std::string axis = textIn(r, "axis", where + " rail");
    if (axis != "x" && axis != "y")
      throw Error("the rail's axis is \"" + axis + "\"", where, "give x or y");
    h.rail = FrameRail{axis == "x", numberIn(r, "from_mm", where + " rail"),
                       numberIn(r, "to_mm", where + " rail")};
  }
}

void readTags(const Json& object, Hoop& h, const std::string& where) {
  if (object.contains("tag_size_mm")) h.tag_size_mm = numberIn(object, "tag_size_mm", where);
  if (object.contains("tag_height_mm")) h.tag_height_mm = numberIn(object, "tag_height_mm", where);
  std::set<int> ids;
  h.tags = tagsFrom(object, "tags", where, ids);
}

}  // namespace

Hoop hoopFrom(const Json& object, const std::string& file) {
  Hoop h;
  h.id = textIn(object, "id", file);
  const std::string where = file + " hoop " + h.id;
  if (h.id.empty() || h.id.size() > 100)
    throw Error("the id is empty or too long", where, "give one of 1 to 100 letters");
  h.name = object.contains("name") ? textIn(object, "name", where) : h.id;
  const Json& field = member(object, "field_mm", where);
  if (!field.is_array() || field.size() != 2 || !field[0].is_number() || !field[1].is_number())
    throw Error("field_mm must be [width, height]", where, "measure the field");
  const std::string shape = object.contains("shape") ? textIn(object, "shape", where) : "rectangle";
  if (shape != "oval" && shape != "rectangle")
    throw Error("the shape is \"" + shape + "\"", where, "give rectangle or oval");
  h.field = {field[0].get<double>(), field[1].get<double>(),
             shape == "oval" ? HoopShape::Oval : HoopShape::Rectangle};
  readPlaces(object, h, where);
  if (object.contains("setting_error_mm"))
    h.setting_error_mm = numberIn(object, "setting_error_mm", where);
  if (object.contains("clear_mm")) h.clear_mm = numberIn(object, "clear_mm", where);
  readTags(object, h, where);
  checkHoop(h, where);
  return h;
}

Json hoopJson(const Hoop& h) {
  Json out = {{"id", h.id},
              {"name", h.name},
              {"field_mm", {h.field.width_mm, h.field.height_mm}},
              {"shape", h.field.shape == HoopShape::Oval ? "oval" : "rectangle"},
              {"setting_error_mm", h.setting_error_mm},
              {"clear_mm", h.clear_mm}};
  for (const FrameSetting& s : h.settings)
    out["settings"].push_back({{"x_mm", s.x_mm}, {"y_mm", s.y_mm}, {"turn_deg", s.turn_deg}});
  if (!h.tags.empty()) {
    out["tag_size_mm"] = h.tag_size_mm;
    out["tag_height_mm"] = h.tag_height_mm;
    for (const TagPlace& t : h.tags)
      out["tags"].push_back(
          {{"id", t.id}, {"x_mm", t.at.x}, {"y_mm", t.at.y}, {"angle_deg", t.angle_deg}});
  }
  if (h.rail)
    out["rail"] = {{"axis", h.rail->along_x ? "x" : "y"},
                   {"from_mm", h.rail->from_mm},
                   {"to_mm", h.rail->to_mm}};
  return out;
}

std::vector<Hoop> readShelf(const std::filesystem::path& path) {
  const Json root = readJson(path);
  const Json& list = member(root, "hoops", path.string());
  if (!list.is_array()) throw Error("\"hoops\" is not a list", path.string(), "write [ … ]");
  if (list.empty())
    throw Error("the shelf is empty", path.string(), "measure a frame and add it to \"hoops\"");
  if (list.size() > kMostFrames)
    throw Error("the shelf holds over 500 frames", path.string(), "split it");
  std::vector<Hoop> out;
  std::set<std::string> ids;
  for (const Json& h : list) {
    out.push_back(hoopFrom(h, path.string()));
    if (!ids.insert(out.back().id).second)
      throw Error("two frames are called \"" + out.back().id + "\"", path.string(),
                  "give each its own id");
  }
  return out;
}

std::string shelfJson(const std::vector<Hoop>& hoops) {
  Json list = Json::array();
  for (const Hoop& h : hoops) list.push_back(hoopJson(h));
  return Json{{"hoops", list}}.dump(1) + "\n";
}

std::vector<Hoop> joinedShelf(const std::vector<Hoop>& own, const std::vector<Hoop>& shop) {
  std::vector<Hoop> out = own;
  for (const Hoop& h : shop)
    if (std::none_of(own.begin(), own.end(), [&](const Hoop& o) { return o.id == h.id; }))
      out.push_back(h);
  return out;
}

std::optional<std::pair<double, double>> sizeFrom(const std::string& text) {
  const size_t x = text.find_first_of("xX");
  if (x == std::string::npos) return std::nullopt;
  const auto number = [](std::string_view part) -> std::optional<double> {
    double value = 0;
    const auto [end, problem] = std::from_chars(part.data(), part.data() + part.size(), value);
    if (problem != std::errc() || end != part.data() + part.size()) return std::nullopt;
    return value;
  };
  const auto w = number(std::string_view(text).substr(0, x)),
             h = number(std::string_view(text).substr(x + 1));
  if (!w || !h) return std::nullopt;
  return std::pair(*w, *h);
}

Hoop hoopFor(const std::vector<Hoop>& hoops, const std::string& text) {
  std::string known;
  for (const Hoop& h : hoops) {
    if (h.id == text) return h;
    known += (known.empty() ? "" : ", ") + h.id;
  }
  if (const auto size = sizeFrom(text)) {
    const auto [w, h] = *size;
    if (!(w > 0) || !(h > 0) || !(w <= 100000) || !(h <= 100000))
      throw Error("a field of " + text + " mm cannot be sewn in", "hoop",
                  "give width and height over 0");
    Hoop hoop;
    hoop.id = text;
    hoop.name = text + " mm";
    hoop.field = {w, h, HoopShape::Rectangle};
    return hoop;
  }
  throw Error("no hoop is called \"" + text + "\"", "hoop",
              "use a field like 200x140, or one of: " + known);
}

}  // namespace rt
