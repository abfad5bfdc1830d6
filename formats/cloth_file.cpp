#include "cloth_file.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <set>

#include "csv_table.h"
#include "error.h"
#include "json_reading.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kPoint_mm = 0.05;  // one sigma of a place measured by hand under a glass
constexpr int kMostLearned = 1'000'000;

ClothValue valueFrom(const ClothFigureInfo& info, const Json& value, const Json& sigma,
                     const std::string& where) {
  const std::string name(info.name);
  if (!value.is_number() || !sigma.is_number() || !std::isfinite(value.get<double>()) ||
      !std::isfinite(sigma.get<double>()))
    throw Error(name + " is not a number with its sigma", where, "give plain decimals");
  const ClothValue v{value.get<double>(), sigma.get<double>()};
  if (!(v.value >= info.least && v.value <= info.most))
    throw Error(name + " is " + formatNumber(v.value, 4), where,
                "give " + formatNumber(info.least, 4) + " to " + formatNumber(info.most, 4));
  if (!(v.sigma > 0 && v.sigma <= 1000))
    throw Error("the sigma of " + name + " is " + formatNumber(v.sigma, 4), where,
                "give more than 0");
  return v;
}

const Json& startingOf(const Json& all, const std::string& fabric, const std::string& where) {
  std::string known;
  for (const Json& f : member(all, "fabrics", where)) {
    const std::string id = textIn(f, "id", where);
    if (id == fabric) return f;
    known += (known.empty() ? "" : ", ") + id;
  }
  throw Error("there are no starting values for the fabric \"" + fabric.substr(0, 60) + "\"",
              "--fabric", "give one of " + known);
}

void takeParameters(ClothKnown& known, const Json& list, const std::string& where) {
  if (!list.is_array()) throw Error("parameters must be a list", where, "give [ … ]");
  std::set<std::string> seen;
  for (const Json& p : list) {
    if (!p.is_object()) throw Error("a parameter must be an object", where, "give { … }");
    const std::string name = textIn(p, "name", where);
    if (!seen.insert(name).second)
      throw Error("the parameter \"" + name.substr(0, 60) + "\" is there twice", where,
                  "leave one of them out");
    for (const ClothFigureInfo& info : clothFigures())
      if (info.name == name)
        known.law.at(info.figure) =
            valueFrom(info, member(p, "value", where), member(p, "sigma", where), where);
  }
}

/// Enough digits that a figure is the same when it is read again, no more than tell something.
double figure(double v) {
  if (v == 0) return 0;
  const double scale = std::pow(10, 6 - std::ceil(std::log10(std::abs(v))));
  return std::round(v * scale) / scale;
}

}  // namespace

ClothKnown startingCloth(const std::filesystem::path& data, const std::string& fabric) {
  const std::string where = "cloth.json";
  const Json all = readJson(data / where);
  const Json& own = startingOf(all, fabric, where);
  const Json& common = member(all, "all", where);
  ClothKnown known;
  known.fabric = fabric;
  known.backing = textIn(own, "backing", where), known.held = textIn(own, "held", where);
  for (const ClothFigureInfo& info : clothFigures()) {
    const std::string name(info.name);
    const Json& pair = member(own.contains(name) ? own : common, name.c_str(), where);
    if (!pair.is_array() || pair.size() != 2)
      throw Error(name + " must be [value, sigma]", where, "give two numbers");
    known.law.at(info.figure) = valueFrom(info, pair[0], pair[1], where);
  }
  return known;
}

ClothKnown readCloth(const std::filesystem::path& file, const std::filesystem::path& data) {
  const std::string where = file.string();
  const Json json = readJson(file);
  if (!json.is_object()) throw Error("this is no cloth", where, "give what cloth learn wrote");
  ClothKnown known = startingCloth(data, textIn(json, "fabric", where));
  if (json.contains("backing")) known.backing = textIn(json, "backing", where);
  if (json.contains("held")) known.held = textIn(json, "held", where);
  const double from = numberOr(json, "learned_from", 0, where);
  if (!(from >= 0 && from <= kMostLearned && from == std::floor(from)))
    throw Error("learned_from is no count", where, "give 0 or more swatches");
  known.learned_from = static_cast<int>(from);
  takeParameters(known, member(json, "parameters", where), where);
  return known;
}

std::string clothJson(const ClothKnown& known) {
  nlohmann::ordered_json parameters = nlohmann::ordered_json::array();
  for (const ClothFigureInfo& info : clothFigures()) {
    const ClothValue& v = known.law.figures[static_cast<size_t>(info.figure)];
    parameters.push_back({{"name", info.name},
                          {"value", figure(v.value)},
                          {"sigma", figure(v.sigma)},
                          {"unit", info.unit}});
  }
  return nlohmann::ordered_json{{"fabric", known.fabric},
                                {"backing", known.backing},
                                {"held", known.held},
                                {"learned_from", known.learned_from},
                                {"parameters", parameters}}
      .dump(1);
}

std::vector<ClothSight> readClothPoints(const std::filesystem::path& file, const Pattern& sewn,
                                        const Field& field) {
  const CsvTable table(file, {"row", "x_mm", "y_mm"});
  const std::vector<size_t> shapes = shapesOfRows(sewn);
  std::vector<ClothSight> sights;
  std::set<size_t> seen;
  for (size_t i = 0; i < table.rows(); ++i) {
    const std::string& text = table.text(i, "row");
    size_t number = 0;
    const auto [end, wrong] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (wrong != std::errc() || end != text.data() + text.size() || number < 1 ||
        number > sewn.stitches.size())
      throw Error("row \"" + text.substr(0, 40) + "\" is not in the list", table.where(i),
                  "give 1 to " + std::to_string(sewn.stitches.size()));
    const size_t row = number - 1;
    if (sewn.stitches[row].op != Op::Stitch)
      throw Error("row " + table.text(i, "row") + " is a " +
                      std::string(name(sewn.stitches[row].op)) + ", no needle point",
                  table.where(i), "give rows whose op is stitch");
    if (!seen.insert(row).second)
      throw Error("row " + table.text(i, "row") + " is there twice", table.where(i),
                  "give each once");
    const Point at{table.number(i, "x_mm"), table.number(i, "y_mm")};
    if (!field.contains(at))
      throw Error("the place " + formatNumber(at.x, 2) + ", " + formatNumber(at.y, 2) +
                      " lies beyond the frame",
                  table.where(i), "measure in the layout's frame, from its cross");
    sights.push_back({{row},
                      at - sewn.stitches[row].at,
                      {kPoint_mm * kPoint_mm, 0, kPoint_mm * kPoint_mm},
                      shapes[row]});
  }
  if (sights.empty())
    throw Error("there are no points", file.string(), "measure some needle points");
  return sights;
}

}  // namespace rt
