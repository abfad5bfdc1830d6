// order
#include "commands.h"
#include "density_map.h"
#include "error.h"
#include "hand_order.h"
#include "hidden.h"
#include "length.h"
#include "making_words.h"
#include "needles.h"
#include "order.h"
#include "statistics.h"
#include "stitch_file.h"
#include "travel.h"
#include "trim_sheet.h"

namespace rt::cli {
namespace {

struct OrderWords {
  std::string file, out;
  double hidden_mm = 0;
  int needles = 1;
  std::string trims;
  std::vector<std::string> colours;  ///< `#rrggbb`, as wished.
  bool takeHidden = false, giveNeedles = false, travel = false;
};

Json needlesJson(const Pattern& pattern, int needles) {
  const NeedlePlan plan = planNeedles(pattern, needles);
  Json list = Json::array();
  for (size_t n = 0; n < plan.threads_of_needle.size(); ++n) {
    Json colours = Json::array();
    for (int t : plan.threads_of_needle[n])
      colours.push_back(pattern.threads[static_cast<size_t>(t)].hex());
    list.push_back({{"needle", n + 1}, {"colours", colours}});
  }
  return {{"needles", list}, {"rethreadings", plan.rethreadings}};
}

Json hiddenJson(const Pattern& before, const Unhidden& u, double margin_mm, double seconds) {
  return {{"margin_mm", margin_mm},
          {"peak_before_mm_per_mm2", summaryOf(before).peak_mm_per_mm2},
          {"peak_after_mm_per_mm2", summaryOf(u.pattern).peak_mm_per_mm2},
          {"stitches_before", u.stitches_before},
          {"stitches_after", u.stitches_after},
          {"thread_saved_mm", u.thread_before_mm - u.thread_after_mm},
          {"time_saved_s", seconds},
          {"blocks_cut", u.blocks_cut}};
}

/// Throws Error where an overlap forbids the order of colours.
Pattern asWished(const Pattern& source, const std::vector<std::string>& words) {
  std::vector<Colour> wish;
  for (const std::string& word : words) {
    const std::optional<Colour> colour = Colour::parsed(word);
    if (!colour) throw Error("\"" + word + "\" is no colour", "colours", "write them like #2f5d50");
    wish.push_back(*colour);
  }
  HandOrder made = inColourOrder(source, wish);
  if (made.why)
    throw Error("that order is not possible: " + inWords(*made.why), "colours",
                "wish for it the other way");
  return std::move(made.pattern);
}

Json orderCommand(const OrderWords& words, const Session& session) {
  const ShopData shop = session.bench().shop;
  const Pattern source = readPattern(words.file);
  const Ordered made = orderColours(source);
  Pattern result = words.colours.empty() ? made.pattern : asWished(source, words.colours);
  const Needles kind = words.needles > 1 ? Needles::Many : Needles::One;
  const double before_s = sewingTime_s(source, shop.time, kind);
  const double ordered_s = sewingTime_s(result, shop.time, kind);
  Json answer{{"colour_changes_before", made.colour_changes_before},
              {"colour_changes_after", statisticsOf(result, shop.time).colour_changes},
              {"colour_changes_bound", made.lower_bound},
              {"trims_before", made.trims_before},
              {"trims_after", countRows(result.stitches, Op::Trim)},
              {"kept_overlaps", made.kept_overlaps}};
  if (words.takeHidden) {
    const Unhidden u = withoutHidden(result, {words.hidden_mm});
    const double saved_s = ordered_s - sewingTime_s(u.pattern, shop.time, kind);
    answer["hidden"] = hiddenJson(result, u, words.hidden_mm, saved_s);
    result = u.pattern;
    answer["trims_after"] = statisticsOf(result, shop.time).trims;
  }
  if (words.travel) {
    const Travelled t = shortestTravel(result);
    result = t.pattern;
    answer["travel"] = {{"before_mm", t.before_mm},
                        {"after_mm", t.after_mm},
                        {"moved", t.moved},
                        {"reversed", t.reversed}};
    answer["trims_after"] = statisticsOf(result, shop.time).trims;
  }
  if (!words.trims.empty()) {
    TrimSheetOptions o;
    o.title = result.title;
    const TrimSheetResult r = writeTrimSheet(result, o, words.trims);
    answer["trim_sheet"] = {{"pages", r.pages}, {"cuts", r.cuts}, {"by_hand", r.by_hand}};
  }
  answer["sewing_time_before_s"] = before_s;
  answer["sewing_time_after_s"] = sewingTime_s(result, shop.time, kind);
  if (words.giveNeedles) answer.update(needlesJson(result, words.needles));
  if (!words.out.empty()) writeStitchFile(words.out, result, Digits::AsRead);
  return answer;
}

}  // namespace

void addOrder(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "order", "Fewest colour changes that no overlap forbids");
  auto w = std::make_shared<OrderWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  CLI::Option* hidden = c->add_option("--hidden", w->hidden_mm,
                                      "Take out what later sewing covers, but for this margin, mm");
  CLI::Option* needles = c->add_option("--needles", w->needles, "Give the colours to N needles");
  c->add_flag("--travel", w->travel,
              "Shortest ways too: blocks of a thread change places, plain runs turn round");
  c->add_option("--colours", w->colours,
                "Colour after colour as wished, instead of the fewest changes: #2f5d50 #8a5a2b");
  c->add_option("--trim-sheet", w->trims, "PDF with a picture of every cut");
  c->add_option("-o", w->out, "File to write; without it the command only answers")->check(named);
  c->callback([&session, w, hidden, needles] {
    w->takeHidden = hidden->count() > 0;
    w->giveNeedles = needles->count() > 0;
    session.run = [&session, w] { return orderCommand(*w, session); };
  });
}

}  // namespace rt::cli
