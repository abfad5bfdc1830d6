// template, sheets, tags
#include "commands.h"
#include "error.h"
#include "hooping_sheets.h"
#include "length.h"
#include "plan_folder.h"
#include "shop_data.h"
#include "tag_sheets.h"
#include "template_pdf.h"

namespace rt::cli {
namespace {

Paper paperNamed(const std::string& name) {
  return name == "A3" ? Paper::A3 : name == "Letter" ? Paper::Letter : Paper::A4;
}

struct TemplateWords {
  std::string file, out, paper = "A4";
  bool mirror = false, both = false;
  double grid = 0, ruler = 100;
};

Json templateCommand(const TemplateWords& words, const Session& session) {
  const Pattern pattern = readPattern(words.file);
  TemplateOptions o;
  o.paper = paperNamed(words.paper);
  o.printer.ruler_mm = words.ruler;
  o.side = words.both     ? TemplateSide::Both
           : words.mirror ? TemplateSide::Inside
                          : TemplateSide::Outside;
  o.grid_mm = words.grid;
  o.shelf = session.bench().shop.threads;
  o.title = pattern.title.empty() ? std::filesystem::path(words.file).stem().stem().string()
                                  : pattern.title;
  if (words.grid != 0 && !(words.grid >= 0.5 && words.grid <= 1000))
    throw Error("a grid of " + formatNumber(words.grid, 2) + " mm cannot be drawn", "--grid",
                "give 0.5 to 1000 mm");
  const TemplateResult r = writeTemplate(pattern, o, words.out);
  Json tiles = Json::array();
  for (const TemplateTile& t : r.tiles) {
    tiles.push_back({{"column", t.column}, {"row", t.row}});
    if (words.both) tiles.back()["mirrored"] = t.mirrored;
  }
  return {
      {"pages", r.tiles.size()}, {"tiles", tiles}, {"scale", r.scale}, {"warnings", r.warnings}};
}

struct SheetsWords {
  std::string folder, out, paper = "A4";
};

Json sheetsCommand(const SheetsWords& words, const Session& session) {
  const HoopingPlan plan = readPlanFolder(words.folder);
  const ShopData shop = session.bench().shop;
  HoopingSheetOptions o;
  o.paper = paperNamed(words.paper);
  o.shelf = shop.threads;
  o.time = shop.time;
  o.title = plan.hoopings.front().settings.front().pattern.title;
  const HoopingSheets r = writeHoopingSheets(plan, o, words.out);
  Json hoopings = Json::array();
  for (const HoopingSheets::Page& p : r.sheets)
    if (p.setting == 1) hoopings.push_back({{"index", p.hooping}, {"page", p.page}});
  return {{"pages", r.pages}, {"hoopings", hoopings}, {"warnings", r.warnings}};
}

struct TagsWords {
  int first = 0, count = 12;
  double size = 15, ruler = 100;
  std::string out, paper = "A4";
};

Json tagsCommand(const TagsWords& words) {
  const TagSheets r = writeTagSheets(
      {paperNamed(words.paper), words.first, words.count, words.size, {words.ruler}}, words.out);
  return {{"pages", r.pages}, {"ids", r.ids}};
}

}  // namespace

void addTemplate(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "template", "True-size paper template, PDF");
  auto w = std::make_shared<TemplateWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--paper", w->paper, "A4, Letter or A3")
      ->check(CLI::IsMember({"A4", "Letter", "A3"}));
  auto* mirror = c->add_flag("--mirror", w->mirror, "Mirrored, for the inside");
  c->add_flag("--both", w->both, "Both: the outside's sheets, then the mirrored ones")
      ->excludes(mirror);
  c->add_option("--grid", w->grid, "Grid, mm");
  c->add_option("--ruler", w->ruler, "What this printer's 100 mm check ruler measures, mm");
  c->add_option("-o", w->out, "File to write")->required()->check(named);
  c->callback(
      [&session, w] { session.run = [&session, w] { return templateCommand(*w, session); }; });
}

void addSheets(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "sheets", "A sheet for every hooping of a plan, PDF");
  auto w = std::make_shared<SheetsWords>();
  c->add_option("DIR", w->folder, "Folder as plan made it")->required();
  c->add_option("--paper", w->paper, "A4 or Letter")->check(CLI::IsMember({"A4", "Letter"}));
  c->add_option("-o", w->out, "File to write")->required()->check(named);
  c->callback(
      [&session, w] { session.run = [&session, w] { return sheetsCommand(*w, session); }; });
}

void addTags(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "tags", "Sheets of printable tags, PDF");
  auto w = std::make_shared<TagsWords>();
  c->add_option("--first", w->first, "First id");
  c->add_option("--count", w->count, "How many");
  c->add_option("--size", w->size, "Edge of the black square, mm");
  c->add_option("--ruler", w->ruler, "What this printer's 100 mm check ruler measures, mm");
  c->add_option("--paper", w->paper, "A4 or Letter")->check(CLI::IsMember({"A4", "Letter"}));
  c->add_option("-o", w->out, "File to write")->required()->check(named);
  c->callback([&session, w] { session.run = [w] { return tagsCommand(*w); }; });
}

}  // namespace rt::cli
