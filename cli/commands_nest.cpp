// nest
#include "commands.h"
#include "error.h"
#include "length.h"
#include "nest.h"
#include "nest_list.h"
#include "shop_data.h"

namespace rt::cli {
namespace {

struct NestWords {
  std::string piece, list, hoop, shelf;
  int count = 0;
  double gap = 0;
  bool turn = false;
};

/// `40x25` as a size in mm.
NestKind sizeNamed(const std::string& text) {
  const auto size = sizeFrom(text);
  if (!size)
    throw CLI::ValidationError("--piece", "\"" + text + "\" is no size; write it like 40x25");
  return {"", size->first, size->second, 1};
}

Json placeJson(const NestPlace& p) {
  return {{"x_mm", p.box.left}, {"y_mm", p.box.top}, {"turned", p.turned}};
}

Json equal(const NestKind& kind, int count, const Hoop& hoop, const NestOptions& options) {
  const std::vector<NestPlace> places = nestEqual(kind, hoop, options);
  const auto per = static_cast<int>(places.size());
  const int hoopings = (count + per - 1) / per;
  Json positions = Json::array();
  for (const NestPlace& p : places) positions.push_back(placeJson(p));
  return {{"per_hooping", per},
          {"hoopings", hoopings},
          {"positions", positions},
          {"field_use", fieldUse(places, hoop)},
          {"cloth_mm2", clothOf_mm2(hoop) * hoopings}};
}

Json mixed(const std::vector<NestKind>& kinds, const Hoop& hoop, const NestOptions& options) {
  const NestedBatch batch = nestMixed(kinds, hoop, options);
  Json hoopings = Json::array();
  for (const auto& places : batch.hoopings) {
    Json pieces = Json::array();
    for (const NestPlace& p : places) {
      Json one = placeJson(p);
      one["name"] = kinds[p.kind].name;
      pieces.push_back(std::move(one));
    }
    hoopings.push_back({{"pieces", pieces}, {"field_use", fieldUse(places, hoop)}});
  }
  return {{"hoopings", hoopings},
          {"lower_bound", batch.lower_bound},
          {"cloth_mm2", clothOf_mm2(hoop) * static_cast<double>(batch.hoopings.size())}};
}

Json nestCommand(const NestWords& words, const Session& session) {
  std::vector<Hoop> known = session.bench().shop.hoops;
  if (!words.shelf.empty()) known = joinedShelf(readShelf(words.shelf), known);
  const Hoop hoop = hoopFor(known, words.hoop);
  NestOptions options;
  options.gap_mm = words.gap;
  options.turn = words.turn;
  if (!words.list.empty()) return mixed(readNestList(words.list), hoop, options);
  if (words.count < 1)
    throw Error("a count of " + std::to_string(words.count) + " is nothing to nest", "--count",
                "give 1 or more");
  return equal(sizeNamed(words.piece), words.count, hoop, options);
}

}  // namespace

void addNest(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "nest", "Lay the pieces of a batch into hoopings");
  auto w = std::make_shared<NestWords>();
  auto* piece = c->add_option("--piece", w->piece, "Size of equal pieces, WxH in mm");
  auto* count = c->add_option("--count", w->count, "How many of them")->needs(piece);
  piece->needs(count);
  c->add_option("--list", w->list, "Mixture: name,width_mm,height_mm,count as CSV")
      ->excludes(piece);
  c->add_option("--hoop", w->hoop, "Hoop id or field WxH in mm")->required();
  c->add_option("--shelf", w->shelf, "Frames as measured, JSON");
  c->add_option("--gap", w->gap, "Between pieces, mm");
  c->add_flag("--turn", w->turn, "Pieces may be turned by 90°");
  c->callback([&session, w] {
    if (w->piece.empty() && w->list.empty()) throw CLI::RequiredError("--piece or --list");
    if (!w->piece.empty()) sizeNamed(w->piece);
    session.run = [&session, w] { return nestCommand(*w, session); };
  });
}

}  // namespace rt::cli
