#include "shop_data.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "error.h"
#include "file_io.h"
#include "json_reading.h"
#include "shelf_json.h"
#include "thread_list.h"

namespace rt {
namespace {

Limit limitFrom(const Json& object, const char* key, const std::string& where) {
  const Json& pair = member(object, key, where);
  Limit limit{numberIn(pair, "check", where), numberIn(pair, "stop", where)};
  if (!(limit.check > 0) || !(limit.stop >= limit.check))
    throw Error(std::string(key) + " must have 0 < check ≤ stop", where, "mend the limits");
  return limit;
}

Fabric fabricFrom(const Json& object, const std::string& file) {
  Fabric f;
  f.id = textIn(object, "id", file);
  const std::string where = file + " fabric " + f.id;
  f.name = textIn(object, "name", where);
  f.density_mm_per_mm2 = limitFrom(object, "density_mm_per_mm2", where);
  f.holes_per_mm2 = limitFrom(object, "holes_per_mm2", where);
  if (object.contains("spacing_mm")) {
    f.spacing = {numberIn(object["spacing_mm"], "rows", where),
                 numberIn(object["spacing_mm"], "satin", where)};
    if (!(f.spacing.rows_mm >= 0.1) || !(f.spacing.satin_mm >= 0.1))
      throw Error("spacing_mm must be 0.1 or more", where, "mend the spacings");
  }
  f.pull_compensation_mm = numberIn(object, "pull_compensation_mm", where);
  f.least_column_mm = numberIn(object, "least_column_mm", where);
  f.thickness_mm = numberIn(object, "thickness_mm", where);
  f.backing = textIn(object, "backing", where);
  f.topper = object.value("topper", "");
  f.holes_tear = object.value("holes_tear", false);
  if (f.holes_tear && object.contains("perforation")) {
    const Json& p = object["perforation"];
    f.perforation.hole_distance_mm = numberIn(p, "hole_distance_mm", where);
    f.perforation.edge_distance_mm =
        numberOr(p, "edge_distance_mm", f.perforation.edge_distance_mm, where);
    f.perforation.length_mm = limitFrom(p, "length_mm", where);
  }
  return f;
}

TimeModel timeFrom(const Json& o, const std::string& where) {
  TimeModel t;
  t.stitches_per_minute = numberIn(o, "stitches_per_minute", where);
  t.long_from_mm = numberIn(o, "long_from_mm", where);
  t.slower_per_mm = numberIn(o, "slower_per_mm", where);
  t.jump_mm_per_s = numberIn(o, "jump_mm_per_s", where);
  t.jump_start_s = numberIn(o, "jump_start_s", where);
  t.trim_s = numberIn(o, "trim_s", where);
  t.colour_change_s = numberIn(o, "colour_change_s", where);
  t.needle_change_s = numberIn(o, "needle_change_s", where);
  t.stop_s = numberIn(o, "stop_s", where);
  return t;
}

LimitFactors factorsFrom(const Json& o, const std::string& where) {
  LimitFactors f{numberIn(o, "density", where), numberIn(o, "holes", where),
                 o.contains("spacing") ? numberIn(o, "spacing", where) : 1};
  if (!(f.density > 0) || !(f.holes > 0) || !(f.spacing > 0))
    throw Error("a factor must be over 0", where, "mend the factors");
  return f;
}

MaterialTable materialsFrom(const Json& o, const std::string& file) {
  MaterialTable t;
  t.source = textIn(o, "source", file);
  for (const Json& n : member(o, "needles", file))
    t.needles.emplace_back(numberIn(n, "size", file), factorsFrom(n, file + " needles"));
  for (const Json& n : member(o, "threads", file))
    t.threads.emplace_back(numberIn(n, "weight", file), factorsFrom(n, file + " threads"));
  for (auto* list : {&t.needles, &t.threads})
    std::sort(list->begin(), list->end(),
              [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const Json& b : member(o, "backings", file))
    t.backings.emplace_back(textIn(b, "name", file), factorsFrom(b, file + " backings"));
  t.topper = factorsFrom(member(o, "topper", file), file + " topper");
  return t;
}

/// Figures that only have to be over 0.
void readFigures(const Json& o, const std::string& file, ShopPractice& p) {
  SewingRules& s = p.sewing;
  HoopingRule& h = p.hooping;
  const std::pair<const char*, double*> figures[] = {
      {"tie_start_mm", &s.ties.start_mm},
      {"tie_end_mm", &s.ties.end_mm},
      {"column_lap_mm", &s.columns.lap_mm},
      {"stroke_lap_mm", &s.columns.stroke_lap_mm},
      {"ring_lap_mm", &s.columns.ring_lap_mm},
      {"open_edge", &s.columns.open_edge},
      {"crowded", &s.columns.crowded},
      {"stand_back", &s.columns.stand_back},
      {"most_layers", &s.columns.most_layers},
      {"stand_back_from_mm", &s.columns.stand_back_from_mm},
      {"two_runs_from_mm", &s.columns.two_runs_from_mm},
      {"bobbin_share", &s.bobbin_share},
      {"edge_room_mm", &h.edge_room_mm},
      {"least_interlock_mm", &h.least_interlock_mm},
      {"meet_mm", &h.meet_mm},
      {"mark_room_mm", &h.mark_room_mm},
      {"marks_apart_mm", &h.marks_apart_mm},
      {"little_room_mm", &h.little_room_mm},
      {"cut_edge_mm", &h.cut.path_edge_mm},
      {"underlay_beyond_mm", &h.cut.underlay_beyond_mm},
      {"cut_room_mm", &h.cut.room_mm},
      {"cut_beside_mm", &h.cut.beside_mm},
      {"tag_error_mm", &p.marks.tag_mm},
      {"needle_error_mm", &p.marks.needle_mm},
      {"sewn_line_error_mm", &p.marks.sewn_line_mm},
      {"pinned_error_mm", &p.marks.pinned_mm},
      {"stretch_check", &p.shape.stretch_check},
      {"stretch_rehoop", &p.shape.stretch_rehoop},
      {"square_check_deg", &p.shape.square_check_deg},
      {"mark_off_part", &p.shape.mark_off_part},
      {"thin_under_letters", &p.thin_under_letters},
      {"baste_away_mm", &p.baste_away_mm},
      {"baste_stitch_mm", &p.baste_stitch_mm},
      {"outline_stitch_mm", &p.outline_stitch_mm},
      {"tack_inside_mm", &p.tack_inside_mm},
      {"monogram_larger", &p.monogram_larger},
      {"monogram_room_mm", &p.monogram_room_mm},
      {"monogram_frame_mm", &p.monogram_frame_mm},
      {"learning_most_step", &p.learning.most_step},
      {"hooping_s", &p.hooping_s},
      {"photo_true_mm", &p.photo_true_mm},
      {"minutes_far_off", &p.minutes_far_off}};
  for (const auto& [key, figure] : figures) {
    *figure = numberIn(o, key, file);
    if (!(*figure > 0)) throw Error(std::string(key) + " must be over 0", file, "mend it");
  }
}

ShopPractice practiceFrom(const Json& o, const std::string& file) {
  ShopPractice p;
  p.source = textIn(o, "source", file);
  readFigures(o, file, p);
  const SewingRules& s = p.sewing;
  auto whole = [&](const char* key) {
    const double v = numberIn(o, key, file);
    if (!(v >= 1) || !(v <= 1000))
      throw Error(std::string(key) + " must be 1 to 1000", file, "mend it");
    return static_cast<int>(v);
  };
  p.learning.least_outcomes = static_cast<size_t>(whole("learning_least_outcomes"));
  p.learning.bad_passed = whole("learning_bad_passed");
  p.learning.good_stopped = whole("learning_good_stopped");
  p.least_runs = static_cast<size_t>(whole("time_least_runs"));
  p.scoring = {whole("score_sewn_well"), whole("score_nearness"), whole("score_spared"),
               whole("score_cautious")};
  p.resume_overlap_stitches = static_cast<size_t>(whole("resume_overlap_stitches"));
  if (!(s.ties.start_mm <= 3) || !(s.ties.end_mm <= 3) || !(s.bobbin_share < 1) ||
      !(s.columns.stand_back < 1) || !(p.shape.stretch_rehoop >= p.shape.stretch_check))
    throw Error(
        "a tie is up to 3 mm, the bobbin gives less than the top, points stand back by less "
        "than the width, cloth is hooped again later than it is checked",
        file, "mend tie_…, bobbin_share, stand_back or stretch_…");
  if (!(p.learning.most_step < 1) || !(p.thin_under_letters >= 1))
    throw Error("a limit moves by less than all of itself, and rows are not thinned below 1", file,
                "mend learning_most_step or thin_under_letters");
  return p;
}

}  // namespace

ShopData readShopData(const std::filesystem::path& folder) {
  ShopData out;
  const Json fabrics = readJson(folder / "fabrics.json");
  out.limits_source = textIn(fabrics, "source", "fabrics.json");
  for (const Json& f : member(fabrics, "fabrics", "fabrics.json"))
    out.fabrics.push_back(fabricFrom(f, "fabrics.json"));
  const Json hoops = readJson(folder / "hoops.json");
  for (const Json& h : member(hoops, "hoops", "hoops.json"))
    out.hoops.push_back(hoopFrom(h, "hoops.json"));
  const Json time = readJson(folder / "time-model.json");
  out.time = timeFrom(time, "time-model.json");
  if (time.contains("bobbin_mm")) out.bobbin_mm = numberIn(time, "bobbin_mm", "time-model.json");
  if (std::filesystem::exists(folder / "materials.json"))
    out.materials = materialsFrom(readJson(folder / "materials.json"), "materials.json");
  if (std::filesystem::exists(folder / "practice.json"))
    out.practice = practiceFrom(readJson(folder / "practice.json"), "practice.json");
  if (std::filesystem::exists(folder / "threads.csv"))
    out.threads = readThreads(folder / "threads.csv");
  return out;
}

MonogramOptions monogramOptions(const ShopPractice& practice) {
  MonogramOptions o;
  o.centre_factor = practice.monogram_larger;
  o.room_mm = practice.monogram_room_mm;
  o.frame_mm = practice.monogram_frame_mm;
  return o;
}

ShopLimitTable readShopLimits(const std::filesystem::path& path) {
  ShopLimitTable out;
  if (!std::filesystem::exists(path)) return out;
  const Json root = readJson(path);
  for (const auto& [fabric, o] : member(root, "fabrics", path.string()).items()) {
    const std::string where = path.string() + " fabric " + fabric;
    out[fabric] = {limitFrom(o, "density_mm_per_mm2", where), limitFrom(o, "holes_per_mm2", where),
                   o.value("note", ""), o.value("least_column_mm", 0.0),
                   o.value("least_letter_mm", 0.0)};
    if (!(out[fabric].least_column_mm >= 0) || !(out[fabric].least_letter_mm >= 0))
      throw Error("a least size is below 0", where, "mend the limits");
  }
  return out;
}

void writeShopLimits(const std::filesystem::path& path, const ShopLimitTable& limits) {
  Json fabrics = Json::object();
  auto pair = [](const Limit& l) { return Json{{"check", l.check}, {"stop", l.stop}}; };
  for (const auto& [fabric, l] : limits)
    fabrics[fabric] = {{"density_mm_per_mm2", pair(l.density_mm_per_mm2)},
                       {"holes_per_mm2", pair(l.holes_per_mm2)},
                       {"note", l.note},
                       {"least_column_mm", l.least_column_mm},
                       {"least_letter_mm", l.least_letter_mm}};
  writeFile(path, Json{{"fabrics", fabrics}}.dump(1) + "\n");
}

std::vector<Fabric> withShopLimits(std::vector<Fabric> fabrics, const ShopLimitTable& limits) {
  for (Fabric& f : fabrics)
    if (const auto own = limits.find(f.id); own != limits.end()) {
      f.density_mm_per_mm2 = own->second.density_mm_per_mm2;
      f.holes_per_mm2 = own->second.holes_per_mm2;
      if (own->second.least_column_mm > 0) f.least_column_mm = own->second.least_column_mm;
      if (own->second.least_letter_mm > 0) f.least_letter_mm = own->second.least_letter_mm;
    }
  return fabrics;
}

}  // namespace rt
