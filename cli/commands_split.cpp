// plan, align
#include "alignment_words.h"
#include "commands.h"
#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "length.h"
#include "plan_folder.h"
#include "planner.h"
#include "shelf.h"
#include "stitch_file.h"

namespace rt::cli {
namespace {

constexpr int kMostCutNumbers = 400;

struct PlanWords {
  std::string file, out, style = "star";
  std::vector<std::string> hoops, keep;
  std::vector<double> cuts;
  std::string shelf, zones, order = "middle";
  double overlap = 10;
  bool turn = false;
};

std::vector<AskedCut> cutLines(const std::vector<double>& numbers) {
  if (numbers.size() % 4 != 0)
    throw Error("a cut takes four numbers", "--cut", "give X1 Y1 X2 Y2 in mm");
  std::vector<AskedCut> out;
  for (size_t i = 0; i < numbers.size(); i += 4)
    out.push_back({{numbers[i], numbers[i + 1]}, {numbers[i + 2], numbers[i + 3]}});
  return out;
}

Json planCommand(const PlanWords& words, const Session& session) {
  std::vector<Hoop> known = session.bench().shop.hoops;
  PlanOptions options;
  if (!words.shelf.empty()) {
    const std::vector<Hoop> own = readShelf(words.shelf);
    if (words.hoops.empty()) options.hoops = own;
    known = joinedShelf(own, known);
  }
  for (const std::string& hoop : words.hoops) options.hoops.push_back(hoopFor(known, hoop));
  options.overlap_mm = words.overlap;
  options.turn = words.turn;
  options.style = words.style == "chain" ? TieStyle::Chain : TieStyle::Star;
  options.order = words.order == "end" ? SewingOrder::FromEnd : SewingOrder::FromMiddle;
  options.keep = words.keep;
  options.cuts = cutLines(words.cuts);
  if (!words.zones.empty())
    for (Zone& z : readZones(words.zones))
      if (z.kind == ZoneKind::KeepOut)
        options.keep_out.push_back({z.name, std::move(z.polygon_mm)});
  const HoopingPlan plan = planHoopings(readPattern(words.file), options);
  return Json::parse(writePlanFolder(words.out, plan));
}

struct AlignWords {
  std::string setup, points, photo, rectified, fit = "rigid";
};

/// `px` gives the place of a mark in the photo, by its id.
Json alignmentJson(const Alignment& a, const std::map<std::string, Point>& px, Json plane) {
  Json marks = Json::array();
  for (size_t i = 0; i < a.marks.size(); ++i) {
    const auto at = px.find(a.marks[i].id);
    marks.push_back({{"id", a.marks[i].id},
                     {"photo_px", at == px.end() ? Json() : pair(at->second)},
                     {"hoop_mm", pair(a.marks[i].hoop)},
                     {"layout_mm", pair(a.marks[i].layout)},
                     {"residual_mm", a.fit.residual_mm[i]}});
  }
  Json missing = Json::array();
  for (const LeftOut& m : a.missing) missing.push_back({{"id", m.id}, {"reason", inWords(m)}});
  return {{"status", name(a.status)},
          {"fit", name(a.fit.kind)},
          {"dx_mm", a.fit.dx_mm},
          {"dy_mm", a.fit.dy_mm},
          {"rotation_deg", a.fit.rotation_deg},
          {"scale_x", a.fit.scale_x},
          {"scale_y", a.fit.scale_y},
          {"skew_deg", a.fit.skew_deg},
          {"rms_mm", a.fit.rms_mm},
          {"marks", marks},
          {"missing", missing},
          {"plane", std::move(plane)},
          {"error_at_mm", {{"centre", a.error_centre_mm}, {"worst_corner", a.error_worst_mm}}},
          {"advice", adviceOf(a)}};
}

Json alignByPoints(const AlignWords& words, const Session& session) {
  const ShopPractice practice = session.bench().shop.practice;
  AlignmentSetup setup = readAlignmentSetup(words.setup);
  setup.kind = fitNamed(words.fit);
  setup.limits = practice.shape;
  return alignmentJson(align(readNeedlePoints(words.points, practice.marks.needle_mm), setup), {},
                       Json::object());
}

constexpr double kRectifiedStep_mm = 0.25, kRectifiedRoom_mm = 30;

Json alignByPhoto(const AlignWords& words, const Session& session) {
  PhotoSetup setup = readPhotoSetup(words.setup);
  setup.base.kind = fitNamed(words.fit);
  setup.base.limits = session.bench().shop.practice.shape;
  const Photo photo = Photo::read(words.photo);
  const PhotoAlignment a = alignPhoto(photo, setup);
  std::map<std::string, Point> px;
  for (const PhotoMark& m : a.marks) px[m.mark.id] = m.px;
  Json answer =
      alignmentJson(a.alignment, px, {{"tags", a.plane_tags}, {"rms_px", a.rms_px}, {"k1", a.k1}});
  if (!words.rectified.empty()) {
    const Box field = Box::around({0, 0}, setup.base.field.width_mm, setup.base.field.height_mm)
                          .grown(kRectifiedRoom_mm);
    writeFile(
        words.rectified,
        photo.flattened(field, kRectifiedStep_mm, [&](Point p) { return a.plane->toPhoto(p); })
            .png());
  }
  return answer;
}

}  // namespace

void addPlan(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "plan", "Split a layout over hoopings");
  auto w = std::make_shared<PlanWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--hoop", w->hoops, "Hoop id or field WxH in mm; may be given again")
      ->take_all()
      ->expected(1);
  c->add_option("--shelf", w->shelf, "Frames as measured, JSON; alone, all of them may be used");
  c->add_option("--keep", w->keep, "A piece that is never cut; may be given again")
      ->take_all()
      ->expected(1);
  c->add_option("--cut", w->cuts,
                "A line X1 Y1 X2 Y2, mm: pieces that it crosses are parted there "
                "if at all; may be given again")
      ->expected(4, kMostCutNumbers);
  c->add_option("--zones", w->zones, "Zones, JSON: marks lie off keep-out zones");
  c->add_option("--order", w->order, "middle (outward from it) or end (from one end along)")
      ->check(CLI::IsMember({"middle", "end"}));
  c->add_option("--overlap", w->overlap, "Least overlap of neighbouring fields, mm");
  c->add_flag("--turn", w->turn, "Fields may be turned by 90°");
  c->add_option("--style", w->style, "star or chain")->check(CLI::IsMember({"star", "chain"}));
  c->add_option("-o", w->out, "Folder to write; made if missing")->required()->check(named);
  c->callback([&session, w] {
    if (w->hoops.empty() && w->shelf.empty()) throw CLI::RequiredError("--hoop or --shelf");
    session.run = [&session, w] { return planCommand(*w, session); };
  });
}

void addAlign(CLI::App& app, Session& session) {
  CLI::App* c =
      command(app, session, "align", "Where the layout lies in the hoop, and whether to sew");
  auto w = std::make_shared<AlignWords>();
  c->add_option("--setup", w->setup, "Alignment set-up, JSON")->required();
  auto* points = c->add_option("--points", w->points, "Needle points, CSV");
  auto* photo =
      c->add_option("--photo", w->photo, "Photo of the hooping, PNG or JPEG")->excludes(points);
  c->add_option("--rectified", w->rectified, "The photo as the hoop's plane, PNG")
      ->needs(photo)
      ->check(named);
  c->add_option("--fit", w->fit, "rigid, similarity or affine")
      ->check(CLI::IsMember({"rigid", "similarity", "affine"}));
  c->callback([&session, w] {
    if (w->points.empty() && w->photo.empty()) throw CLI::RequiredError("--photo or --points");
    session.run = [&session, w] {
      return w->photo.empty() ? alignByPoints(*w, session) : alignByPhoto(*w, session);
    };
  });
}

}  // namespace rt::cli
