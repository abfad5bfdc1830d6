#include "job_codec.h"

#include <QDataStream>
#include <QIODevice>
#include <nlohmann/json.hpp>

#include "error.h"

namespace rt {
namespace {

using Json = nlohmann::json;

constexpr quint32 kPatternMagic = 0x52545031;  // "RTP1"

Json parse(const std::string& text) {
  try {
    return Json::parse(text);
  } catch (const Json::exception& problem) {
    throw Error(std::string("a part of the job cannot be read: ") + problem.what(), "job file",
                "open the autosaved copy");
  }
}

Json pointJson(Point p) {
  return {p.x, p.y};
}

Point pointFrom(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>()};
}

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

void write(QDataStream& out, const Pattern& p) {
  out << text(p.title) << static_cast<quint32>(p.threads.size());
  for (Colour c : p.threads) out << static_cast<quint32>(c.rgb);
  out << static_cast<quint32>(p.pieces.size());
  for (const std::string& s : p.pieces) out << text(s);
  out << static_cast<quint32>(p.stitches.size());
  for (const Stitch& s : p.stitches)
    out << s.at.x << s.at.y << static_cast<quint32>(s.block) << s.thread << s.piece
        << static_cast<quint8>(s.op) << static_cast<quint8>(s.kind);
}

std::string readText(QDataStream& in) {
  QString s;
  in >> s;
  return s.toStdString();
}

quint32 readCount(QDataStream& in, quint32 bytesEach) {
  quint32 n = 0;
  in >> n;
  if (in.status() != QDataStream::Ok || n > in.device()->bytesAvailable() / bytesEach)
    throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
  return n;
}

Pattern readPattern(QDataStream& in) {
  Pattern p;
  p.title = readText(in);
  for (quint32 n = readCount(in, 4); n > 0; --n) {
    quint32 rgb = 0;
    in >> rgb;
    p.threads.push_back({rgb});
  }
  p.pieces.clear();
  for (quint32 n = readCount(in, 4); n > 0; --n) p.pieces.push_back(readText(in));
  for (quint32 n = readCount(in, 26); n > 0; --n) {
    Stitch s;
    quint8 op = 0, kind = 0;
    quint32 block = 0;
    in >> s.at.x >> s.at.y >> block >> s.thread >> s.piece >> op >> kind;
    s.block = block;
    s.op = static_cast<Op>(std::min<int>(op, 4));
    s.kind = static_cast<Kind>(std::min<int>(kind, 7));
    if (s.thread >= p.threads.size() || s.piece >= p.pieces.size() ||
        !std::isfinite(s.at.x + s.at.y))
      throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
    p.stitches.push_back(s);
  }
  return p;
}

}  // namespace

std::string briefJson(const Brief& b) {
  return Json{{"item", b.item},
              {"order_text", b.order_text},
              {"fabric", b.fabric},
              {"holding", b.holding == Holding::Floated ? "floated" : "hooped"},
              {"backing", b.backing},
              {"topper", b.topper},
              {"needle_nm", b.needle_nm},
              {"thread_weight", b.thread_weight},
              {"place_width_mm", b.place_width_mm},
              {"place_height_mm", b.place_height_mm},
              {"centre_line_deg", b.centre_line_deg},
              {"inches", b.inches}}
      .dump();
}

Brief briefFrom(const std::string& json) {
  const Json j = parse(json);
  Brief b;
  b.item = j.value("item", "");
  b.order_text = j.value("order_text", "");
  b.fabric = j.value("fabric", b.fabric);
  b.holding = j.value("holding", "hooped") == "floated" ? Holding::Floated : Holding::Hooped;
  b.backing = j.value("backing", b.backing);
  b.topper = j.value("topper", false);
  b.needle_nm = std::clamp(j.value("needle_nm", b.needle_nm), 55, 130);
  b.thread_weight = std::clamp(j.value("thread_weight", b.thread_weight), 12, 100);
  b.place_width_mm = j.value("place_width_mm", b.place_width_mm);
  b.place_height_mm = j.value("place_height_mm", b.place_height_mm);
  b.centre_line_deg = j.value("centre_line_deg", 0.0);
  b.inches = j.value("inches", false);
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
  const Json j = parse(json);
  return {pointFrom(j.at("at")), j.at("turn_deg").get<double>(), j.at("scale").at(0).get<double>(),
          j.at("scale").at(1).get<double>(), j.at("mirrored").get<bool>()};
}

std::string sourceJson(const PieceSource& source) {
  if (const auto* a = std::get_if<ArtworkSource>(&source))
    return Json{{"kind", "artwork"},
                {"file", a->file},
                {"svg", a->svg},
                {"width_mm", a->width_mm},
                {"scale_x", a->scale_x},
                {"scale_y", a->scale_y},
                {"row_spacing_mm", a->row_spacing_mm},
                {"stitch_length_mm", a->stitch_length_mm},
                {"angle_deg", a->angle_deg ? Json(*a->angle_deg) : Json(nullptr)},
                {"underlay", static_cast<int>(a->underlay)}}
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
                {"spacing_mm", t->spacing_mm},
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
  const Json j = parse(json);
  const std::string kind = j.value("kind", "stitches");
  if (kind == "artwork") {
    ArtworkSource a;
    a.file = j.value("file", "");
    a.svg = j.value("svg", "");
    a.width_mm = j.value("width_mm", 0.0);
    a.scale_x = j.value("scale_x", 1.0);
    a.scale_y = j.value("scale_y", 1.0);
    a.row_spacing_mm = j.value("row_spacing_mm", a.row_spacing_mm);
    a.stitch_length_mm = j.value("stitch_length_mm", a.stitch_length_mm);
    if (j.contains("angle_deg") && !j["angle_deg"].is_null())
      a.angle_deg = j["angle_deg"].get<double>();
    a.underlay = static_cast<Underlay>(std::clamp(j.value("underlay", 1), 0, 2));
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
    t.spacing_mm = j.value("spacing_mm", t.spacing_mm);
    t.colour.rgb = j.value("colour", t.colour.rgb);
    t.monogram = j.value("monogram", false);
    t.frame = static_cast<MonogramFrame>(std::clamp(j.value("frame", 1), 0, 3));
    return t;
  }
  StitchSource stitches{j.value("file", ""), nullptr, j.value("scale_x", 1.0),
                        j.value("scale_y", 1.0), j.value("spacing_factor", 1.0)};
  if (j.contains("bare"))
    stitches.bare = std::make_shared<const Pattern>(patternFrom(
        QByteArray::fromBase64(QByteArray::fromStdString(j["bare"].get<std::string>()))));
  return stitches;
}

std::string restJson(const Job& job) {
  Json zones = Json::array(), alignments = Json::array(), progress = Json::array();
  for (const Zone& z : job.zones) {
    Json polygon = Json::array();
    for (Point p : z.polygon_mm) polygon.push_back(pointJson(p));
    zones.push_back({{"name", z.name},
                     {"keep_out", z.kind == ZoneKind::KeepOut},
                     {"layers", z.layers},
                     {"thickness_mm", z.thickness_mm},
                     {"polygon", polygon}});
  }
  for (const HoopingMarks& a : job.alignments) {
    Json marks = Json::array();
    for (const Mark& m : a.marks)
      marks.push_back({{"id", m.id},
                       {"layout", pointJson(m.layout)},
                       {"hoop", pointJson(m.hoop)},
                       {"error_mm", m.error_mm}});
    alignments.push_back(
        {{"hooping", a.hooping}, {"tolerance_mm", a.tolerance_mm}, {"marks", marks}});
  }
  for (const Progress& p : job.progress)
    progress.push_back({{"hooping", p.hooping}, {"row", p.row}, {"done", p.done}});
  Json stops = Json::array();
  for (const OperatorStop& stop : job.sequence.stops)
    stops.push_back(
        {{"piece", stop.piece}, {"note", stop.note}, {"blocks_before", stop.blocks_before}});
  Json colours = Json::array();
  for (Colour c : job.sequence.colours_by_hand) colours.push_back(c.rgb);
  Json groups = Json::object();
  for (const Piece& p : job.pieces)
    if (p.group > 0) groups[std::to_string(p.id)] = p.group;
  Json swatch = Json::array();
  for (const SwatchStep& s : job.swatch) swatch.push_back({s.row, s.step, s.value});
  return Json{{"zones", zones},
              {"swatch", swatch},
              {"sequence",
               {{"fewest_colours", job.sequence.fewest_colours},
                {"hidden_margin_mm", job.sequence.hidden_margin_mm},
                {"needles", job.sequence.needles},
                {"shortest_travel", job.sequence.shortest_travel},
                {"thin_under_letters", job.sequence.thin_under_letters},
                {"colours_by_hand", colours},
                {"stops", stops}}},
              {"plan_settings",
               {{"hoop", job.plan_settings.hoop},
                {"overlap_mm", job.plan_settings.overlap_mm},
                {"turn", job.plan_settings.turn},
                {"chain", job.plan_settings.style == TieStyle::Chain}}},
              {"alignments", alignments},
              {"progress", progress},
              {"overruled", job.overruled},
              {"proof_accepted", job.proof_accepted},
              {"groups", groups},
              {"next_piece_id", job.next_piece_id},
              {"layout_print", job.made.layout_print}}
      .dump();
}

void readRest(const std::string& json, Job& job) {
  const Json j = parse(json);
  for (const Json& z : j.value("zones", Json::array())) {
    Zone zone{z.value("name", ""),
              z.value("keep_out", false) ? ZoneKind::KeepOut : ZoneKind::Thick,
              {},
              z.value("layers", 2),
              z.value("thickness_mm", 0.0)};
    for (const Json& p : z.at("polygon")) zone.polygon_mm.push_back(pointFrom(p));
    job.zones.push_back(std::move(zone));
  }
  const Json s = j.value("plan_settings", Json::object());
  job.plan_settings.hoop = s.value("hoop", job.plan_settings.hoop);
  job.plan_settings.overlap_mm = s.value("overlap_mm", job.plan_settings.overlap_mm);
  job.plan_settings.turn = s.value("turn", false);
  job.plan_settings.style = s.value("chain", false) ? TieStyle::Chain : TieStyle::Star;
  const Json q = j.value("sequence", Json::object());
  job.sequence.fewest_colours = q.value("fewest_colours", false);
  job.sequence.hidden_margin_mm = q.value("hidden_margin_mm", 0.0);
  job.sequence.needles = std::clamp(q.value("needles", 1), 1, 99);
  job.sequence.shortest_travel = q.value("shortest_travel", false);
  job.sequence.thin_under_letters = q.value("thin_under_letters", 0.0);
  for (const Json& c : q.value("colours_by_hand", Json::array()))
    job.sequence.colours_by_hand.push_back({c.get<uint32_t>()});
  for (const Json& stop : q.value("stops", Json::array()))
    job.sequence.stops.push_back(
        {stop.value("piece", 0), stop.value("note", ""), stop.value("blocks_before", 0)});
  for (const Json& a : j.value("alignments", Json::array())) {
    HoopingMarks marks{a.value("hooping", 1), a.value("tolerance_mm", 0.5), {}};
    for (const Json& m : a.at("marks"))
      marks.marks.push_back({m.value("id", ""), pointFrom(m.at("layout")), pointFrom(m.at("hoop")),
                             m.value("error_mm", kNeedleError_mm)});
    job.alignments.push_back(std::move(marks));
  }
  for (const Json& p : j.value("progress", Json::array()))
    job.progress.push_back(
        {p.value("hooping", 1), p.value("row", size_t{0}), p.value("done", false)});
  job.overruled = j.value("overruled", "");
  job.proof_accepted = j.value("proof_accepted", "");
  for (const Json& step : j.value("swatch", Json::array()))
    job.swatch.push_back(
        {step.at(0).get<std::string>(), step.at(1).get<int>(), step.at(2).get<double>()});
  const Json groups = j.value("groups", Json::object());
  for (Piece& p : job.pieces) p.group = groups.value(std::to_string(p.id), 0);
  job.next_piece_id = j.value("next_piece_id", 1);
  job.made.layout_print = j.value("layout_print", size_t{0});
}

QByteArray patternBytes(const Pattern& pattern) {
  QByteArray bytes;
  QDataStream out(&bytes, QIODevice::WriteOnly);
  out.setVersion(QDataStream::Qt_6_0);
  out << kPatternMagic;
  write(out, pattern);
  return qCompress(bytes, 1);
}

Pattern patternFrom(const QByteArray& packed) {
  const QByteArray bytes = qUncompress(packed);
  QDataStream in(bytes);
  in.setVersion(QDataStream::Qt_6_0);
  quint32 magic = 0;
  in >> magic;
  if (magic != kPatternMagic)
    throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
  return readPattern(in);
}

QByteArray planBytes(const HoopingPlan& plan) {
  QByteArray bytes;
  QDataStream out(&bytes, QIODevice::WriteOnly);
  out.setVersion(QDataStream::Qt_6_0);
  out << kPatternMagic << plan.lower_bound << static_cast<quint64>(plan.cut_stitches)
      << plan.worst_seam_error_mm;
  auto texts = [&](const std::vector<std::string>& list) {
    out << static_cast<quint32>(list.size());
    for (const std::string& s : list) out << text(s);
  };
  texts(plan.crossings);
  texts(plan.warnings);
  out << static_cast<quint32>(plan.seams.size());
  for (const Seam& s : plan.seams) out << s.first << s.second << s.at.x << s.at.y << s.error_mm;
  out << static_cast<quint32>(plan.hoopings.size());
  for (const Hooping& h : plan.hoopings) {
    out << h.index << h.hoop << text(h.hoop_id) << h.turn_deg << h.field.left << h.field.top
        << h.field.right << h.field.bottom << static_cast<quint64>(h.stitches) << h.thread_mm
        << h.predicted_error_mm << static_cast<quint32>(h.marks.size());
    for (const PlanMark& m : h.marks) out << text(m.id) << text(m.kind) << m.at.x << m.at.y;
    write(out, h.pattern);
  }
  return qCompress(bytes, 1);
}

HoopingPlan planFrom(const QByteArray& packed) {
  const QByteArray bytes = qUncompress(packed);
  QDataStream in(bytes);
  in.setVersion(QDataStream::Qt_6_0);
  quint32 magic = 0;
  quint64 wide = 0;
  HoopingPlan plan;
  in >> magic >> plan.lower_bound >> wide >> plan.worst_seam_error_mm;
  if (magic != kPatternMagic) throw Error("the plan is damaged", "job file", "make the plan again");
  plan.cut_stitches = wide;
  for (std::vector<std::string>* list : {&plan.crossings, &plan.warnings})
    for (quint32 n = readCount(in, 4); n > 0; --n) list->push_back(readText(in));
  for (quint32 n = readCount(in, 32); n > 0; --n) {
    Seam s;
    in >> s.first >> s.second >> s.at.x >> s.at.y >> s.error_mm;
    plan.seams.push_back(s);
  }
  for (quint32 n = readCount(in, 60); n > 0; --n) {
    Hooping h;
    in >> h.index >> h.hoop;
    h.hoop_id = readText(in);
    in >> h.turn_deg >> h.field.left >> h.field.top >> h.field.right >> h.field.bottom >> wide >>
        h.thread_mm >> h.predicted_error_mm;
    h.stitches = wide;
    for (quint32 m = readCount(in, 20); m > 0; --m) {
      PlanMark mark;
      mark.id = readText(in);
      mark.kind = readText(in);
      in >> mark.at.x >> mark.at.y;
      h.marks.push_back(std::move(mark));
    }
    h.pattern = readPattern(in);
    plan.hoopings.push_back(std::move(h));
  }
  return plan;
}

}  // namespace rt
