// items; job FILE item, fit, shopping, batch, again.
#include "batch.h"
#include "error.h"
#include "file_io.h"
#include "items.h"
#include "job_file.h"
#include "job_verbs.h"
#include "ledger_entry.h"
#include "paperwork.h"
#include "proof_words.h"

namespace rt::cli {
namespace {

Json placeJson(const ItemPlace& p) {
  Json measures = Json::array(), edges = Json::array();
  for (const ItemMeasure& m : p.measures) measures.push_back({{"what", m.what}, {"mm", m.mm}});
  for (const ItemEdge& e : p.edges) edges.push_back(e.name);
  return {{"id", p.id},
          {"name", p.name},
          {"reason", p.reason},
          {"width_mm", p.width_mm},
          {"height_mm", p.height_mm},
          {"measures", measures},
          {"edges", edges},
          {"held", p.floated ? "floated" : "hooped"},
          {"held_reason", p.held_reason}};
}

Json itemsCommand(const Bench& bench) {
  Json items = Json::array();
  for (const Item& i : itemsOf(bench)) {
    Json places = Json::array();
    for (const ItemPlace& p : i.places) places.push_back(placeJson(p));
    items.push_back({{"id", i.id},
                     {"name", i.name},
                     {"fabric", i.fabric},
                     {"sizes", i.sizes},
                     {"places", places}});
  }
  return {{"items", items}};
}

Job withItem(Job job, const JobWords& w, const Bench& bench) {
  const std::vector<Item> items = itemsOf(bench);
  const Item& item = itemById(items, w.item);
  const ItemPlace& place = w.name.empty() ? item.places.at(0) : placeById(item, w.name);
  return actions::laidOn(std::move(job), item, place, sizeByName(item, w.size), bench);
}

Json shoppingCommand(const JobWords& w, const Bench& bench) {
  const Work work = loadWork(w.file);
  const Pattern layout = sewnLayout(work.job);
  const MadePlan* made = planFor(work, printOf(layout));
  Json lines = Json::array();
  for (const ShoppingLine& l :
       shoppingFor(layout, work.job.brief, made ? &made->plan : nullptr, w.pieces, bench))
    lines.push_back({{"what", l.what},
                     {"amount", l.amount},
                     {"unit", l.unit},
                     {"packs", l.packs},
                     {"why", l.why}});
  Json advice = Json::array();
  for (const Advice& a : adviceFor(work.job.brief.fabric, bench))
    advice.push_back({{"what", a.what}, {"choice", a.choice}, {"why", a.why}});
  return {{"pieces", w.pieces}, {"planned", made != nullptr}, {"list", lines}, {"advice", advice}};
}

Json sheetCommand(const JobWords& w, const Bench& bench) {
  const Work work = loadWork(w.file);
  const Pattern layout = sewnLayout(work.job);
  const MadePlan* made = planFor(work, printOf(layout));
  const JobSheet r =
      writeJobSheet(jobSheetOf(work.job, layout, made ? &made->plan : nullptr, bench), w.out);
  return {{"pages", r.pages},
          {"planned", made != nullptr},
          {"minutes", r.minutes},
          {"thread_m", r.metres}};
}

/// Another job from this one: what was sewn and planned stays with the old one.
Json repeatCommand(const JobWords& w, const Bench& bench) {
  if (std::filesystem::exists(w.out))
    throw Error("the file is there already", w.out, "choose another name");
  Work next;
  next.job = actions::repeatedFor(loadWork(w.file).job, w.text, bench);
  next.job.id = newId();
  if (!w.name.empty()) next.job.title = w.name;
  next.job = checked(std::move(next.job));
  saveWork(next, w.out);
  return {{"file", w.out}, {"id", next.job.id}, {"reads_as_ordered", proofOf(next.job).empty()}};
}

/// A job of its own: the layout many times over, nested in a frame.
Json batchCommand(const JobWords& w, const Bench& bench) {
  if (std::filesystem::exists(w.out))
    throw Error("the file is there already", w.out, "choose another name");
  BatchWish wish;
  wish.count = w.pieces;
  if (!w.names.empty()) wish.names = namesFrom(readFile(w.names));
  if (!w.hoop.empty()) wish.hoop = w.hoop;
  wish.gap_mm = w.gap;
  wish.turn = w.frame_turn == "yes";
  wish.baste = w.baste;
  if (w.long_names == "two-lines") wish.long_names = BatchWish::Long::TwoLines;
  if (w.long_names == "leave-out") wish.long_names = BatchWish::Long::LeaveOut;
  Json small = Json::array();
  Batch batch = batchOf(loadWork(w.file).job, wish, bench);
  Work work;
  for (const SmallName& s : batch.small)
    small.push_back({{"name", s.name}, {"height_mm", s.height_mm}, {"least_mm", s.least_mm}});
  work.job = std::move(batch.job);
  work.job.id = newId();
  work.job = checked(std::move(work.job));
  saveWork(work, w.out);
  return {{"file", w.out},
          {"pieces", batch.pieces},
          {"per_hooping", batch.per_hooping},
          {"hoopings", batch.hoopings},
          {"free_places", batch.free_places},
          {"field_use", batch.field_use},
          {"cloth_mm2", batch.cloth_mm2},
          {"too_small", small},
          {"left_out", batch.left_out},
          {"reads_as_ordered", proofOf(work.job).empty()}};
}

}  // namespace

void addItems(CLI::App& app, Session& session) {
  command(app, session, "items", "Items with their places")->callback([&session] {
    session.run = [&session] { return itemsCommand(session.bench()); };
  });
}

void addItemVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* item = verbs.edit("item", "Lay an item's place under the job", withItem);
  item->add_option("ITEM", w->item, "Item id, as items lists them")->required();
  item->add_option("--place", w->name, "Place id; the first if not given");
  item->add_option("--size", w->size, "Size; the smallest if not given");
  CLI::App* fit = verbs.onPiece("fit", "Another text, no longer than the one before",
                                [](Job job, const JobWords& words, const Bench& b) {
                                  return actions::fitted(std::move(job), words.id, words.text, b);
                                });
  fit->add_option("TEXT", w->text, "What is sewn")->required();
  verbs.ask("shopping", "What to have at hand", shoppingCommand)
      ->add_option("--pieces", w->pieces, "How many are sewn");
  verbs
      .ask("sheet", "Write the job sheet, PDF: threads in order with needle, minutes, metres",
           sheetCommand)
      ->add_option("-o", w->out, "File to write")
      ->required()
      ->check(named);
  CLI::App* batch =
      verbs.ask("batch", "The layout many times over, as a job of its own", batchCommand);
  batch->add_option("NEW", w->out, "File to make")->required();
  auto* count = batch->add_option("--count", w->pieces, "Equal pieces");
  batch->add_option("--names", w->names, "One piece a name: a line each, or CSV with a column name")
      ->excludes(count);
  batch->add_option("--hoop", w->hoop, "Frame id, or field WxH in mm");
  batch->add_option("--gap", w->gap, "Between pieces, mm");
  batch->add_option("--turn", w->frame_turn, "yes or no: pieces may be turned by 90°")
      ->check(CLI::IsMember({"yes", "no"}));
  batch->add_flag("--baste", w->baste, "An outline around each, all of them first");
  batch
      ->add_option(
          "--long-names", w->long_names,
          "Names that come out below their face's least height: sew-small, two-lines, leave-out")
      ->check(CLI::IsMember({"sew-small", "two-lines", "leave-out"}));
  CLI::App* repeat =
      verbs.ask("again", "The same job once more, for another order text", repeatCommand);
  repeat->add_option("NEW", w->out, "File to make")->required();
  repeat->add_option("--text", w->text, "The new order text")->required();
  repeat->add_option("--title", w->name, "The new job's name");
}

}  // namespace rt::cli
