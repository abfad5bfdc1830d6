#include "paperwork.h"

#include <algorithm>

#include "length.h"
#include "order_usage.h"
#include "thread_shelf.h"

namespace rt {

std::vector<std::string> materialLines(const Brief& brief, const Bench& bench) {
  std::vector<std::string> out{
      fabricById(bench.shop.fabrics, brief.fabric).name + ", " +
          (brief.holding == Holding::Floated ? "floated on hooped backing" : "hooped"),
      "backing: " + brief.backing};
  if (brief.topper) out.push_back("topper on the pile");
  out.push_back("needle " + std::to_string(brief.needle_nm) + ", thread " +
                std::to_string(brief.thread_weight) + " weight");
  return out;
}

JobSheetOptions jobSheetOf(const Job& job, const Pattern& layout, const HoopingPlan* plan,
                           const Bench& bench) {
  JobSheetOptions o;
  o.title = job.title;
  o.item = job.brief.item;
  o.order_text = job.brief.order_text;
  o.materials = materialLines(job.brief, bench);
  o.shelf = bench.shop.threads;
  o.needles = job.sequence.needles;
  o.take = {fabricById(bench.shop.fabrics, job.brief.fabric).thickness_mm,
            bench.shop.practice.sewing.bobbin_share};
  o.time = bench.shop.time;
  for (const OperatorStop& stop : job.sequence.stops)
    if (const std::string place = placeOf(job, stop); !place.empty())
      o.cautions.push_back("before " + place + ": " + stop.note);
  for (const Zone& z : job.zones)
    o.cautions.push_back(z.kind == ZoneKind::KeepOut
                             ? "keep clear of " + z.name
                             : z.name + ": " + std::to_string(z.layers) + " layers of cloth");
  o.cautions.push_back("pins out, or 15 mm from any stitch; hands clear of the moving frame");
  if (!plan) o.parts.push_back({"Layout", layout});
  for (size_t h = 0; plan && h < plan->hoopings.size(); ++h)
    for (const PlanSetting& s : plan->hoopings[h].settings)
      o.parts.push_back(
          {"Hooping " + std::to_string(plan->hoopings[h].index) +
               (plan->hoopings[h].settings.size() > 1 ? ", setting " + std::to_string(s.index)
                                                      : std::string()),
           s.pattern});
  return o;
}

namespace {

/// Names of a layout's threads in the order of sewing, each once.
std::vector<std::string> threadNames(const Pattern& layout, const Bench& bench) {
  std::vector<std::string> out;
  int last = -1;
  for (const Stitch& s : layout.stitches) {
    if (s.op != Op::Stitch || s.thread == last) continue;
    last = s.thread;
    const Colour colour = layout.colourOf(s);
    const auto near = nearestThread(bench.shop.threads, colour);
    const std::string name = near ? near->thread->name : colour.hex();
    if (std::find(out.begin(), out.end(), name) == out.end()) out.push_back(name);
  }
  return out;
}

std::vector<int> quantitiesOf(const QuoteWish& wish) {
  std::vector<int> out{wish.order.pieces};
  const int set = std::max(1, wish.order.set);
  for (int pieces : wish.beside) {
    const int whole = (pieces + set - 1) / set * set;
    if (std::find(out.begin(), out.end(), whole) == out.end()) out.push_back(whole);
  }
  return out;
}

}  // namespace

QuotePaper quotePaperOf(const Job& job, const Pattern& layout, const HoopingPlan* plan,
                        const Bench& bench, const Rates& rates, const ShopCard& card,
                        const QuoteWish& wish, std::chrono::year_month_day date) {
  const Order order = orderOf(layout, job.brief.fabric, plan, bench);
  QuotePaper out;
  out.title = job.title;
  out.item = job.brief.item;
  out.order_text = job.brief.order_text;
  out.customer = job.brief.customer;
  out.shop = card;
  out.date = date;
  out.layout = layout;
  out.threads = threadNames(layout, bench);
  out.currency = rates.currency;
  out.set = wish.order.set;
  out.assumptions = order.assumptions;
  for (int pieces : quantitiesOf(wish)) {
    QuoteOptions o = wish.order;
    o.pieces = pieces;
    if (o.price) o.price = *o.price * pieces / wish.order.pieces;
    const Quote quote = quoteFor(order.usage, rates, o);
    out.columns.push_back({pieces, quote, offerOf(quote, o, card.tax)});
  }
  for (const QuoteLine& l : out.columns.front().quote.lines) out.names.push_back(nameOf(l.what));
  return out;
}

HoopingSheetOptions hoopingSheetsOf(const Job& job, const Bench& bench, std::vector<int> done) {
  HoopingSheetOptions out;
  out.title = job.title;
  out.shelf = bench.shop.threads;
  out.time = bench.shop.time;
  out.materials = materialLines(job.brief, bench);
  out.done = std::move(done);
  return out;
}

}  // namespace rt
