#include "item_list.h"

#include <array>
#include <set>

#include "error.h"
#include "json_reading.h"

namespace rt {
namespace {

constexpr double kLargest_mm = 20'000;

template <class Choice, size_t N>
Choice choiceIn(const Json& object, const char* key,
                const std::array<std::pair<const char*, Choice>, N>& choices,
                const std::string& where) {
  const std::string word = textIn(object, key, where);
  std::string known;
  for (const auto& [name, choice] : choices) {
    if (word == name) return choice;
    known += (known.empty() ? "" : ", ") + std::string(name);
  }
  throw Error("\"" + word + "\" is no " + key, where, "give one of: " + known);
}

/// One figure a size, or one for all; over `least`.
std::vector<double> bySize(const Json& object, const char* key, size_t sizes, double least,
                           const std::string& where) {
  std::vector<double> out;
  for (const Json& v : member(object, key, where)) {
    const double mm = v.is_number() ? v.get<double>() : NAN;
    if (!(mm >= least && mm <= kLargest_mm))
      throw Error(std::string(key) + " has a figure that is none", where, "give mm");
    out.push_back(mm);
  }
  if (out.size() != 1 && out.size() != sizes)
    throw Error(std::string(key) + " has " + std::to_string(out.size()) + " figures for " +
                    std::to_string(sizes) + " sizes",
                where, "give one for each size, or one for all");
  return out;
}

ItemEdge edgeFrom(const Json& o, const std::string& where) {
  ItemEdge e;
  e.name = textIn(o, "name", where);
  e.kind = choiceIn(
      o, "kind",
      std::array{std::pair{"keep-out", ZoneKind::KeepOut}, std::pair{"thick", ZoneKind::Thick}},
      where);
  e.side = choiceIn(o, "side",
                    std::array{std::pair{"left", Side::Left}, std::pair{"right", Side::Right},
                               std::pair{"top", Side::Top}, std::pair{"bottom", Side::Bottom}},
                    where);
  e.gap_mm = numberIn(o, "gap_mm", where);
  e.depth_mm = numberIn(o, "depth_mm", where);
  e.layers = static_cast<int>(numberOr(o, "layers", 2, where));
  if (!(e.gap_mm >= 0 && e.depth_mm > 0 && e.layers >= 1 && e.layers <= 100))
    throw Error("edge " + e.name + " is none", where,
                "give a gap of 0 or more, a depth over 0 and 1 to 100 layers");
  return e;
}

ItemPlace placeFrom(const Json& o, size_t sizes, const std::string& item) {
  ItemPlace p;
  p.id = textIn(o, "id", item);
  const std::string where = item + " place " + p.id;
  p.name = textIn(o, "name", where);
  p.reason = textIn(o, "reason", where);
  p.width_mm = bySize(o, "width_mm", sizes, 1, where);
  p.height_mm = bySize(o, "height_mm", sizes, 1, where);
  for (const Json& m : member(o, "measures", where))
    p.measures.push_back({textIn(m, "what", where), bySize(m, "mm", sizes, 0, where)});
  for (const Json& e : member(o, "edges", where)) p.edges.push_back(edgeFrom(e, where));
  p.floated = choiceIn(o, "held",
                       std::array{std::pair{"floated", true}, std::pair{"hooped", false}}, where);
  p.held_reason = textIn(o, "held_reason", where);
  return p;
}

}  // namespace

std::vector<Item> readItems(const std::filesystem::path& path) {
  const Json root = readJson(path);
  const std::string file = path.filename().string();
  std::vector<Item> out;
  std::set<std::string> ids;
  for (const Json& o : member(root, "items", file)) {
    Item item;
    item.id = textIn(o, "id", file);
    const std::string where = file + " item " + item.id;
    if (!ids.insert(item.id).second)
      throw Error("the item \"" + item.id + "\" is there twice", file, "name each item once");
    item.name = textIn(o, "name", where);
    item.fabric = textIn(o, "fabric", where);
    for (const Json& size : member(o, "sizes", where)) {
      if (!size.is_string()) throw Error("a size has no name", where, "give sizes as texts");
      item.sizes.push_back(size.get<std::string>());
    }
    if (item.sizes.empty()) throw Error("it has no size", where, "give one at least");
    for (const Json& p : member(o, "places", where))
      item.places.push_back(placeFrom(p, item.sizes.size(), where));
    out.push_back(std::move(item));
  }
  return out;
}

std::map<std::string, std::vector<Advice>> readAdvice(const std::filesystem::path& path) {
  const Json root = readJson(path);
  const std::string file = path.filename().string();
  std::map<std::string, std::vector<Advice>> out;
  for (const auto& [fabric, list] : member(root, "fabrics", file).items())
    for (const Json& a : list) {
      const std::string where = file + " fabric " + fabric;
      out[fabric].push_back(
          {textIn(a, "what", where), textIn(a, "choice", where), textIn(a, "why", where)});
    }
  return out;
}

}  // namespace rt
