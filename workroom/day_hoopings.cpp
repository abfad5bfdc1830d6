#include "day_hoopings.h"

#include "order_usage.h"
#include "statistics.h"

namespace rt {
namespace {

/// Runs of one thread after another, each a pattern of its own.
std::vector<std::pair<Colour, Pattern>> threadsOf(const Pattern& pattern) {
  std::vector<std::pair<Colour, Pattern>> out;
  for (const Stitch& s : pattern.stitches) {
    if (s.op == Op::End) continue;
    if (out.empty() || (s.op == Op::Stitch && !(pattern.colourOf(s) == out.back().first))) {
      out.emplace_back(pattern.colourOf(s), Pattern{});
      out.back().second.threads = pattern.threads;
      out.back().second.pieces = pattern.pieces;
    }
    out.back().second.stitches.push_back(s);
  }
  return out;
}

}  // namespace

std::vector<DayHooping> dayHoopings(const HoopingPlan& plan, const std::string& fabric,
                                    const Bench& bench) {
  const double cloth_mm = fabricById(bench.shop.fabrics, fabric).thickness_mm;
  std::vector<DayHooping> out;
  for (const Hooping& h : plan.hoopings) {
    DayHooping hooping;
    hooping.frame = h.hoop_id;
    hooping.backing_mm2 = backingOf_mm2(h, bench);
    for (const PlanSetting& setting : h.settings)
      for (const auto& [thread, part] : threadsOf(setting.pattern)) {
        const Statistics s = statisticsOf(part, bench.shop.time);
        if (s.stitches == 0) continue;
        if (hooping.sew.empty() || !(hooping.sew.back().thread == thread))
          hooping.sew.push_back({thread, 0, 0});
        hooping.sew.back().s += s.sewing_time_s;
        hooping.sew.back().metres += topThread_mm(s, cloth_mm) / 1000;
      }
    out.push_back(std::move(hooping));
  }
  return out;
}

}  // namespace rt
