#include "exchange.h"

#include <algorithm>
#include <fstream>
#include <set>
#include <sstream>

#include "csv_table.h"
#include "error.h"
#include "file_io.h"
#include "file_limits.h"
#include "json_reading.h"
#include "plan_words.h"
#include "tags_json.h"

namespace rt {
namespace {

std::string cut(const std::string& text) {
  return text.substr(0, 40);
}

double positive(const Json& v, const std::string& what, const std::string& where) {
  if (!v.is_number() || !(v.get<double>() > 0) || !(v.get<double>() <= kFarthest_mm))
    throw Error(what + " must be a number over 0", where, "give it in mm");
  return v.get<double>();
}

}  // namespace

Json parseJson(const std::string& text, const std::string& where) {
  try {
    return Json::parse(text);
  } catch (const Json::exception& problem) {
    throw Error(std::string("this is not JSON: ") + problem.what(), where, "mend the file");
  }
}

Json readJson(const std::filesystem::path& path) {
  return parseJson(readFile(path), path.string());
}

const Json& member(const Json& object, const char* key, const std::string& where) {
  if (!object.is_object() || !object.contains(key))
    throw Error(std::string("\"") + key + "\" is missing", where, "add it");
  return object[key];
}

double numberIn(const Json& object, const char* key, const std::string& where) {
  const Json& v = member(object, key, where);
  if (!v.is_number() || !(std::abs(v.get<double>()) <= kFarthest_mm))
    throw Error(std::string("\"") + key + "\" is not a number within 100,000", where,
                "write a plain decimal");
  return v.get<double>();
}

double numberOr(const Json& object, const char* key, double otherwise, const std::string& where) {
  return object.contains(key) ? numberIn(object, key, where) : otherwise;
}

std::string textIn(const Json& object, const char* key, const std::string& where) {
  const Json& v = member(object, key, where);
  if (!v.is_string())
    throw Error(std::string("\"") + key + "\" is not text", where, "put it in quotes");
  return v.get<std::string>();
}

AlignmentSetup readAlignmentSetup(const std::filesystem::path& path) {
  const Json root = readJson(path);
  const std::string where = path.string();
  AlignmentSetup out;
  const Json& hoop = member(root, "hoop", where);
  const Json& field = member(hoop, "field_mm", where + " hoop");
  if (!field.is_array() || field.size() != 2)
    throw Error("field_mm must be [width, height]", where + " hoop", "measure the stitching field");
  out.field.width_mm = positive(field[0], "field_mm width", where + " hoop");
  out.field.height_mm = positive(field[1], "field_mm height", where + " hoop");
  const std::string shape = hoop.contains("shape") ? textIn(hoop, "shape", where + " hoop") : "";
  out.field.shape = shape == "oval" ? HoopShape::Oval : HoopShape::Rectangle;
  if (root.contains("tolerance_mm"))
    out.tolerance_mm = positive(root["tolerance_mm"], "tolerance_mm", where);
  if (root.contains("layout_mm")) {
    const Json& size = root["layout_mm"];
    if (!size.is_array() || size.size() != 2)
      throw Error("layout_mm must be [width, height]", where, "give the layout's size");
    out.layout_width_mm = positive(size[0], "layout_mm width", where);
    out.layout_height_mm = positive(size[1], "layout_mm height", where);
  }
  return out;
}

namespace {

double sizeIn(const Json& object, const char* key, double otherwise, const std::string& where) {
  return object.contains(key) ? positive(object[key], key, where) : otherwise;
}

Point placeIn(const Json& object, const char* key, const std::string& where) {
  const Json& p = member(object, key, where);
  if (!p.is_array() || p.size() != 2 || !p[0].is_number() || !p[1].is_number())
    throw Error(std::string(key) + " is not [x, y]", where, "give two numbers");
  return {p[0].get<double>(), p[1].get<double>()};
}

CrossPlace crossIn(const Json& c, const std::string& where) {
  CrossPlace out;
  out.name = textIn(c, "name", where);
  out.layout = {numberIn(c, "x_mm", where), numberIn(c, "y_mm", where)};
  if (c.contains("at_px") && !c["at_px"].is_null()) {
    out.at_px = placeIn(c, "at_px", where);
  }
  return out;
}

SewnLinePlace lineIn(const Json& line, const std::string& where) {
  SewnLinePlace out;
  out.knot_name = textIn(line, "name", where);
  out.end_name = out.knot_name + " end";
  out.knot = placeIn(line, "knot_mm", where);
  out.end = placeIn(line, "end_mm", where);
  if (line.contains("knot_px") != line.contains("end_px"))
    throw Error("knot_px and end_px go together", where, "give both or none");
  if (line.contains("knot_px")) {
    out.knot_px = placeIn(line, "knot_px", where);
    out.end_px = placeIn(line, "end_px", where);
  }
  if (distance(out.knot, out.end) < HoopingRule{}.marks_apart_mm)
    throw Error("the line \"" + cut(out.knot_name) + "\" is too short to turn by", where,
                "sew it at least 25 mm long");
  return out;
}

}  // namespace

PhotoSetup readPhotoSetup(const std::filesystem::path& path) {
  PhotoSetup out;
  out.base = readAlignmentSetup(path);
  const Json root = readJson(path);
  const std::string where = path.string();
  const Json& hoop = member(root, "hoop", where);
  std::set<int> ids;
  out.hoop_tag_mm = sizeIn(hoop, "tag_size_mm", out.hoop_tag_mm, where + " hoop");
  out.tag_height_mm = numberOr(hoop, "tag_height_mm", 0, where + " hoop");
  out.hoop_tags = tagsFrom(hoop, "tags", where + " hoop", ids);
  if (out.hoop_tags.empty())
    throw Error("the hoop has no tags", where + " hoop", "list its tags with their places");
  out.cloth_tag_mm = sizeIn(root, "cloth_tag_size_mm", out.cloth_tag_mm, where);
  out.cloth_tags = tagsFrom(root, "cloth_tags", where, ids);
  std::set<std::string> names;
  for (const Json& c : root.value("crosses", Json::array())) {
    out.crosses.push_back(crossIn(c, where + " crosses"));
    if (!names.insert(out.crosses.back().name).second)
      throw Error("the cross \"" + cut(out.crosses.back().name) + "\" is listed twice", where,
                  "name each cross once");
  }
  for (const Json& line : root.value("lines", Json::array())) {
    out.lines.push_back(lineIn(line, where + " lines"));
    if (!names.insert(out.lines.back().knot_name).second)
      throw Error("the line \"" + cut(out.lines.back().knot_name) + "\" is listed twice", where,
                  "name each line and cross once");
  }
  return out;
}

std::vector<Mark> readNeedlePoints(const std::filesystem::path& path, double error_mm) {
  const CsvTable table(path, {"name", "layout_x_mm", "layout_y_mm", "hoop_x_mm", "hoop_y_mm"});
  std::vector<Mark> marks;
  std::set<std::string> names;
  for (size_t row = 0; row < table.rows(); ++row) {
    Mark m;
    m.error_mm = error_mm;
    m.id = table.text(row, "name");
    m.layout = {table.number(row, "layout_x_mm"), table.number(row, "layout_y_mm")};
    m.hoop = {table.number(row, "hoop_x_mm"), table.number(row, "hoop_y_mm")};
    if (!names.insert(m.id).second)
      throw Error("the mark \"" + cut(m.id) + "\" is there twice", table.where(row),
                  "name each mark once");
    marks.push_back(m);
  }
  if (marks.empty()) throw Error("there are no marks", path.string(), "add at least two rows");
  return marks;
}

std::vector<Zone> readZones(const std::filesystem::path& path) {
  const Json root = readJson(path);
  std::vector<Zone> zones;
  const Json& list = member(root, "zones", path.string());
  if (!list.is_array()) throw Error("\"zones\" is not a list", path.string(), "write [ … ]");
  for (const Json& z : list) {
    Zone zone;
    std::string where = path.string() + " zone " + std::to_string(zones.size() + 1);
    zone.name = z.is_object() && z.contains("name") ? textIn(z, "name", where)
                                                    : std::to_string(zones.size() + 1);
    const std::string kind = textIn(z, "kind", where);
    if (kind != "thick" && kind != "keep-out")
      throw Error("unknown kind \"" + cut(kind) + "\"", where, "use thick or keep-out");
    zone.kind = kind == "thick" ? ZoneKind::Thick : ZoneKind::KeepOut;
    const Json& polygon = member(z, "polygon_mm", where);
    if (!polygon.is_array() || polygon.size() < 3)
      throw Error("polygon_mm needs three points or more", where, "list [x, y] pairs");
    for (const Json& p : polygon) {
      if (!p.is_array() || p.size() != 2 || !p[0].is_number() || !p[1].is_number() ||
          !(std::abs(p[0].get<double>()) <= kFarthest_mm) ||
          !(std::abs(p[1].get<double>()) <= kFarthest_mm))
        throw Error("a point of polygon_mm is not [x, y]", where,
                    "give two numbers within 100,000 mm");
      zone.polygon_mm.push_back({p[0].get<double>(), p[1].get<double>()});
    }
    const double layers = numberOr(z, "layers", 2, where);
    if (layers < 1 || layers != std::floor(layers))
      throw Error("layers must be a whole number from 1", where, "count the layers of cloth");
    zone.layers = static_cast<int>(layers);
    zone.thickness_mm = numberOr(z, "thickness_mm", 0, where);
    zones.push_back(std::move(zone));
  }
  return zones;
}

namespace {

Json marksJson(const Hooping& h) {
  Json marks = Json::array();
  for (const PlanMark& m : h.marks)
    marks.push_back({{"id", m.id}, {"kind", m.kind}, {"x_mm", m.at.x}, {"y_mm", m.at.y}});
  return marks;
}

/// Width and height as the machine sees them.
Json fieldJson(const PlacedField& f) {
  const bool across = f.turn_deg % 180 != 0;
  return {across ? f.box.height() : f.box.width(), across ? f.box.width() : f.box.height()};
}

Json settingsJson(const Hooping& h) {
  Json settings = Json::array();
  for (const PlanSetting& s : h.settings) {
    const Point c = s.field.box.centre();
    settings.push_back({{"index", s.index},
                        {"centre_mm", {c.x, c.y}},
                        {"turn_deg", s.field.turn_deg},
                        {"stitches", s.stitches},
                        {"thread_length_mm", s.thread_mm},
                        {"file", settingFile(h, s)}});
  }
  return settings;
}

Json seamsJson(const HoopingPlan& plan) {
  Json seams = Json::array();
  for (const Seam& s : plan.seams)
    seams.push_back({{"first", s.first},
                     {"second", s.second},
                     {"first_setting", s.first_setting},
                     {"second_setting", s.second_setting},
                     {"at_mm", {s.at.x, s.at.y}},
                     {"error_mm", s.error_mm}});
  return seams;
}

Json cutsJson(const HoopingPlan& plan) {
  Json cuts = Json::array();
  for (const Cutting& c : plan.cuts)
    cuts.push_back({{"piece", c.what},
                    {"first", c.first},
                    {"second", c.second},
                    {"first_setting", c.first_setting},
                    {"second_setting", c.second_setting},
                    {"stitches", c.stitches},
                    {"length_mm", c.length_mm},
                    {"at_mm", {c.at.x, c.at.y}}});
  return cuts;
}

}  // namespace

std::string settingFile(const Hooping& hooping, const PlanSetting& setting) {
  const std::string number = std::to_string(hooping.index);
  return "hooping-" + number +
         (hooping.settings.size() > 1 ? "-setting-" + std::to_string(setting.index) : "") +
         ".stitches.csv";
}

std::string planJson(const HoopingPlan& plan) {
  Json hoopings = Json::array();
  for (const Hooping& h : plan.hoopings) {
    const PlacedField& field = h.settings.front().field;
    const Point c = field.box.centre();
    hoopings.push_back({{"index", h.index},
                        {"hoop", h.hoop_id},
                        {"centre_mm", {c.x, c.y}},
                        {"turn_deg", field.turn_deg},
                        {"stitches", h.stitches()},
                        {"thread_length_mm", h.thread_mm()},
                        {"file", settingFile(h, h.settings.front())},
                        {"field_mm", fieldJson(field)},
                        {"shape", field.shape == HoopShape::Oval ? "oval" : "rectangle"},
                        {"settings", settingsJson(h)},
                        {"marks", marksJson(h)},
                        {"predicted_error_mm", h.predicted_error_mm}});
  }
  Json warnings = Json::array();
  for (const PlanDoubt& d : plan.doubts) warnings.push_back(inWords(d));
  return Json{{"hoopings", hoopings},
              {"lower_bound", plan.lower_bound},
              {"crossings", plan.crossings},
              {"cut_stitches", plan.cut_stitches},
              {"cuts", cutsJson(plan)},
              {"seams", seamsJson(plan)},
              {"worst_seam_error_mm", plan.worst_seam_error_mm},
              {"interlock_mm", plan.interlock_mm},
              {"plain_grid",
               {{"hoopings", plan.plain_grid.hoopings}, {"crossings", plan.plain_grid.crossings}}},
              {"warnings", warnings}}
      .dump(2);
}

}  // namespace rt
