// plan, align, template
#include "commands.h"
#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "length.h"
#include "plan_folder.h"
#include "planner.h"
#include "stitch_file.h"
#include "template_pdf.h"

namespace rt::cli {
namespace {

struct PlanWords {
  std::string file, out, style = "star";
  std::vector<std::string> hoops;
  double overlap = 10;
  bool turn = false;
};

Json planCommand(const PlanWords& words, const Session& session) {
  const ShopData shop = readShopData(session.data);
  PlanOptions options;
  for (const std::string& hoop : words.hoops) options.hoops.push_back(hoopFor(shop.hoops, hoop));
  options.overlap_mm = words.overlap;
  options.turn = words.turn;
  options.style = words.style == "chain" ? TieStyle::Chain : TieStyle::Star;
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

struct TemplateWords {
  std::string file, out, paper = "A4";
  bool mirror = false;
  double grid = 0;
};

Json templateCommand(const TemplateWords& words) {
  const Pattern pattern = readPattern(words.file);
  TemplateOptions o;
  o.paper = words.paper == "A3" ? Paper::A3 : words.paper == "Letter" ? Paper::Letter : Paper::A4;
  o.mirror = words.mirror;
  o.grid_mm = words.grid;
  o.title =
      pattern.title.empty() ? std::filesystem::path(words.file).stem().string() : pattern.title;
  if (words.grid != 0 && !(words.grid >= 0.5 && words.grid <= 1000))
    throw Error("a grid of " + formatNumber(words.grid, 2) + " mm cannot be drawn", "--grid",
                "give 0.5 to 1000 mm");
  const TemplateResult r = writeTemplate(pattern, o, words.out);
  Json tiles = Json::array();
  for (const TemplateTile& t : r.tiles) tiles.push_back({{"column", t.column}, {"row", t.row}});
  return {
      {"pages", r.tiles.size()}, {"tiles", tiles}, {"scale", r.scale}, {"warnings", r.warnings}};
}

}  // namespace

void addPlan(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "plan", "Split a layout over hoopings");
  auto w = std::make_shared<PlanWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--hoop", w->hoops, "Hoop id or field WxH in mm; may be given again")
      ->required()
      ->take_all()
      ->expected(1);
  c->add_option("--overlap", w->overlap, "Least overlap of neighbouring fields, mm");
  c->add_flag("--turn", w->turn, "Fields may be turned by 90°");
  c->add_option("--style", w->style, "star or chain")->check(CLI::IsMember({"star", "chain"}));
  c->add_option("-o", w->out, "Folder to write; made if missing")->required();
  c->callback([&session, w] { session.run = [&session, w] { return planCommand(*w, session); }; });
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

void addTemplate(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "template", "True-size paper template, PDF");
  auto w = std::make_shared<TemplateWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--paper", w->paper, "A4, Letter or A3")
      ->check(CLI::IsMember({"A4", "Letter", "A3"}));
  c->add_flag("--mirror", w->mirror, "Mirrored, for the inside");
  c->add_option("--grid", w->grid, "Grid, mm");
  c->add_option("-o", w->out, "File to write")->required();
  c->callback([&session, w] { session.run = [w] { return templateCommand(*w); }; });
}

}  // namespace rt::cli
