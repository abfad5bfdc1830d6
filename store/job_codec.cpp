#include "job_codec.h"

#include <QByteArray>
#include <cmath>
#include <limits>
#include <set>

#include "error.h"
#include "json_text.h"
#include "pattern_bytes.h"

namespace rt {
namespace {

Json pointJson(Point p) {
  return {p.x, p.y};
}

Point pointFrom(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>()};
}

/// A whole number that its type can hold; anything else is an Error, never another number.
template <class T>
T wholeAt(const Json& j, const char* what) {
  const auto refuse = [&] {
    throw Error(std::string(what) + " is " + j.dump(-1, ' ', true).substr(0, 40) +
                    ", no number that is used there",
                "job file", "open another copy; the file was left as it is");
  };
  if (j.is_number_unsigned()) {
    const auto n = j.get<uint64_t>();
    if (n > static_cast<uint64_t>(std::numeric_limits<T>::max())) refuse();
    return static_cast<T>(n);
  }
  if (j.is_number_integer()) {
    const auto n = j.get<int64_t>();
    if (n < 0 && (std::is_unsigned_v<T> || n < static_cast<int64_t>(std::numeric_limits<T>::min())))
      refuse();
    return static_cast<T>(n);
  }
  // other writers of JSON say 2 as 2.0
  if (!j.is_number_float() || std::floor(j.get<double>()) != j.get<double>() ||
      std::abs(j.get<double>()) > 2e9 || (std::is_unsigned_v<T> && j.get<double>() < 0))
    refuse();
  return static_cast<T>(j.get<double>());
}
template <class T>
T whole(const Json& j, const char* key, T otherwise) {
  const auto it = j.find(key);
  return it == j.end() ? otherwise : wholeAt<T>(*it, key);
}
/// A choice of `many`, counted from 0; one of a newer program is the usual one.
int oneOf(int choice, int many, int usual) {
  return choice >= 0 && choice < many ? choice : usual;
}

Json pointsJson(const std::vector<Point>& points) {
  Json out = Json::array();
  for (Point p : points) out.push_back(pointJson(p));
  return out;
}

std::vector<Point> pointsFrom(const Json& j) {
  std::vector<Point> out;
  for (const Json& p : j) out.push_back(pointFrom(p));
  return out;
}

Json boxJson(const Box& b) {
  return {b.left, b.top, b.right, b.bottom};
}

Box boxFrom(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>(),
          j.at(3).get<double>()};
}

Json keyJson(const SettingKey& key) {
  return {key.plan, key.setting};
}

SettingKey keyFrom(const Json& j) {
  return {j.at(0).get<std::string>(), j.at(1).get<std::string>()};
}

}  // namespace

std::string briefJson(const Brief& b) {
  return Json{{"item", b.item},
              {"order_text", b.order_text},
              {"customer", b.customer},
              {"fabric", b.fabric},
              {"holding", b.holding == Holding::Floated ? "floated" : "hooped"},
              {"backing", b.backing},
              {"topper", b.topper},
              {"needle_nm", b.needle_nm},
              {"thread_weight", b.thread_weight},
              {"place_width_mm", b.place_width_mm},
              {"place_height_mm", b.place_height_mm},
              {"centre_line_deg", b.centre_line_deg}}
      .dump();
}

Brief briefFrom(const std::string& json) {
  const Json j = parsedPart(json);
  Brief b;
  b.item = j.value("item", "");
  b.order_text = j.value("order_text", "");
  b.customer = j.value("customer", "");
  b.fabric = j.value("fabric", b.fabric);
  b.holding = j.value("holding", "hooped") == "floated" ? Holding::Floated : Holding::Hooped;
  b.backing = j.value("backing", b.backing);
  b.topper = j.value("topper", false);
  b.needle_nm = whole(j, "needle_nm", b.needle_nm);
  b.thread_weight = whole(j, "thread_weight", b.thread_weight);
  b.place_width_mm = j.value("place_width_mm", b.place_width_mm);
  b.place_height_mm = j.value("place_height_mm", b.place_height_mm);
  b.centre_line_deg = j.value("centre_line_deg", 0.0);
  return b;
}

std::string placementJson(const Placement& p) {
  return Json{{"at", pointJson(p.at)},
              {"turn_deg", p.turn_deg},
              {"scale", {p.scale_x, p.scale_y}},
              {"mirrored", p.mirrored}}
      .dump();
}

Placement placementFrom(const std::string& json) {
  const Json j = parsedPart(json);
  return {pointFrom(j.at("at")), j.at("turn_deg").get<double>(), j.at("scale").at(0).get<double>(),
          j.at("scale").at(1).get<double>(), j.at("mirrored").get<bool>()};
}

namespace {

Json orNull(const std::optional<double>& value) {
  return value ? Json(*value) : Json(nullptr);
}

std::optional<double> perhaps(const Json& j, const char* key) {
  if (!j.contains(key) || j[key].is_null()) return std::nullopt;
  return j[key].get<double>();
}

Json curveJson(const MeasuredCurve& c) {
  return {{"given", static_cast<int>(c.given)},
          {"radius_mm", c.radius_mm},
          {"chord_mm", c.chord_mm},
          {"sagitta_mm", c.sagitta_mm},
          {"points_mm", pointsJson(c.points_mm)},
          {"clear_mm", orNull(c.clear_mm)}};
}

/// Files from before curves were kept have the baseline's radius alone.
MeasuredCurve curveFrom(const Json& j, double baseline_mm) {
  MeasuredCurve c;
  c.radius_mm = baseline_mm;
  if (!j.is_object()) return c;
  c.given = static_cast<MeasuredCurve::Given>(oneOf(whole(j, "given", 0), 3, 0));
  c.radius_mm = j.value("radius_mm", baseline_mm);
  c.chord_mm = j.value("chord_mm", 0.0);
  c.sagitta_mm = j.value("sagitta_mm", 0.0);
  if (j.contains("points_mm")) c.points_mm = pointsFrom(j["points_mm"]);
  c.clear_mm = perhaps(j, "clear_mm");
  return c;
}

Json swapsJson(const std::vector<ThreadSwap>& swaps) {
  Json out = Json::array();
  for (const ThreadSwap& s : swaps) out.push_back({{"drawn", s.drawn.rgb}, {"sewn", s.sewn.rgb}});
  return out;
}

}  // namespace

std::string sourceJson(const PieceSource& source) {
  if (const auto* a = std::get_if<ArtworkSource>(&source))
    return Json{{"kind", "artwork"},
                {"file", a->file},
                {"svg", a->svg},
                {"width_mm", a->width_mm},
                {"scale_x", a->scale_x},
                {"scale_y", a->scale_y},
                {"row_spacing_mm", orNull(a->row_spacing_mm)},
                {"satin_spacing_mm", orNull(a->satin_spacing_mm)},
                {"pull_mm", orNull(a->pull_mm)},
                {"stitch_length_mm", a->stitch_length_mm},
                {"angle_deg", orNull(a->angle_deg)},
                {"underlay", static_cast<int>(a->underlay)},
                {"threads", swapsJson(a->threads)}}
        .dump();
  if (const auto* t = std::get_if<TextSource>(&source))
    return Json{{"kind", "text"},
                {"text", t->text},
                {"face", t->face},
                {"height_mm", t->height_mm},
                {"arc_radius_mm", t->arc_radius_mm},
                {"inside", t->arc_side == ArcSide::Inside},
                {"gap_mm", t->gap_mm},
                {"gaps_mm", t->gaps_mm},
                {"line_spacing", t->line_spacing},
                {"stretch", t->stretch},
                {"curve", curveJson(t->curve)},
                {"spacing_mm", orNull(t->spacing_mm)},
                {"pull_mm", orNull(t->pull_mm)},
                {"colour", t->colour.rgb},
                {"monogram", t->monogram},
                {"frame", static_cast<int>(t->frame)}}
        .dump();
  const auto& stitches = std::get<StitchSource>(source);
  Json j{{"kind", "stitches"}, {"file", stitches.file}};
  if (stitches.bare) {
    j["bare"] = patternBytes(*stitches.bare).toBase64().toStdString();
    j["scale_x"] = stitches.scale_x;
    j["scale_y"] = stitches.scale_y;
    j["spacing_factor"] = stitches.spacing_factor;
  }
  return j.dump();
}

PieceSource sourceFrom(const std::string& json) {
  const Json j = parsedPart(json);
  const std::string kind = j.value("kind", "stitches");
  if (kind == "artwork") {
    ArtworkSource a;
    a.file = j.value("file", "");
    a.svg = j.value("svg", "");
    a.width_mm = j.value("width_mm", 0.0);
    a.scale_x = j.value("scale_x", 1.0);
    a.scale_y = j.value("scale_y", 1.0);
    a.row_spacing_mm = perhaps(j, "row_spacing_mm");
    a.satin_spacing_mm = perhaps(j, "satin_spacing_mm");
    a.pull_mm = perhaps(j, "pull_mm");
    a.stitch_length_mm = j.value("stitch_length_mm", a.stitch_length_mm);
    a.angle_deg = perhaps(j, "angle_deg");
    a.underlay = static_cast<Underlay>(oneOf(whole(j, "underlay", 1), 3, 1));
    for (const Json& s : j.value("threads", Json::array()))
      a.threads.push_back({{whole(s, "drawn", 0u)}, {whole(s, "sewn", 0u)}});
    return a;
  }
  if (kind == "text") {
    TextSource t;
    t.text = j.value("text", "");
    t.face = j.value("face", t.face);
    t.height_mm = j.value("height_mm", t.height_mm);
    t.arc_radius_mm = j.value("arc_radius_mm", 0.0);
    t.arc_side = j.value("inside", false) ? ArcSide::Inside : ArcSide::Outside;
    t.gap_mm = j.value("gap_mm", 0.0);
    t.gaps_mm = j.value("gaps_mm", std::vector<double>{});
    t.line_spacing = j.value("line_spacing", t.line_spacing);
    t.stretch = j.value("stretch", 1.0);
    t.curve = curveFrom(j.value("curve", Json()), t.arc_radius_mm);
    t.spacing_mm = perhaps(j, "spacing_mm");
    t.pull_mm = perhaps(j, "pull_mm");
    t.colour.rgb = whole(j, "colour", t.colour.rgb);
    t.monogram = j.value("monogram", false);
    t.frame = static_cast<MonogramFrame>(oneOf(whole(j, "frame", 1), 4, 1));
    return t;
  }
  StitchSource stitches{j.value("file", ""), nullptr, j.value("scale_x", 1.0),
                        j.value("scale_y", 1.0), j.value("spacing_factor", 1.0)};
  if (j.contains("bare"))
    stitches.bare = std::make_shared<const Pattern>(patternFrom(
        QByteArray::fromBase64(QByteArray::fromStdString(j["bare"].get<std::string>()))));
  return stitches;
}

std::string zoneJson(const Zone& z) {
  Json polygon = Json::array();
  for (Point p : z.polygon_mm) polygon.push_back(pointJson(p));
  return Json{{"name", z.name},
              {"keep_out", z.kind == ZoneKind::KeepOut},
              {"layers", z.layers},
              {"thickness_mm", z.thickness_mm},
              {"polygon", polygon}}
      .dump();
}

Zone zoneFrom(const std::string& json) {
  const Json z = parsedPart(json);
  Zone zone{z.value("name", ""),
            z.value("keep_out", false) ? ZoneKind::KeepOut : ZoneKind::Thick,
            {},
            whole(z, "layers", 2),
            z.value("thickness_mm", 0.0)};
  for (const Json& p : z.at("polygon")) zone.polygon_mm.push_back(pointFrom(p));
  return zone;
}

namespace {

/// Figures by name, each with its sigma: a program that knows others leaves those as they start.
Json clothJson(const ClothKnown& cloth) {
  Json figures = Json::object();
  for (const ClothFigureInfo& info : clothFigures()) {
    const ClothValue& v = cloth.law.figures[static_cast<size_t>(info.figure)];
    figures[std::string(info.name)] = {v.value, v.sigma};
  }
  return {{"fabric", cloth.fabric},
          {"backing", cloth.backing},
          {"held", cloth.held},
          {"learned_from", cloth.learned_from},
          {"figures", figures}};
}
ClothKnown clothFrom(const Json& j) {
  ClothKnown cloth;
  cloth.fabric = j.value("fabric", ""), cloth.backing = j.value("backing", "");
  cloth.held = j.value("held", "");
  cloth.learned_from = whole(j, "learned_from", 0);
  const Json& figures = j.at("figures");
  for (const ClothFigureInfo& info : clothFigures())
    if (const auto it = figures.find(info.name); it != figures.end())
      cloth.law.at(info.figure) = {it->at(0).get<double>(), it->at(1).get<double>()};
  return cloth;
}

}  // namespace

std::string sequenceJson(const SequenceSettings& s) {
  Json stops = Json::array(), colours = Json::array();
  for (const OperatorStop& stop : s.stops)
    stops.push_back(
        {{"piece", stop.piece}, {"note", stop.note}, {"blocks_before", stop.blocks_before}});
  for (Colour c : s.colours_by_hand) colours.push_back(c.rgb);
  Json out{{"fewest_colours", s.fewest_colours},
           {"hidden_margin_mm", s.hidden_margin_mm},
           {"needles", s.needles},
           {"shortest_travel", s.shortest_travel},
           {"thin_under_letters", s.thin_under_letters},
           {"colours_by_hand", colours},
           {"stops", stops}};
  if (s.cloth) out["cloth"] = clothJson(*s.cloth);
  return out.dump();
}

SequenceSettings sequenceFrom(const std::string& json) {
  const Json q = parsedPart(json);
  SequenceSettings s;
  s.fewest_colours = q.value("fewest_colours", false);
  s.hidden_margin_mm = q.value("hidden_margin_mm", 0.0);
  s.needles = whole(q, "needles", 1);
  s.shortest_travel = q.value("shortest_travel", false);
  s.thin_under_letters = q.value("thin_under_letters", 0.0);
  for (const Json& c : q.value("colours_by_hand", Json::array()))
    s.colours_by_hand.push_back({wholeAt<uint32_t>(c, "colour")});
  if (q.contains("cloth")) s.cloth = clothFrom(q.at("cloth"));
  for (const Json& stop : q.value("stops", Json::array()))
    s.stops.push_back(
        {whole(stop, "piece", 0), stop.value("note", ""), whole(stop, "blocks_before", 0)});
  return s;
}

std::string planSettingsJson(const PlanSettings& s) {
  Json pinned = Json::array();
  for (const PinnedFrame& p : s.pinned)
    pinned.push_back({{"hoop", p.hoop}, {"turn_deg", p.turn_deg}, {"origin", pointJson(p.origin)}});
  Json cuts = Json::array();
  for (const AskedCut& c : s.cuts) cuts.push_back({pointJson(c.from), pointJson(c.to)});
  Json order = Json::array();
  for (Point at : s.order_by_hand) order.push_back(pointJson(at));
  return Json{{"hoop", s.hoop},
              {"overlap_mm", s.overlap_mm},
              {"turn", s.turn},
              {"chain", s.style == TieStyle::Chain},
              {"more_hoops", s.more_hoops},
              {"from_end", s.order == SewingOrder::FromEnd},
              {"school", std::string(name(s.school))},
              {"keep", s.keep},
              {"pinned", pinned},
              {"cuts", cuts},
              {"order_by_hand", order}}
      .dump();
}

PlanSettings planSettingsFrom(const std::string& json) {
  const Json s = parsedPart(json);
  PlanSettings out;
  out.hoop = s.value("hoop", out.hoop);
  out.overlap_mm = s.value("overlap_mm", out.overlap_mm);
  out.turn = s.value("turn", false);
  out.style = s.value("chain", false) ? TieStyle::Chain : TieStyle::Star;
  out.more_hoops = s.value("more_hoops", std::vector<std::string>{});
  out.order = s.value("from_end", false) ? SewingOrder::FromEnd : SewingOrder::FromMiddle;
  for (MarkSchool school : kMarkSchools)
    if (s.value("school", "") == name(school)) out.school = school;
  out.keep = s.value("keep", std::vector<std::string>{});
  for (const Json& p : s.value("pinned", Json::array()))
    out.pinned.push_back(
        {p.at("hoop").get<std::string>(), whole(p, "turn_deg", 0), pointFrom(p.at("origin"))});
  for (const Json& c : s.value("cuts", Json::array()))
    out.cuts.push_back({pointFrom(c.at(0)), pointFrom(c.at(1))});
  for (const Json& at : s.value("order_by_hand", Json::array()))
    out.order_by_hand.push_back(pointFrom(at));
  return out;
}

std::string jobSettingsJson(const Job& job) {
  Json swatch = Json::array();
  for (const SwatchStep& s : job.swatch) swatch.push_back({s.row, s.step, s.value});
  return Json{{"tolerance_mm", job.tolerance_mm},
              {"swatch", swatch},
              {"proof_accepted", job.proof_accepted},
              {"next_piece_id", job.next_piece_id}}
      .dump();
}

void readJobSettings(const std::string& json, Job& job) {
  const Json j = parsedPart(json);
  job.tolerance_mm = j.value("tolerance_mm", 0.5);
  for (const Json& step : j.value("swatch", Json::array()))
    job.swatch.push_back({step.at(0).get<std::string>(), wholeAt<int>(step.at(1), "step"),
                          step.at(2).get<double>()});
  job.proof_accepted = j.value("proof_accepted", "");
  job.next_piece_id = whole(j, "next_piece_id", 1);
}

namespace {

Json placedFieldJson(const PlacedField& f) {
  return {{"box", boxJson(f.box)},
          {"turn_deg", f.turn_deg},
          {"shape", f.shape == HoopShape::Oval ? "oval" : "rectangle"}};
}
PlacedField placedFieldFrom(const Json& j) {
  return {boxFrom(j.at("box")), whole(j, "turn_deg", 0),
          j.value("shape", "rectangle") == "oval" ? HoopShape::Oval : HoopShape::Rectangle};
}

Json hoopingJson(const Hooping& h) {
  Json marks = Json::array(), settings = Json::array();
  for (const PlanMark& m : h.marks)
    marks.push_back({{"id", m.id}, {"kind", m.kind}, {"at", pointJson(m.at)}, {"clear", m.clear}});
  for (const PlanSetting& s : h.settings)
    settings.push_back({{"id", s.id},
                        {"field", placedFieldJson(s.field)},
                        {"stitches", s.stitches},
                        {"thread_mm", s.thread_mm}});
  return {{"id", h.id},
          {"index", h.index},
          {"hoop", h.hoop},
          {"hoop_id", h.hoop_id},
          {"turn_deg", h.turn_deg},
          {"origin", pointJson(h.origin)},
          {"settings", settings},
          {"predicted_error_mm", h.predicted_error_mm},
          {"marks", marks}};
}

/// Plans that were made before frames had settings say their one field at the hooping itself.
PlanSetting onlySetting(const Json& f, const Hooping& h) {
  PlanSetting s;
  s.id = h.id;
  s.field = {boxFrom(f.at("field")), h.turn_deg, HoopShape::Rectangle};
  s.stitches = whole(f, "stitches", size_t{0});
  s.thread_mm = f.value("thread_mm", 0.0);
  return s;
}

Hooping hoopingFrom(const Json& f) {
  Hooping h;
  h.id = f.at("id").get<std::string>();
  h.index = wholeAt<int>(f.at("index"), "index");
  h.hoop = whole(f, "hoop", 0);
  h.hoop_id = f.value("hoop_id", "");
  h.turn_deg = whole(f, "turn_deg", 0);
  h.predicted_error_mm = f.value("predicted_error_mm", 0.0);
  for (const Json& m : f.at("marks"))
    h.marks.push_back({m.at("id").get<std::string>(), m.value("kind", "cross"),
                       pointFrom(m.at("at")), m.value("clear", true)});
  if (!f.contains("settings")) h.settings.push_back(onlySetting(f, h));
  for (const Json& s : f.value("settings", Json::array())) {
    PlanSetting setting;
    setting.id = s.at("id").get<std::string>();
    setting.index = static_cast<int>(h.settings.size()) + 1;
    setting.field = placedFieldFrom(s.at("field"));
    setting.stitches = whole(s, "stitches", size_t{0});
    setting.thread_mm = s.value("thread_mm", 0.0);
    h.settings.push_back(std::move(setting));
  }
  h.origin = f.contains("origin") ? pointFrom(f.at("origin")) : h.settings.at(0).field.box.centre();
  return h;
}

Json seamJson(const Seam& s) {
  return {{"first", s.first},
          {"second", s.second},
          {"first_setting", s.first_setting},
          {"second_setting", s.second_setting},
          {"at", pointJson(s.at)},
          {"meets", s.meets},
          {"error_mm", s.error_mm}};
}
Seam seamFrom(const Json& s) {
  return {wholeAt<int>(s.at("first"), "first"),
          wholeAt<int>(s.at("second"), "second"),
          whole(s, "first_setting", 1),
          whole(s, "second_setting", 1),
          pointFrom(s.at("at")),
          s.value("meets", true),
          s.at("error_mm").get<double>()};
}

Json cuttingJson(const Cutting& c) {
  return {{"what", c.what},
          {"first", c.first},
          {"second", c.second},
          {"first_setting", c.first_setting},
          {"second_setting", c.second_setting},
          {"stitches", c.stitches},
          {"length_mm", c.length_mm},
          {"at", pointJson(c.at)}};
}
Cutting cuttingFrom(const Json& c) {
  return {c.at("what").get<std::string>(),
          wholeAt<int>(c.at("first"), "first"),
          wholeAt<int>(c.at("second"), "second"),
          whole(c, "first_setting", 1),
          whole(c, "second_setting", 1),
          whole(c, "stitches", size_t{0}),
          c.value("length_mm", 0.0),
          pointFrom(c.at("at"))};
}

constexpr std::pair<PlanDoubt::What, const char*> kDoubts[] = {
    {PlanDoubt::What::TurnedOver, "turned-over"},
    {PlanDoubt::What::ThinOverlap, "thin-overlap"},
    {PlanDoubt::What::MarkOnSewing, "mark-on-sewing"},
    {PlanDoubt::What::NoSharedMarks, "no-shared-marks"},
    {PlanDoubt::What::ClampOnZone, "clamp-on-zone"},
    {PlanDoubt::What::CutElsewhere, "cut-elsewhere"},
    {PlanDoubt::What::LittleRoom, "little-room"},
    {PlanDoubt::What::EndedEarly, "ended-early"}};

Json doubtJson(const PlanDoubt& d) {
  const auto* word = std::find_if(std::begin(kDoubts), std::end(kDoubts),
                                  [&](const auto& k) { return k.first == d.what; });
  return {{"what", word->second}, {"a", d.a},           {"b", d.b},
          {"first", d.first},     {"second", d.second}, {"value", d.value}};
}

/// A doubt of a newer program's kind is left out.
void doubtFrom(const Json& j, std::vector<PlanDoubt>& to) {
  const std::string what = j.at("what").get<std::string>();
  for (const auto& [kind, word] : kDoubts)
    if (what == word)
      to.push_back({kind, j.value("a", ""), j.value("b", ""), whole(j, "first", 0),
                    whole(j, "second", 0), j.value("value", 0.0)});
}

}  // namespace

std::string madePlanJson(const HoopingPlan& plan) {
  Json seams = Json::array(), hoopings = Json::array(), cuts = Json::array(),
       doubts = Json::array();
  for (const Seam& s : plan.seams) seams.push_back(seamJson(s));
  for (const Hooping& h : plan.hoopings) hoopings.push_back(hoopingJson(h));
  for (const Cutting& c : plan.cuts) cuts.push_back(cuttingJson(c));
  for (const PlanDoubt& d : plan.doubts) doubts.push_back(doubtJson(d));
  const PlainGrid& g = plan.plain_grid;
  return Json{{"lower_bound", plan.lower_bound},
              {"cut_stitches", plan.cut_stitches},
              {"worst_seam_error_mm", plan.worst_seam_error_mm},
              {"interlock_mm", plan.interlock_mm},
              {"plain_grid", {g.columns, g.rows, g.hoopings, g.crossings}},
              {"crossings", plan.crossings},
              {"cuts", cuts},
              {"doubts", doubts},
              {"seams", seams},
              {"hoopings", hoopings}}
      .dump();
}

HoopingPlan madePlanFrom(const std::string& json) {
  const Json j = parsedPart(json);
  HoopingPlan plan;
  plan.lower_bound = whole(j, "lower_bound", 0);
  plan.cut_stitches = whole(j, "cut_stitches", size_t{0});
  plan.worst_seam_error_mm = j.value("worst_seam_error_mm", 0.0);
  plan.interlock_mm = j.value("interlock_mm", 0.0);
  plan.crossings = j.value("crossings", std::vector<std::string>{});
  if (const Json g = j.value("plain_grid", Json::array()); g.size() == 4) {
    const auto at = [&](size_t i) { return wholeAt<int>(g[i], "plain_grid"); };
    plan.plain_grid = {at(0), at(1), at(2), at(3)};
  }
  for (const Json& c : j.value("cuts", Json::array())) plan.cuts.push_back(cuttingFrom(c));
  for (const Json& d : j.value("doubts", Json::array())) doubtFrom(d, plan.doubts);
  for (const Json& s : j.at("seams")) plan.seams.push_back(seamFrom(s));
  for (const Json& f : j.at("hoopings")) plan.hoopings.push_back(hoopingFrom(f));
  return plan;
}

namespace {

struct KindOf {
  std::string operator()(const MarkFound&) const { return "mark"; }
  std::string operator()(const MarksCleared&) const { return "marks-cleared"; }
  std::string operator()(const RowsSewn&) const { return "sewn"; }
  std::string operator()(const Overruled&) const { return "overruled"; }
  std::string operator()(const ScanTaken&) const { return "scan"; }
  std::string operator()(const ScanDropped&) const { return "scan-dropped"; }
  std::string operator()(const ScanRead&) const { return "scan-read"; }
  std::string operator()(const TakenOver&) const { return "taken-over"; }
  std::string operator()(const ClothReplaced&) const { return "cloth-replaced"; }
  std::string operator()(const UnknownHappening& h) const { return h.kind; }
};

struct BodyOf {
  std::string operator()(const MarkFound& h) const {
    return Json{{"of", keyJson(h.of)},
                {"time", h.time},
                {"id", h.mark.id},
                {"layout", pointJson(h.mark.layout)},
                {"hoop", pointJson(h.mark.hoop)},
                {"error_mm", h.mark.error_mm},
                {"shared", pointsJson(h.mark.shared)},
                {"shared_by", h.mark.shared_by},
                {"reading", h.reading}}
        .dump();
  }
  std::string operator()(const MarksCleared& h) const {
    return Json{{"of", keyJson(h.of)}, {"time", h.time}}.dump();
  }
  std::string operator()(const RowsSewn& h) const {
    return Json{{"of", keyJson(h.of)}, {"time", h.time},   {"run", h.run},  {"from", h.from},
                {"row", h.row},        {"event", h.event}, {"done", h.done}}
        .dump();
  }
  std::string operator()(const Overruled& h) const {
    return Json{{"time", h.time},
                {"of", h.of},
                {"setting", keyJson(h.setting)},
                {"layout_print", h.layout_print},
                {"reason", h.reason}}
        .dump();
  }
  std::string operator()(const ScanTaken& h) const {
    return Json{{"of", keyJson(h.of)},     {"time", h.time},         {"id", h.scan.id},
                {"name", h.scan.name},     {"shot", h.scan.shot},    {"width", h.scan.width},
                {"height", h.scan.height}, {"camera", h.scan.camera}}
        .dump();
  }
  std::string operator()(const ScanDropped& h) const {
    return Json{{"of", keyJson(h.of)}, {"time", h.time}, {"id", h.scan}}.dump();
  }
  std::string operator()(const ScanRead& h) const {
    return Json{{"of", keyJson(h.of)},  {"time", h.time},       {"id", h.scan},
                {"reading", h.reading}, {"problem", h.problem}, {"missing", h.missing}}
        .dump();
  }
  std::string operator()(const TakenOver& h) const {
    return Json{{"of", keyJson(h.of)}, {"from", keyJson(h.from)}, {"time", h.time}}.dump();
  }
  std::string operator()(const ClothReplaced& h) const { return Json{{"time", h.time}}.dump(); }
  std::string operator()(const UnknownHappening& h) const { return h.body; }
};

}  // namespace

std::string kindOf(const Happening& happening) {
  return std::visit(KindOf{}, happening);
}

std::string happeningJson(const Happening& happening) {
  return std::visit(BodyOf{}, happening);
}

Happening happeningFrom(const std::string& kind, const std::string& json) {
  static const std::set<std::string> known{"mark",      "marks-cleared", "sewn",
                                           "overruled", "scan",          "scan-dropped",
                                           "scan-read", "taken-over",    "cloth-replaced"};
  if (!known.contains(kind)) return UnknownHappening{kind, json};
  const Json j = parsedPart(json);
  const std::string time = j.value("time", "");
  if (kind == "mark")
    return MarkFound{keyFrom(j.at("of")),
                     time,
                     {j.at("id").get<std::string>(), pointFrom(j.at("layout")),
                      pointFrom(j.at("hoop")), j.at("error_mm").get<double>(),
                      pointsFrom(j.value("shared", Json::array())), j.value("shared_by", "")},
                     j.value("reading", "")};
  if (kind == "scan")
    return ScanTaken{keyFrom(j.at("of")),
                     time,
                     {j.at("id").get<std::string>(), j.value("name", ""), j.value("shot", ""),
                      whole(j, "width", 0), whole(j, "height", 0),
                      std::make_shared<const std::string>(), j.value("camera", "")}};
  if (kind == "scan-dropped")
    return ScanDropped{keyFrom(j.at("of")), time, j.at("id").get<std::string>()};
  if (kind == "scan-read")
    return ScanRead{keyFrom(j.at("of")),    time,
                    j.value("id", ""),      j.value("reading", ""),
                    j.value("problem", ""), j.value("missing", std::vector<std::string>{})};
  if (kind == "taken-over") return TakenOver{keyFrom(j.at("of")), keyFrom(j.at("from")), time};
  if (kind == "cloth-replaced") return ClothReplaced{time};
  if (kind == "marks-cleared") return MarksCleared{keyFrom(j.at("of")), time};
  if (kind == "sewn")
    return RowsSewn{keyFrom(j.at("of")),
                    time,
                    j.value("run", ""),
                    wholeAt<size_t>(j.at("from"), "from"),
                    wholeAt<size_t>(j.at("row"), "row"),
                    j.value("event", ""),
                    j.value("done", false)};
  return Overruled{time, j.at("of").get<std::string>(), keyFrom(j.at("setting")),
                   wholeAt<size_t>(j.at("layout_print"), "layout_print"),
                   j.at("reason").get<std::string>()};
}

}  // namespace rt
