// plan, align
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

struct PlanWords {
  std::string file, out, style = "star";
  std::vector<std::string> hoops, keep;
  std::string shelf, zones, order = "middle";
  double overlap = 10;
  bool turn = false;
};

Json planCommand(const PlanWords& words, const Session& session) {
  std::vector<Hoop> known = readShopData(session.data).hoops;
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
  if (!words.zones.empty())
    for (Zone& z : readZones(words.zones))
      if (z.kind == ZoneKind::KeepOut)
        options.keep_out.push_back({z.name, std::move(z.polygon_mm)});
  const HoopingPlan plan = planHoopings(readPattern(words.file), options);
  return Json::parse(writePlanFolder(words.out, plan));
}

struct AlignWords {
  std::string setup, points, fit = "rigid";
};

Json alignCommand(const AlignWords& words) {
  AlignmentSetup setup = readAlignmentSetup(words.setup);
  setup.kind = words.fit == "affine"       ? FitKind::Affine
               : words.fit == "similarity" ? FitKind::Similarity
                                           : FitKind::Rigid;
  const Alignment a = align(readNeedlePoints(words.points), setup);
  Json marks = Json::array();
  for (size_t i = 0; i < a.marks.size(); ++i)
    marks.push_back({{"id", a.marks[i].id},
                     {"photo_px", nullptr},
                     {"hoop_mm", pair(a.marks[i].hoop)},
                     {"layout_mm", pair(a.marks[i].layout)},
                     {"residual_mm", a.fit.residual_mm[i]}});
  Json missing = Json::array();
  for (const LeftOut& m : a.missing) missing.push_back({{"id", m.id}, {"reason", m.reason}});
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
          {"plane", Json::object()},
          {"error_at_mm", {{"centre", a.error_centre_mm}, {"worst_corner", a.error_worst_mm}}},
          {"advice", a.advice}};
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
  c->add_option("--zones", w->zones, "Zones, JSON: marks lie off keep-out zones");
  c->add_option("--order", w->order, "middle (outward from it) or end (from one end along)")
      ->check(CLI::IsMember({"middle", "end"}));
  c->add_option("--overlap", w->overlap, "Least overlap of neighbouring fields, mm");
  c->add_flag("--turn", w->turn, "Fields may be turned by 90°");
  c->add_option("--style", w->style, "star or chain")->check(CLI::IsMember({"star", "chain"}));
  c->add_option("-o", w->out, "Folder to write; made if missing")->required();
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
  c->add_option("--points", w->points, "Needle points, CSV")->required();
  c->add_option("--fit", w->fit, "rigid, similarity or affine")
      ->check(CLI::IsMember({"rigid", "similarity", "affine"}));
  c->callback([&session, w] { session.run = [w] { return alignCommand(*w); }; });
}

}  // namespace rt::cli
