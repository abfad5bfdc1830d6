#include "paperwork.h"

#include "length.h"

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
